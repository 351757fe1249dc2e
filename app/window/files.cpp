// Opening, saving, closing, and files that are dropped on the window.
#include <QtWidgets>

#include "app/stations/light/light_jobs.h"
#include "app/stations/plate/photo_jobs.h"
#include "app/stations/product/model_jobs.h"
#include "app/stations/surface/print_jobs.h"
#include "app/widgets/file_choice.h"
#include "app/window/demos.h"
#include "app/window/footage.h"
#include "app/window/lesson.h"
#include "app/window/main_window.h"
#include "app/window/recent.h"
#include "core/base/words.h"
#include "core/deliver/film_read.h"
#include "core/deliver/gather.h"
#include "core/picture/formats.h"
#include "core/picture/read.h"
#include "core/product/formats.h"
#include "core/surface/drawn.h"

namespace dusk {
namespace fs = std::filesystem;

namespace {

/// A question with its own words on the buttons; the index of the answer, or -1 for none.
int ask(QWidget* parent, const QString& question, const QString& more, const QStringList& answers) {
  QMessageBox box(QMessageBox::NoIcon, "Gentle Dusk", question, QMessageBox::NoButton, parent);
  box.setInformativeText(more);
  QList<QAbstractButton*> buttons;
  for (const QString& answer : answers)
    buttons << box.addButton(answer, buttons.isEmpty() ? QMessageBox::AcceptRole : QMessageBox::ActionRole);
  box.addButton(QMessageBox::Cancel);
  box.exec();
  return int(buttons.indexOf(box.clickedButton()));
}

}  // namespace

void MainWindow::open(const QString& file) {
  Session::OpenAs as = Session::OpenAs::own;
  if (const auto held = session_.heldElsewhere(pathOf(file))) {
    const int answer =
        ask(this, *held, words("Two windows that save to one file would undo each other's work."),
            {words("Work on a copy"), words("Only look")});
    if (answer < 0) return;
    as = answer == 0 ? Session::OpenAs::copy : Session::OpenAs::look;
  }
  keepPicture();
  if (!session_.open(pathOf(file), as)) return;
  remember(file);
  picture_->zoomToFit();
}

/// Where all work begins.
void MainWindow::beginEmpty() {
  keepPicture();
  session_.startEmpty();
  session_.setStation(Station::plate);
  showView(View::picture);
}

void MainWindow::teachFirstPicture() {
  if (!mayLoseWork()) return;
  const auto demo = ownDemo(demos().front());
  if (!demo) return session_.say(QString::fromStdString(demo.error().message), true);
  for (const FileKind kind : {FileKind::photo, FileKind::model, FileKind::panorama})
    offerFolder(kind, QFileInfo(*demo).absolutePath());
  beginEmpty();
  lesson_->begin(firstPicture());
}

bool MainWindow::save() { return session_.needsPlace() ? saveAs() : session_.save(session_.file()); }

bool MainWindow::saveAs() {
  const QString name = session_.file().empty() ? QString("untitled.dusk")
                                               : QString::fromStdString(session_.file().filename().string());
  const QString file = choosePlace(this, words("Save the project"), FileKind::project, name, "dusk");
  if (file.isEmpty() || !session_.save(pathOf(file))) return false;
  remember(file);
  keepPicture();
  return true;
}

void MainWindow::gather() {
  const QString to = choosePlace(this, words("Gather into a folder or a .zip"), FileKind::delivery,
                                 QString::fromStdString(session_.project().name), "");
  if (to.isEmpty()) return;
  jobs_.run<GatherReport>(
      {words("Gathering the project"), "gather", Lane::outgoing},
      [project = session_.project(), assets = session_.assets(), to = pathOf(to)](Progress& progress) {
        return dusk::gather(project, *assets, to, progress);
      },
      [this, to](GatherReport& report) {
        session_.say(
            QString(words("Gathered %1 files into %2.")).arg(report.files).arg(QDir::toNativeSeparators(to)));
      });
}

bool MainWindow::mayLoseWork() {
  if (session_.isSaved()) return true;
  const int answer =
      ask(this, words("Save the changes to this project first?"),
          words("Changes since the last save will be lost."), {words("Save"), words("Discard")});
  if (answer == 0) return save();
  if (answer == 1) session_.dropJournal();
  return answer == 1;
}

/// Files that are being written are not given up without a word.
bool MainWindow::mayLeave() {
  const auto& all = jobs_.all();
  if (std::none_of(all.begin(), all.end(), [](const Job* j) { return j->lane() == Lane::outgoing; }))
    return true;
  const int answer =
      ask(this, words("Files are still being written."), words("Nothing half written is left either way."),
          {words("Finish first"), words("Give them up")});
  if (answer == 0)
    while (std::any_of(all.begin(), all.end(), [](const Job* j) { return j->lane() == Lane::outgoing; }))
      QCoreApplication::processEvents(QEventLoop::AllEvents, 50);
  return answer >= 0;
}

void MainWindow::closeEvent(QCloseEvent* e) {
  e->setAccepted(mayLoseWork() && mayLeave());
  if (!e->isAccepted()) return;
  keepPicture();
  jobs_.cancelAll();
  session_.finishWriting();
}

void MainWindow::remember(const QString& file) {
  recent::remember(file);
  refreshRecent();
}

/// How the project in hand looks, for when it is looked for again.
void MainWindow::keepPicture() const {
  if (!session_.file().empty() && picture_->frame())
    recent::keepPicture(QString::fromStdString(session_.file().string()), picture_->frame()->picture);
}

void MainWindow::refreshRecent() {
  recent_->clear();
  for (const QString& file : recent::files())
    recent_->addAction(QFileInfo(file).fileName() + "  –  " + QFileInfo(file).absolutePath(), this,
                       [this, file] {
                         if (mayLoseWork()) open(file);
                       });
  recent_->setEnabled(!recent_->isEmpty());
}

void MainWindow::dragEnterEvent(QDragEnterEvent* e) {
  if (e->mimeData()->hasUrls()) e->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* e) {
  QStringList files;
  for (const QUrl& url : e->mimeData()->urls()) {
    if (url.isLocalFile())
      files << url.toLocalFile();
    else
      session_.say(words("A link from elsewhere cannot be used: save ") + url.fileName() +
                       words(" on this computer first, then drop the file."),
                   true);
  }
  e->acceptProposedAction();
  if (!print(files, e->position().toPoint())) take(files);
}

bool MainWindow::print(const QStringList& files, const QPoint& at) {
  const QPoint there = picture_->mapFrom(this, at);
  if (session_.station() != Station::surface || !picture_->isVisible() || !picture_->rect().contains(there))
    return false;
  const auto spot = picture_->spotAt(picture_->toPlate(there));
  bool any = false;
  for (const QString& file : files)
    if (spot && isPrintFile(pathOf(file))) takePrint(bench_, file, *spot), any = true;
  return any;
}

void MainWindow::take(const QStringList& files) {
  QStringList models;
  for (const QString& file : files) {
    const fs::path path = pathOf(file);
    if (path.extension() == ".dusk") {
      if (mayLoseWork()) open(file);
    } else if (isModelFile(path)) {
      models << file;
    } else if (isPhotoFile(path) || isLightFile(path)) {
      // Twice as wide as high is a panorama; anything else a photo.
      const auto header = readPictureHeader(path);
      if (!header)
        session_.say(QString::fromStdString(header.error().message), true);
      else if (header->width == 2 * header->height)
        takePanorama(bench_, file);
      else
        takePhoto(bench_, file);
    } else if (isFilmFile(path)) {
      takeFootage(bench_, file);
    } else {
      session_.say(
          QFileInfo(file).fileName() +
              words(" is neither a photo, a film, a panorama, a model nor a project that Gentle Dusk reads."),
          true);
    }
  }
  if (!models.isEmpty()) takeModels(bench_, models);
}

}  // namespace dusk
