#include "core/blend/lanes.h"
#include "core/blend/operation.h"

namespace dusk {
namespace {

struct Codes {
  float black, scale, power, low, span;
};

DUSK_LANES void levelled(float* v, int count, const Codes& k) {
  for (int i = 0; i < count; ++i) {
    const float share = (quickEncoded(v[i]) - k.black) * k.scale;
    const float bent = k.power == 1 ? share : std::copysign(quickPow(std::fabs(share), k.power), share);
    v[i] = quickDecoded(k.low + bent * k.span);
  }
}

class Levels : public PointOperation {
 public:
  explicit Levels(const Codes& codes) : codes_(codes) {}
  void apply(float* r, float* g, float* b, int count, int, int) const override {
    for (float* v : {r, g, b}) levelled(v, count, codes_);
  }

 private:
  Codes codes_;
};

}  // namespace

Operation levelsOperation(const Correction& c) {
  const double black = valueOf(c, "black"), white = valueOf(c, "white"), gamma = valueOf(c, "gamma"),
               low = valueOf(c, "low"), high = valueOf(c, "high");
  if (black == 0 && white == 1 && gamma == 1 && low == 0 && high == 1) return {};
  const double range = white - black, least = 1e-3;
  return {std::make_shared<Levels>(Codes{float(black), float(1 / (std::abs(range) < least ? least : range)),
                                         float(1 / gamma), float(low), float(high - low)}),
          {}};
}

}  // namespace dusk
