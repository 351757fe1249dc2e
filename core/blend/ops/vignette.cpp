#include "core/blend/lanes.h"
#include "core/blend/operation.h"

namespace dusk {
namespace {

DUSK_LANES void darkened(float* r, float* g, float* b, int count, float dx0, float dy2, float scale,
                         float power, float ev) {
  for (int i = 0; i < count; ++i) {
    const float dx = dx0 + float(i);
    const float gain = quickExp2(ev * quickPow((dx * dx + dy2) * scale, power));
    r[i] *= gain, g[i] *= gain, b[i] *= gain;
  }
}

class Vignette : public PointOperation {
 public:
  Vignette(const BlendFrame& frame, float ev, float power)
      : cx_(float(frame.width) / 2), cy_(float(frame.height) / 2), ev_(ev), power_(power / 2) {}
  void apply(float* r, float* g, float* b, int count, int x0, int y) const override {
    const float dy = float(y) + 0.5f - cy_;
    darkened(r, g, b, count, float(x0) + 0.5f - cx_, dy * dy, 1 / (cx_ * cx_ + cy_ * cy_), power_, ev_);
  }

 private:
  float cx_, cy_, ev_, power_;
};

}  // namespace

Operation vignetteOperation(const Correction& c, const BlendFrame& frame) {
  const double ev = valueOf(c, "ev");
  if (ev == 0) return {};
  return {std::make_shared<Vignette>(frame, float(ev), float(valueOf(c, "power"))), {}};
}

}  // namespace dusk
