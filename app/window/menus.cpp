// The window's menus.
#include <QtWidgets>

#include "app/cast/cast_panel.h"
#include "app/document/preferences.h"
#include "app/stations/deliver/delivery.h"
#include "app/stations/stations.h"
#include "app/widgets/desk.h"
#include "app/widgets/file_choice.h"
#include "app/widgets/look.h"
#include "app/window/drawer.h"
#include "app/window/help_panel.h"
#include "app/window/key_list.h"
#include "app/window/lesson.h"
#include "app/window/main_window.h"
#include "app/window/motion_drawer.h"
#include "app/window/motion_rows.h"
#include "app/window/shot_strip.h"
#include "app/window/start_page.h"
#include "app/window/variant_drawer.h"

namespace dusk {

QAction* MainWindow::item(QMenu* menu, const QString& text, const QKeySequence& keys, const QString& tip,
                          std::function<void()> then) {
  auto* action = menu->addAction(text);
  action->setShortcut(keys);
  action->setToolTip(tip);
  connect(action, &QAction::triggered, this, [then = std::move(then)] { then(); });
  return action;
}

void MainWindow::buildMenus() {
  buildFileMenu();
  auto* edit = menuBar()->addMenu("&Edit");
  undo_ = item(edit, "Undo", QKeySequence::Undo, "Takes back the last step", [this] { session_.undo(); });
  redo_ = item(edit, "Redo", QKeySequence("Ctrl+Shift+Z"), "Brings it again", [this] { session_.redo(); });
  edit->addSeparator();
  for (QAction* action : cast_->cast().menuActions()) edit->addAction(action);
  edit->addSeparator();
  item(edit, "Preferences…", QKeySequence("Ctrl+,"), "Units, text, memory, keys: once for all projects",
       [this] { showPreferences(); });
  buildViewMenu();
  auto* stationMenu = menuBar()->addMenu("&Stations");
  for (const StationInfo& info : stations())
    item(stationMenu, info.name, QKeySequence(QString("Ctrl+%1").arg(int(info.station) + 1)), info.purpose,
         [this, station = info.station] { session_.setStation(station); });
  buildShotMenu();
  buildHelpMenu();
  for (QMenu* menu : menuBar()->findChildren<QMenu*>()) menu->setToolTipsVisible(true);
  KeyList::apply(this);
}

void MainWindow::buildFileMenu() {
  auto* file = menuBar()->addMenu("&File");
  item(file, "New", QKeySequence::New, "An empty project", [this] {
    if (mayLoseWork()) session_.startEmpty();
  });
  item(file, "Open…", QKeySequence::Open, "A project from a file", [this] {
    const QString name = chooseFile(this, "Open a project", FileKind::project);
    if (!name.isEmpty() && mayLoseWork()) open(name);
  });
  recent_ = file->addMenu("Recent");
  refreshRecent();
  file->addSeparator();
  item(file, "Save", QKeySequence::Save, "Writes the project to its file", [this] { save(); });
  item(file, "Save as…", QKeySequence("Ctrl+Shift+S"), "Writes it to another file and goes on with that",
       [this] { saveAs(); });
  item(file, "Gather…", {}, "Copies the project and all it links to into one folder or .zip",
       [this] { gather(); });
  file->addSeparator();
  item(file, "Deliver", QKeySequence("Ctrl+Return"), "Writes the files of the shot in hand", [this] {
    session_.setStation(Station::deliver);
    emit bench_.deliveryWanted();
  });
  file->addSeparator();
  item(file, "Quit", QKeySequence::Quit, "Ends the program", [this] { close(); });
}

void MainWindow::buildViewMenu() {
  auto* view = menuBar()->addMenu("&View");
  for (QAction* action : viewActions_) view->addAction(action);
  view->addSeparator();
  zoomActions_ = {
      item(view, "Closer", QKeySequence("Ctrl++"), "In the view that is shown", [this] { zoom(1.25); }),
      item(view, "Farther", QKeySequence("Ctrl+-"), "In the view that is shown", [this] { zoom(0.8); })};
  item(view, "Pixel for pixel", QKeySequence("Ctrl+0"), "One pixel of the photo on one of the screen",
       [this] {
         showView(View::picture);
         picture_->zoomPixelForPixel();
       });
  view->addSeparator();
  auto* surround = view->addMenu("Surround of the picture");
  auto* surrounds = new QActionGroup(this);
  for (const char* name : {"Dark", "Grey", "White"}) {
    const int at = int(surrounds->actions().size());
    QAction* action = item(surround, name, {}, "Neutral, so that it does not tint the eye",
                           [at] { Preferences::own().set("surround", at); });
    action->setCheckable(true);
    surrounds->addAction(action);
  }
  connect(surround, &QMenu::aboutToShow, this,
          [surrounds] { surrounds->actions()[Preferences::own().number("surround")]->setChecked(true); });
  auto* framing = view->addMenu("Lines to frame by");
  auto* framings = new QActionGroup(this);
  const struct {
    const char *name, *tip;
    Framing framing;
  } lines[] = {
      {"None", "The picture alone", Framing::none},
      {"Thirds", "Both ways", Framing::thirds},
      {"Middle", "Both ways", Framing::middle},
      {"Borders", "5 and 10 %: what lies inside is safe when the picture is trimmed", Framing::borders}};
  for (const auto& each : lines) {
    QAction* action =
        item(framing, each.name, {}, each.tip, [this, f = each.framing] { picture_->setFraming(f); });
    action->setCheckable(true);
    action->setChecked(framings->actions().isEmpty());
    framings->addAction(action);
  }
  view->addSeparator();
  item(view, "Cast", QKeySequence("F9"), "Folds the cast away and back",
       [this] { cast_->setVisible(!cast_->isVisible()); });
  item(view, "Proofs", QKeySequence("F7"), "Opens the drawer of proofs", [this] { drawer_->open("Proofs"); });
  item(view, "Shots", QKeySequence("F8"), "Opens the drawer of shots", [this] { drawer_->open("Shots"); });
  item(view, "Variants", QKeySequence("F6"), "Opens the drawer of variants", [this] {
    drawer_->open("Variants");
    variants_->setFocus();
  });
  item(view, "Motion", QKeySequence("Shift+F5"), "Opens the drawer of what moves", [this] {
    drawer_->open("Motion");
    motion_->rows().setFocus();
  });
  item(view, "Play", QKeySequence("F5"), "Plays what moves, and stops", [this] {
    drawer_->open("Motion");
    motion_->play(!motion_->isPlaying());
  });
  item(view, "Matrix of variants", QKeySequence("Shift+F6"), "Every variant side by side",
       [this] { showView(View::matrix); });
}

void MainWindow::buildShotMenu() {
  auto* menu = menuBar()->addMenu("S&hots");
  item(menu, "New shot", QKeySequence("Ctrl+T"),
       "Its own photo, camera and light; the products are all shots'",
       [this] { shots_->add(false), drawer_->open("Shots"); });
  item(menu, "Copy shot", QKeySequence("Ctrl+Shift+T"), "A copy of the shot in hand",
       [this] { shots_->add(true), drawer_->open("Shots"); });
  item(menu, "Rename shot", {}, "Another name for the shot in hand", [this] {
    drawer_->open("Shots");
    shots_->rename();
  });
  auto* bring = menu->addMenu("Bring from");
  connect(bring, &QMenu::aboutToShow, this, [this, bring] { shots_->fillBringMenu(bring); });
  menu->addSeparator();
  item(menu, "Next shot", QKeySequence("Ctrl+PgDown"), "The one to the right", [this] { shots_->step(1); });
  item(menu, "Previous shot", QKeySequence("Ctrl+PgUp"), "The one to the left", [this] { shots_->step(-1); });
  item(menu, "Move right", QKeySequence("Ctrl+Shift+PgDown"), "Changes places with the next",
       [this] { shots_->move(1); });
  item(menu, "Move left", QKeySequence("Ctrl+Shift+PgUp"), "Changes places with the one before",
       [this] { shots_->move(-1); });
  menu->addSeparator();
  item(menu, "Delete shot", {}, "Takes the shot in hand out of the project", [this] { shots_->remove(); });
}

void MainWindow::buildHelpMenu() {
  auto* help = menuBar()->addMenu("&Help");
  item(help, "About this station", QKeySequence::HelpContents, "What it is for, gestures and keys", [this] {
    help_->showStation(session_.station());
    help_->comeUp();
  });
  item(help, "Guide", QKeySequence("Shift+F1"), "All of it, to read and to search", [this] {
    help_->showGuide();
    help_->comeUp();
  });
  item(help, "Show me how: a first picture", {}, "Ten steps on the demo's photo and model",
       [this] { teachFirstPicture(); });
  item(help, "Show me how: this station", {}, "What can be learnt of it in two minutes",
       [this] { lesson_->begin(lessonOf(session_.station())); });
  item(help, "How to begin", {}, "The first page: demos and last work, in an empty window", [this] {
    if (!mayLoseWork()) return;
    session_.startEmpty();
    showView(View::picture);
    start_->comeBack();
  });
  item(help, "All keys", {}, "Every key of the program on one page", [this] {
    help_->showKeys();
    help_->comeUp();
  });
}

}  // namespace dusk
