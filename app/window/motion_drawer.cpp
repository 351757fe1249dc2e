#include "app/window/motion_drawer.h"

#include <QtWidgets>

#include "app/widgets/look.h"
#include "app/widgets/number_field.h"
#include "app/widgets/words.h"
#include "app/window/motion_rows.h"
#include "core/base/words.h"
#include "core/motion/edit.h"

namespace dusk {

MotionDrawer::MotionDrawer(Workbench& bench, QWidget* parent)
    : QWidget(parent), bench_(bench), session_(bench.session) {
  setObjectName("motion");
  setAccessibleName(words("What moves in this shot"));
  auto* whole = new QHBoxLayout(this);
  whole->setContentsMargins(8, 4, 0, 4);
  whole->setSpacing(8);
  auto* left = new QVBoxLayout;
  left->setSpacing(4);
  for (QWidget* row : {buildPlaying(), buildLengths(), buildMaking()}) left->addWidget(row);
  left->addStretch(1);
  whole->addLayout(left);
  auto* scroll = new QScrollArea;
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setFocusPolicy(Qt::NoFocus);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  rows_ = new MotionRows(session_);
  scroll->setWidget(rows_);
  auto* empty = new QLabel(words("Nothing moves yet. Choose from Move what begins to, or hold Begin to move "
                                 "down, go to another moment, "
                                 "and "
                                 "change what you see."),
                           scroll);
  empty->setWordWrap(true);
  look::setRole(*empty, "muted");
  empty->move(MotionRows::nameWidth() + look::px(24), look::px(30));  // beside the moment's line at 0
  empty->setFixedWidth(look::px(520));
  refreshers_.push_back([this, empty] { empty->setVisible(session_.shot().motion.tracks.empty()); });
  whole->addWidget(scroll, 1);
  connect(rows_, &MotionRows::momentWanted, this, [this](double seconds) {
    play(false);
    session_.setMoment(seconds);
  });
  connect(&session_, &Session::changed, this, &MotionDrawer::refresh);
  connect(&session_, &Session::momentChanged, this, &MotionDrawer::refresh);
  connect(&session_, &Session::selectionChanged, this, &MotionDrawer::refresh);
  timer_.setSingleShot(true);
  connect(&timer_, &QTimer::timeout, this, &MotionDrawer::goOn);
  refresh();
}

QWidget* MotionDrawer::buildPlaying() {
  auto* holder = new QWidget;
  auto* row = new QHBoxLayout(holder);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(4);
  play_ = new QPushButton(words("Play"));
  play_->setCheckable(true);
  play_->setToolTip(words("Plays what moves, as fast as the picture can be made (F5)"));
  play_->setFixedWidth(look::px(64));
  connect(play_, &QPushButton::clicked, this, &MotionDrawer::play);
  row->addWidget(play_);
  for (const int by : {-1, 1}) {
    auto* button = new QToolButton;
    button->setArrowType(by < 0 ? Qt::LeftArrow : Qt::RightArrow);
    button->setToolTip(by < 0 ? words("One picture back") : words("One picture on"));
    button->setAccessibleName(button->toolTip());
    connect(button, &QToolButton::clicked, this, [this, by] { step(by); });
    row->addWidget(button);
  }
  moment_ = new NumberField;
  moment_->setUnit("s");
  moment_->setDecimals(2);
  moment_->setRange(0, 86'400);
  moment_->setAccessibleName(words("Moment in hand, in seconds"));
  moment_->setToolTip(words("The moment that is shown and worked on"));
  connect(moment_, &QDoubleSpinBox::valueChanged, this, [this](double seconds) {
    play(false);
    session_.setMoment(onPicture(session_.shot().motion, seconds));
  });
  row->addWidget(moment_, 1);
  refreshers_.push_back([this] {
    const QSignalBlocker quiet(moment_);
    moment_->setMaximum(session_.shot().motion.seconds);
    moment_->setSingleStep(1.0 / session_.shot().motion.picturesPerSecond);
    moment_->setValue(session_.moment());
  });
  return holder;
}

NumberField* MotionDrawer::field(QWidget* to, const QString& label, const QString& tip, const QString& unit,
                                 double low, double high, int decimals,
                                 const std::function<double(const Motion&)>& get,
                                 const std::function<void(Motion&, double)>& set) {
  auto* number = new NumberField;
  number->setUnit(unit);
  number->setDecimals(decimals);
  number->setRange(low, high);
  number->setAccessibleName(label);
  number->setToolTip(label + ": " + tip);
  connect(number, &QDoubleSpinBox::valueChanged, this, [this, number, set, label](double value) {
    session_.editShot(
        words("change ") + inSentence(label), [&](Shot& shot) { set(shot.motion, value); },
        number->gesture());
  });
  auto* column = new QVBoxLayout;
  column->setSpacing(0);
  auto* caption = new ScrubLabel(label, number);
  caption->setFont(look::small());
  column->addWidget(caption);
  column->addWidget(number);
  static_cast<QHBoxLayout*>(to->layout())->addLayout(column);
  refreshers_.push_back([this, number, get] {
    const QSignalBlocker quiet(number);
    number->setValue(get(session_.shot().motion));
  });
  return number;
}

QWidget* MotionDrawer::buildLengths() {
  auto* holder = new QWidget;
  auto* row = new QHBoxLayout(holder);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(4);
  field(
      holder, words("Length"), words("of the whole film"), "s", 0.1, 3600, 2,
      [](const Motion& m) { return m.seconds; }, [](Motion& m, double v) { m.seconds = v; });
  field(
      holder, words("Pictures"), words("in a second: 25 for television, 24 for cinema"), "/s", 1, 240, 0,
      [](const Motion& m) { return m.picturesPerSecond; },
      [](Motion& m, double v) { m.picturesPerSecond = int(std::lround(v)); });
  field(
      holder, words("Shutter"),
      words("how long it is open of each picture; 360° all of it, 0° leaves all sharp"), "°", 0, 360, 0,
      [](const Motion& m) { return m.shutterDegrees; }, [](Motion& m, double v) { m.shutterDegrees = v; });
  auto* blur = new QCheckBox(words("Blur"));
  blur->setToolTip(words("Shows what moves as the open shutter sees it, once the picture rests"));
  connect(blur, &QCheckBox::toggled, this, [this](bool on) { session_.openShutter(on); });
  row->addWidget(blur, 0, Qt::AlignBottom);
  return holder;
}

QWidget* MotionDrawer::buildMaking() {
  auto* holder = new QWidget;
  auto* row = new QHBoxLayout(holder);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(4);
  record_ = new QPushButton(words("Begin to move"));
  record_->setCheckable(true);
  record_->setToolTip(
      words("While it is down, what you change begins to move: from how it is at the beginning to how you "
            "leave it at this moment. What moves already gets a key either way"));
  connect(record_, &QPushButton::clicked, this, [this](bool on) { session_.recordKeys(on); });
  row->addWidget(record_, 1);
  const auto menu = [&](const QString& text, const QString& tip, void (MotionDrawer::*fill)(QMenu*)) {
    auto* button = new QPushButton(text);
    button->setToolTip(tip);
    auto* list = new QMenu(button);
    list->setToolTipsVisible(true);
    connect(list, &QMenu::aboutToShow, this, [this, list, fill] {
      list->clear();
      (this->*fill)(list);
    });
    button->setMenu(list);
    row->addWidget(button);
  };
  menu(words("Move"), words("What begins to move, and motions that are ready made"),
       &MotionDrawer::fillMoveMenu);
  menu(words("More"), words("The still's moment, speed, and the film's files"), &MotionDrawer::fillMoreMenu);
  refreshers_.push_back([this] { record_->setChecked(session_.recordsKeys()); });
  return holder;
}

void MotionDrawer::refresh() {
  for (const auto& each : refreshers_) each();
  if (session_.moment() > session_.shot().motion.seconds) session_.setMoment(session_.shot().motion.seconds);
}

void MotionDrawer::hideEvent(QHideEvent* e) {
  QWidget::hideEvent(e);
  play(false);
}

void MotionDrawer::step(int pictures) {
  play(false);
  const Motion& m = session_.shot().motion;
  session_.setMoment(onPicture(m, session_.moment() + double(pictures) / m.picturesPerSecond));
}

void MotionDrawer::play(bool on) {
  on = on && moves(session_.shot());
  play_->setChecked(on), play_->setText(on ? words("Stop") : words("Play"));
  if (on == playing_) return;
  playing_ = on;
  timer_.stop();
  if (!on) return;
  const auto [from, to] = rows_->stretch();
  playedFrom_ = session_.moment() < from || session_.moment() >= to - 1e-6 ? from : session_.moment();
  since_.start();
  goOn();
}

/// The picture of now; pictures that could not be made in time are left out.
void MotionDrawer::goOn() {
  if (!playing_) return;
  const Motion& m = session_.shot().motion;
  double now = playedFrom_ + double(since_.elapsed()) / 1000;
  const auto [from, to] = rows_->stretch();
  if (now > to) {  // from the beginning again
    playedFrom_ = from, since_.restart();
    now = from;
  }
  waits_ = true;
  asked_.start();
  const double before = session_.moment();
  session_.setMoment(onPicture(m, now));
  // Where nothing is seen to move no picture comes.
  if (session_.moment() == before) waits_ = false;
  timer_.start(waits_ ? 250 : 1000 / m.picturesPerSecond);
}

void MotionDrawer::frameShown() {
  if (!playing_ || !waits_) return;
  waits_ = false;
  const int rest = 1000 / session_.shot().motion.picturesPerSecond - int(asked_.elapsed());
  timer_.start(std::max(0, rest));
}

}  // namespace dusk
