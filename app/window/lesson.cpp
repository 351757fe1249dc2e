#include "app/window/lesson.h"

#include <QtWidgets>

#include "app/stations/stations.h"
#include "app/widgets/look.h"
#include "app/window/horizon_bar.h"
#include "app/window/main_window.h"
#include "core/base/words.h"

namespace dusk {

/// The frame round a control: lies over the window, takes no events.
class LessonStrip::Frame : public QWidget {
 public:
  explicit Frame(QWidget* over) : QWidget(over) {
    setAttribute(Qt::WA_TransparentForMouseEvents);
    setFocusPolicy(Qt::NoFocus);
    setObjectName("pointer");
  }
  void pointAt(QWidget* control) {
    control_ = control;
    QWidget* over = parentWidget();
    const bool seen = control && control->isVisible();
    if (seen) {
      const QRect place(control->mapTo(over, QPoint()), control->size());
      setGeometry(place.adjusted(-4, -4, 4, 4).intersected(over->rect()));
      raise();
    }
    setVisible(seen);
  }
  QWidget* control() const { return control_; }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF(rect()).adjusted(1.5, 1.5, -1.5, -1.5);
    p.setPen(QPen(look::chrome(), 3));
    p.drawRoundedRect(box, 7, 7);
    p.setPen(QPen(look::moss(), 2));
    p.drawRoundedRect(box, 7, 7);
  }

 private:
  QPointer<QWidget> control_;
};

LessonStrip::LessonStrip(MainWindow& window)
    : window_(window),
      title_(new QLabel),
      text_(new QLabel),
      back_(new QPushButton(words("Back"))),
      skip_(new QPushButton(words("Skip"))),
      leave_(new QPushButton(words("Leave"))) {
  setObjectName("lesson");
  setAccessibleName(words("Lesson"));
  setAttribute(Qt::WA_StyledBackground);
  look::setRole(*this, "lesson");
  auto* line = new QHBoxLayout(this);
  line->setContentsMargins(14, 5, 8, 5);
  line->setSpacing(8);
  title_->setFont(look::heading());
  look::setRole(*title_, "proved");
  line->addWidget(title_);
  text_->setWordWrap(true);
  text_->setTextFormat(Qt::PlainText);
  line->addWidget(text_, 1);
  back_->setToolTip(words("The step before"));
  skip_->setToolTip(words("The next step, without doing this one"));
  leave_->setToolTip(words("Ends the lesson; what was done stays. The menu Help takes it up again"));
  for (QPushButton* b : {back_, skip_, leave_}) line->addWidget(b);
  connect(back_, &QPushButton::clicked, this, [this] { begin(step_ - 1); });
  connect(skip_, &QPushButton::clicked, this, [this] { begin(step_ + 1); });
  connect(leave_, &QPushButton::clicked, this, &LessonStrip::leave);
  tick_.setInterval(120);
  connect(&tick_, &QTimer::timeout, this, &LessonStrip::look);
  hide();
}

LessonStrip::~LessonStrip() { delete frame_; }

void LessonStrip::begin(Lesson lesson) {
  lesson_ = std::move(lesson);
  if (!frame_) frame_ = new Frame(&window_);
  show();
  begin(0);
}

void LessonStrip::leave() {
  tick_.stop();
  delete frame_;
  hide();
}

QWidget* LessonStrip::pointedAt() const { return frame_ ? frame_->control() : nullptr; }
QString LessonStrip::told() const { return text_->text(); }

void LessonStrip::begin(int step) {
  step_ = std::clamp(step, 0, steps());
  before_ = window_.session().base();
  back_->setEnabled(step_ > 0);
  skip_->setVisible(step_ < steps());
  if (step_ == steps()) {
    title_->setText(lesson_.title);
    text_->setText(words(
        "That was all of it. F1 tells more of the station in hand; undo leads back through what you did."));
    leave_->setText(words("Done"));
    frame_->pointAt(nullptr);
    tick_.stop();
    return;
  }
  leave_->setText(words("Leave"));
  title_->setText(QString(words("%1 of %2")).arg(step_ + 1).arg(steps()));
  tick_.start();
  look();
}

/// Points at what is to be used now: the way to the station first. What was done is told by the project.
void LessonStrip::look() {
  const LessonStep& now = lesson_.steps[size_t(step_)];
  if (now.isDone(window_, before_)) return begin(step_ + 1);
  if (window_.session().station() != now.station) {
    text_->setText(QString(words("Go to %1: click its name above, or press Ctrl+%2."))
                       .arg(stationName(now.station))
                       .arg(int(now.station) + 1));
    return frame_->pointAt(&window_.horizon());
  }
  text_->setText(now.words);
  QWidget* control = now.control(window_);
  for (QWidget* p = control ? control->parentWidget() : nullptr; p; p = p->parentWidget())
    if (auto* area = qobject_cast<QScrollArea*>(p); area && frame_->control() != control)
      area->ensureWidgetVisible(control);
  frame_->pointAt(control);
}

}  // namespace dusk
