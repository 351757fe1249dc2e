#include "core/blend/lanes.h"
#include "core/blend/operation.h"

namespace dusk {
namespace {

DUSK_LANES void lifted(float* v, int count, float lift, float power, float gain) {
  for (int i = 0; i < count; ++i) {
    // Lift goes from all at black to nothing at white.
    const float light = gain * (v[i] + lift * (1 - v[i]));
    v[i] = power == 1 ? light : std::copysign(quickPow(std::fabs(light), power), light);
  }
}

class LiftGammaGain : public PointOperation {
 public:
  LiftGammaGain(const Rgb& lift, const Rgb& gamma, const Rgb& gain) : lift_(lift), gain_(gain) {
    power_ = Rgb(1) / gamma;
  }
  void apply(float* r, float* g, float* b, int count, int, int) const override {
    float* const rows[] = {r, g, b};
    for (int c = 0; c < 3; ++c) lifted(rows[c], count, lift_[c], power_[c], gain_[c]);
  }

 private:
  Rgb lift_, power_, gain_;
};

}  // namespace

Operation liftGammaGainOperation(const Correction& c) {
  const auto of = [&](const char* r, const char* g, const char* b) {
    return Rgb(float(valueOf(c, r)), float(valueOf(c, g)), float(valueOf(c, b)));
  };
  const Rgb lift = of("liftR", "liftG", "liftB"), gamma = of("gammaR", "gammaG", "gammaB"),
            gain = of("gainR", "gainG", "gainB");
  if (lift == Rgb(0) && gamma == Rgb(1) && gain == Rgb(1)) return {};
  return {std::make_shared<LiftGammaGain>(lift, gamma, gain), {}};
}

}  // namespace dusk
