#include "app/stations/light/shadow_curve.h"

#include <QtWidgets>

#include "app/widgets/look.h"
#include "core/base/words.h"

namespace dusk {

ShadowCurve::ShadowCurve(QWidget* parent) : QWidget(parent) {
  setFixedHeight(sizeHint().height());
  setAccessibleName(words("Light across the shadow"));
  setToolTip(words(
      "The light across the gnomon's shadow, from open ground to open ground: dashes as the photo has it, a "
      "line as this light would throw it. How deep it goes is the shadow's darkness, how steep its "
      "softness"));
}

void ShadowCurve::setLook(std::shared_ptr<const ShadowLook> look) {
  if (look == look_) return;
  look_ = std::move(look);
  constexpr int steps = 96;
  photo_ = look_ ? lightAcross(look_->photoRows, look_->photo, steps) : std::vector<double>{};
  ours_ = look_ ? lightAcross(look_->ourRows, look_->ours, steps) : std::vector<double>{};
  setAccessibleDescription(
      look_ ? QString(words("%1 % of the light is left in the photo's shadow, %2 % in this light's"))
                  .arg(100 * double(luminance(look_->photo.left)), 0, 'f', 0)
                  .arg(100 * double(luminance(look_->ours.left)), 0, 'f', 0)
            : QString());
  update();
}

void ShadowCurve::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(Qt::NoPen);
  p.setBrush(look::field());
  p.drawRoundedRect(rect(), 5, 5);
  p.setFont(look::small());
  const QRectF f = QRectF(rect()).adjusted(40, 8, -8, -8);
  if (!look_) return;
  constexpr double top = 1.15;
  const auto y = [&](double left) { return f.bottom() - std::clamp(left / top, 0.0, 1.0) * f.height(); };
  for (const double left : {0.0, 0.5, 1.0}) {
    p.setPen(QPen(look::line(), 1));
    p.drawLine(QPointF(f.left(), y(left)), QPointF(f.right(), y(left)));
    p.setPen(look::muted());
    p.drawText(QRectF(0, y(left) - 8, f.left() - 5, 16), Qt::AlignRight | Qt::AlignVCenter,
               QString("%L1 %").arg(100 * left, 0, 'f', 0));
  }
  const auto draw = [&](const std::vector<double>& light, const QPen& pen) {
    QPainterPath path;
    for (size_t i = 0; i < light.size(); ++i) {
      if (std::isnan(light[i])) continue;
      const QPointF at(f.left() + f.width() * double(i) / double(light.size() - 1), y(light[i]));
      path.elementCount() > 0 ? path.lineTo(at) : path.moveTo(at);
    }
    p.setBrush(Qt::NoBrush), p.setPen(pen);
    p.drawPath(path);
  };
  draw(ours_, QPen(look::ember(), 2));
  draw(photo_, QPen(look::tide(), 2, Qt::DashLine));
}

}  // namespace dusk
