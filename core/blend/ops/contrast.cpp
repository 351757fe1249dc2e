#include "core/blend/lanes.h"
#include "core/blend/operation.h"

namespace dusk {
namespace {

DUSK_LANES void raise(float* v, int count, float power, float pivot) {
  for (int i = 0; i < count; ++i) {
    const float a = std::fabs(v[i]);
    v[i] = std::copysign(pivot * quickPow(a / pivot, power), v[i]);
  }
}

/// Stops about the pivot are spread: a power of the light over it.
class Contrast : public PointOperation {
 public:
  Contrast(float amount, float pivot) : amount_(amount), pivot_(pivot) {}
  void apply(float* r, float* g, float* b, int count, int, int) const override {
    for (float* v : {r, g, b}) raise(v, count, amount_, pivot_);
  }

 private:
  float amount_, pivot_;
};

}  // namespace

Operation contrastOperation(const Correction& c) {
  const double amount = valueOf(c, "amount");
  if (amount == 1) return {};
  return {std::make_shared<Contrast>(float(amount), float(valueOf(c, "pivot"))), {}};
}

}  // namespace dusk
