#include "app/stations/light/turn_curve.h"

#include <QtWidgets>

#include "app/widgets/look.h"
#include "core/base/words.h"

namespace dusk {

TurnCurve::TurnCurve(QWidget* parent) : QWidget(parent) {
  setFixedHeight(sizeHint().height());
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(words("Agreement over all turns"));
  setToolTip(words(
      "How well the panorama agrees with the photo over all turns: a line as taken, dashes mirrored. Click a "
      "peak to try it; left and right choose, Enter tries"));
}

void TurnCurve::setAlignment(const std::optional<Alignment>& alignment) {
  alignment_ = alignment;
  inHand_ = 0;
  low_ = 0, high_ = 0.1;
  if (alignment_) {
    for (const auto* curve : {&alignment_->curve, &alignment_->mirror})
      for (const float v : *curve) low_ = std::min(low_, double(v)), high_ = std::max(high_, double(v));
    for (const auto& p : alignment_->peaks) high_ = std::max(high_, p.score);
  }
  update();
}

void TurnCurve::setNow(double turnDegrees, bool mirrored) {
  nowDegrees_ = wrapDegrees(turnDegrees), nowMirrored_ = mirrored;
  update();
}

QRectF TurnCurve::field() const { return QRectF(rect()).adjusted(8, 8, -8, -18); }

QPointF TurnCurve::at(double turnDegrees, double score) const {
  const QRectF f = field();
  return {f.left() + (turnDegrees + 180) / 360 * f.width(),
          f.bottom() - (score - low_) / std::max(1e-6, high_ - low_) * f.height()};
}

QPointF TurnCurve::pointOf(int peak) const {
  const auto& p = alignment_->peaks[size_t(peak)];
  return at(wrapDegrees(p.turnDegrees), p.score);
}

int TurnCurve::peakNear(const QPointF& where) const {
  int nearest = -1;
  double best = 14;
  for (int i = 0; alignment_ && i < int(alignment_->peaks.size()); ++i)
    if (const double off = QLineF(pointOf(i), where).length(); off < best) best = off, nearest = i;
  return nearest;
}

QString TurnCurve::textOf(int peak) const {
  const auto& p = alignment_->peaks[size_t(peak)];
  return QString(words("%1°%2, agreement %3, gain %4 EV"))
      .arg(p.turnDegrees, 0, 'f', 1)
      .arg(p.mirrored ? words(" mirrored") : "")
      .arg(p.score, 0, 'f', 2)
      .arg(p.gainEv, 0, 'f', 2);
}

void TurnCurve::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setPen(Qt::NoPen);
  painter.setBrush(look::field());
  painter.drawRoundedRect(rect(), 5, 5);
  painter.setFont(look::small());
  painter.setPen(look::muted());
  const QRectF f = field();
  for (const int turn : {-180, -90, 0, 90, 180}) {
    const double x = at(turn, low_).x();
    painter.setPen(QPen(look::line(), 1));
    painter.drawLine(QPointF(x, f.top()), QPointF(x, f.bottom()));
    painter.setPen(look::muted());
    const QRectF label(x - 20, f.bottom() + 1, 40, 15);
    painter.drawText(label.translated(turn == -180  ? 14
                                      : turn == 180 ? -12
                                                    : 0,
                                      0),
                     Qt::AlignCenter, QString("%1°").arg(turn));
  }
  const auto draw = [&](const std::vector<float>& curve, const QPen& pen) {
    QPainterPath path;
    for (size_t i = 0; i < curve.size(); ++i) {
      const QPointF p = at(double(i) / double(curve.size()) * 360 - 180, double(curve[i]));
      i ? path.lineTo(p) : path.moveTo(p);
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(pen);
    painter.drawPath(path);
  };
  if (alignment_) {
    draw(alignment_->mirror, QPen(look::muted(), 1, Qt::DashLine));
    draw(alignment_->curve, QPen(look::tide(), 1.4));
  } else {
    painter.drawText(f.adjusted(6, 0, 0, 0), Qt::AlignLeft | Qt::AlignTop, words("not compared yet"));
  }
  const double x = at(nowDegrees_, low_).x();
  painter.setPen(QPen(look::ember(), 1.4, nowMirrored_ ? Qt::DashLine : Qt::SolidLine));
  painter.drawLine(QPointF(x, f.top()), QPointF(x, f.bottom()));
  for (int i = 0; alignment_ && i < int(alignment_->peaks.size()); ++i) {
    const QPointF p = pointOf(i);
    painter.setPen(QPen(i == inHand_ && hasFocus() ? look::text() : look::field(), 1.5));
    painter.setBrush(i == 0 ? look::ember() : look::tide());
    if (alignment_->peaks[size_t(i)].mirrored) {
      painter.drawPolygon(
          QPolygonF({p + QPointF(0, -5), p + QPointF(5, 0), p + QPointF(0, 5), p + QPointF(-5, 0)}));
    } else {
      painter.drawEllipse(p, 4, 4);
    }
  }
}

void TurnCurve::mousePressEvent(QMouseEvent* e) {
  const int peak = peakNear(e->position());
  if (peak < 0) return;
  inHand_ = peak;
  emit peakChosen(peak);
  update();
}

void TurnCurve::keyPressEvent(QKeyEvent* e) {
  const int count = alignment_ ? int(alignment_->peaks.size()) : 0;
  if (count == 0) return QWidget::keyPressEvent(e);
  if (e->key() == Qt::Key_Right || e->key() == Qt::Key_Left)
    inHand_ = (inHand_ + (e->key() == Qt::Key_Right ? 1 : count - 1)) % count;
  else if (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter)
    emit peakChosen(inHand_);
  else
    return QWidget::keyPressEvent(e);
  update();
}

bool TurnCurve::event(QEvent* e) {
  if (e->type() == QEvent::ToolTip) {
    auto* help = static_cast<QHelpEvent*>(e);
    if (const int peak = peakNear(help->pos()); peak >= 0) {
      QToolTip::showText(help->globalPos(), textOf(peak), this);
      return true;
    }
  }
  return QWidget::event(e);
}

}  // namespace dusk
