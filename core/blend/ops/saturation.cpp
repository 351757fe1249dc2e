#include "core/blend/lanes.h"
#include "core/blend/operation.h"

namespace dusk {
namespace {

DUSK_LANES void saturated(float* r, float* g, float* b, int count, float amount) {
  for (int i = 0; i < count; ++i) {
    const float y = 0.2126f * r[i] + 0.7152f * g[i] + 0.0722f * b[i];
    r[i] = y + (r[i] - y) * amount, g[i] = y + (g[i] - y) * amount, b[i] = y + (b[i] - y) * amount;
  }
}

class Saturation : public PointOperation {
 public:
  explicit Saturation(float amount) : amount_(amount) {}
  void apply(float* r, float* g, float* b, int count, int, int) const override {
    saturated(r, g, b, count, amount_);
  }

 private:
  float amount_;
};

}  // namespace

Operation saturationOperation(const Correction& c) {
  const double amount = valueOf(c, "amount");
  if (amount == 1) return {};
  return {std::make_shared<Saturation>(float(amount)), {}};
}

}  // namespace dusk
