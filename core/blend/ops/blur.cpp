#include "core/blend/blur.h"

#include "core/blend/combine.h"
#include "core/blend/lanes.h"
#include "core/blend/operation.h"

namespace dusk {
namespace {

DUSK_LANES void sharpened(float* out, const float* in, const float* soft, int count, float amount) {
  for (int i = 0; i < count; ++i) out[i] = in[i] + amount * (in[i] - soft[i]);
}

}  // namespace

Operation blurOperation(const Correction& c, const BlendFrame& frame) {
  const double sigma = valueOf(c, "px") * frame.scale;
  if (sigma <= 0.02) return {};
  return {nullptr, [sigma](const NodePtr& in) { return blurred(in, sigma); }};
}

Operation sharpenOperation(const Correction& c, const BlendFrame& frame) {
  const double sigma = valueOf(c, "px") * frame.scale;
  const float amount = float(valueOf(c, "amount") / 100);
  if (sigma <= 0.02 || amount == 0) return {};
  return {nullptr, [sigma, amount](const NodePtr& in) {
            return combined({in, blurred(in, sigma)}, in->channels, NodeKey("sharpen").with(amount),
                            [amount](const auto& from, float* const* out, int count, int, int) {
                              for (size_t k = 0; k < from[0].size(); ++k)
                                sharpened(out[k], from[0][k], from[1][k], count, amount);
                            });
          }};
}

}  // namespace dusk
