#include <QtWidgets>

#include "app/stations/deliver/delivery.h"
#include "app/stations/parts.h"
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"
#include "app/widgets/file_choice.h"
#include "app/widgets/time_left.h"
#include "core/base/memory.h"
#include "core/deliver/deliver.h"

namespace dusk {
namespace {

/// What is written of the shot, where, and how far that is.
class DeliverDesk : public Desk {
 public:
  explicit DeliverDesk(Workbench& bench)
      : Desk(bench.session, "Hand over",
             "Writes the shot at the photo's own size. The headless program makes the same pixels from the "
             "same file."),
        bench_(bench) {
    heading("What");
    kind("PNG, 8 bit, in the view", "The finished picture as it is seen", DeliverableKind::png, ".png");
    kind("EXR with all passes",
         "Multi-part, scene-linear: composite, beauty with alpha, shadow ratio, albedo, normal, depth",
         DeliverableKind::exr, ".exr");
    auto* names = note();
    onRefresh([this, names] {
      QStringList files;
      for (const Deliverable& d : session_.shot().deliverables) files << QString::fromStdString(d.fileName);
      names->setText(files.isEmpty() ? "Nothing asked for." : files.join("\n"));
    });
    number(
        "Samples", {1, 4096, 16, 0, ""}, "Light paths per pixel",
        [this](const Project& p) { return std::optional(double(session_.shotIn(p).render.samples)); },
        [this](Project& p, double v) { session_.shotIn(p).render.samples = int(v); });
    auto* size = note();
    onRefresh([this, size] {
      const Camera& camera = session_.shot().vantage.camera;
      size->setVisible(camera.width > 0);
      if (camera.width <= 0) return;
      const size_t need = deliveryBytes(session_.shot(), camera.width, camera.height), has = freeMemory();
      size->setText(QString("%1 × %2 pixels; takes about %3 of memory%4")
                        .arg(camera.width)
                        .arg(camera.height)
                        .arg(QString::fromStdString(bytesText(need)))
                        .arg(need > has
                                 ? QString(", and %1 are free.").arg(QString::fromStdString(bytesText(has)))
                                 : "."));
    });
    heading("Where");
    where_ = note();
    button("Output folder…", "Where the files go", [this] {
      const QString folder = chooseFolder(this, "Output folder", FileKind::delivery);
      if (!folder.isEmpty()) folder_ = folder, refreshAll();
    });
    start_ = button(
        "Deliver", "Renders at full size and writes the files (Ctrl+Return)", [this] { start(); }, true);
    bar_ = new QProgressBar;
    bar_->setTextVisible(false);
    bar_->setRange(0, 1000);
    bar_->setAccessibleName("Delivery progress");
    add(bar_);
    left_ = note();
    cancel_ = button("Cancel", "Ends the delivery; nothing half written is left", [this] {
      if (Job* job = bench_.jobs.find(deliveryKey)) job->cancel();
    });
    stretch();
    tick_.setInterval(150);
    connect(&tick_, &QTimer::timeout, this, &DeliverDesk::showProgress);
    connect(&bench_.jobs, &Jobs::changed, this, &Desk::refreshAll);
    connect(&bench_, &Workbench::deliveryWanted, this, &DeliverDesk::start);
    onRefresh([this] { showProgress(); });
    connect(&session_, &Session::documentChanged, this, [this] { folder_.clear(); });
  }

  QString folder() const {
    if (!folder_.isEmpty() || session_.file().empty()) return folder_;
    return QString::fromStdString((session_.file().parent_path() / "delivered").string());
  }

  void start() {
    if (bench_.jobs.isRunning(deliveryKey)) return;
    if (folder().isEmpty()) folder_ = chooseFolder(this, "Output folder", FileKind::delivery);
    if (!folder().isEmpty()) deliverInto(bench_, folder());
  }

 private:
  void kind(const char* label, const char* tip, DeliverableKind which, const char* ending) {
    toggle(
        label, tip,
        [=, this](const Project& p) {
          const auto& all = session_.shotIn(p).deliverables;
          return std::optional(
              std::any_of(all.begin(), all.end(), [&](const Deliverable& d) { return d.kind == which; }));
        },
        [=, this](Project& p, bool on) {
          Shot& shot = session_.shotIn(p);
          auto& all = shot.deliverables;
          if (on) return all.push_back({which, shot.id + ending});
          // Only what this box stands for: others of the kind were put there by other means.
          for (auto at = all.rbegin(); at != all.rend(); ++at)
            if (at->kind == which) {
              all.erase(std::next(at).base());
              break;
            }
        });
  }

  void showProgress() {
    const Job* job = bench_.jobs.find(deliveryKey);
    start_->setEnabled(!job);
    for (QWidget* w :
         {static_cast<QWidget*>(bar_), static_cast<QWidget*>(left_), static_cast<QWidget*>(cancel_)})
      w->setVisible(job);
    where_->setText(folder().isEmpty() ? "You are asked where when you deliver."
                                       : QDir::toNativeSeparators(folder()));
    if (!job) return tick_.stop();
    bar_->setValue(int(job->fraction() * 1000));
    left_->setText(progressText(job->fraction(), job->secondsLeft()));
    tick_.start();
  }

  Workbench& bench_;
  QString folder_;
  QTimer tick_;
  QLabel *where_, *left_;
  QProgressBar* bar_;
  QPushButton *start_, *cancel_;
};

}  // namespace

Desk* makeDeliverDesk(Workbench& bench) { return new DeliverDesk(bench); }

}  // namespace dusk
