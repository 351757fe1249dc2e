#include "app/session.h"

#include "core/light/backdrop.h"
#include "core/vantage/camera.h"

#include <QSettings>
#include <QStandardPaths>
#include <QtConcurrent>

#include "core/base/files.h"
#include "core/project/file.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace fs = std::filesystem;

const char* stationName(Station station) {
  static const char* names[] = {"Plate",   "Vantage", "Product", "Surface", "Light",
                                "Contact", "Render",  "Blend",   "Deliver"};
  return names[int(station)];
}

namespace {

Project emptyProject() {
  Project p;
  p.name = "Untitled";
  Shot shot;
  shot.id = "shot-1", shot.name = "Shot 1";
  shot.deliverables = {{DeliverableKind::png, "picture.png"}, {DeliverableKind::exr, "picture.exr"}};
  p.shots.push_back(shot);
  return p;
}

/// The project with every link made relative to `folder`.
Project relinked(Project project, const AssetStore& from, const fs::path& folder) {
  const AssetStore to(folder);
  const auto relink = [&](AssetRef& ref) {
    if (ref.empty()) return;
    if (const auto moved = to.refer(from.pathOf(ref))) ref.path = moved->path;
  };
  for (Product& p : project.products) relink(p.model);
  for (Shot& s : project.shots) {
    relink(s.plate), relink(s.surroundings.panorama);
    for (Lamp& l : s.lamps) relink(l.picture);
  }
  for (Rig& r : project.rigs) {
    relink(r.surroundings.panorama);
    for (Lamp& l : r.lamps) relink(l.picture);
  }
  return project;
}

}  // namespace

Session::Session(QObject* parent) : QObject(parent), history_(emptyProject()) {
  journalTimer_.setSingleShot(true);
  journalTimer_.setInterval(800);
  connect(&journalTimer_, &QTimer::timeout, this, &Session::writeJournal);
  vantageWork_ = std::make_unique<VantageWork>(*this);
  shownUnit_ = std::clamp(QSettings().value("lengths").toInt(), 0, int(shownUnits().size()) - 1);
}

Session::~Session() = default;

int Session::newGesture() {
  static int next = 0;
  return ++next;
}

void Session::edit(const QString& what, const std::function<void(Project&)>& change, int gesture) {
  const Project before = project();
  Project next = before;
  change(next);
  history_.push(std::move(next), what.toStdString(), gesture);
  moved(before);
}

void Session::editShot(const QString& what, const std::function<void(Shot&)>& change, int gesture) {
  edit(
      what, [&](Project& p) { change(p.shots[shotIndex]); }, gesture);
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

void Session::setCameraByHand(Shot& shot) {
  const bool photo = shot.backdrop.kind == BackdropKind::photo;
  const int w = photo ? shot.vantage.camera.width : shot.backdrop.width,
            h = photo ? shot.vantage.camera.height : shot.backdrop.height;
  if (w <= 0 || h <= 0) return;
  shot.vantage = {};
  shot.vantage.solved = shot.vantage.locked = true;
  shot.vantage.camera = handCamera(shot.backdrop, w, h);
  if (shot.backdrop.kind == BackdropKind::panorama) shot.surroundings.captureM = shot.vantage.camera.position;
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
}

void Session::moved(const Project& before) {
  if (before == project()) return;
  const Changes what = changes(before, project(), shotIndex);
  if (before.shots.front().evidence != shot().evidence && answered_ != shot().evidence) {
    const Camera& camera = shot().vantage.camera;
    if (camera.width > 0) answer_ = solve(shot().evidence, camera.width, camera.height);
    answered_ = shot().evidence;
  }
  journalTimer_.start();
  emit changed(what);
}

void Session::undo() {
  const Project before = project();
  history_.undo();
  moved(before);
}

void Session::redo() {
  const Project before = project();
  history_.redo();
  moved(before);
}

void Session::startEmpty() {
  history_ = History(emptyProject());
  file_.clear();
  assets_ = std::make_shared<AssetStore>();
  answer_ = {};
  part_.clear(), placement_.clear(), stroke_.clear(), lamp_.clear(), standIn_.clear();
  vantageWork_->dropProposal();
  emit changed({true, true, true, true});
  emit selectionChanged();
}

bool Session::open(const fs::path& file) {
  auto loaded = loadProject(file);
  if (!loaded) {
    say(QString::fromStdString(loaded.error().message), true);
    return false;
  }
  if (loaded->shots.empty()) loaded->shots = emptyProject().shots;
  history_ = History(std::move(*loaded));
  file_ = fs::absolute(file);
  assets_ = std::make_shared<AssetStore>(file_.parent_path());
  part_.clear(), placement_.clear(), stroke_.clear(), lamp_.clear(), standIn_.clear();
  vantageWork_->dropProposal();
  const Camera& camera = shot().vantage.camera;
  answer_ = camera.width > 0 ? solve(shot().evidence, camera.width, camera.height) : VantageAnswer{};
  // Work that was never saved comes back as one step on top of the file, so that undo shows the file itself.
  std::error_code code;
  if (fs::exists(journalPath(), code))
    if (auto unsaved = loadProject(journalPath());
        unsaved && !unsaved->shots.empty() && *unsaved != project()) {
      history_.push(std::move(*unsaved), "bring back unsaved work");
      say("Unsaved work from last time was brought back. Undo shows the file as it was saved.");
    }
  emit changed({true, true, true, true});
  emit selectionChanged();
  return true;
}

bool Session::save(const fs::path& file) {
  const fs::path target = fs::absolute(file);
  Project toSave = project();
  if (target.parent_path() != file_.parent_path()) {
    toSave = relinked(std::move(toSave), *assets_, target.parent_path());
    if (file_.empty() && toSave.name == "Untitled") toSave.name = target.stem().string();
  }
  if (const auto saved = saveProject(toSave, target); !saved) {
    say(QString::fromStdString(saved.error().message), true);
    return false;
  }
  dropJournal();
  if (target.parent_path() != file_.parent_path()) {
    assets_ = std::make_shared<AssetStore>(target.parent_path());
    history_.push(std::move(toSave), "save elsewhere");
  }
  file_ = target;
  history_.markSaved();
  emit changed({});
  return true;
}

fs::path Session::journalPath() const {
  if (!file_.empty()) return journalOf(file_);
  const auto folder = QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation).toStdString();
  return journalOf(fs::path(folder) / "untitled.dusk");
}

void Session::writeJournal() {
  if (isSaved()) return dropJournal();
  // A snapshot goes to a worker: fsync on a slow disk must not be felt.
  (void)QtConcurrent::run([project = project(), path = journalPath()] {
    std::error_code code;
    fs::create_directories(path.parent_path(), code);
    (void)saveProject(project, path).ok();
  });
}

void Session::dropJournal() {
  journalTimer_.stop();
  std::error_code code;
  fs::remove(journalPath(), code);
}

void Session::setStation(Station station) {
  if (station == station_) return;
  station_ = station;
  emit stationChanged();
}

void Session::selectPart(const std::string& path, const std::string& placementId) {
  const auto has = [&](const Placement& p) {
    const Product* of = byId(project().products, p.productId);
    const auto model = of ? assets_->loadedModel(*of) : nullptr;
    return model && std::any_of(model->parts.begin(), model->parts.end(),
                                [&](const Part& part) { return part.path == path; });
  };
  std::string at = placementId.empty() ? placement_ : placementId;
  if (!path.empty() && placementId.empty())
    if (const Placement* now = placement(); !now || !has(*now))
      for (const Placement& p : shot().placements)
        if (has(p)) {
          at = p.id;
          break;
        }
  if (part_ == path && placement_ == at) return;
  part_ = path, placement_ = at;
  emit selectionChanged();
}

void Session::selectPlacement(const std::string& id) {
  if (placement_ == id && part_.empty()) return;
  placement_ = id, part_.clear();
  emit selectionChanged();
}

const Placement* Session::placement() const {
  const auto& all = shot().placements;
  if (const Placement* p = byId(all, placement_)) return p;
  return all.empty() ? nullptr : &all.front();
}

const Product* Session::product() const {
  const auto& all = project().products;
  if (const Placement* p = placement())
    if (const Product* of = byId(all, p->productId)) return of;
  return all.empty() ? nullptr : &all.front();
}

Placement* Session::placementIn(Shot& shot) const {
  const Placement* p = placement();
  return p ? byId(shot.placements, p->id) : nullptr;
}

Product* Session::productIn(Project& project) const {
  const Product* p = product();
  return p ? byId(project.products, p->id) : nullptr;
}

void Session::setNextDrag(NextDrag drag) {
  if (drag == nextDrag_) return;
  nextDrag_ = drag;
  emit selectionChanged();
}

const std::vector<Session::ShownUnit>& Session::shownUnits() {
  static const std::vector<ShownUnit> all = {
      {"mm", 1000, 1, 1}, {"cm", 100, 2, 0.1}, {"m", 1, 4, 0.001}, {"in", 1 / 0.0254, 3, 0.1}};
  return all;
}

void Session::setShownUnit(int index) {
  if (index < 0 || index >= int(shownUnits().size()) || index == shownUnit_) return;
  shownUnit_ = index;
  QSettings().setValue("lengths", index);
  emit selectionChanged();
}

void Session::selectStroke(const std::string& id) {
  if (stroke_ == id) return;
  stroke_ = id;
  emit selectionChanged();
}

void Session::selectStandIn(const std::string& id) {
  if (standIn_ == id) return;
  standIn_ = id;
  emit selectionChanged();
}

void Session::selectLamp(const std::string& id) {
  if (lamp_ == id) return;
  lamp_ = id;
  emit selectionChanged();
}

void Session::setPlate(const AssetRef& ref, const Photo& photo) {
  editShot("choose the plate", [&](Shot& shot) {
    const bool sameFrame = shot.vantage.camera.width == photo.picture.width &&
                           shot.vantage.camera.height == photo.picture.height;
    shot.plate = ref;
    if (!sameFrame) {  // evidence belongs to a photo's pixels
      shot.evidence = {};
      shot.vantage = {};
      shot.gnomon.reset();
    }
    shot.vantage.camera.width = photo.picture.width;
    shot.vantage.camera.height = photo.picture.height;
    if (photo.info.focalMm35 > 0 && !shot.evidence.focalMm35 && shot.evidence.strokes.empty())
      shot.evidence.focalMm35 = photo.info.focalMm35;
  });
}

void Session::addProduct(const AssetRef& ref, const Model& model, const std::string& name) {
  edit("bring in " + QString::fromStdString(name), [&](Project& p) {
    Product product;
    product.id = freshId(p.products, "product");
    product.name = name, product.model = ref;
    product.metresPerUnit = model.metresPerUnit, product.up = model.up;
    Shot& shot = p.shots[shotIndex];
    Placement placement;
    placement.id = freshId(shot.placements, "placement"), placement.productId = product.id;
    // On the ground seen a little below the picture's middle, where a product is looked for.
    const Camera camera = workingCamera(shot.vantage);
    if (shot.vantage.solved)
      if (const auto spot = levelPoint(camera, {camera.width * 0.5, camera.height * 0.68}))
        placement.xM = spot->x, placement.yM = spot->y;
    p.products.push_back(product);
    shot.placements.push_back(placement);
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
  editShot("copy the product", [&](Shot& shot) {
    Placement copy = *from;
    copy.id = id = freshId(shot.placements, "placement");
    double aside = 0.2;
    if (const auto model = product() ? assets_->loadedModel(*product()) : nullptr) {
      const Vec3d size = trueSize(*product(), model->box());
      aside = 1.15 * std::max(size.x, size.y);
    }
    copy.xM += aside;
    shot.placements.push_back(copy);
  });
  selectPlacement(id);
}

void Session::removePlacement() {
  const Placement* gone = placement();
  if (!gone) return;
  edit("take the product away", [&, id = gone->id, of = gone->productId](Project& p) {
    std::erase_if(p.shots[shotIndex].placements, [&](const Placement& each) { return each.id == id; });
    for (const Shot& shot : p.shots)
      for (const Placement& each : shot.placements)
        if (each.productId == of) return;
    std::erase_if(p.products, [&](const Product& each) { return each.id == of; });
  });
  selectPlacement({});
}

void Session::setPanorama(const AssetRef& ref) {
  editShot("choose the panorama", [&](Shot& shot) { shot.surroundings.panorama = ref; });
}

}  // namespace dusk
