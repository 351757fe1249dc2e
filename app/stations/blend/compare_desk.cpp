#include "app/stations/blend/compare_desk.h"

#include <QtWidgets>

#include "app/jobs/linked.h"
#include "app/widgets/file_choice.h"
#include "app/widgets/look.h"
#include "app/widgets/rows.h"
#include "app/widgets/words.h"
#include "core/base/words.h"
#include "core/project/by_id.h"

namespace dusk {

CompareDesk::CompareDesk(Workbench& bench)
    : Desk(bench.session, {}, {}),
      bench_(bench),
      list_(new QListWidget),
      against_(new QComboBox),
      as_(new QComboBox) {
  setAccessibleName(words("Compare"));
  against_->setToolTip(words("What the present picture is looked at beside"));
  against_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  add(labelled(words("Beside"), against_));
  as_->addItems({words("a curtain to pull"), words("side by side"), words("laid over it"),
                 words("what differs, eight times")});
  as_->setToolTip(
      words("How both are shown. The curtain is dragged in the picture; C held there shows the other alone"));
  as_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  add(labelled(words("Shown as"), as_));
  connect(against_, &QComboBox::activated, this, [this] { follow(); });
  connect(as_, &QComboBox::activated, this, [this] { follow(); });
  list_->setAccessibleName(words("Kept states"));
  list_->setToolTip(words("States of the blend that were kept. F2 renames one"));
  list_->setEditTriggers(QAbstractItemView::EditKeyPressed | QAbstractItemView::DoubleClicked);
  connect(list_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
    const std::string id = item->data(Qt::UserRole).toString().toStdString(),
                      name = item->text().toStdString();
    session_.editShot(words("rename a kept state"), [&](Shot& shot) {
      if (BlendSnapshot* s = byId(shot.snapshots, id)) s->name = name;
    });
  });
  add(list_);
  button(words("Keep this state"),
         words("Puts the blend as it is now aside under a name, to compare with and to return to"), [this] {
           session_.editShot(words("keep a state"), [](Shot& shot) {
             BlendSnapshot kept{freshId(shot.snapshots, "state"), {}, shot.blend};
             kept.name = words("state ") + kept.id.substr(kept.id.rfind('-') + 1);
             shot.snapshots.push_back(std::move(kept));
           });
         });
  beginRow();
  auto* back =
      button(words("Return to it"),
             words("The blend becomes the kept one; the present one can be brought back by undo"), [this] {
               if (const BlendSnapshot* s = inHand())
                 session_.editShot(words("return to a kept state"),
                                   [blend = s->blend](Shot& shot) { shot.blend = blend; });
             });
  auto* away = button(words("Let it go"), words("Forgets the kept state"), [this] {
    if (const BlendSnapshot* s = inHand())
      session_.editShot(words("let a kept state go"), [id = s->id](Shot& shot) {
        std::erase_if(shot.snapshots, [&](const BlendSnapshot& k) { return k.id == id; });
      });
  });
  endRow();
  addReference();
  const auto enable = [=, this] { back->setEnabled(inHand()), away->setEnabled(inHand()); };
  connect(list_, &QListWidget::currentItemChanged, this, enable);
  onRefresh([=, this] { refresh(), enable(); });
}

const BlendSnapshot* CompareDesk::inHand() const {
  const QListWidgetItem* item = list_->currentItem();
  return item ? byId(session_.shot().snapshots, item->data(Qt::UserRole).toString().toStdString()) : nullptr;
}

void CompareDesk::refresh() {
  const auto& kept = session_.shot().snapshots;
  const QSignalBlocker quiet(list_), quieter(against_);
  const int row = std::min(list_->currentRow(), int(kept.size()) - 1);
  const bool more = list_->count() > 0 && int(kept.size()) > list_->count();
  list_->clear();
  QStringList names{words("nothing"), words("the bare plate"), words("as rendered")};
  hasReference_ = !session_.shot().blend.reference.file.empty();
  if (hasReference_) names << words("the reference");
  for (const BlendSnapshot& s : kept) {
    auto* item = new QListWidgetItem(QString::fromStdString(s.name), list_);
    item->setData(Qt::UserRole, QString::fromStdString(s.id));
    item->setFlags(item->flags() | Qt::ItemIsEditable);
    names << QString::fromStdString(s.name);
  }
  list_->setCurrentRow(more || row < 0 ? list_->count() - 1 : row);
  list_->setVisible(list_->count() > 0);
  fitToRows(*list_);
  const QString chosen = against_->currentText();
  against_->clear();
  against_->addItems(names);
  against_->setCurrentIndex(std::max(0, against_->findText(chosen)));
  follow();
}

/// A photo of the real thing, or the client's layout: to compare with, never delivered.
void CompareDesk::addReference() {
  beginRow();
  button(words("Reference…"),
         words("A photo of the real thing, or a layout, to lay over the picture. It is never delivered"),
         [this] { chooseReference(); });
  auto* drop = button(words("Without it"), words("Forgets the reference"), [this] {
    session_.editShot(words("let the reference go"), [](Shot& shot) { shot.blend.reference = {}; });
  });
  endRow();
  const auto value = [this](double BlendReference::*at) {
    return [this, at](const Project& p) {
      const BlendReference& r = session_.shotIn(p).blend.reference;
      return r.file.empty() ? std::nullopt : std::optional(100 * r.*at);
    };
  };
  const auto shift = [this](double Vec2d::*at) {
    return [this, at](const Project& p) {
      const BlendReference& r = session_.shotIn(p).blend.reference;
      return r.file.empty() ? std::nullopt : std::optional(100 * r.shift.*at);
    };
  };
  number(words("Its opacity"), {0, 100, 1, 0, "%", true, 50.0}, words("Of what is laid over the picture"),
         value(&BlendReference::opacity),
         [this](Project& p, double v) { session_.shotIn(p).blend.reference.opacity = v / 100; });
  number(words("Its width"), {1, 1000, 1, 1, "%", false, 100.0},
         words("Of the reference: 100 % is as wide as the frame"), value(&BlendReference::scale),
         [this](Project& p, double v) { session_.shotIn(p).blend.reference.scale = v / 100; });
  number(words("To the right"), {-200, 200, 0.5, 2, "%", false, 0.0}, words("Of the frame's width"),
         shift(&Vec2d::x),
         [this](Project& p, double v) { session_.shotIn(p).blend.reference.shift.x = v / 100; });
  number(words("Down"), {-200, 200, 0.5, 2, "%", false, 0.0}, words("Of the frame's height"),
         shift(&Vec2d::y),
         [this](Project& p, double v) { session_.shotIn(p).blend.reference.shift.y = v / 100; });
  onRefresh([this, drop] { drop->setEnabled(!session_.shot().blend.reference.file.empty()); });
}

void CompareDesk::chooseReference() {
  const QString file = chooseFile(this, words("Choose a reference"), FileKind::photo);
  if (file.isEmpty()) return;
  bench_.jobs.run<Linked<Photo>>(
      {words("Reading ") + QFileInfo(file).fileName(), "reference"},
      [assets = session_.assets(), path = pathOf(file)](Progress&) {
        return linked<Photo>(*assets, path, [&](const AssetRef& ref) { return assets->photo(ref); });
      },
      [this](Linked<Photo>& read) {
        session_.editShot(words("lay a reference over it"),
                          [&](Shot& shot) { shot.blend.reference.file = read.ref; });
        against_->setCurrentIndex(against_->findText(words("the reference")));
        as_->setCurrentIndex(2);
        follow();
      });
}

void CompareDesk::follow() {
  const int at = against_->currentIndex();
  if (at <= 0) return bench_.preview.compareWith({});
  constexpr Compared::As ways[] = {Compared::As::curtain, Compared::As::beside, Compared::As::over,
                                   Compared::As::difference};
  Compared other;
  other.as = ways[size_t(std::clamp(as_->currentIndex(), 0, 3))];
  other.name = against_->currentText();
  const int first = hasReference_ ? 4 : 3;  // the first kept state
  if (at == 1) other.of = Compared::Of::plate;
  if (hasReference_ && at == 3) other.of = Compared::Of::reference;
  const auto& kept = session_.shot().snapshots;
  if (at >= first && size_t(at - first) < kept.size()) other.blend = kept[size_t(at - first)].blend;
  bench_.preview.compareWith(other);
}

}  // namespace dusk
