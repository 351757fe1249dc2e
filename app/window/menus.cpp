// The window's menus.
#include <QtWidgets>

#include "app/cast/cast_panel.h"
#include "app/document/preferences.h"
#include "app/stations/deliver/delivery.h"
#include "app/stations/stations.h"
#include "app/widgets/desk.h"
#include "app/widgets/file_choice.h"
#include "app/widgets/look.h"
#include "app/window/areas.h"
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
#include "core/base/words.h"

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
  auto* edit = menuBar()->addMenu(words("&Edit"));
  undo_ = item(edit, words("Undo"), QKeySequence::Undo, words("Takes back the last step"),
               [this] { session_.undo(); });
  redo_ = item(edit, words("Redo"), QKeySequence("Ctrl+Shift+Z"), words("Brings it again"),
               [this] { session_.redo(); });
  edit->addSeparator();
  for (QAction* action : cast_->cast().menuActions()) edit->addAction(action);
  edit->addSeparator();
  item(edit, words("Preferences…"), QKeySequence("Ctrl+,"),
       words("Units, text, memory, keys: once for all projects"), [this] { showPreferences(); });
  buildViewMenu();
  auto* stationMenu = menuBar()->addMenu(words("&Stations"));
  for (const StationInfo& info : stations())
    item(stationMenu, stationName(info.station), QKeySequence(QString("Ctrl+%1").arg(int(info.station) + 1)),
         words(info.purpose), [this, station = info.station] { session_.setStation(station); });
  buildShotMenu();
  buildHelpMenu();
  for (QMenu* menu : menuBar()->findChildren<QMenu*>()) menu->setToolTipsVisible(true);
  KeyList::apply(this);
}

void MainWindow::buildFileMenu() {
  auto* file = menuBar()->addMenu(words("&File"));
  item(file, words("New"), QKeySequence::New, words("An empty project"), [this] {
    if (mayLoseWork()) beginEmpty();
  });
  item(file, words("Open…"), QKeySequence::Open, words("A project from a file"), [this] {
    const QString name = chooseFile(this, words("Open a project"), FileKind::project);
    if (!name.isEmpty() && mayLoseWork()) open(name);
  });
  recent_ = file->addMenu(words("Recent"));
  refreshRecent();
  file->addSeparator();
  item(file, words("Save"), QKeySequence::Save, words("Writes the project to its file"), [this] { save(); });
  item(file, words("Save as…"), QKeySequence("Ctrl+Shift+S"),
       words("Writes it to another file and goes on with that"), [this] { saveAs(); });
  item(file, words("Gather…"), {}, words("Copies the project and all it links to into one folder or .zip"),
       [this] { gather(); });
  file->addSeparator();
  item(file, words("Deliver"), QKeySequence("Ctrl+Return"), words("Writes the files of the shot in hand"),
       [this] {
         session_.setStation(Station::deliver);
         emit bench_.deliveryWanted();
       });
  file->addSeparator();
  item(file, words("Quit"), QKeySequence::Quit, words("Ends the program"), [this] { close(); });
}

void MainWindow::buildViewMenu() {
  auto* view = menuBar()->addMenu(words("&View"));
  for (QAction* action : viewActions_) view->addAction(action);
  view->addSeparator();
  zoomActions_ = {item(view, words("Closer"), QKeySequence("Ctrl++"), words("In the view that is shown"),
                       [this] { zoom(1.25); }),
                  item(view, words("Farther"), QKeySequence("Ctrl+-"), words("In the view that is shown"),
                       [this] { zoom(0.8); })};
  item(view, words("Pixel for pixel"), QKeySequence("Ctrl+0"),
       words("One pixel of the photo on one of the screen"), [this] {
         showView(View::picture);
         picture_->zoomPixelForPixel();
       });
  view->addSeparator();
  auto* surround = view->addMenu(words("Surround of the picture"));
  auto* surrounds = new QActionGroup(this);
  for (const char* name : {words("Dark"), words("Grey"), words("White")}) {
    const int at = int(surrounds->actions().size());
    QAction* action = item(surround, name, {}, words("Neutral, so that it does not tint the eye"),
                           [at] { Preferences::own().set("surround", at); });
    action->setCheckable(true);
    surrounds->addAction(action);
  }
  connect(surround, &QMenu::aboutToShow, this,
          [surrounds] { surrounds->actions()[Preferences::own().number("surround")]->setChecked(true); });
  auto* framing = view->addMenu(words("Lines to frame by"));
  auto* framings = new QActionGroup(this);
  const struct {
    const char *name, *tip;
    Framing framing;
  } lines[] = {{words("None"), words("The picture alone"), Framing::none},
               {words("Thirds"), words("Both ways"), Framing::thirds},
               {words("Middle"), words("Both ways"), Framing::middle},
               {words("Borders"), words("5 and 10 %: what lies inside is safe when the picture is trimmed"),
                Framing::borders}};
  for (const auto& each : lines) {
    QAction* action =
        item(framing, each.name, {}, each.tip, [this, f = each.framing] { picture_->setFraming(f); });
    action->setCheckable(true);
    action->setChecked(framings->actions().isEmpty());
    framings->addAction(action);
  }
  view->addSeparator();
  for (const int by : {1, -1})
    item(view, by > 0 ? words("Next area") : words("Previous area"), QKeySequence(by > 0 ? "F4" : "Shift+F4"),
         words("Gives the keyboard to stations, cast, picture, desk and drawer in turn"), [this, by] {
           focusNextArea({horizon_, cast_, views_->currentWidget(), desks_->parentWidget(), drawer_}, by);
         });
  view->addSeparator();
  item(view, words("Cast"), QKeySequence("F9"), words("Folds the cast away and back"),
       [this] { cast_->setVisible(!cast_->isVisible()); });
  item(view, words("Proofs"), QKeySequence("F7"), words("Opens the drawer of proofs"),
       [this] { drawer_->open(words("Proofs")); });
  item(view, words("Shots"), QKeySequence("F8"), words("Opens the drawer of shots"),
       [this] { drawer_->open(words("Shots")); });
  item(view, words("Variants"), QKeySequence("F6"), words("Opens the drawer of variants"), [this] {
    drawer_->open(words("Variants"));
    variants_->setFocus();
  });
  item(view, words("Motion"), QKeySequence("Shift+F5"), words("Opens the drawer of what moves"), [this] {
    drawer_->open(words("Motion"));
    motion_->rows().setFocus();
  });
  item(view, words("Play"), QKeySequence("F5"), words("Plays what moves, and stops"), [this] {
    drawer_->open(words("Motion"));
    motion_->play(!motion_->isPlaying());
  });
  item(view, words("Matrix of variants"), QKeySequence("Shift+F6"), words("Every variant side by side"),
       [this] { showView(View::matrix); });
}

void MainWindow::buildShotMenu() {
  auto* menu = menuBar()->addMenu(words("S&hots"));
  item(menu, words("New shot"), QKeySequence("Ctrl+T"),
       words("Its own photo, camera and light; the products are all shots'"),
       [this] { shots_->add(false), drawer_->open(words("Shots")); });
  item(menu, words("Copy shot"), QKeySequence("Ctrl+Shift+T"), words("A copy of the shot in hand"),
       [this] { shots_->add(true), drawer_->open(words("Shots")); });
  item(menu, words("Rename shot"), {}, words("Another name for the shot in hand"), [this] {
    drawer_->open(words("Shots"));
    shots_->rename();
  });
  auto* bring = menu->addMenu(words("Bring from"));
  connect(bring, &QMenu::aboutToShow, this, [this, bring] { shots_->fillBringMenu(bring); });
  menu->addSeparator();
  item(menu, words("Next shot"), QKeySequence("Ctrl+PgDown"), words("The one to the right"),
       [this] { shots_->step(1); });
  item(menu, words("Previous shot"), QKeySequence("Ctrl+PgUp"), words("The one to the left"),
       [this] { shots_->step(-1); });
  item(menu, words("Move right"), QKeySequence("Ctrl+Shift+PgDown"), words("Changes places with the next"),
       [this] { shots_->move(1); });
  item(menu, words("Move left"), QKeySequence("Ctrl+Shift+PgUp"), words("Changes places with the one before"),
       [this] { shots_->move(-1); });
  menu->addSeparator();
  item(menu, words("Delete shot"), {}, words("Takes the shot in hand out of the project"),
       [this] { shots_->remove(); });
}

void MainWindow::buildHelpMenu() {
  auto* help = menuBar()->addMenu(words("&Help"));
  item(help, words("About this station"), QKeySequence::HelpContents,
       words("What it is for, gestures and keys"), [this] {
         help_->showStation(session_.station());
         help_->comeUp();
       });
  item(help, words("Guide"), QKeySequence("Shift+F1"), words("All of it, to read and to search"), [this] {
    help_->showGuide();
    help_->comeUp();
  });
  item(help, words("Show me how: a first picture"), {}, words("Ten steps on the demo's photo and model"),
       [this] { teachFirstPicture(); });
  item(help, words("Show me how: this station"), {}, words("What can be learnt of it in two minutes"),
       [this] { lesson_->begin(lessonOf(session_.station())); });
  item(help, words("How to begin"), {}, words("The first page: demos and last work, in an empty window"),
       [this] {
         if (!mayLoseWork()) return;
         beginEmpty();
         start_->comeBack();
       });
  item(help, words("All keys"), {}, words("Every key of the program on one page"), [this] {
    help_->showKeys();
    help_->comeUp();
  });
}

}  // namespace dusk
