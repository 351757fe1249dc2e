#include "core/blend/operation.h"

namespace dusk {
namespace {

/// Times a number per channel.
class Gain : public PointOperation {
 public:
  explicit Gain(const Rgb& gain) : gain_(gain) {}
  void apply(float* r, float* g, float* b, int count, int, int) const override {
    for (int i = 0; i < count; ++i) r[i] *= gain_.x, g[i] *= gain_.y, b[i] *= gain_.z;
  }

 private:
  Rgb gain_;
};

}  // namespace

Operation exposureOperation(const Correction& c) {
  const double ev = valueOf(c, "ev");
  if (ev == 0) return {};
  return {std::make_shared<Gain>(Rgb(float(std::exp2(ev)))), {}};
}

Operation whiteOperation(const Correction& c) {
  const double mired = valueOf(c, "mired"), tint = valueOf(c, "tint");
  if (mired == 0 && tint == 0) return {};
  return {std::make_shared<Gain>(whiteShift(mired, tint)), {}};
}

}  // namespace dusk
