#include "app/window/notices.h"

#include <QtWidgets>

#include "app/jobs/jobs.h"
#include "app/widgets/look.h"
#include "app/widgets/time_left.h"
#include "core/base/log.h"
#include "core/base/words.h"

namespace dusk {
namespace {

constexpr size_t shownAtOnce = 3;

QHBoxLayout* lineOf(QWidget* row, const char* name) {
  row->setObjectName(name);
  row->setAttribute(Qt::WA_StyledBackground);
  look::setRole(*row, "band");
  auto* line = new QHBoxLayout(row);
  line->setContentsMargins(14, 3, 8, 3);
  line->setSpacing(8);
  return line;
}

QPushButton* buttonIn(QHBoxLayout* line, const QString& label, const QString& tip) {
  auto* b = new QPushButton(label);
  b->setToolTip(tip);
  line->addWidget(b);
  return b;
}

}  // namespace

class Notices::JobRow : public QWidget {
 public:
  explicit JobRow(Job* job) : job_(job), bar_(new QProgressBar), left_(new QLabel) {
    auto* line = lineOf(this, "job");
    auto* title = new QLabel(job->title());
    title->setAccessibleName(words("Work: ") + job->title());
    line->addWidget(title, 1);
    bar_->setRange(0, 1000);
    bar_->setTextVisible(false);
    bar_->setFixedSize(150, 6);
    bar_->setAccessibleName(words("Progress: ") + job->title());
    line->addWidget(bar_);
    left_->setMinimumWidth(150);
    look::setRole(*left_, "muted");
    line->addWidget(left_);
    auto* cancel = buttonIn(line, words("Cancel"), words("Ends this; nothing half done is left"));
    cancel->setAccessibleName(words("Cancel: ") + job->title());
    connect(cancel, &QPushButton::clicked, this, [this] {
      if (job_) job_->cancel();
      refresh();
    });
    refresh();
  }
  const Job* job() const { return job_; }
  void refresh() {
    if (!job_) return;
    bar_->setValue(int(1000 * job_->fraction()));
    left_->setText(job_->isCancelled() ? words("ending…")
                   : job_->isWaiting() ? words("waits for its turn")
                                       : progressText(job_->fraction(), job_->secondsLeft()));
  }

 private:
  QPointer<Job> job_;
  QProgressBar* bar_;
  QLabel* left_;
};

class Notices::MessageRow : public QWidget {
 public:
  enum class Stays { seconds, untilDismissed };
  MessageRow(Notices& all, const QString& text, bool trouble, const std::vector<Answer>& answers, Stays stays)
      : text_(text) {
    auto* line = lineOf(this, "message");
    // A cross before trouble, so that colour is not the only sign.
    auto* label = new QLabel(trouble ? "✕  " + text : text);
    if (trouble) look::setRole(*label, "trouble");
    label->setWordWrap(true);
    label->setAccessibleName(trouble ? words("Problem") : words("Message"));
    label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    line->addWidget(label, 1);
    for (const Answer& answer : answers)
      connect(buttonIn(line, answer.label, answer.tip), &QPushButton::clicked, this, [this, &all, answer] {
        answer.then();
        away(all);
      });
    if (trouble && stays == Stays::untilDismissed)
      connect(
          buttonIn(line, words("Copy details"),
                   words("Copies this message, the program's version and what it did before")),
          &QPushButton::clicked, this, [text] {
            QApplication::clipboard()->setText(QString::fromStdString(failureDetails(text.toStdString())));
          });
    auto* dismiss = buttonIn(line, words("Dismiss"), words("Takes this message away"));
    dismiss->setAccessibleName(words("Dismiss: ") + text);
    connect(dismiss, &QPushButton::clicked, this, [this, &all] { away(all); });
    timer_.setSingleShot(true);
    connect(&timer_, &QTimer::timeout, this, [this, &all] {
      if (underMouse())
        timer_.start();
      else
        away(all);
    });
    timer_.setInterval(9000);
    if (stays == Stays::seconds) timer_.start();
  }
  const QString& text() const { return text_; }
  void again() {
    if (timer_.isActive()) timer_.start();
  }
  void away(Notices& all) {
    std::erase(all.messageRows_, this);
    if (all.refusal_ == this) all.refusal_ = nullptr;
    hide();
    deleteLater();
    all.tidy();
  }

 private:
  QString text_;
  QTimer timer_;
};

Notices::Notices(Jobs& jobs, QWidget* over) : QWidget(over), jobs_(jobs) {
  if (over) over->installEventFilter(this);
  setObjectName("notices");
  setAccessibleName(words("Messages and running work"));
  column_ = new QVBoxLayout(this);
  column_->setContentsMargins(0, 0, 0, 0);
  column_->setSpacing(1);
  more_ = new QWidget;
  auto* line = lineOf(more_, "more");
  moreText_ = new QLabel;
  look::setRole(*moreText_, "muted");
  line->addWidget(moreText_, 1);
  connect(buttonIn(line, words("Dismiss all"), words("Takes all messages away")), &QPushButton::clicked, this,
          &Notices::dismissAll);
  column_->addWidget(more_);
  more_->hide();
  tick_.setInterval(200);
  connect(&tick_, &QTimer::timeout, this, &Notices::showJobs);
  connect(&jobs_, &Jobs::changed, this, &Notices::showJobs);
}

bool Notices::event(QEvent* e) {
  const bool done = QWidget::event(e);
  if (e->type() == QEvent::LayoutRequest || e->type() == QEvent::Show) lie();
  if (e->type() == QEvent::Hide) emit covers(0);
  return done;
}

bool Notices::eventFilter(QObject* watched, QEvent* e) {
  if (watched == parentWidget() && e->type() == QEvent::Resize && isVisible()) lie();
  return QWidget::eventFilter(watched, e);
}

void Notices::lie() {
  const QWidget* under = parentWidget();
  if (!under) return;
  const int width = under->width(),
            wanted = column_->hasHeightForWidth() ? column_->totalHeightForWidth(width)
                                                  : column_->totalSizeHint().height(),
            height = std::min(wanted, under->height());
  setGeometry(0, under->height() - height, width, height);
  raise();
  emit covers(height);
}

void Notices::showJobs() {
  std::erase_if(jobRows_, [this](JobRow* row) {
    const auto& all = jobs_.all();
    const bool gone = std::none_of(all.begin(), all.end(), [&](const Job* j) { return j == row->job(); });
    if (gone) row->hide(), row->deleteLater();
    return gone;
  });
  for (Job* job : jobs_.all()) {
    if (job->isQuiet()) continue;
    const auto row =
        std::find_if(jobRows_.begin(), jobRows_.end(), [&](JobRow* r) { return r->job() == job; });
    if (row != jobRows_.end()) {
      (*row)->refresh();
      continue;
    }
    jobRows_.push_back(new JobRow(job));
    column_->insertWidget(int(jobRows_.size()) - 1, jobRows_.back());
  }
  if (jobRows_.empty())
    tick_.stop();
  else if (!tick_.isActive())
    tick_.start();
  tidy();
}

bool Notices::isThere(const QString& text) {
  for (MessageRow* row : messageRows_)
    if (row->text() == text) return row->again(), true;
  return false;
}

void Notices::say(const QString& text, bool trouble, const std::vector<Answer>& answers) {
  if (isThere(text)) return;
  log(trouble ? LogLevel::trouble : LogLevel::news, trouble ? "said a failure" : "said news",
      text.toStdString());
  add(new MessageRow(
      *this, text, trouble, answers,
      trouble || !answers.empty() ? MessageRow::Stays::untilDismissed : MessageRow::Stays::seconds));
}

void Notices::refuse(const QString& text) {
  if (isThere(text)) return;
  log(LogLevel::news, "refused", text.toStdString());
  if (refusal_) refusal_->away(*this);
  refusal_ = new MessageRow(*this, text, true, {}, MessageRow::Stays::seconds);
  add(refusal_);
}

void Notices::add(MessageRow* row) {
  messageRows_.push_back(row);
  column_->insertWidget(column_->count() - 1, row);
  tidy();
}

QStringList Notices::messages() const {
  QStringList all;
  for (const MessageRow* row : messageRows_) all << row->text();
  return all;
}

void Notices::dismissAll() {
  for (MessageRow* row : std::exchange(messageRows_, {})) row->hide(), row->deleteLater();
  refusal_ = nullptr;
  tidy();
}

/// The newest messages are seen; the rest are counted, and come up as those are dismissed.
void Notices::tidy() {
  const size_t hidden = messageRows_.size() > shownAtOnce ? messageRows_.size() - shownAtOnce : 0;
  for (size_t i = 0; i < messageRows_.size(); ++i) messageRows_[i]->setVisible(i >= hidden);
  moreText_->setText(QString(words("%1 earlier message", "%1 earlier messages", long(hidden))).arg(hidden));
  more_->setVisible(hidden > 0);
  setVisible(!jobRows_.empty() || !messageRows_.empty());
}

}  // namespace dusk
