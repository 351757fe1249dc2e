#include "app/stations/plate/set_desk.h"

#include <QtWidgets>
#include <set>

#include "app/stations/light/light_sets.h"
#include "app/stations/plate/piece_list.h"
#include "core/base/words.h"
#include "core/product/set/piece_kinds.h"

namespace dusk {

SetDesk::SetDesk(Workbench& bench) : Desk(bench.session, {}, {}), bench_(bench) {
  fold_ = beginFold(words("A set of its own"), false);
  buildSet();
  endFold();
  beginFold(words("Pieces"), false);
  buildPieces();
  endFold();
}

namespace {

AssetRef lightOf(const Session& session, const SetKind& kind) {
  const auto folder = LightSets::shipped();
  if (folder.empty()) return {};
  const auto ref = session.assets()->refer(folder / kind.lightSet);
  return ref ? *ref : AssetRef{};
}

}  // namespace

void beginSet(Session& session) {
  session.setStation(Station::plate);
  session.edit(words("choose a set"), [&](Project& p) {
    const SetKind& kind = setKinds().front();
    furnish(p, size_t(&session.shotIn(p) - p.shots.data()), {kind.name, 1, {}}, lightOf(session, kind));
  });
}

/// What the largest of the person's products measures at most, metres, where one is loaded.
std::optional<double> SetDesk::productSize() const {
  double high = 0;
  for (const Placement& p : session_.shot().placements) {
    const Product* product = byId(session_.project().products, p.productId);
    if (!product || !product->piece.kind.empty()) continue;
    if (const auto size = session_.sizeOf()(*product)) high = std::max({high, size->x, size->y, size->z});
  }
  return high > 0 ? std::optional(high) : std::nullopt;
}

/// Who began with a set has its die and sliders before them.
void SetDesk::showSet() {
  if (fold_->isChecked()) return;
  fold_->setChecked(true);
  QTimer::singleShot(0, this, [this] {
    for (QWidget* around = parentWidget(); around; around = around->parentWidget())
      if (auto* scroll = qobject_cast<QScrollArea*>(around)) {
        scroll->verticalScrollBar()->setValue(fold_->mapTo(scroll->widget(), QPoint(0, 0)).y());
        return;
      }
  });
}

/// The recipe is changed, and the set made anew from it.
void SetDesk::remake(Project& p, const std::function<void(SetRecipe&)>& change) const {
  Shot& shot = session_.shotIn(p);
  SetRecipe recipe = shot.set;
  change(recipe);
  const SetKind* kind = setKindNamed(recipe.kind);
  const auto at = size_t(&shot - p.shots.data());
  if (!kind) return unfurnish(p, at);
  furnish(p, at, recipe, recipe.kind != shot.set.kind ? lightOf(session_, *kind) : AssetRef{});
}

void SetDesk::buildSet() {
  auto* kind = new QComboBox;
  kind->addItem(words("none"), "");
  for (const SetKind& k : setKinds()) {
    kind->addItem(words(k.title), k.name);
    kind->setItemData(kind->count() - 1, words(k.about), Qt::ToolTipRole);
  }
  kind->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  kind->setAccessibleName(words("Set"));
  kind->setToolTip(words(
      "A furnished set at true size, with its own light; what you placed stands where it wants its product"));
  connect(kind, &QComboBox::activated, this, [this, kind] {
    const std::string name = kind->currentData().toString().toStdString();
    session_.edit(words("choose a set"), [&](Project& p) {
      remake(p, [&](SetRecipe& r) {
        r.kind = name;
        if (const auto size = productSize()) suit(r, *size);
      });
    });
  });
  add(labelled(words("Set"), kind));
  QLabel* about = note();
  beginRow();
  auto* die = button(
      words("Throw the die"), words("Another set of the same kind: other sizes, places and colours"), [this] {
        session_.edit(words("throw the die"), [this](Project& p) {
          remake(p, [](SetRecipe& r) { r.seed = int(QRandomGenerator::global()->bounded(2, 100000)); });
        });
      });
  auto* mine = button(words("Make it mine…"),
                      words("Goes with you through what still is as the set was delivered"), [this] {
                        if (asDelivered(session_.project(), session_.shotIndex()).empty())
                          return session_.say(words("Nothing of it is as it was delivered: it is yours."));
                        emit bench_.ownSetWanted();
                      });
  endRow();
  const auto isThere = [this](const Project& p) { return !session_.shotIn(p).set.kind.empty(); };
  number(
      words("Seed"), {1, 99999, 1, 0, ""}, words("The same number makes the same set"),
      [=, this](const Project& p) {
        return isThere(p) ? std::optional(double(session_.shotIn(p).set.seed)) : std::nullopt;
      },
      [this](Project& p, double v) { remake(p, [v](SetRecipe& r) { r.seed = int(v); }); });
  std::set<std::string> made;
  for (const SetKind& k : setKinds())
    for (const SetSlider& slider : k.sliders) {
      if (!made.insert(slider.name).second) continue;
      number(
          words(slider.title), {0, 1, 0.05, 2, "", true, slider.usual},
          QString(words("From %1 to %2")).arg(words(slider.low), words(slider.high)),
          [this, name = std::string(slider.name)](const Project& p) {
            return sliderOf(session_.shotIn(p).set, name);
          },
          [this, name = std::string(slider.name)](Project& p, double v) {
            remake(p, [&](SetRecipe& r) { r.sliders[name] = v; });
          });
    }
  onRefresh([=, this] {
    const SetKind* now = setKindNamed(session_.shot().set.kind);
    kind->setCurrentIndex(now ? kind->findData(now->name) : 0);
    about->setText(now ? words(now->about)
                       : words("Plinths, a corner, a bench: pieces, light and camera at once."));
    die->setEnabled(now), mine->setEnabled(now);
    if (!std::exchange(hadSet_, now != nullptr) && now) showSet();
  });
}

void SetDesk::addOne(const QString& kind, const Vec3d& at) {
  std::string id;
  session_.edit(words("bring in a piece"), [&](Project& p) {
    const auto shot = size_t(&session_.shotIn(p) - p.shots.data());
    id = addPiece(p, shot, kind.toStdString(), at.x, at.y);
    if (Placement* placed = byId(p.shots[shot].placements, id)) placed->liftM = at.z > 0.001 ? at.z : 0;
  });
  session_.selectPlacement(id);
}

void SetDesk::buildPieces() {
  auto* family = new QComboBox;
  family->addItem(words("All"), "");
  for (const PieceKind& k : pieceKinds())
    if (family->findData(k.family) < 0) family->addItem(words(k.family), k.family);
  family->setAccessibleName(words("Family of pieces"));
  family->setToolTip(words("Which pieces are shown"));
  add(labelled(words("Show"), family));
  auto* list = new PieceList;
  add(list);
  connect(family, &QComboBox::activated, this,
          [family, list] { list->show(family->currentData().toString()); });
  connect(list, &PieceList::taken, this, [this](const QString& kind) {
    const auto made = makePiece({kind.toStdString()});
    const auto spot =
        made ? spotBeside(session_.project(), session_.shot(), made->box().size(), session_.sizeOf())
             : std::nullopt;
    addOne(kind, spot ? Vec3d(spot->x, spot->y, 0) : Vec3d(0, 0, 0));
  });
  connect(&bench_, &Workbench::pieceWanted, this, &SetDesk::addOne);
  note(words("What a piece measures is set at Product, in the fold Measures."));
}

}  // namespace dusk
