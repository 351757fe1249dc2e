#include "core/blend/lanes.h"
#include "core/blend/operation.h"

namespace dusk {
namespace {

/// A colour of that hue with luminance 1, as far from white as `amount` says.
Rgb towards(double hueDegrees, double amount) {
  Rgb colour;
  for (int c = 0; c < 3; ++c) colour[c] = float(1 + amount * std::cos(radians(hueDegrees - 120 * c)));
  return colour / luminance(colour);
}

DUSK_LANES void split(float* r, float* g, float* b, int count, const Rgb& dark, const Rgb& bright,
                      float pivot) {
  for (int i = 0; i < count; ++i) {
    const float y = higher(0.2126f * r[i] + 0.7152f * g[i] + 0.0722f * b[i], 0.0f);
    const float t = y / (y + pivot);  // half at the pivot
    r[i] *= dark.x + (bright.x - dark.x) * t;
    g[i] *= dark.y + (bright.y - dark.y) * t;
    b[i] *= dark.z + (bright.z - dark.z) * t;
  }
}

class Split : public PointOperation {
 public:
  Split(const Rgb& dark, const Rgb& bright, float pivot) : dark_(dark), bright_(bright), pivot_(pivot) {}
  void apply(float* r, float* g, float* b, int count, int, int) const override {
    split(r, g, b, count, dark_, bright_, pivot_);
  }

 private:
  Rgb dark_, bright_;
  float pivot_;
};

}  // namespace

Operation splitOperation(const Correction& c) {
  const double dark = valueOf(c, "shadowAmount") / 100, bright = valueOf(c, "lightAmount") / 100;
  if (dark == 0 && bright == 0) return {};
  return {std::make_shared<Split>(towards(valueOf(c, "shadowHue"), dark),
                                  towards(valueOf(c, "lightHue"), bright), float(valueOf(c, "pivot"))),
          {}};
}

}  // namespace dusk
