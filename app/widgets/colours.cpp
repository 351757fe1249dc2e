#include "app/widgets/colours.h"

#include "core/base/srgb.h"

namespace dusk {

QColor shownColour(const Vec3d& linear) {
  const auto code = [](double v) { return float(srgbEncoded(std::clamp(v, 0.0, 1.0))); };
  return QColor::fromRgbF(code(linear.x), code(linear.y), code(linear.z));
}

Vec3d linearColour(const QColor& colour) {
  return {srgbDecoded(double(colour.redF())), srgbDecoded(double(colour.greenF())),
          srgbDecoded(double(colour.blueF()))};
}

}  // namespace dusk
