#include "app/cast/cast.h"

#include <QtWidgets>

#include "app/document/clipboard.h"
#include "core/base/words.h"
#include "core/project/shots.h"

namespace dusk {
namespace {

std::string idOf(const QModelIndex& index, CastModel::Role role) {
  return index.data(role).toString().toStdString();
}

}  // namespace

Cast::Cast(Session& session, QWidget* parent)
    : QTreeView(parent), session_(session), model_(new CastModel(session, this)) {
  setObjectName("cast");
  setAccessibleName(words("Cast: products, parts, lamps and stand-ins"));
  setModel(model_);
  setHeaderHidden(true);
  setUniformRowHeights(true);
  setIndentation(14);
  setEditTriggers(NoEditTriggers);
  setSelectionMode(ExtendedSelection);
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setTextElideMode(Qt::ElideRight);
  expandToDepth(0);
  connect(model_, &QAbstractItemModel::modelAboutToBeReset, this, [this] {
    const QWidget* now = QApplication::focusWidget();
    hadFocus_ = now && (now == this || isAncestorOf(now));
  });
  connect(model_, &QAbstractItemModel::modelReset, this, [this] {
    // A field in which something was renamed goes; the keys stay with the cast.
    if (hadFocus_) setFocus();
    // What was looked for is shown with its branches open.
    if (model_->filter().isEmpty())
      expandToDepth(0);
    else
      expandAll();
    followed_ = {};
    followSelection();
  });
  addActions();
  setContextMenuPolicy(Qt::CustomContextMenu);
  connect(this, &QWidget::customContextMenuRequested, this, [this](const QPoint& at) {
    if (!selectionModel()->isSelected(indexAt(at))) setCurrentIndex(indexAt(at));
    QMenu menu(this);
    for (QAction* action : actions_) menu.addAction(action);
    menu.exec(viewport()->mapToGlobal(at));
  });
  connect(selectionModel(), &QItemSelectionModel::currentChanged, this, &Cast::chosen);
  connect(selectionModel(), &QItemSelectionModel::selectionChanged, this, [this] {
    if (!following_) session_.setPartsTogether(selectedParts());
  });
  connect(&session_, &Session::selectionChanged, this, &Cast::followSelection);
  // Ticks and swatches: what is seen is asked for anew.
  connect(&session_, &Session::changed, viewport(), qOverload<>(&QWidget::update));
}

void Cast::addActions() {
  const auto action = [this](const QString& text, const QKeySequence& keys, const QString& tip, auto then) {
    auto* a = new QAction(text, this);
    a->setShortcut(keys);
    a->setShortcutContext(Qt::WidgetWithChildrenShortcut);  // the same keys mean other things elsewhere
    a->setToolTip(tip);
    connect(a, &QAction::triggered, this, then);
    addAction(a);
    actions_ << a;
  };
  const auto separator = [this] {
    auto* a = new QAction(this);
    a->setSeparator(true);
    actions_ << a;
  };
  action(words("Copy"), QKeySequence::Copy, words("What is selected in the cast, as text"),
         [this] { copy(); });
  action(words("Paste"), QKeySequence::Paste, words("Adds what was copied to this shot"),
         [this] { pasteFromClipboard(session_); });
  action(words("Delete"), QKeySequence::Delete, words("Takes what is selected in the cast away"),
         [this] { remove(); });
  action(words("Rename"), Qt::Key_F2, words("Another name for what is selected in the cast"),
         [this] { edit(currentIndex()); });
  separator();
  action(words("Hide or show"), QKeySequence("Ctrl+H"), words("What is selected in the cast"),
         [this] { toggleShown(); });
  action(words("Only this"), QKeySequence("Ctrl+I"), words("Hides everything else of the product"),
         [this] { isolate(); });
  action(words("Show all"), QKeySequence("Ctrl+Shift+H"), words("Shows every part again"),
         [this] { showAll(); });
  action(words("Group"), QKeySequence("Ctrl+G"), words("Puts the selected parts together"),
         [this] { group(freshGroupName()); });
  action(words("Out of the group"), QKeySequence("Ctrl+Shift+G"),
         words("Each part back to where the file has it"), [this] { group({}); });
}

/// What is chosen in the tree comes into the hand.
void Cast::chosen(const QModelIndex& now) {
  if (following_ || !now.isValid()) return;
  const std::string path = idOf(now, CastModel::pathRole), lamp = idOf(now, CastModel::lampRole),
                    standIn = idOf(now, CastModel::standInRole), product = idOf(now, CastModel::productRole);
  // A product in the tree stands for the placed one in hand, or its first.
  std::string placement;
  for (const Placement& p : session_.shot().placements)
    if (p.productId == product && (placement.empty() || &p == session_.placement())) placement = p.id;
  // The tree's own selection is under way: it is not to be set from outside in the middle of it.
  const QScopedValueRollback guard(following_, true);
  if (!path.empty())
    session_.selectPart(path, placement);
  else if (!placement.empty())
    session_.selectPlacement(placement);
  if (!lamp.empty()) {
    session_.selectLamp(lamp);
    session_.setStation(Station::light);
  }
  if (!standIn.empty()) {
    session_.selectStandIn(standIn);
    session_.setStation(Station::contact);
  }
  followed_ = {session_.selectedPart(), session_.selectedLamp(), session_.selectedStandIn()};
}

/// Of the product in hand.
std::vector<std::string> Cast::selectedParts() const {
  std::vector<std::string> parts;
  for (const QModelIndex& index : selectionModel()->selectedIndexes())
    if (const std::string path = idOf(index, CastModel::pathRole);
        !path.empty() && idOf(index, CastModel::productRole) == idOf(currentIndex(), CastModel::productRole))
      parts.push_back(path);
  return parts;
}

/// Parts that were taken in hand together elsewhere are chosen here, too.
void Cast::followTogether() {
  const auto& together = session_.partsTogether();
  const std::vector<std::string> mine = selectedParts();
  const Product* product = session_.product();
  if (together.size() < 2 || !product ||
      std::set<std::string>(mine.begin(), mine.end()) ==
          std::set<std::string>(together.begin(), together.end()))
    return;
  const QScopedValueRollback guard(following_, true);
  QItemSelection rows;
  for (const std::string& part : together)
    if (const QModelIndex index = model_->indexOfPart(part, product->id); index.isValid())
      rows.select(index, index);
  selectionModel()->select(rows, QItemSelectionModel::ClearAndSelect | QItemSelectionModel::Rows);
}

/// What was taken in hand elsewhere is chosen here: whichever of part, lamp and stand-in is new.
void Cast::followSelection() {
  if (following_) return;  // it was chosen here
  followTogether();
  const std::array<std::string, 3> now{session_.selectedPart(), session_.selectedLamp(),
                                       session_.selectedStandIn()};
  if (now == followed_) return;
  const auto was = std::exchange(followed_, now);
  const QScopedValueRollback guard(following_, true);
  if (now[1] != was[1] && !now[1].empty()) return selectIndex(model_->indexOf(CastModel::lampRole, now[1]));
  if (now[2] != was[2] && !now[2].empty())
    return selectIndex(model_->indexOf(CastModel::standInRole, now[2]));
  const Product* product = session_.product();
  const QModelIndex index = model_->indexOfPart(now[0], product ? product->id : std::string());
  if (index.isValid())
    selectIndex(index);
  else if (!idOf(currentIndex(), CastModel::pathRole).empty())
    selectionModel()->clear();
}

void Cast::selectIndex(const QModelIndex& index) {
  if (!index.isValid()) return;
  // Several that hold it stay selected together.
  if (!selectionModel()->isSelected(index))
    setCurrentIndex(index);
  else
    selectionModel()->setCurrentIndex(index, QItemSelectionModel::NoUpdate);
  scrollTo(index);
}

std::set<std::string> Cast::selectedIds(CastModel::Role role) const {
  std::set<std::string> ids;
  for (const QModelIndex& index : selectionModel()->selectedIndexes())
    if (role != CastModel::productRole || idOf(index, CastModel::branchRole).empty())
      if (std::string id = idOf(index, role); !id.empty()) ids.insert(std::move(id));
  return ids;
}

void Cast::remove() {
  const auto lamps = selectedIds(CastModel::lampRole), standIns = selectedIds(CastModel::standInRole),
             products = selectedIds(CastModel::productRole);
  if (lamps.empty() && standIns.empty() && products.empty())
    return session_.say(words("Lamps, stand-ins and products can be deleted; parts can be hidden (Ctrl+H)."));
  session_.edit(words("delete what is selected"), [&](Project& p) {
    Shot& shot = session_.shotIn(p);
    std::erase_if(shot.lamps, [&](const Lamp& l) { return lamps.contains(l.id); });
    std::erase_if(shot.standIns, [&](const StandIn& s) { return standIns.contains(s.id); });
    std::erase_if(shot.placements, [&](const Placement& each) { return products.contains(each.productId); });
    dropUnplaced(p);
  });
}

void Cast::copy() {
  Clip clip;
  const Shot& shot = session_.shot();
  for (const std::string& id : selectedIds(CastModel::lampRole))
    if (const Lamp* l = byId(shot.lamps, id)) clip.lamps.push_back(*l);
  for (const std::string& id : selectedIds(CastModel::standInRole))
    if (const StandIn* s = byId(shot.standIns, id)) clip.standIns.push_back(*s);
  for (const std::string& id : selectedIds(CastModel::productRole))
    if (const Product* product = byId(session_.project().products, id)) {
      clip.products.push_back(*product);
      for (const Placement& p : shot.placements)
        if (p.productId == id) clip.placements.push_back(p);
      for (const auto& [part, surface] : product->surfaceOfPart)
        if (const Surface* s = byId(session_.project().surfaces, surface); s && !byId(clip.surfaces, surface))
          clip.surfaces.push_back(*s);
    }
  if (clip.empty()) clip.shots.push_back(shot);
  copyToClipboard(session_, std::move(clip));
}

QString Cast::freshGroupName() const {
  const Product* product = session_.product();
  for (int n = 1;; ++n) {
    const QString name = QString(words("Group %1")).arg(n);
    if (!product || std::none_of(product->groupOfPart.begin(), product->groupOfPart.end(),
                                 [&](const auto& g) { return g.second == name.toStdString(); }))
      return name;
  }
}

void Cast::group(const QString& name) {
  if (session_.selectedPart().empty()) return session_.say(words("Choose the parts to be grouped first."));
  const auto parts = session_.partsInHand(session_.selectedPart());
  session_.edit(name.isEmpty() ? words("take parts out of their group") : words("group parts"),
                [&](Project& p) {
                  if (Product* product = session_.productIn(p))
                    for (const std::string& part : parts) {
                      product->groupOfPart.erase(part);
                      if (!name.isEmpty()) product->groupOfPart[part] = name.toStdString();
                    }
                });
}

void Cast::toggleShown() {
  const QModelIndex now = currentIndex();
  const Product* product = session_.product();
  if (!idOf(now, CastModel::lampRole).empty() || !idOf(now, CastModel::standInRole).empty()) {
    const bool on = now.data(Qt::CheckStateRole).toInt() == Qt::Checked;
    model_->setData(now, on ? Qt::Unchecked : Qt::Checked, Qt::CheckStateRole);
    return;
  }
  const std::set<std::string> parts = partsUnderSelection();
  if (!product || parts.empty()) return;
  const bool hide = !product->hiddenParts.contains(*parts.begin());
  session_.edit(hide ? words("hide parts") : words("show parts"), [&](Project& p) {
    if (Product* changed = session_.productIn(p))
      for (const std::string& part : parts) {
        changed->hiddenParts.erase(part);
        if (hide) changed->hiddenParts.insert(part);
      }
  });
}

/// Part paths of the selected rows of the product in hand, and of all below selected groups.
std::set<std::string> Cast::partsUnderSelection() const {
  std::set<std::string> parts;
  const Product* product = session_.product();
  if (!product) return parts;
  const QString id = QString::fromStdString(product->id);
  const std::function<void(const QModelIndex&)> take = [&](const QModelIndex& index) {
    if (index.data(CastModel::productRole).toString() != id) return;
    const std::string path = index.data(CastModel::pathRole).toString().toStdString();
    if (!path.empty()) parts.insert(path);
    for (int i = 0; i < model_->rowCount(index); ++i) take(model_->index(i, 0, index));
  };
  for (const QModelIndex& index : selectionModel()->selectedIndexes()) take(index);
  return parts;
}

void Cast::isolate() {
  const Product* product = session_.product();
  const auto model = product ? session_.assets()->loadedModel(*product) : nullptr;
  const std::set<std::string> shown = partsUnderSelection();
  if (!model || shown.empty()) return;
  std::set<std::string> hidden;
  for (const Part& part : model->parts)
    if (!shown.contains(part.path)) hidden.insert(part.path);
  if (hidden == product->hiddenParts) return showAll();
  session_.edit(words("show only ") + currentIndex().data(Qt::DisplayRole).toString(), [&](Project& p) {
    if (Product* changed = session_.productIn(p)) changed->hiddenParts = hidden;
  });
}

void Cast::showAll() {
  session_.edit(words("show all parts"), [](Project& p) {
    for (Product& product : p.products) product.hiddenParts.clear();
  });
}

void Cast::goToFirst() {
  QModelIndex at = model_->index(0, 0, {});
  while (at.isValid() && at.data(CastModel::pathRole).toString().isEmpty()) at = indexBelow(at);
  if (!at.isValid()) return;
  setCurrentIndex(at);
  setFocus();
}

}  // namespace dusk
