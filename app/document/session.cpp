// The document in hand: edits, undo, gestures, the shot and its vantage.
#include "app/document/session.h"

#include <QLockFile>

#include "core/base/words.h"
#include "core/light/hand_camera.h"
#include "core/motion/edit.h"
#include "core/vantage/camera.h"
#include "core/vantage/frame.h"
#include "core/vantage/straighten.h"

namespace dusk {

Session::Session(QObject* parent)
    : QObject(parent), unit_(storedUnit()), journal_([this](const Error& error) {
        // Told on the writer's thread.
        QMetaObject::invokeMethod(this, [this, text = error.message] {
          say(words("Unsaved work cannot be kept for a crash. ") + QString::fromStdString(text), true);
        });
      }) {
  journalTimer_.setSingleShot(true);
  journalTimer_.setInterval(400);
  connect(&journalTimer_, &QTimer::timeout, this, &Session::writeJournal);
  startEmpty();
}

Session::~Session() = default;

int Session::newGesture() {
  static int next = 0;
  return ++next;
}

size_t Session::shotIndexIn(const Project& project) const {
  for (size_t i = 0; i < project.shots.size(); ++i)
    if (project.shots[i].id == shotId_) return i;
  return 0;
}

void Session::selectShot(const std::string& id) {
  if (inGesture() || id == shot().id || !byId(base().shots, id)) return;
  shotId_ = id;
  moment_ = byId(base().shots, id)->motion.stillAtSeconds;
  showVariant();
  answerAnew();
  emit shotChanged();
  emit changed({true, true, true, true, true});
  emit selectionChanged();
}

void Session::edit(const QString& what, const std::function<void(Project&)>& change, int gesture) {
  const Project before = project();
  Project next = before;
  change(next);
  const bool isApart = shown_ || !recorded_.empty() || recordsKeys_;
  history_.push(isApart
                    ? routedAt(base(), shotIndexIn(base()), moment_, before, next, {recorded_, recordsKeys_})
                    : std::move(next),
                what.toStdString(), gesture);
  moved(before);
}

void Session::recordInto(const std::string& option) {
  if (option == recorded_) return;
  recorded_ = option;
  emit selectionChanged();
}

void Session::setMoment(double seconds) {
  seconds = std::clamp(seconds, 0.0, shot().motion.seconds);
  if (seconds == moment_ || inGesture()) return;
  const Project& before = project();  // lives on among those that are kept
  moment_ = seconds;
  showVariant();
  emit momentChanged();
  if (&before != &project() && before != project())
    emit changed(changes(before, shotIndexIn(before), project(), shotIndex()));
}

void Session::recordKeys(bool on) {
  if (on == recordsKeys_) return;
  recordsKeys_ = on;
  emit selectionChanged();
}

void Session::openShutter(bool on) {
  if (on == opensShutter_) return;
  opensShutter_ = on;
  emit shutterChanged();
}

/// Makes what is shown of what is kept; where no option changes anything and nothing moves they are one.
void Session::showVariant() {
  shownBefore_[nextBefore_++ % shownBefore_.size()] = std::move(shown_);
  shown_.reset();
  const size_t index = shotIndexIn(base());
  const VariantChoice choice = choiceAt(base().shots[index], moment_).from;
  const VariantOption* recorded = nullptr;
  bool changes = false;
  for (const VariantAxis& axis : base().axes)
    if (const VariantOption* option = chosenOf(axis, choice)) {
      changes = changes || !option->changes.empty();
      if (option->id == recorded_) recorded = option;
    }
  if (!recorded) recorded_.clear();  // it is not the one that is seen any more
  if (changes || moves(base().shots[index]))
    shown_ = std::make_shared<const Project>(at(base(), index, moment_).project);
}

void Session::editShot(const QString& what, const std::function<void(Shot&)>& change, int gesture) {
  edit(
      what, [&](Project& p) { change(shotIn(p)); }, gesture);
}

void Session::editShotOf(const std::string& id, const QString& what, const std::function<void(Shot&)>& change,
                         int gesture) {
  edit(
      what,
      [&](Project& p) {
        if (Shot* shot = byId(p.shots, id)) change(*shot);
      },
      gesture);
}

void Session::editEvidence(const QString& what, const std::function<void(Evidence&)>& change, int gesture) {
  editShot(
      what,
      [&](Shot& shot) {
        change(shot.evidence);
        if (!shot.vantage.locked) solveAgain(shot);
      },
      gesture);
}

void Session::editBackdrop(const QString& what, const std::function<void(Backdrop&)>& change, int gesture) {
  editShot(
      what,
      [&](Shot& shot) {
        const bool wasPhoto = shot.backdrop.kind == BackdropKind::photo;
        change(shot.backdrop);
        if (shot.backdrop.kind != BackdropKind::photo) return setCameraByHand(shot);
        if (wasPhoto) return;
        // Back to the photo: its own size, and the camera its evidence tells.
        shot.vantage = {};
        if (shot.plate.empty()) return;
        // Read already but for a project that was opened with another backdrop.
        if (const auto photo = assets_->photo(shot.plate)) {
          shot.vantage.camera.width = (*photo)->picture.width;
          shot.vantage.camera.height = (*photo)->picture.height;
          solveAgain(shot);
        }
      },
      gesture);
}

void Session::solveAgain(Shot& shot) {
  const Camera& camera = shot.vantage.camera;
  answer_ = solve(shot.evidence, camera.width, camera.height);
  answered_ = shot.evidence;
  // A drag through an impossible place must not throw a good camera away.
  const bool locked = shot.vantage.locked;
  const bool straightened = shot.vantage.straightened;
  if (answer_.vantage.solved || !shot.vantage.solved) shot.vantage = answer_.vantage;
  shot.vantage.locked = locked, shot.vantage.straightened = straightened;
  const Shot* before = byId(project().shots, shot.id);
  // Pins say where the world is by the products, which then stay where they are in it.
  if (before && before->vantage.solved && answer_.vantage.solved && shot.evidence.pins.empty() &&
      !sameFrame(before->evidence, shot.evidence))
    keepSpots(shot, *before);
}

void Session::answerAnew() {
  const Camera& camera = shot().vantage.camera;
  answered_ = shot().evidence;
  answer_ = camera.width > 0 ? solve(answered_, camera.width, camera.height) : VantageAnswer{};
}

void Session::moved(const Project& before) {
  showVariant();
  if (before == project()) return;
  const Shot* was = byId(before.shots, shotId_);
  const bool gone = !byId(project().shots, shotId_);
  if (gone) {  // the one that took its place
    const size_t index = was ? size_t(was - before.shots.data()) : 0;
    shotId_ = project().shots[std::min(index, project().shots.size() - 1)].id;
    showVariant();
  }
  Changes what{true, true, true, true, true};
  if (was && !gone) what = changes(before, size_t(was - before.shots.data()), project(), shotIndex());
  if (!was || gone || (was->evidence != shot().evidence && answered_ != shot().evidence)) answerAnew();
  // Not begun anew by every edit: a drag that never rests is kept, too.
  if (!journalTimer_.isActive()) journalTimer_.start();
  if (gone) emit shotChanged();
  emit changed(what);
}

void Session::undo() {
  if (inGesture()) return;
  const Project before = project();
  history_.undo();
  moved(before);
}

void Session::redo() {
  if (inGesture()) return;
  const Project before = project();
  history_.redo();
  moved(before);
}

int Session::beginGesture() { return gesture_ = newGesture(); }

void Session::revert(int gesture) {
  const Project before = project();
  history_.revert(gesture);
  moved(before);
}

void Session::setPlate(const AssetRef& ref, const Photo& photo, const AssetRef& config) {
  editShot(words("choose the plate"), [&](Shot& shot) {
    // A photo is wanted where one is brought, whatever lay behind until now.
    const bool wasPhoto = shot.backdrop.kind == BackdropKind::photo;
    shot.backdrop.kind = BackdropKind::photo;
    const bool sameFrame = wasPhoto && shot.vantage.camera.width == photo.picture.width &&
                           shot.vantage.camera.height == photo.picture.height;
    if (shot.plate.empty() && shot.blend == BlendSettings{} && !config.empty())
      shot.blend.config.file = config, shot.blend.view.clear();
    shot.plate = ref;
    if (!sameFrame) {  // evidence belongs to a photo's pixels
      shot.evidence = {};
      shot.vantage = {};
      shot.cleanUps.clear();
      shot.gnomon.reset();
      shot.otherGnomon.reset();
    }
    shot.vantage.camera.width = photo.picture.width;
    shot.vantage.camera.height = photo.picture.height;
    if (photo.info.focalMm35 > 0 && !shot.evidence.focalMm35 && shot.evidence.strokes.empty())
      shot.evidence.focalMm35 = photo.info.focalMm35;
  });
}

SizeOf Session::sizeOf() const {
  return [this](const Product& product) -> std::optional<Vec3d> {
    const auto model = assets_->loadedModel(product);
    if (!model) return {};
    return trueSize(product, model->box());
  };
}

void Session::addProduct(const AssetRef& ref, const Model& model, const std::string& name) {
  edit(words("bring in ") + QString::fromStdString(name), [&](Project& p) {
    Product product;
    product.id = freshId(p.products, "product");
    product.name = name, product.model = ref;
    product.metresPerUnit = model.metresPerUnit, product.up = model.up;
    Placement placement;
    placement.id = freshId(shotIn(p).placements, "placement"), placement.productId = product.id;
    arrive(p, size_t(&shotIn(p) - p.shots.data()), placement, trueSize(product, model.box()), sizeOf());
    p.products.push_back(product);
    shotIn(p).placements.push_back(placement);
    // What the file itself hides stays hidden.
    for (const Part& part : model.parts)
      if (part.hiddenInFile) p.products.back().hiddenParts.insert(part.path);
  });
  selectPlacement(shot().placements.back().id);
}

void Session::copyPlacement() {
  const Placement* from = placement();
  if (!from) return;
  std::string id;
  editShot(words("copy the product"), [&](Shot& shot) {
    Placement copy = *from;
    copy.id = id = freshId(shot.placements, "placement");
    double aside = 0.2;
    if (const auto size = product() ? sizeOf()(*product()) : std::nullopt)
      aside = 1.15 * std::max(size->x, size->y);
    copy.xM += aside;
    shot.placements.push_back(copy);
  });
  selectPlacement(id);
}

void Session::removePlacement() {
  const Placement* gone = placement();
  if (!gone) return;
  edit(words("take the product away"), [&, id = gone->id, of = gone->productId](Project& p) {
    std::erase_if(shotIn(p).placements, [&](const Placement& each) { return each.id == id; });
    for (const Shot& shot : p.shots)
      for (const Placement& each : shot.placements)
        if (each.productId == of) return;
    std::erase_if(p.products, [&](const Product& each) { return each.id == of; });
  });
  selectPlacement({});
}

}  // namespace dusk
