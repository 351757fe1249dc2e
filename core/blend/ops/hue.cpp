#include "core/blend/hue.h"
#include "core/blend/lanes.h"
#include "core/blend/operation.h"

namespace dusk {
namespace {

struct Range {
  float at, inner, soft;  ///< degrees; `inner` to each side is taken in full
  float cosine, sine;     ///< of the turn
  float saturation, gain;
};

DUSK_LANES void turned(float* r, float* g, float* b, int count, const Range& k) {
  for (int i = 0; i < count; ++i) {
    const float y = 0.2126f * r[i] + 0.7152f * g[i] + 0.0722f * b[i];
    const float weight = hueWeight(r[i], g[i], b[i], k.at, k.inner, k.soft);
    // The turn is about the grey axis, in the plane where hue is an angle.
    const float p = r[i] - 0.5f * (g[i] + b[i]), q = 0.8660254f * (g[i] - b[i]);
    const float s = 1 + (k.saturation - 1) * weight;
    const float c = 1 + (k.cosine - 1) * weight, n = k.sine * weight;
    const float tp = (p * c - q * n) * s, tq = (p * n + q * c) * s;
    const float nr = tp * (2.0f / 3), ng = -tp / 3 + tq * 0.57735027f, nb = -tp / 3 - tq * 0.57735027f;
    const float shift = y - (0.2126f * nr + 0.7152f * ng + 0.0722f * nb);
    const float gain = 1 + (k.gain - 1) * weight;
    r[i] = (nr + shift) * gain, g[i] = (ng + shift) * gain, b[i] = (nb + shift) * gain;
  }
}

class Hue : public PointOperation {
 public:
  explicit Hue(const Range& range) : range_(range) {}
  void apply(float* r, float* g, float* b, int count, int, int) const override {
    turned(r, g, b, count, range_);
  }

 private:
  Range range_;
};

}  // namespace

Operation hueOperation(const Correction& c) {
  const double turn = valueOf(c, "turn"), saturation = valueOf(c, "saturation"), ev = valueOf(c, "ev");
  if (turn == 0 && saturation == 1 && ev == 0) return {};
  const double angle = radians(turn);
  return {std::make_shared<Hue>(Range{float(valueOf(c, "at")), float(valueOf(c, "width") / 2),
                                      float(valueOf(c, "soft")), float(std::cos(angle)),
                                      float(std::sin(angle)), float(saturation), float(std::exp2(ev))}),
          {}};
}

}  // namespace dusk
