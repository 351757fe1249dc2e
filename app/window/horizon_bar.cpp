#include "app/window/horizon_bar.h"

#include <QtWidgets>

#include "app/widgets/look.h"
#include "core/base/words.h"

namespace dusk {
namespace {
using State = StationStatus::State;

const char* said(State state) {
  switch (state) {
    case State::untouched:
      return words("not begun");
    case State::begun:
      return words("begun");
    case State::off:
      return words("off");
    case State::proved:
      break;
  }
  return words("holds");
}

}  // namespace

HorizonBar::HorizonBar(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  setObjectName("horizon");
  setAccessibleName(words("Stations of the work"));
  setFixedHeight(look::px(74));
  setMouseTracking(true);
  setFocusPolicy(Qt::TabFocus);
  connect(&session_, &Session::changed, this, &HorizonBar::refresh);
  connect(&session_, &Session::stationChanged, this, [this] {
    describe();
    update();
  });
  connect(&session_, &Session::shotChanged, this, [this] {
    samples_ = wanted_ = 0;
    refresh();
  });
  connect(&session_, &Session::documentChanged, this, [this] {
    delivered_.clear(), proofs_.reset();
    refresh();
  });
  describe();
  refresh();
}

void HorizonBar::refresh() {
  for (int i = 0; i < stationCount; ++i) {
    StationStatus now = status(Station(i));
    if (now == shown_[size_t(i)]) continue;
    shown_[size_t(i)] = std::move(now);
    update(cell(i).toAlignedRect());
  }
}

void HorizonBar::setProofs(const std::shared_ptr<const Proofs>& proofs) {
  proofs_ = proofs;
  refresh();
}

void HorizonBar::setFrame(const Frame& frame) {
  samples_ = frame.samples, wanted_ = frame.wanted;
  refresh();
}

void HorizonBar::setDelivered(int files) {
  delivered_[session_.shot().id] = files;
  refresh();
}

StationStatus HorizonBar::status(Station station) const {
  const std::string& shot = session_.shot().id;
  const auto written = delivered_.find(shot);
  // What was measured on another shot says nothing of this one.
  const Proofs* proofs = proofs_ && proofs_->shotId == shot ? proofs_.get() : nullptr;
  return infoOf(station).status(
      {session_, proofs, samples_, wanted_, written == delivered_.end() ? 0 : written->second});
}

QRectF HorizonBar::cell(int index) const {
  const double w = double(width() - 16) / stationCount;
  return {8 + index * w, 0, w, double(height())};
}

int HorizonBar::at(const QPointF& p) const {
  for (int i = 0; i < stationCount; ++i)
    if (cell(i).contains(p)) return i;
  return -1;
}

void HorizonBar::paintEvent(QPaintEvent* e) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  QLinearGradient dusk(0, 0, 0, height());
  dusk.setColorAt(0, look::skyHigh());
  dusk.setColorAt(0.34, look::skyLow());
  dusk.setColorAt(0.36, look::earth());
  dusk.setColorAt(1, look::chrome());
  painter.fillRect(rect(), dusk);
  const double horizon = look::px(26), r = 6.5;
  painter.setPen(QPen(look::land(), 1));
  painter.drawLine(QPointF(0, horizon), QPointF(width(), horizon));

  for (int i = 0; i < stationCount; ++i) {
    const QRectF box = cell(i);
    if (!e->region().intersects(box.toAlignedRect())) continue;
    const StationStatus& s = shown_[size_t(i)];
    const bool here = session_.station() == Station(i);
    if (here || hover_ == i) {
      painter.setPen(Qt::NoPen);
      painter.setBrush(look::faded(look::text(), here ? 22 : 10));
      painter.drawRoundedRect(box.adjusted(3, 4, -3, -4), 7, 7);
    }
    const double x = box.center().x();
    const QColor colour = s.state == State::off      ? look::rose()
                          : s.state == State::proved ? look::ember()
                                                     : look::muted();
    if (s.state == State::untouched) {
      painter.setPen(QPen(look::muted(), 1.4));
      painter.setBrush(look::chrome());
      painter.drawEllipse(QPointF(x, horizon + 5), 3.8, 3.8);
    } else if (s.state == State::proved) {
      QRadialGradient glow(QPointF(x, horizon - r - 2), 20);
      glow.setColorAt(0, look::faded(look::ember(), 110));
      glow.setColorAt(1, look::faded(look::ember(), 0));
      painter.setPen(Qt::NoPen);
      painter.setBrush(glow);
      painter.drawEllipse(QPointF(x, horizon - r - 2), 20, 20);
      painter.setBrush(colour);
      painter.drawEllipse(QPointF(x, horizon - r - 2), r, r);
    } else {  // half set on the line; what is off has a bar through it besides its colour
      painter.setPen(Qt::NoPen);
      painter.setBrush(colour);
      painter.drawPie(QRectF(x - r, horizon - r, 2 * r, 2 * r), 0, 180 * 16);
      if (s.state == State::off) {
        painter.setPen(QPen(look::rose(), 2));
        painter.drawLine(QPointF(x - r - 4, horizon + 4), QPointF(x + r + 4, horizon + 4));
      }
    }
    painter.setPen(here ? look::ember() : look::text());
    painter.setFont(look::heading());
    painter.drawText(QRectF(box.left(), look::px(35), box.width(), look::px(18)), Qt::AlignCenter,
                     stationName(Station(i)));
    painter.setFont(look::small());
    painter.setPen(s.state == State::off         ? look::rose()
                   : s.state == State::untouched ? look::muted()
                                                 : look::tide());
    painter.drawText(QRectF(box.left(), look::px(52), box.width(), look::px(16)), Qt::AlignCenter,
                     painter.fontMetrics().elidedText(s.figure, Qt::ElideRight, int(box.width()) - 4));
    if (here) {
      painter.setPen(Qt::NoPen);
      painter.setBrush(look::ember());
      painter.drawRoundedRect(QRectF(x - 16, height() - 3, 32, 3), 1.5, 1.5);
    }
  }
  if (hasFocus()) {
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(look::ember(), 1));
    painter.drawRoundedRect(cell(int(session_.station())).adjusted(3, 4, -3, -4), 7, 7);
  }
}

QString HorizonBar::describe(Station station) const {
  const StationInfo& info = infoOf(station);
  const StationStatus s = status(station);
  return QString(words("%1: %2. Now: %3, %4"))
      .arg(stationName(station), words(info.purpose), said(s.state), s.figure);
}

/// For screen readers, to whom the drawn suns say nothing.
void HorizonBar::describe() {
  setAccessibleDescription(describe(session_.station()));
  QAccessibleEvent event(this, QAccessible::DescriptionChanged);
  QAccessible::updateAccessibility(&event);
}

void HorizonBar::mousePressEvent(QMouseEvent* e) {
  if (const int i = at(e->position()); i >= 0) session_.setStation(Station(i));
}

void HorizonBar::mouseMoveEvent(QMouseEvent* e) {
  hover_ = at(e->position());
  update();
}

void HorizonBar::leaveEvent(QEvent*) {
  hover_ = -1;
  update();
}

void HorizonBar::keyPressEvent(QKeyEvent* e) {
  const int step = e->key() == Qt::Key_Right ? 1 : e->key() == Qt::Key_Left ? -1 : 0;
  if (!step) return QWidget::keyPressEvent(e);
  session_.setStation(Station(std::clamp(int(session_.station()) + step, 0, stationCount - 1)));
}

bool HorizonBar::event(QEvent* e) {
  if (e->type() == QEvent::ToolTip) {
    auto* help = static_cast<QHelpEvent*>(e);
    if (const int i = at(help->pos()); i >= 0)
      QToolTip::showText(help->globalPos(), describe(Station(i)) + QString(words(" (Ctrl+%1)")).arg(i + 1),
                         this);
    return true;
  }
  return QWidget::event(e);
}

}  // namespace dusk
