#include "app/widgets/strength_row.h"

#include <QPainterPath>

#include "app/widgets/look.h"

namespace dusk {

void paintStrengthRow(QPainter& p, const QRectF& box, double strength, bool on, bool inHand, bool focused) {
  QPainterPath shape;
  shape.addRoundedRect(box, 4, 4);
  p.fillPath(shape, look::field());
  p.save();
  p.setClipPath(shape);
  p.fillRect(QRectF(box.left(), box.top(), box.width() * strength, box.height()),
             on ? look::raised() : look::dimmed());
  p.restore();
  if (!inHand && !focused) return;
  p.setPen(QPen(look::ember(), inHand ? 1.6 : 1, inHand ? Qt::SolidLine : Qt::DotLine));
  p.drawPath(shape);
}

void paintEye(QPainter& p, const QPointF& middle, bool open) {
  p.setPen(QPen(open ? look::text() : look::muted(), 1.3));
  if (!open) return p.drawArc(QRectF(middle - QPointF(6, 5), QSizeF(12, 8)), 180 * 16, 180 * 16);
  p.drawEllipse(middle, 6, 3.6);
  p.setBrush(look::text());
  p.drawEllipse(middle, 1.8, 1.8);
  p.setBrush(Qt::NoBrush);
}

}  // namespace dusk
