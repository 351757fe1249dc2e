// The window's files: menus, opening, saving, loading in the background, delivering.
#include <QtConcurrent>
#include <QtWidgets>

#include "app/main_window.h"
#include "app/revise_panel.h"
#include "core/base/files.h"
#include "core/deliver/deliver.h"
#include "core/light/bracket.h"
#include "core/light/reshape.h"
#include "core/picture/read.h"
#include "core/picture/write.h"
#include "core/product/formats.h"
#include "core/product/revise.h"
#include "core/trace/detail.h"
#include "core/vantage/camera_file.h"

namespace dusk {
namespace fs = std::filesystem;

namespace {
fs::path pathOf(const QString& file) { return fs::path(file.toStdString()); }
}  // namespace

void MainWindow::buildMenus() {
  const auto item = [this](QMenu* menu, const QString& text, const QKeySequence& keys, auto then) {
    auto* action = menu->addAction(text);
    action->setShortcut(keys);
    connect(action, &QAction::triggered, this, then);
    return action;
  };
  auto* file = menuBar()->addMenu("&File");
  item(file, "New", QKeySequence::New, [this] {
    if (mayLoseWork()) session_.startEmpty();
  });
  item(file, "Open…", QKeySequence::Open, [this] {
    const QString name =
        QFileDialog::getOpenFileName(this, "Open a project", {}, "Gentle Dusk projects (*.dusk)");
    if (!name.isEmpty() && mayLoseWork()) open(name);
  });
  recent_ = file->addMenu("Recent");
  refreshRecent();
  file->addSeparator();
  item(file, "Save", QKeySequence::Save, [this] { save(); });
  item(file, "Save as…", QKeySequence("Ctrl+Shift+S"), [this] { saveAs(); });
  file->addSeparator();
  item(file, "Deliver", QKeySequence("Ctrl+Return"), [this] {
    session_.setStation(Station::deliver);
    emit errands_.deliver();
  });
  file->addSeparator();
  item(file, "Quit", QKeySequence::Quit, [this] { close(); });

  auto* edit = menuBar()->addMenu("&Edit");
  undo_ = item(edit, "Undo", QKeySequence::Undo, [this] { session_.undo(); });
  redo_ = item(edit, "Redo", QKeySequence("Ctrl+Shift+Z"), [this] { session_.redo(); });

  auto* view = menuBar()->addMenu("&View");
  view->addAction(pictureAction_);
  view->addAction(planAction_);
  view->addAction(aroundAction_);
  view->addAction(panoramaAction_);
  view->addSeparator();
  item(view, "Closer", QKeySequence("Ctrl++"),
       [this] { picture_->zoomBy(1.25, QRectF(picture_->rect()).center()); });
  item(view, "Farther", QKeySequence("Ctrl+-"),
       [this] { picture_->zoomBy(0.8, QRectF(picture_->rect()).center()); });
  item(view, "Pixel for pixel", QKeySequence("Ctrl+0"),
       [this] { picture_->zoomBy(1 / picture_->scale(), QRectF(picture_->rect()).center()); });
  view->addSeparator();
  auto* fold =
      item(view, "Cast", QKeySequence("F9"), [this] { castPanel_->setVisible(!castPanel_->isVisible()); });
  fold->setToolTip("Folds the cast away and back");

  auto* stations = menuBar()->addMenu("&Stations");
  for (int i = 0; i < stationCount; ++i)
    item(stations, stationName(Station(i)), QKeySequence(QString("Ctrl+%1").arg(i + 1)),
         [this, i] { session_.setStation(Station(i)); });

  auto* help = menuBar()->addMenu("&Help");
  item(help, "Keys and gestures", QKeySequence::HelpContents, [this] {
    say("Hold B: bare plate.  Wheel: zoom.  Alt or middle drag: move the view.  F: fit.  Ctrl+1…9: stations. "
        " "
        "Vantage: 1-9 choose what to draw, S snaps or frees a stroke, N next point, arrows nudge 0.1 px, "
        "Ctrl draws "
        "beside a handle.  Product: arrows 1 mm, PageUp/PageDown turn "
        "1°.",
        false);
  });
  refreshTitle();
}

void MainWindow::open(const QString& file) {
  if (!session_.open(pathOf(file))) return;
  remember(file);
  picture_->zoomToFit();
}

bool MainWindow::save() { return session_.file().empty() ? saveAs() : session_.save(session_.file()); }

bool MainWindow::saveAs() {
  QString file = QFileDialog::getSaveFileName(this, "Save the project", {}, "Gentle Dusk projects (*.dusk)");
  if (file.isEmpty()) return false;
  if (!file.endsWith(".dusk")) file += ".dusk";
  if (!session_.save(pathOf(file))) return false;
  remember(file);
  return true;
}

bool MainWindow::mayLoseWork() {
  if (session_.isSaved()) return true;
  QMessageBox question(QMessageBox::NoIcon, "Gentle Dusk", "Save the changes to this project first?",
                       QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, this);
  question.setInformativeText("Without saving, what was done since the last save is let go.");
  switch (question.exec()) {
    case QMessageBox::Save:
      return save();
    case QMessageBox::Discard:
      session_.dropJournal();
      return true;
    default:
      return false;
  }
}

void MainWindow::closeEvent(QCloseEvent* e) { e->setAccepted(mayLoseWork()); }

void MainWindow::remember(const QString& file) {
  QSettings settings;
  QStringList files = settings.value("recent").toStringList();
  files.removeAll(QFileInfo(file).absoluteFilePath());
  files.prepend(QFileInfo(file).absoluteFilePath());
  settings.setValue("recent", files.mid(0, 8));
  refreshRecent();
}

void MainWindow::refreshRecent() {
  recent_->clear();
  for (const QString& file : QSettings().value("recent").toStringList())
    recent_->addAction(QFileInfo(file).fileName() + "  –  " + QFileInfo(file).absolutePath(), this,
                       [this, file] {
                         if (mayLoseWork()) open(file);
                       });
  recent_->setEnabled(!recent_->isEmpty());
}

void MainWindow::take(const QStringList& files) {
  for (const QString& file : files) {
    const QString ending = QFileInfo(file).suffix().toLower();
    if (ending == "dusk") {
      if (mayLoseWork()) open(file);
    } else if (isModelFile(pathOf(file))) {
      takeModel(file);
    } else if (QStringList{"jpg", "jpeg", "png", "tif", "tiff", "exr", "hdr"}.contains(ending)) {
      takePicture(file);
    } else {
      say(QFileInfo(file).fileName() +
              " is neither a photo, a panorama, a model nor a project that Gentle Dusk reads.",
          true);
    }
  }
}

/// A picture twice as wide as high is a panorama; any other a photo.
void MainWindow::takePicture(const QString& file) {
  const auto header = readPictureHeader(pathOf(file));
  if (!header) return say(QString::fromStdString(header.error().message), true);
  if (header->width == 2 * header->height)
    takePanorama(file);
  else
    takePlate(file);
}

namespace {

template <typename T>
struct Loaded {
  Result<AssetRef> ref;
  Result<std::shared_ptr<const T>> asset;
};

/// Refers to and loads an asset through the store, so that whoever asks next finds it there.
template <typename T, typename Load>
Loaded<T> loadAsset(AssetStore& assets, const fs::path& file, const Load& load) {
  auto ref = assets.refer(file);
  if (!ref) return {ref, ref.error()};
  return {*ref, load(*ref)};
}

}  // namespace

void MainWindow::takePlate(const QString& file) {
  say("Reading " + QFileInfo(file).fileName() + "…", false);
  QtConcurrent::run([assets = session_.assets(), path = pathOf(file)] {
    return loadAsset<Photo>(*assets, path, [&](const AssetRef& ref) { return assets->photo(ref); });
  }).then(this, [this](const Loaded<Photo>& loaded) {
    if (!loaded.asset) return say(QString::fromStdString(loaded.asset.error().message), true);
    message_->hide();
    session_.setPlate(*loaded.ref, **loaded.asset);
    picture_->zoomToFit();
  });
}

void MainWindow::takePanorama(const QString& file) {
  if (import_) return say("Something is being read already; cancel it or wait.", true);
  import_ = std::make_shared<Progress>();
  say("Reading " + QFileInfo(file).fileName() + "…", false);
  QtConcurrent::run([assets = session_.assets(), path = pathOf(file), progress = import_] {
    return loadAsset<Panorama>(*assets, path,
                               [&](const AssetRef& ref) { return assets->panorama(ref, progress.get()); });
  }).then(this, [this](const Loaded<Panorama>& loaded) {
    import_.reset();
    message_->hide();
    if (!loaded.asset)
      return say(QString::fromStdString(loaded.asset.error().message),
                 loaded.asset.error().kind != ErrorKind::cancelled);
    session_.setPanorama(*loaded.ref);
  });
}

void MainWindow::makePanorama(const QStringList& files, const char* ending, const QString& saying,
                              std::function<Result<Picture>(Progress&)> make) {
  if (import_) return say("Something is being read already; cancel it or wait.", true);
  import_ = std::make_shared<Progress>();
  say(saying, false);
  const fs::path first = pathOf(files.front()), to = first.parent_path() / (first.stem().string() + ending);
  QtConcurrent::run([make = std::move(make), to, progress = import_]() -> Outcome {
    const auto light = make(*progress);
    return light ? writeExr(to, {{"panorama", &*light, false}}) : Outcome(light.error());
  }).then(this, [this, to](const Outcome& written) {
    import_.reset();
    message_->hide();
    if (!written)
      return say(QString::fromStdString(written.error().message),
                 written.error().kind != ErrorKind::cancelled);
    takePanorama(QString::fromStdString(to.string()));
  });
}

void MainWindow::takeBrackets(const QStringList& files) {
  std::vector<fs::path> paths;
  for (const QString& f : files) paths.push_back(pathOf(f));
  makePanorama(files, "-merged.exr", QString("Merging %1 photos…").arg(files.size()),
               [paths](Progress& progress) -> Result<Picture> {
                 auto merged = mergeFiles(paths, {}, progress);
                 if (!merged) return merged.error();
                 return std::move(merged->light);
               });
}

/// Several photos of a ball are taken to be from sides evenly round it, in the order of their names.
void MainWindow::takeBalls(const QStringList& files) {
  makePanorama(files, "-unwrapped.exr", "Unwrapping the mirror ball…",
               [files](Progress& progress) -> Result<Picture> {
                 std::vector<BallPhoto> balls;
                 for (const QString& f : files) {
                   const auto light = readLight(pathOf(f));
                   if (!light) return light.error();
                   auto ball = findBall(*light);
                   if (!ball) return ball.error();
                   ball->lookDegrees = 360.0 * double(balls.size()) / double(files.size());
                   balls.push_back(std::move(*ball));
                 }
                 return fromBalls(balls, 2048, progress);
               });
}

void MainWindow::takeFisheyes(const QStringList& files) {
  if (files.size() != 2) return say("Choose two pictures: the front one and the back one.", true);
  makePanorama(files, "-joined.exr", "Joining the two fisheye pictures…",
               [files](Progress& progress) -> Result<Picture> {
                 const auto front = readLight(pathOf(files[0])), back = readLight(pathOf(files[1]));
                 if (!front || !back) return front ? back.error() : front.error();
                 return fromFisheyes(*front, *back, 190, 2048, progress);
               });
}

void MainWindow::takeLampPicture(const QString& lampId, const QString& file) {
  const auto ref = session_.assets()->refer(pathOf(file));
  if (!ref) return say(QString::fromStdString(ref.error().message), true);
  session_.editShot("choose a lamp's picture", [&](Shot& shot) {
    if (Lamp* lamp = byId(shot.lamps, lampId.toStdString())) lamp->picture = *ref, lamp->crop = {0, 0, 1, 1};
  });
}

void MainWindow::takeModel(const QString& file) {
  if (import_) return say("One model is being read already; cancel it or wait.", true);
  import_ = std::make_shared<Progress>();
  say("Reading " + QFileInfo(file).fileName() + "…", false);
  QtConcurrent::run([assets = session_.assets(), path = pathOf(file), progress = import_] {
    return loadAsset<Model>(*assets, path, [&](const AssetRef& ref) {
      return assets->model(Product{"", "", ref}, *progress);
    });
  }).then(this, [this, name = QFileInfo(file).completeBaseName()](const Loaded<Model>& loaded) {
    import_.reset();
    message_->hide();
    if (!loaded.asset)
      return say(QString::fromStdString(loaded.asset.error().message),
                 loaded.asset.error().kind != ErrorKind::cancelled);
    session_.addProduct(*loaded.ref, **loaded.asset, name.toStdString());
    if (session_.station() == Station::plate || session_.station() == Station::vantage)
      session_.setStation(Station::product);
  });
}

void MainWindow::takeRevision(const QString& file) {
  const Product* product = session_.product();
  if (!product) return say("Bring in a model first: a revision is a newer file of it.", true);
  if (import_) return say("One model is being read already; cancel it or wait.", true);
  import_ = std::make_shared<Progress>();
  say("Reading " + QFileInfo(file).fileName() + "…", false);
  struct Compared {
    Result<AssetRef> ref;
    Result<std::vector<PartFate>> fates;
  };
  QtConcurrent::run([assets = session_.assets(), path = pathOf(file), progress = import_,
                     before = *product]() -> Compared {
    const auto old = assets->model(before, *progress);
    if (!old) return {old.error(), old.error()};
    Product after = before;
    const auto loaded = loadAsset<Model>(*assets, path, [&](const AssetRef& ref) {
      after.model = ref;
      return assets->model(after, *progress);
    });
    if (!loaded.asset) return {loaded.ref, loaded.asset.error()};
    return {loaded.ref, compareModels(**old, **loaded.asset)};
  }).then(this, [this, id = product->id](const Compared& compared) {
    import_.reset();
    message_->hide();
    if (!compared.fates)
      return say(QString::fromStdString(compared.fates.error().message),
                 compared.fates.error().kind != ErrorKind::cancelled);
    auto* panel = new RevisePanel(session_, id, *compared.ref, *compared.fates, this);
    panel->show();
  });
}

/// Reads CAD models again, finer, where a product has come nearer than its facets allow.
void MainWindow::refineModels() {
  if (import_ || !session_.shot().vantage.solved) return;
  for (const Product& product : session_.project().products) {
    const auto model = session_.assets()->loadedModel(product);
    if (!model || model->chordM <= 0) continue;
    const double wanted = wantedChordM(session_.project(), product, *session_.assets());
    const auto key = std::pair(product.model.hash, wanted);
    if (model->chordM <= wanted * (1 + 1e-9) || notFiner_.contains(key)) continue;
    import_ = std::make_shared<Progress>();
    say("Making " + QString::fromStdString(product.name) + " finer, for how near it stands…", false);
    QtConcurrent::run([assets = session_.assets(), product, wanted, progress = import_] {
      return assets->finer(product, wanted, *progress).ok();
    }).then(this, [this, key](bool ok) {
      import_.reset();
      message_->hide();
      if (!ok) notFiner_.insert(key);  // cancelled or too much: what is there stays
      picture_->requestFrame();
      around_->modelsChanged();
      refineTimer_.start();
    });
    return;
  }
}

void MainWindow::deliverInto(const QString& folder) {
  if (delivery_) return;
  delivery_ = std::make_shared<Progress>();
  deliverDesk_->setRunning(true);
  const bool wasPaused = preview_.paused();
  preview_.setPaused(true);  // both cores for the files
  deliveryTimer_.disconnect();
  connect(&deliveryTimer_, &QTimer::timeout, this, [this] {
    if (delivery_) deliverDesk_->setProgress(delivery_->fraction(), delivery_->secondsLeft());
  });
  deliveryTimer_.start(150);
  DeliverOptions options;
  options.folder = pathOf(folder);
  QtConcurrent::run([project = session_.project(), assets = session_.assets(), cache = session_.geometry(),
                     options, progress = delivery_] {
    return deliver(project, Session::shotIndex, *assets, *cache, options, *progress);
  }).then(this, [this, wasPaused](const Result<DeliverReport>& report) {
    deliveryTimer_.stop();
    delivery_.reset();
    preview_.setPaused(wasPaused);
    deliverDesk_->setRunning(false);
    if (!report) {
      deliverDesk_->setResult(QString::fromStdString(report.error().message));
      if (report.error().kind != ErrorKind::cancelled)
        say(QString::fromStdString(report.error().message), true);
    } else {
      QStringList names;
      for (const auto& file : report->files) names << QString::fromStdString(file.string());
      deliverDesk_->setResult(QString("Written, %1 × %2, %3 samples:\n%4")
                                  .arg(report->width)
                                  .arg(report->height)
                                  .arg(report->samples)
                                  .arg(names.join("\n")));
      horizon_->setDelivered(int(report->files.size()));
      for (const std::string& note : report->notes) say(QString::fromStdString(note), true);
    }
    emit delivered(report.ok());
  });
}

void MainWindow::saveCamera(const QString& file) {
  const Shot& shot = session_.shot();
  if (!shot.vantage.solved) return say("There is no camera to save yet: solve the vantage first.", true);
  const fs::path path = pathOf(file);
  const auto saved =
      writeFileAtomically(path, endingOf(path) == ".json" ? vantageJson(shot.vantage)
                                                          : cameraGltf(shot.vantage.camera, shot.name));
  say(saved ? "Camera written: " + file : QString::fromStdString(saved.error().message), !saved.ok());
}

void MainWindow::loadCamera(const QString& file) {
  const Camera& camera = session_.shot().vantage.camera;
  if (camera.width <= 0) return say("Choose the photo first: a camera belongs to one.", true);
  const auto read = readVantage(pathOf(file), camera.width, camera.height);
  if (!read) return say(QString::fromStdString(read.error().message), true);
  session_.editShot("load a camera", [&](Shot& shot) {
    shot.vantage = *read;
    shot.vantage.locked = true;
  });
}

}  // namespace dusk
