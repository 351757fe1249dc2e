#include "app/window/queue_drawer.h"

#include <QtWidgets>

#include "app/jobs/aside.h"
#include "app/widgets/look.h"
#include "app/widgets/time_left.h"
#include "core/base/installed.h"
#include "core/base/words.h"

namespace dusk {
namespace {

QString stateOf(const QueuedJob& job) {
  if (job.onFarm && job.state == JobState::running)
    return QString(words("farm, %1 %")).arg(int(100 * job.fraction));
  if (job.onFarm && job.state == JobState::waiting) return words("waits on the farm");
  switch (job.state) {
    case JobState::waiting:
      return job.fraction > 0 ? QString(words("waits, %1 % done")).arg(int(100 * job.fraction))
                              : QString(words("waits"));
    case JobState::running:
      return progressText(job.fraction, job.secondsLeft);
    case JobState::paused:
      return QString(words("paused at %1 %")).arg(int(100 * job.fraction));
    case JobState::done:
      return job.message.empty() ? QString(words("done")) : QString(words("done, with findings"));
    case JobState::failed:
      break;
  }
  return words("failed");
}

}  // namespace

/// One job.
class QueueDrawer::Line : public QWidget {
 public:
  explicit Line(QueueDrawer& drawer) : drawer_(drawer) {
    setFixedHeight(look::px(30));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 2, 6, 2);
    row->setSpacing(2);
    row->addStretch(1);
    const auto tool = [&](const char* text, const char* tip, auto act) {
      auto* b = new QToolButton;
      b->setText(text), b->setToolTip(tip), b->setAccessibleName(tip);
      b->setFixedHeight(look::px(24));
      connect(b, &QToolButton::clicked, this, act);
      row->addWidget(b);
      return b;
    };
    sooner_ = tool(words("Sooner"), words("A place up in the line"), [this] { move(-1); });
    pause_ = tool(words("Pause"), words("Waits until it is resumed; what was traced is kept"), [this] {
      if (job_.onFarm)
        return drawer_.actOnFarm([id = job_.id, state = job_.state](FarmList& farm, Progress& progress) {
          return state == JobState::failed ? farm.submitLost(id, progress)
                                           : farm.hold(id, state != JobState::paused, progress);
        });
      const bool waits = job_.state == JobState::paused || job_.state == JobState::failed;
      drawer_.act([id = job_.id, waits](Queue& q) { return waits ? q.resume(id) : q.pause(id); });
    });
    folder_ = tool(words("Folder"), words("Shows where its files are"), [this] {
      QDesktopServices::openUrl(QUrl::fromLocalFile(QString::fromStdString(job_.folder.string())));
    });
    tool(words("Take away"), words("Out of the queue; files that were written stay"), [this] {
      if (job_.onFarm)
        return drawer_.actOnFarm(
            [id = job_.id](FarmList& farm, Progress& progress) { return farm.remove(id, progress); });
      drawer_.act([id = job_.id](Queue& q) { return q.remove(id); });
    });
  }
  void show(const QueuedJob& job) {
    job_ = job;
    const QString name = QString::fromStdString(job.name), state = stateOf(job);
    setAccessibleName(name + ": " + state);
    setToolTip(QString::fromStdString(job.message.empty() ? job.folder.string() : job.message));
    if (stamp_.isNull() && !job.stamp.empty()) stamp_.load(QString::fromStdString(job.stamp.string()));
    const bool ended = job.state == JobState::done;
    pause_->setVisible(!ended);
    pause_->setText(job.state == JobState::paused   ? words("Resume")
                    : job.state == JobState::failed ? words("Try again")
                                                    : words("Pause"));
    sooner_->setVisible(!job.onFarm && (job.state == JobState::waiting || job.state == JobState::paused));
    folder_->setVisible(ended || job.onFarm);
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    const QRectF bar = QRectF(rect()).adjusted(2, 2, -2, -2);
    QPainterPath round;
    round.addRoundedRect(bar, 4, 4);
    p.fillPath(round, look::field());
    p.setClipPath(round);
    const QColor fill = job_.state == JobState::failed ? look::rose()
                        : job_.state == JobState::done ? look::moss()
                                                       : look::ember();
    QColor soft = fill;
    soft.setAlpha(60);
    p.fillRect(QRectF(bar.left(), bar.top(), bar.width() * job_.fraction, bar.height()), soft);
    p.fillRect(QRectF(bar.left(), bar.bottom() - 2, bar.width() * job_.fraction, 2), fill);
    QRectF stamp(bar.left() + 4, bar.top() + 2, (bar.height() - 5) * 1.5, bar.height() - 5);
    if (!stamp_.isNull()) {
      const QSizeF size = QSizeF(stamp_.size()).scaled(stamp.size(), Qt::KeepAspectRatio);
      p.drawImage(QRectF(stamp.center() - QPointF(size.width(), size.height()) / 2, size), stamp_);
    }
    p.setPen(look::text());
    double buttons = 0;  // what they take at the right
    for (const QToolButton* b : findChildren<QToolButton*>())
      if (b->isVisible()) buttons = std::max(buttons, bar.right() - b->x() + 6);
    const double left = stamp.right() + 8;
    const QString state = stateOf(job_);
    p.setFont(look::small());
    const double wide = p.fontMetrics().horizontalAdvance(state) + 12;
    p.setPen(job_.state == JobState::failed ? look::rose() : look::muted());
    p.drawText(QRectF(bar.right() - buttons - wide, bar.top(), wide, bar.height()),
               Qt::AlignVCenter | Qt::AlignRight, state);
    p.setFont(font());
    p.setPen(look::text());
    const QRectF room(left, bar.top(), bar.right() - buttons - wide - left - 8, bar.height());
    QString text = QString::fromStdString(job_.name);
    if (!job_.message.empty()) text += "   " + QString::fromStdString(job_.message);
    p.drawText(room, Qt::AlignVCenter, p.fontMetrics().elidedText(text, Qt::ElideRight, int(room.width())));
  }

 private:
  void move(int by) {
    drawer_.act([id = job_.id, by](Queue& q) { return q.move(id, by); });
  }
  QueueDrawer& drawer_;
  QueuedJob job_;
  QImage stamp_;
  QToolButton *sooner_, *pause_, *folder_;
};

QueueDrawer::QueueDrawer(QWidget* parent) : QWidget(parent) {
  setObjectName("queue");
  setAccessibleName(words("Queue"));
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(4, 6, 8, 6);
  auto* area = new QScrollArea;
  area->setWidgetResizable(true);
  area->setFrameShape(QFrame::NoFrame);
  area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  auto* lines = new QWidget;
  column_ = new QVBoxLayout(lines);
  column_->setContentsMargins(0, 0, 0, 0);
  column_->setSpacing(2);
  empty_ =
      new QLabel(words("Nothing waits. \"Into the queue\" at the Hand over station puts this shot here."));
  look::setRole(*empty_, "muted");
  column_->addWidget(empty_);
  column_->addStretch(1);
  area->setWidget(lines);
  row->addWidget(area, 1);
  auto* side = new QVBoxLayout;
  const auto button = [&](const char* text, const char* tip) {
    auto* b = new QPushButton(text);
    b->setToolTip(tip), b->setAccessibleName(text);
    b->setFixedWidth(look::px(132));
    side->addWidget(b);
    return b;
  };
  work_ = button(
      words("Work on it"),
      words("One job after the other, in a program of its own: it goes on when this window is closed"));
  clear_ = button(words("Take done away"), words("Out of the queue; their files stay"));
  side->addStretch(1);
  row->addLayout(side);
  connect(work_, &QPushButton::clicked, this, [this] { works_ ? pauseAll() : work(); });
  connect(clear_, &QPushButton::clicked, this, [this] {
    act([jobs = jobs_](Queue& q) {
      for (const QueuedJob& job : jobs)
        if (job.state == JobState::done && !job.onFarm)
          if (const Outcome gone = q.remove(job.id); !gone) return gone;
      return done();
    });
    actOnFarm([jobs = jobs_](FarmList& farm, Progress& progress) {
      for (const QueuedJob& job : jobs)
        if (job.state == JobState::done && job.onFarm)
          if (const Outcome gone = farm.remove(job.id, progress); !gone) return gone;
      return done();
    });
  });
  constexpr int farmPaceMs = 5000;
  farmTick_.setInterval(farmPaceMs);
  connect(&farmTick_, &QTimer::timeout, this, [this] {
    const auto goesOn = [](const QueuedJob& job) { return job.state != JobState::done; };
    if (!asking_ && (isVisible() || std::any_of(farmed_.begin(), farmed_.end(), goesOn))) actOnFarm({});
  });
  farmTick_.start();
  tick_.setInterval(700);
  connect(&tick_, &QTimer::timeout, this, &QueueDrawer::refresh);
  refresh();
}

void QueueDrawer::showEvent(QShowEvent*) {
  refresh();
  if (!asking_) actOnFarm({});
  tick_.start();
}
void QueueDrawer::hideEvent(QHideEvent*) { tick_.setInterval(3000); }

void QueueDrawer::refresh() {
  tick_.setInterval(isVisible() ? 700 : 3000);
  if (!looking_) act({});
}

void QueueDrawer::act(std::function<Outcome(Queue&)> change) {
  looking_ = true;
  struct Seen {
    Outcome changed;
    std::vector<QueuedJob> jobs;
    bool works;
  };
  runAside([folder = folder_, change = std::move(change)]() -> Seen {
    Queue queue(folder);
    Outcome changed = change ? change(queue) : done();
    return {std::move(changed), queue.list(), queue.isRunning()};
  }).then(this, [this](const Seen& seen) {
    looking_ = false;
    if (!seen.changed) emit said(QString::fromStdString(seen.changed.error().message), true);
    show(seen.jobs, seen.works);
  });
}

void QueueDrawer::actOnFarm(std::function<Outcome(FarmList&, Progress&)> change) {
  asking_ = true;
  struct Seen {
    Outcome changed;
    std::vector<QueuedJob> jobs;
  };
  runAside([folder = folder_, change = std::move(change)]() -> Seen {
    FarmList farm(folder);
    Progress progress;
    Outcome changed = change ? change(farm, progress) : done();
    return {std::move(changed), farm.list(progress)};
  }).then(this, [this](const Seen& seen) {
    asking_ = false;
    if (!seen.changed) emit said(QString::fromStdString(seen.changed.error().message), true);
    farmed_ = seen.jobs;
    showAll();
  });
}

void QueueDrawer::show(std::vector<QueuedJob> jobs, bool works) {
  queued_ = std::move(jobs), works_ = works;
  showAll();
}

void QueueDrawer::showAll() {
  std::vector<QueuedJob> jobs = queued_;
  jobs.insert(jobs.end(), farmed_.begin(), farmed_.end());
  // What ended since is news.
  if (known_)
    for (const QueuedJob& job : jobs)
      for (const QueuedJob& was : jobs_)
        if (was.id == job.id && was.state != job.state &&
            (job.state == JobState::done || job.state == JobState::failed))
          emit said(QString("%1: %2%3")
                        .arg(QString::fromStdString(job.name),
                             job.state == JobState::done ? words("handed over") : words("failed. "),
                             job.state == JobState::done ? "." : QString::fromStdString(job.message)),
                    job.state == JobState::failed);
  known_ = true;
  const bool sameLines =
      jobs.size() == jobs_.size() && std::equal(jobs.begin(), jobs.end(), jobs_.begin(),
                                                [](const auto& a, const auto& b) { return a.id == b.id; });
  jobs_ = std::move(jobs);
  if (!sameLines) {
    for (Line* line : lines_) delete line;
    lines_.clear();
    for (size_t i = 0; i < jobs_.size(); ++i) {
      lines_.push_back(new Line(*this));
      column_->insertWidget(int(i), lines_.back());
    }
  }
  for (size_t i = 0; i < lines_.size(); ++i) lines_[i]->show(jobs_[i]);
  empty_->setVisible(jobs_.empty());
  const auto any = [&](auto of) { return std::any_of(jobs_.begin(), jobs_.end(), of); };
  work_->setText(works_ ? words("Pause all") : words("Work on it"));
  work_->setAccessibleName(work_->text());
  work_->setEnabled(works_ ||
                    any([](const QueuedJob& j) { return j.state == JobState::waiting && !j.onFarm; }));
  clear_->setEnabled(any([](const QueuedJob& j) { return j.state == JobState::done; }));
}

void QueueDrawer::work() {
  const QString program = QString::fromStdString(headlessProgram().string());
  // After the picture on screen, whose threads give way to the window alone.
  QStringList arguments{"-n", "19", program, "queue", "--queue", QString::fromStdString(folder_.string()),
                        "run"};
  QProcess runner;
  runner.setProgram("nice"), runner.setArguments(arguments);
  runner.setStandardOutputFile(QProcess::nullDevice()), runner.setStandardErrorFile(QProcess::nullDevice());
  if (!QFileInfo(program).isExecutable() || !runner.startDetached())
    return emit said(
        words("The installation is incomplete: gentle-dusk-batch, which works on the queue, is missing."),
        true);
  QTimer::singleShot(300, this, &QueueDrawer::refresh);
}

void QueueDrawer::pauseAll() {
  act([jobs = jobs_](Queue& q) {
    for (const QueuedJob& job : jobs)
      if (!job.onFarm && (job.state == JobState::waiting || job.state == JobState::running))
        if (const Outcome paused = q.pause(job.id); !paused) return paused;
    return done();
  });
}

}  // namespace dusk
