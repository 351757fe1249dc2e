#include "app/main_window.h"

#include <QtWidgets>

#include "app/cast.h"
#include "app/look.h"
#include "core/product/formats.h"
#include "core/surface/presets.h"

namespace dusk {

MainWindow::MainWindow() {
  setObjectName("gentle-dusk");
  resize(1280, 800);
  setMinimumSize(1000, 640);
  setAcceptDrops(true);
  build();
  buildMenus();
  connect(&session_, &Session::said, this, &MainWindow::say);
  connect(&session_, &Session::changed, this, &MainWindow::refreshTitle);
  connect(&session_, &Session::stationChanged, this, &MainWindow::showStation);
  connect(&preview_, &Preview::proofsReady, this, [this](const std::shared_ptr<const Proofs>& proofs) {
    horizon_->setProofs(proofs);
    proofs_->setProofs(proofs);
  });
  connect(picture_, &PictureView::frameShown, this, [this] {
    const Frame& frame = *picture_->frame();
    horizon_->setFrame(frame);
    frameText_->setText(frame.scene->geometry->empty() ? ""
                        : frame.samples ? QString("%1 of %2 samples").arg(frame.samples).arg(frame.wanted)
                                        : "coarse");
    if (cast_->model().isBehind()) {  // a model finished loading
      cast_->model().rebuild();
      emit session_.changed({});
    }
    if (frame.notes != saidNotes_) {
      saidNotes_ = frame.notes;
      for (const std::string& note : frame.notes) say(QString::fromStdString(note), true);
    }
  });
  refreshTitle();
  showStation();
}

MainWindow::~MainWindow() {
  if (delivery_) delivery_->cancel();
  if (import_) import_->cancel();
  session_.vantageWork().cancelFinding();
  QThreadPool::globalInstance()->waitForDone();
}

void MainWindow::build() {
  auto* centre = new QWidget;
  auto* column = new QVBoxLayout(centre);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  horizon_ = new HorizonBar(session_);
  column->addWidget(horizon_);

  auto* middle = new QHBoxLayout;
  middle->setSpacing(0);
  auto* castPanel = new CastPanel(session_);
  castPanel->setFixedWidth(216);
  castPanel_ = castPanel;
  cast_ = &castPanel->cast();
  middle->addWidget(castPanel_);

  auto* viewColumn = new QVBoxLayout;
  viewColumn->setSpacing(0);
  viewColumn->addWidget(buildPictureHeader());
  picture_ = new PictureView(session_, preview_);
  plan_ = new PlanView(session_);
  views_ = new QStackedWidget;
  views_->addWidget(picture_);
  views_->addWidget(plan_);
  around_ = new AroundView(session_);
  views_->addWidget(around_);
  panorama_ = new PanoramaView(session_);
  views_->addWidget(panorama_);
  viewColumn->addWidget(views_, 1);
  middle->addLayout(viewColumn, 1);

  desks_ = new QStackedWidget;
  desks_->setFixedWidth(304);
  deliverDesk_ = new DeliverDesk(session_, errands_);
  Desk* all[] = {makePlateDesk(session_, errands_),
                 makeVantageDesk(session_, errands_),
                 makeProductDesk(session_, errands_),
                 makeSurfaceDesk(session_, errands_),
                 makeLightDesk(session_, errands_),
                 makeContactDesk(session_),
                 makeRenderDesk(session_, preview_),
                 makeBlendDesk(session_),
                 deliverDesk_};
  for (Desk* desk : all) {
    auto* scroll = new QScrollArea;
    scroll->setWidget(desk);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    desks_->addWidget(scroll);
  }
  desks_->setStyleSheet("QStackedWidget, QScrollArea, QWidget#desk { background: #383343; }");
  middle->addWidget(desks_);
  column->addLayout(middle, 1);

  message_ = new QWidget;
  message_->setObjectName("message");
  message_->setStyleSheet("QWidget#message { background: #453f52; }");
  auto* line = new QHBoxLayout(message_);
  line->setContentsMargins(14, 5, 8, 5);
  messageText_ = new QLabel;
  messageText_->setWordWrap(true);
  messageText_->setAccessibleName("Message");
  messageCancel_ = new QPushButton("Cancel");
  auto* away = new QPushButton("Put away");
  line->addWidget(messageText_, 1);
  line->addWidget(messageCancel_);
  line->addWidget(away);
  connect(away, &QPushButton::clicked, message_, &QWidget::hide);
  connect(messageCancel_, &QPushButton::clicked, this, [this] {
    if (import_) import_->cancel();
  });
  refineTimer_.setSingleShot(true);
  refineTimer_.setInterval(700);  // not while something is being dragged
  connect(&refineTimer_, &QTimer::timeout, this, &MainWindow::refineModels);
  connect(&session_, &Session::changed, &refineTimer_, qOverload<>(&QTimer::start));
  importTimer_.setInterval(200);
  connect(&importTimer_, &QTimer::timeout, this, [this] {
    if (!import_) return importTimer_.stop();
    const double done = import_->fraction(), left = import_->secondsLeft();
    if (done <= 0 || done >= 1) return;
    messageText_->setText(
        QString("%1  %2 %, about %3 s left").arg(saying_).arg(int(100 * done)).arg(int(left + 1)));
  });
  messageTimer_.setSingleShot(true);
  connect(&messageTimer_, &QTimer::timeout, message_, &QWidget::hide);
  message_->hide();
  column->addWidget(message_);

  proofs_ = new ProofStrip(session_);
  column->addWidget(proofs_);
  setCentralWidget(centre);

  connect(picture_, &PictureView::filesDropped, this, &MainWindow::take);
  // A pin can be begun on the product, before there is a camera to see it in the photo with.
  connect(around_, &AroundView::pointPicked, this, [this](const Vec3d& world) {
    VantageWork& work = session_.vantageWork();
    if (session_.station() != Station::vantage || work.drawing() != Drawing::pin) return;
    work.setPinPoint(world);
    showView(View::picture);
  });
  const auto apply = [this](const QString& id, const QString& part, const QString& placement) {
    if (part.isEmpty()) return say("Choose a part first: click it in the picture or in the cast.", true);
    const std::string surface = id.toStdString(), path = part.toStdString();
    session_.selectPart(path, placement.toStdString());
    session_.edit("give a surface to " + part.section('/', -1), [&](Project& p) {
      if (!byId(p.surfaces, surface))
        if (const Surface* preset = byId(surfacePresets(), surface)) p.surfaces.push_back(*preset);
      // A part that is selected together with others dresses them all.
      if (Product* product = session_.productIn(p))
        for (const std::string& each : cast_->partsInHand(path)) product->surfaceOfPart[each] = surface;
    });
  };
  connect(picture_, &PictureView::surfaceDropped, this, apply);
  connect(&errands_, &Errands::applySurface, this,
          [apply](const QString& id, const QString& part) { apply(id, part, {}); });
  const auto choose = [this](const char* title, const QString& filter,
                             void (MainWindow::*then)(const QString&)) {
    const QString file = QFileDialog::getOpenFileName(this, title, {}, filter);
    if (!file.isEmpty()) (this->*then)(file);
  };
  connect(&errands_, &Errands::choosePlate, this, [choose] {
    choose("Choose a photo", "Photographs (*.jpg *.jpeg *.png *.tif *.tiff *.exr)", &MainWindow::takePlate);
  });
  connect(&errands_, &Errands::choosePanorama, this, [choose] {
    choose("Choose a panorama", "Panoramas (*.exr *.hdr *.tif *.tiff *.jpg *.png)",
           &MainWindow::takePanorama);
  });
  connect(&errands_, &Errands::chooseBrackets, this, [this] {
    const QStringList files = QFileDialog::getOpenFileNames(this, "Choose 3 to 15 exposures of one view", {},
                                                            "Photographs (*.jpg *.jpeg *.png *.tif *.tiff)");
    if (!files.isEmpty()) takeBrackets(files);
  });
  const auto choosePhotos = [this](const char* title, void (MainWindow::*then)(const QStringList&)) {
    const QStringList files = QFileDialog::getOpenFileNames(
        this, title, {}, "Photographs (*.jpg *.jpeg *.png *.tif *.tiff *.exr *.hdr)");
    if (!files.isEmpty()) (this->*then)(files);
  };
  connect(&errands_, &Errands::chooseBalls, this, [choosePhotos] {
    choosePhotos("Choose photos of a mirror ball, from one side or more", &MainWindow::takeBalls);
  });
  connect(&errands_, &Errands::chooseFisheyes, this, [choosePhotos] {
    choosePhotos("Choose the front and the back fisheye picture", &MainWindow::takeFisheyes);
  });
  connect(&errands_, &Errands::useLight, this, &MainWindow::takePanorama);
  connect(&errands_, &Errands::chooseLampPicture, this, [this](const QString& lamp) {
    const QString file = QFileDialog::getOpenFileName(this, "Choose what the lamp shows", {},
                                                      "Pictures (*.jpg *.jpeg *.png *.tif *.tiff *.exr)");
    if (!file.isEmpty()) takeLampPicture(lamp, file);
  });
  connect(&errands_, &Errands::lookAlong, this, [this](const QString& id) {
    const Lamp* lamp = byId(session_.shot().lamps, id.toStdString());
    if (!lamp) return;
    Vec3d target = targetOf(session_.shot(), *lamp), eye = lamp->positionM;
    if (lamp->kind == LampKind::sun) {
      const Placement* p = session_.placement();
      target = p ? Vec3d(p->xM, p->yM, planeHeightM(session_.shot(), *p) + 0.1) : Vec3d(0, 0, 0);
      eye = target + toDouble(sunDirection(*lamp)) * 3.0;
    }
    showView(View::around);
    around_->lookFrom(eye, target);
  });
  QStringList endings;
  for (const std::string& ending : modelEndings()) endings << "*" + QString::fromStdString(ending);
  const QString models = "Models (" + endings.join(' ') + ")";
  connect(&errands_, &Errands::chooseModel, this,
          [choose, models] { choose("Bring in a model", models, &MainWindow::takeModel); });
  connect(&errands_, &Errands::chooseRevision, this,
          [choose, models] { choose("Choose the newer file", models, &MainWindow::takeRevision); });
  connect(&errands_, &Errands::chooseFolder, this, [this] {
    const QString folder = QFileDialog::getExistingDirectory(this, "Where the files go", folder_);
    if (!folder.isEmpty()) deliverDesk_->setFolder(folder_ = folder);
  });
  connect(&errands_, &Errands::saveCamera, this, [this] {
    const QString file =
        QFileDialog::getSaveFileName(this, "Save the camera", "camera.gltf", "Cameras (*.gltf *.json)");
    if (!file.isEmpty()) saveCamera(file);
  });
  connect(&errands_, &Errands::loadCamera, this, [this] {
    const QString file =
        QFileDialog::getOpenFileName(this, "Load a camera", {}, "Cameras (*.gltf *.glb *.json)");
    if (!file.isEmpty()) loadCamera(file);
  });
  connect(&errands_, &Errands::deliver, this, [this] {
    QString folder = folder_;
    if (folder.isEmpty() && !session_.file().empty())
      folder = QString::fromStdString((session_.file().parent_path() / "delivered").string());
    if (folder.isEmpty()) folder = QFileDialog::getExistingDirectory(this, "Where the files go");
    if (!folder.isEmpty()) deliverInto(folder);
  });
  connect(&errands_, &Errands::cancelDelivery, this, [this] {
    if (delivery_) delivery_->cancel();
  });
  deliverDesk_->setFolder({});
}

QWidget* MainWindow::buildPictureHeader() {
  auto* header = new QWidget;
  header->setObjectName("header");
  header->setStyleSheet(
      "QWidget#header { background: #2d2936; } QToolButton { padding: 3px 10px; font-size: 12px; }");
  auto* row = new QHBoxLayout(header);
  row->setContentsMargins(8, 4, 8, 4);
  row->setSpacing(4);
  auto* group = new QActionGroup(this);
  const auto tool = [&](const QString& text, const QString& tip, bool checkable) {
    auto* action = new QAction(text, this);
    action->setToolTip(tip);
    action->setCheckable(checkable);
    auto* button = new QToolButton;
    button->setDefaultAction(action);
    button->setAccessibleName(tip);
    row->addWidget(button);
    return action;
  };
  pictureAction_ = tool("Picture", "Look through the vantage (Ctrl+P)", true);
  planAction_ = tool("Plan", "Look from above (Ctrl+L)", true);
  aroundAction_ = tool("Around", "Look at the products from all sides (Ctrl+R)", true);
  panoramaAction_ =
      tool("Panorama", "The light all round, with the camera's frame on it (Ctrl+Shift+P)", true);
  panoramaAction_->setShortcut(QKeySequence("Ctrl+Shift+P"));
  connect(panoramaAction_, &QAction::triggered, this, [this] { showView(View::panorama); });
  for (QAction* action : {pictureAction_, planAction_, aroundAction_, panoramaAction_})
    group->addAction(action);
  pictureAction_->setChecked(true);
  pictureAction_->setShortcut(QKeySequence("Ctrl+P"));
  planAction_->setShortcut(QKeySequence("Ctrl+L"));
  aroundAction_->setShortcut(QKeySequence("Ctrl+R"));
  connect(pictureAction_, &QAction::triggered, this, [this] { showView(View::picture); });
  connect(planAction_, &QAction::triggered, this, [this] { showView(View::plan); });
  connect(aroundAction_, &QAction::triggered, this, [this] { showView(View::around); });
  row->addSpacing(10);
  auto* fit = tool("Fit", "Show the whole picture (F)", false);
  fit->setShortcut(QKeySequence("F"));
  connect(fit, &QAction::triggered, this, [this] {
    if (views_->currentWidget() == around_)
      around_->backToTheMiddle();
    else
      picture_->zoomToFit();
  });
  auto* showPart = tool("Show me", "Fly to the selected part in the Around view, and back (M)", false);
  showPart->setShortcut(QKeySequence("M"));
  connect(showPart, &QAction::triggered, this, [this] {
    const bool there = views_->currentWidget() == around_;
    showView(View::around);
    if (there || around_->hasPicture())
      around_->showPart();
    else  // the first time, once the products are there
      connect(around_, &AroundView::drawn, around_, &AroundView::showPart, Qt::SingleShotConnection);
  });
  auto* grid = tool("Grid", "Show the ground's grid and the horizon at the Vantage station (G)", true);
  grid->setShortcut(QKeySequence("G"));
  grid->setChecked(true);
  connect(grid, &QAction::toggled, this, [this](bool on) { picture_->setGridShown(on); });
  row->addStretch(1);
  frameText_ = new QLabel;
  frameText_->setStyleSheet("color: #b1a9bf; font-size: 12px;");
  frameText_->setAccessibleName("State of the render");
  row->addWidget(frameText_);
  auto* surround = new QComboBox;
  surround->addItems({"dark surround", "grey surround", "white surround"});
  surround->setToolTip("What lies round the picture: neutral, so that it does not tint the eye");
  surround->setAccessibleName("Surround of the picture");
  connect(surround, &QComboBox::activated, this, [this](int i) {
    picture_->setSurround(i == 0 ? look::surround : i == 1 ? QColor("#777777") : QColor(Qt::white));
  });
  row->addWidget(surround);
  return header;
}

void MainWindow::showView(View view) {
  QWidget* widgets[] = {picture_, plan_, around_, panorama_};
  QAction* actions[] = {pictureAction_, planAction_, aroundAction_, panoramaAction_};
  views_->setCurrentWidget(widgets[int(view)]);
  actions[int(view)]->setChecked(true);
}

void MainWindow::showStation() {
  desks_->setCurrentIndex(int(session_.station()));
  preview_.browsePasses(session_.station() == Station::render);
  session_.setNextDrag(Session::NextDrag::own);
}

void MainWindow::say(const QString& text, bool trouble) {
  // A cross before trouble, so that colour is not the only sign.
  messageText_->setText(trouble ? "✕  " + text : text);
  messageText_->setStyleSheet(trouble ? "color: #ec8fa1;" : "color: #ece8f1;");
  messageCancel_->setVisible(import_ != nullptr);
  saying_ = text;
  if (import_) importTimer_.start();
  message_->show();
  if (trouble || import_)
    messageTimer_.stop();
  else
    messageTimer_.start(9000);
}

void MainWindow::refreshTitle() {
  const QString name =
      session_.file().empty() ? "Untitled" : QString::fromStdString(session_.file().filename().string());
  setWindowTitle(QString("%1%2 – Gentle Dusk").arg(name, session_.isSaved() ? "" : " (not saved)"));
  if (!undo_) return;
  const History& h = session_.history();
  undo_->setEnabled(h.canUndo());
  redo_->setEnabled(h.canRedo());
  undo_->setText(h.canUndo() ? "Undo: " + QString::fromStdString(h.undoText()) : "Undo");
  redo_->setText(h.canRedo() ? "Redo: " + QString::fromStdString(h.redoText()) : "Redo");
}

}  // namespace dusk
