// The window's layout and what its parts tell each other.
#include "app/window/main_window.h"

#include <QtWidgets>

#include "app/cast/cast_panel.h"
#include "app/document/preferences.h"
#include "app/stations/deliver/delivery.h"
#include "app/stations/plate/photo_jobs.h"
#include "app/stations/plate/set_desk.h"
#include "app/stations/stations.h"
#include "app/stations/surface/apply_surface.h"
#include "app/widgets/colour_popover.h"
#include "app/widgets/desk.h"
#include "app/widgets/file_choice.h"
#include "app/widgets/look.h"
#include "app/window/drawer.h"
#include "app/window/help_panel.h"
#include "app/window/horizon_bar.h"
#include "app/window/lesson.h"
#include "app/window/motion_drawer.h"
#include "app/window/need_row.h"
#include "app/window/notices.h"
#include "app/window/proof_strip.h"
#include "app/window/queue_drawer.h"
#include "app/window/shot_strip.h"
#include "app/window/start_page.h"
#include "app/window/variant_drawer.h"
#include "app/window/variant_matrix.h"
#include "app/window/variant_pictures.h"
#include "core/base/log.h"
#include "core/base/words.h"
#include "core/product/formats.h"

namespace dusk {

MainWindow::MainWindow() {
  setObjectName("gentle-dusk");
  setMinimumHeight(600);
  setAcceptDrops(true);
  wearPreferences();
  build();
  buildMenus();
  look::dress(*this);
  connectAll();
  fitScreen();
  refreshTitle();
  showStation();
  connect(&Preferences::own(), &Preferences::changed, this, &MainWindow::applyPreferences);
  connect(&saves_, &QTimer::timeout, this, &MainWindow::saveByItself);
  applyPreferences();
}

MainWindow::~MainWindow() {
  ColourPopover::setPhotoSamplers({}, {});
  QSettings().setValue("window/geometry", saveGeometry());
  QSettings().setValue("window/panels", middle_->saveState());
  // A name that is being typed ends with the focus, while there is a document to write it into.
  hide();
  jobs_.cancelAll();
  preview_.stop();
  QThreadPool::globalInstance()->waitForDone();
}

/// As it was left; else as large as suits the work, and never larger than the screen has room for.
void MainWindow::fitScreen() {
  const QScreen* on = screen() ? screen() : QGuiApplication::primaryScreen();
  const QSize room = on ? on->availableGeometry().size() - QSize(2, 34) : QSize(1280, 800);
  resize(QSize(1280, 800).boundedTo(room));
  restoreGeometry(QSettings().value("window/geometry").toByteArray());
  if (!isMaximized() && !isFullScreen()) resize(size().boundedTo(room));
}

void MainWindow::build() {
  auto* centre = new QWidget;
  auto* column = new QVBoxLayout(centre);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  horizon_ = new HorizonBar(session_);
  column->addWidget(horizon_);
  middle_ = new QSplitter;
  middle_->setHandleWidth(3);
  middle_->setChildrenCollapsible(false);
  cast_ = new CastPanel(session_);
  cast_->setMinimumWidth(look::px(190));
  middle_->addWidget(cast_);
  middle_->addWidget(buildViews());
  middle_->addWidget(buildDesks());
  // A wide window gives some of its width to sliders and lists.
  middle_->setStretchFactor(1, 5), middle_->setStretchFactor(2, 1);
  middle_->setSizes({216, 754, 310});
  middle_->restoreState(QSettings().value("window/panels").toByteArray());
  column->addWidget(middle_, 1);
  lesson_ = new LessonStrip(*this);
  column->addWidget(lesson_);
  drawer_ = new Drawer;
  proofs_ = new ProofStrip(session_);
  drawer_->add(words("Proofs"), words("Product beside photo, measured"), proofs_);
  shots_ = new ShotStrip(session_, jobs_, preview_);
  drawer_->add(words("Shots"), words("The shots of this project"), shots_);
  variants_ = new VariantDrawer(session_, *variantPictures_);
  drawer_->add(words("Variants"), words("What there are several of: colours, lids, labels, lights"),
               variants_);
  connect(variants_, &VariantDrawer::matrixWanted, this, [this] { showView(View::matrix); });
  motion_ = new MotionDrawer(bench_);
  drawer_->add(words("Motion"), words("What moves: keys, films"), motion_, 150);
  queue_ = new QueueDrawer;
  drawer_->add(words("Queue"), words("Work that is handed over later, and goes on without this window"),
               queue_);
  column->addWidget(drawer_);
  setCentralWidget(centre);
  help_ = new HelpPanel(this);
  addDockWidget(Qt::RightDockWidgetArea, help_);
  help_->hide();
}

QWidget* MainWindow::buildViews() {
  auto* holder = new QWidget;
  auto* column = new QVBoxLayout(holder);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  column->addWidget(buildPictureHeader());
  picture_ = new PictureView(session_, preview_);
  std::array<std::unique_ptr<Tool>, stationCount> tools;
  for (const StationInfo& info : stations()) tools[size_t(info.station)] = info.makeTool(*picture_, bench_);
  picture_->setTools(std::move(tools));
  start_ = new StartPage(session_, picture_);
  plan_ = new PlanView(session_);
  around_ = new AroundView(session_);
  panorama_ = new PanoramaView(session_);
  views_ = new QStackedWidget;
  variantPictures_ = new VariantPictures(session_, jobs_, preview_, this);
  auto* matrix = new VariantMatrix(bench_, *variantPictures_);
  connect(matrix, &VariantMatrix::pictureWanted, this, [this] { showView(View::picture); });
  for (QWidget* view : std::initializer_list<QWidget*>{picture_, plan_, around_, panorama_, matrix})
    views_->addWidget(view);
  for (QAction* action : letterActions_) views_->addAction(action);
  column->addWidget(views_, 1);
  notices_ = new Notices(jobs_, holder);
  notices_->hide();
  connect(notices_, &Notices::covers, this, [this](int height) {
    for (QWidget* view : std::initializer_list<QWidget*>{picture_, plan_, around_, panorama_})
      view->setContentsMargins(0, 0, 0, height), view->update();
  });
  return holder;
}

QWidget* MainWindow::buildDesks() {
  auto* side = new QWidget;
  auto* column = new QVBoxLayout(side);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  column->addWidget(new NeedRow(session_));
  desks_ = new QStackedWidget;
  desks_->setMinimumWidth(look::px(310));
  for (const StationInfo& info : stations()) {
    auto* scroll = new QScrollArea;
    scroll->setWidget(info.makeDesk(bench_));
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    desks_->addWidget(scroll);
  }
  desks_->setObjectName("desks");
  column->addWidget(desks_, 1);
  return side;
}

void MainWindow::connectAll() {
  connect(&session_, &Session::said, this,
          [this](const QString& text, bool trouble) { notices_->say(text, trouble); });
  connect(&session_, &Session::refused, notices_, &Notices::refuse);
  connect(&session_, &Session::stationChanged, this,
          [this] { log(LogLevel::news, std::string("went to ") + infoOf(session_.station()).name); });
  connect(&session_, &Session::changed, this, &MainWindow::refreshTitle);
  connect(&session_, &Session::stationChanged, this, &MainWindow::showStation);
  connect(&session_, &Session::documentChanged, this, [this] {
    saidNotes_.clear();
    frameText_->clear();
    proofs_->setProofs({});
  });
  connect(&session_, &Session::assetsChanged, around_, &AroundView::modelsChanged);
  connect(start_, &StartPage::photoWanted, this, [this] {
    session_.setStation(Station::plate);
    choosePhoto(bench_);
  });
  connect(start_, &StartPage::furnishedWanted, this, [this] { beginSet(session_); });
  connect(start_, &StartPage::lessonWanted, this, &MainWindow::teachFirstPicture);
  connect(start_, &StartPage::fileWanted, this, &MainWindow::open);
  connect(&preview_, &Preview::failed, this, [this](const QString& why) { notices_->say(why, true); });
  connect(&preview_, &Preview::proofsReady, this, [this](const std::shared_ptr<const Proofs>& proofs) {
    horizon_->setProofs(proofs);
    if (proofs->shotId == session_.shot().id) proofs_->setProofs(proofs);
  });
  connect(picture_, &PictureView::frameShown, this, &MainWindow::showFrameState);
  connect(picture_, &PictureView::frameShown, motion_, &MotionDrawer::frameShown);
  connect(motion_, &MotionDrawer::filmWanted, this, [this] { session_.setStation(Station::deliver); });
  const auto showPath = [this] { picture_->setPathShown(drawer_->current() == words("Motion")); };
  connect(drawer_, &Drawer::opened, this, showPath);
  showPath();
  connect(picture_, &PictureView::surfaceHeld, this,
          [this](const QString& surface, const QString& part, const QString& placement) {
            trial_.hold(surface.toStdString(), part.toStdString(), placement.toStdString());
          });
  connect(picture_, &PictureView::surfaceDropped, this, [this] { trial_.keep(); });
  connect(picture_, &PictureView::pieceDropped, &bench_, &Workbench::pieceWanted);
  // A pin can be begun on the product, before there is a camera to see it in the photo with.
  connect(around_, &AroundView::pointPicked, this, [this](const Vec3d& world) {
    VantageWork& work = bench_.vantageWork;
    if (session_.station() != Station::vantage || work.drawing() != Drawing::pin) return;
    work.setPinPoint(world);
    showView(View::picture);
  });
  connect(&bench_, &Workbench::pictureWanted, this, [this] {
    showView(View::picture);
    picture_->zoomToFit();
  });
  connect(&bench_, &Workbench::lookWanted, this,
          [this](const QString& lamp, const Vec3d& eye, const Vec3d& target) {
            showView(View::around);
            around_->lookThrough(lamp.toStdString(), {eye, target});
          });
  connect(&bench_, &Workbench::ownSetWanted, this, [this] { lesson_->begin(makeItMine(*this)); });
  connect(&bench_, &Workbench::delivered, this, [this](int files) {
    if (files) horizon_->setDelivered(files);
    emit delivered(files > 0);
  });
  connect(&bench_, &Workbench::asked, this, [this](const QString& text, const std::vector<Answer>& answers) {
    notices_->say(text, false, answers);
  });
  connect(&bench_, &Workbench::queued, this, [this] {
    queue_->refresh();
    drawer_->open(words("Queue"));
  });
  connect(queue_, &QueueDrawer::said, this,
          [this](const QString& text, bool trouble) { notices_->say(text, trouble); });
  ColourPopover::setPhotoSamplers([this](const QPoint& global, int side) { return photoAt(global, side); },
                                  [this](const QPoint& global, int side) { return litAt(global, side); });
  connect(&jobs_, &Jobs::changed, this,
          [this] { preview_.hold(Preview::Hold::delivery, jobs_.isRunning(deliveryKey)); });
  connect(&loader_, &Loader::fileChanged, this, &MainWindow::sayFileChanged);
}

void MainWindow::tellOfCrash(const std::filesystem::path& report) {
  notices_->say(
      words("Gentle Dusk ended without a word last time. Unsaved work was kept, and comes back when its "
            "project is "
            "opened."),
      true, {{words("Show the report"), words("What it wrote down: no names, no contents"), [this, report] {
                help_->showReport(QString::fromStdString(report.string()));
                help_->comeUp();
              }}});
}

void MainWindow::sayFileChanged(const AssetRef& link) {
  const QString name = QString::fromStdString(std::filesystem::path(link.path).filename().string());
  const auto take = [this, link](const AssetRef& instead) { relinkAll(session_, link, instead); };
  notices_->say(
      name + words(" has changed since it was linked."), true,
      {{words("Take it as it is"), words("Links the file as it is now"),
        [this, link, take] {
          jobs_.run<AssetRef>(
              {words("Linking the file"), "link", Lane::incoming, true},
              [assets = session_.assets(), link](Progress&) { return assets->refer(assets->pathOf(link)); },
              [take](AssetRef& now) { take(now); });
        }},
       {words("Look for the old one…"), words("Choose the file that was linked, where it lies now"),
        [this, link, take] {
          const FileKind kind = isModelFile(link.path) ? FileKind::model : FileKind::photo;
          const QString file = chooseFile(this, words("Look for the file that was linked"), kind);
          if (file.isEmpty()) return sayFileChanged(link);
          jobs_.run<AssetRef>(
              {words("Comparing the file"), "link", Lane::incoming, true},
              [assets = session_.assets(), file](Progress&) { return assets->refer(file.toStdString()); },
              [this, link, take](AssetRef& found) {
                if (found.hash == link.hash) return take(found);
                notices_->say(words("That is not the file that was linked either."), true);
                sayFileChanged(link);
              });
        }}});
}

void MainWindow::showView(View view) {
  views_->setCurrentIndex(int(view));
  if (size_t(view) < viewActions_.size()) viewActions_[size_t(view)]->setChecked(true);
  // There is nothing to come closer to in the light all round, nor in many pictures.
  for (QAction* action : zoomActions_) action->setEnabled(view < View::panorama);
  preview_.hold(Preview::Hold::unseen, view == View::matrix);  // both cores for the many
}

MainWindow::View MainWindow::view() const { return View(views_->currentIndex()); }

/// Closer or farther in the view that is shown; 0 shows all.
void MainWindow::zoom(double factor) {
  switch (view()) {
    case View::picture:
      return factor > 0 ? picture_->zoomBy(factor, QRectF(picture_->rect()).center()) : picture_->zoomToFit();
    case View::plan:
      return factor > 0 ? plan_->zoomBy(factor) : plan_->showAll();
    case View::around:
      return factor > 0 ? around_->zoomBy(factor) : around_->backToTheMiddle();
    case View::panorama:
    case View::matrix:
      break;
  }
}

void MainWindow::showStation() {
  desks_->setCurrentIndex(int(session_.station()));
  preview_.browsePasses(session_.station() == Station::render);
  session_.setNextDrag(Session::NextDrag::own);
  help_->showStation(session_.station());
}

void MainWindow::deliverInto(const QString& folder) { dusk::deliverInto(bench_, folder); }

void MainWindow::refreshTitle() {
  const QString name = session_.file().empty() ? words("Untitled")
                                               : QString::fromStdString(session_.file().filename().string());
  const bool looking = !session_.file().empty() && session_.needsPlace();
  setWindowTitle(QString("%1%2%3 – Gentle Dusk")
                     .arg(name, looking ? words(" (only looking)") : "",
                          session_.isSaved() ? "" : words(" (not saved)")));
  const History& h = session_.history();
  undo_->setEnabled(h.canUndo());
  redo_->setEnabled(h.canRedo());
  undo_->setText(h.canUndo() ? words("Undo: ") + QString::fromStdString(h.undoText()) : words("Undo"));
  redo_->setText(h.canRedo() ? words("Redo: ") + QString::fromStdString(h.redoText()) : words("Redo"));
}

}  // namespace dusk
