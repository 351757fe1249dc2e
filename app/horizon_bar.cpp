#include "app/horizon_bar.h"

#include <QtWidgets>

#include "app/look.h"
#include "core/vantage/camera.h"

namespace dusk {

HorizonBar::HorizonBar(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  setObjectName("horizon");
  setAccessibleName("Stations of the work");
  setFixedHeight(74);
  setMouseTracking(true);
  setFocusPolicy(Qt::TabFocus);
  connect(&session_, &Session::changed, this, qOverload<>(&QWidget::update));
  connect(&session_, &Session::stationChanged, this, qOverload<>(&QWidget::update));
}

void HorizonBar::setProofs(const std::shared_ptr<const Proofs>& proofs) {
  proofs_ = proofs;
  update();
}

void HorizonBar::setFrame(const Frame& frame) {
  samples_ = frame.samples, wanted_ = frame.wanted;
  update();
}

void HorizonBar::setDelivered(int files) {
  delivered_ = files;
  update();
}

const Finding* HorizonBar::finding(const char* id) const { return proofs_ ? proofs_->find(id) : nullptr; }

HorizonBar::Status HorizonBar::status(Station station) const {
  const Project& project = session_.project();
  const Shot& shot = session_.shot();
  const auto judged = [](const Finding* f, const QString& figure) {
    return Status{!f ? State::begun : f->ok() ? State::proved : State::off, figure};
  };
  switch (station) {
    case Station::plate: {
      const Camera& c = shot.vantage.camera;
      if (!hasPlate(shot)) return {State::untouched, "no photo yet"};
      return {State::proved, QString("%1 × %2").arg(c.width).arg(c.height)};
    }
    case Station::vantage: {
      if (!shot.vantage.solved) {
        const Evidence& e = shot.evidence;
        const bool drawn = !e.strokes.empty() || e.footprint || !e.pins.empty();
        return {drawn ? State::off : State::untouched, "not solved"};
      }
      const double mm = focalMm35(shot.vantage.camera);
      if (shot.vantage.sigma.focalPx == 0)
        return {State::proved, QString("%1 mm, by hand").arg(mm, 0, 'f', 1)};
      return {shot.vantage.rmsPx <= 1.5 ? State::proved : State::off,
              QString("%1 px, %2 mm ± %3")
                  .arg(shot.vantage.rmsPx, 0, 'f', 1)
                  .arg(mm, 0, 'f', 1)
                  .arg(mm * shot.vantage.sigma.focalPx / shot.vantage.camera.focalPx, 0, 'f', 1)};
    }
    case Station::product:
      if (shot.placements.empty()) return {State::untouched, "none yet"};
      return {State::proved, QString("%1 placed").arg(shot.placements.size())};
    case Station::surface: {
      size_t dressed = 0;
      for (const Product& p : project.products) dressed += p.surfaceOfPart.size();
      if (project.products.empty() || !dressed) return {State::untouched, "as in the file"};
      return {State::proved, QString("%1 parts dressed").arg(dressed)};
    }
    case Station::light: {
      if (shot.surroundings.panorama.empty() && shot.lamps.empty()) return {State::untouched, "even sky"};
      const Finding* f = finding("shadow-angle");
      return judged(f, f ? QString("shadow %1° off").arg(f->value, 0, 'f', 1) : "no gnomon yet");
    }
    case Station::contact: {
      if (shot.placements.empty()) return {State::untouched, "nothing stands"};
      if (const Finding* cut = finding("catcher-cut"); cut && !cut->ok())
        return {State::off, QString("shadow cut, %1 %").arg(cut->value, 0, 'f', 1)};
      const Finding* f = finding("contact-gap");
      return judged(f, f ? QString("gap %1 mm").arg(f->value, 0, 'f', 1) : QString("being read"));
    }
    case Station::render:
      if (!wanted_ || shot.placements.empty()) return {State::untouched, "nothing to trace"};
      return {samples_ >= wanted_ ? State::proved : State::begun,
              samples_ ? QString("%1 of %2 samples").arg(samples_).arg(wanted_) : QString("coarse")};
    case Station::blend: {
      const Finding* f = finding("edge-softness");
      if (!f) return {State::untouched, "edges not seen yet"};
      return judged(f, QString("edges %1 ×").arg(f->value, 0, 'f', 2));
    }
    case Station::deliver:
      return {delivered_                  ? State::proved
              : shot.deliverables.empty() ? State::untouched
                                          : State::begun,
              delivered_ ? QString("%1 written").arg(delivered_)
                         : QString("%1 asked for").arg(shot.deliverables.size())};
  }
  return {};
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

void HorizonBar::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  QLinearGradient dusk(0, 0, 0, height());
  dusk.setColorAt(0, QColor("#332c3f"));
  dusk.setColorAt(0.34, QColor("#47384a"));
  dusk.setColorAt(0.36, QColor("#2b2734"));
  dusk.setColorAt(1, look::chrome);
  painter.fillRect(rect(), dusk);
  constexpr double horizon = 26, r = 6.5;
  painter.setPen(QPen(QColor("#8d6f63"), 1));
  painter.drawLine(QPointF(0, horizon), QPointF(width(), horizon));

  for (int i = 0; i < stationCount; ++i) {
    const QRectF box = cell(i);
    const Status s = status(Station(i));
    const bool here = session_.station() == Station(i);
    if (here || hover_ == i) {
      painter.setPen(Qt::NoPen);
      painter.setBrush(QColor(255, 255, 255, here ? 22 : 10));
      painter.drawRoundedRect(box.adjusted(3, 4, -3, -4), 7, 7);
    }
    const double x = box.center().x();
    const QColor colour = s.state == State::off      ? look::rose
                          : s.state == State::proved ? look::ember
                                                     : look::muted;
    if (s.state == State::untouched) {
      painter.setPen(QPen(look::muted, 1.4));
      painter.setBrush(look::chrome);
      painter.drawEllipse(QPointF(x, horizon + 5), 3.8, 3.8);
    } else if (s.state == State::proved) {
      QRadialGradient glow(QPointF(x, horizon - r - 2), 20);
      glow.setColorAt(0, QColor(242, 166, 90, 110));
      glow.setColorAt(1, QColor(242, 166, 90, 0));
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
        painter.setPen(QPen(look::rose, 2));
        painter.drawLine(QPointF(x - r - 4, horizon + 4), QPointF(x + r + 4, horizon + 4));
      }
    }
    painter.setPen(here ? look::ember : look::text);
    painter.setFont(look::heading());
    painter.drawText(QRectF(box.left(), 35, box.width(), 18), Qt::AlignCenter, stationName(Station(i)));
    painter.setFont(look::small());
    painter.setPen(s.state == State::off         ? look::rose
                   : s.state == State::untouched ? look::muted
                                                 : look::tide);
    painter.drawText(QRectF(box.left(), 52, box.width(), 16), Qt::AlignCenter,
                     painter.fontMetrics().elidedText(s.figure, Qt::ElideRight, int(box.width()) - 4));
    if (here) {
      painter.setPen(Qt::NoPen);
      painter.setBrush(look::ember);
      painter.drawRoundedRect(QRectF(x - 16, height() - 3, 32, 3), 1.5, 1.5);
    }
  }
  if (hasFocus()) {
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(look::ember, 1));
    painter.drawRoundedRect(cell(int(session_.station())).adjusted(3, 4, -3, -4), 7, 7);
  }
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
    static const char* words[] = {"Choose the photograph",
                                  "Find the camera that took it",
                                  "Bring the product in and stand it on the ground",
                                  "Dress the parts in surfaces",
                                  "Light it as the place was lit",
                                  "Let it touch the ground",
                                  "Trace it: samples and passes",
                                  "Blend product and photo",
                                  "Write the files"};
    auto* help = static_cast<QHelpEvent*>(e);
    if (const int i = at(help->pos()); i >= 0)
      QToolTip::showText(help->globalPos(), QString("%1 (Ctrl+%2)").arg(words[i]).arg(i + 1), this);
    return true;
  }
  return QWidget::event(e);
}

}  // namespace dusk
