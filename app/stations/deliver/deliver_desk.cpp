#include <QtWidgets>

#include "app/stations/deliver/delivery.h"
#include "app/stations/deliver/files_desk.h"
#include "app/stations/deliver/findings_desk.h"
#include "app/stations/deliver/frames_desk.h"
#include "app/stations/parts.h"
#include "app/widgets/file_choice.h"
#include "app/widgets/time_left.h"
#include "core/base/files.h"
#include "core/base/memory.h"
#include "core/base/words.h"
#include "core/project/hand_over_edit.h"
#include "core/variant/apply.h"

namespace dusk {
namespace {

constexpr size_t mostQueued = 500;  ///< variants at a time

/// What is written of the shot, where, and how far that is.
class DeliverDesk : public Desk {
 public:
  explicit DeliverDesk(Workbench& bench)
      : Desk(bench.session, words("Hand over"),
             words("Writes the files of this shot. The headless program makes the same pixels from the same "
                   "file.")),
        bench_(bench) {
    add(new FilesDesk(bench));
    number(
        words("Samples"), {1, 4096, 16, 0, ""}, words("Light paths per pixel, of all files"),
        [this](const Project& p) { return std::optional(double(session_.shotIn(p).render.samples)); },
        [this](Project& p, double v) { session_.shotIn(p).render.samples = int(v); });
    addWhere();
    beginFold(words("Frames"), true);
    add(new FramesDesk(bench));
    endFold();
    beginFold(words("Proofs"), true);
    add(new FindingsDesk(bench));
    endFold();
    addSaid();
    addLists();
    stretch();
    tick_.setInterval(150);
    connect(&tick_, &QTimer::timeout, this, &DeliverDesk::showProgress);
    connect(&bench_.jobs, &Jobs::changed, this, &Desk::refreshAll);
    connect(&bench_, &Workbench::deliveryWanted, this, &DeliverDesk::start);
    onRefresh([this] { showWhere(), showProgress(); });
    connect(&session_, &Session::documentChanged, this, [this] { folder_.clear(); });
  }

 private:
  QString folder() const {
    if (!folder_.isEmpty() || session_.file().empty()) return folder_;
    return QString::fromStdString((session_.file().parent_path() / "delivered").string());
  }
  /// Asks where to, when that is not known.
  bool hasFolder() {
    if (folder().isEmpty()) folder_ = chooseFolder(this, words("Output folder"), FileKind::delivery);
    return !folder().isEmpty();
  }
  void start() {
    if (bench_.jobs.isRunning(deliveryKey)) return;
    if (hasFolder()) deliverInto(bench_, folder());
  }

  void addWhere() {
    where_ = note();
    beginRow();
    button(words("Output folder…"), words("Where the files go"), [this] {
      const QString folder = chooseFolder(this, words("Output folder"), FileKind::delivery);
      if (!folder.isEmpty()) folder_ = folder, refreshAll();
    });
    auto* queue =
        button(words("Into the queue"), words("Later, in the drawer at the foot: outlives the program"), {});
    auto* which = new QMenu(queue);
    which->addAction(words("This shot"), this, [this] {
      if (hasFolder()) queueInto(bench_, folder(), false);
    });
    which->addAction(words("All shots, each into a folder of its own"), this, [this] {
      if (hasFolder()) queueInto(bench_, folder(), true);
    });
    QAction* variants = which->addAction(words("This shot in every variant"), this, [this] {
      const auto every = everyChoice(session_.base(), mostQueued);
      if (!every) return session_.say(QString::fromStdString(every.error().message), true);
      if (hasFolder()) queueVariants(bench_, folder(), *every);
    });
    connect(which, &QMenu::aboutToShow, this,
            [this, variants] { variants->setVisible(!session_.base().axes.empty()); });
    queue->setMenu(which);
    endRow();
    auto* farm = button(
        words("To the farm"),
        words("Other machines trace it, through Slurm, each a part; the drawer at the foot shows how far "
              "they are. The output folder must be one that all of them see"),
        {});
    auto* parts = new QMenu(farm);
    for (const int count : {2, 4, 8, 16, 32})
      parts->addAction(QString(words("In %1 parts")).arg(count), this, [this, count] {
        if (hasFolder()) giveToFarm(bench_, folder(), count);
      });
    farm->setMenu(parts);
    start_ = button(
        words("Deliver"), words("Renders at full size and writes the files (Ctrl+Return)"),
        [this] { start(); }, true);
    bar_ = new QProgressBar;
    bar_->setTextVisible(false);
    bar_->setRange(0, 1000);
    bar_->setAccessibleName(words("Delivery progress"));
    add(bar_);
    left_ = note();
    cancel_ = button(words("Cancel"), words("Ends the delivery; nothing half written is left"), [this] {
      if (Job* job = bench_.jobs.find(deliveryKey)) job->cancel();
    });
  }

  void addSaid() {
    beginFold(words("Said in the files"), false);
    const auto line = [this](const char* label, const char* tip, std::string HandOver::*what) {
      text(
          label, tip,
          [=, this](const Project& p) { return std::optional(session_.shotIn(p).handOver.*what); },
          [=, this](Project& p, const std::string& v) { session_.shotIn(p).handOver.*what = v; });
    };
    line(words("Title"), words("What is to be seen"), &HandOver::title);
    line(words("By"), words("Who made the picture"), &HandOver::creator);
    line(words("Rights"), words("Whose it is, and what may be done with it"), &HandOver::rights);
    number(
        words("Version"), {0, 9999, 1, 0, "", false, 1.0}, words("For {version} in names"),
        [this](const Project& p) { return std::optional(double(session_.shotIn(p).handOver.version)); },
        [this](Project& p, double v) { session_.shotIn(p).handOver.version = int(v); });
    toggle(
        words("Keep what the camera wrote"),
        words("The photo's EXIF goes along: camera, lens, exposure, place"),
        [this](const Project& p) { return std::optional(session_.shotIn(p).handOver.keepsExif); },
        [this](Project& p, bool on) { session_.shotIn(p).handOver.keepsExif = on; });
    endFold();
  }

  void addLists() {
    beginFold(words("List of files"), false);
    note(words("The files and frames above as a file of their own, for another project or a colleague."));
    beginRow();
    button(words("Save list…"), words("Writes the files and frames of this shot as a list"), [this] {
      const QString to = choosePlace(this, words("Save the list"), FileKind::list, "hand-over.json", ".json");
      if (to.isEmpty()) return;
      if (const auto saved = writeFileAtomically(to.toStdString(), handOverText(session_.shot())); !saved)
        session_.say(QString::fromStdString(saved.error().message), true);
    });
    button(words("Take list…"), words("Files and frames of a list in place of those above"), [this] {
      const QString from = chooseFile(this, words("Take a list"), FileKind::list);
      if (!from.isEmpty()) takeList(from);
    });
    endRow();
    endFold();
  }
  void takeList(const QString& from) {
    const auto listed = readFile(from.toStdString(), size_t{1} << 24);
    Shot taken = session_.shot();
    const Outcome took = listed ? takeHandOver(taken, *listed) : Outcome(listed.error());
    if (!took) return session_.say(QString::fromStdString(took.error().message), true);
    session_.editShot(words("take a list of files"), [&](Shot& shot) {
      shot.deliverables = taken.deliverables, shot.frames = taken.frames, shot.handOver = taken.handOver;
    });
  }

  void showWhere() {
    const Camera& camera = session_.shot().vantage.camera;
    QString to = folder().isEmpty() ? words("You will be asked for a folder as you deliver.")
                                    : words("To ") + QDir::toNativeSeparators(folder());
    const size_t need = deliveryBytes(session_.shot(), camera.width, camera.height), has = freeMemory();
    if (camera.width > 0)
      to += QString(words("\n%1 × %2 pixels; takes about %3 of memory%4"))
                .arg(camera.width)
                .arg(camera.height)
                .arg(QString::fromStdString(bytesText(need)),
                     need > has
                         ? QString(words(", and %1 are free.")).arg(QString::fromStdString(bytesText(has)))
                         : QString("."));
    where_->setText(to);
  }
  void showProgress() {
    const Job* job = bench_.jobs.find(deliveryKey);
    start_->setEnabled(!job);
    for (QWidget* w :
         {static_cast<QWidget*>(bar_), static_cast<QWidget*>(left_), static_cast<QWidget*>(cancel_)})
      w->setVisible(job);
    if (!job) return tick_.stop();
    bar_->setValue(int(job->fraction() * 1000));
    left_->setText(progressText(job->fraction(), job->secondsLeft()));
    tick_.start();
  }

  Workbench& bench_;
  QString folder_;
  QTimer tick_;
  QLabel *where_ = nullptr, *left_ = nullptr;
  QProgressBar* bar_ = nullptr;
  QPushButton *start_ = nullptr, *cancel_ = nullptr;
};

}  // namespace

Desk* makeDeliverDesk(Workbench& bench) { return new DeliverDesk(bench); }

}  // namespace dusk
