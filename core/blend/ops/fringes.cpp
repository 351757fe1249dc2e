#include "core/blend/operation.h"
#include "core/blend/resample.h"

namespace dusk {

Operation fringesOperation(const Correction& c, const BlendFrame& frame) {
  const double red = valueOf(c, "red"), blue = valueOf(c, "blue");
  if (red == 0 && blue == 0) return {};
  const Vec2d middle(frame.width / 2.0, frame.height / 2.0);
  const double corner = middle.length() / frame.scale;
  return {nullptr, [=](const NodePtr& in) {
            std::vector<double> factors{1 + red / corner, 1, 1 + blue / corner};
            if (in->channels == 4) factors.push_back(1);
            return scaledApart(in, middle, factors);
          }};
}

}  // namespace dusk
