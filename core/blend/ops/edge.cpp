#include "core/base/normal_integral.h"
#include "core/blend/blur.h"
#include "core/blend/combine.h"
#include "core/blend/lanes.h"
#include "core/blend/operation.h"

namespace dusk {
namespace {

/// Where the blurred alpha crosses `at`, the new outline lies, a pixel wide.
DUSK_LANES void moved(const float* const* in, const float* const* soft, float* const* out, int count,
                      float at, float steep) {
  for (int i = 0; i < count; ++i) {
    const float wide = soft[3][i], raw = 0.5f + (wide - at) * steep;
    const float alpha = raw < 0 ? 0.0f : raw > 1 ? 1.0f : raw;
    const float per = wide > 1e-4f ? (1 - in[3][i]) / wide : 0.0f;
    // Beyond the old outline colours go on as they were near it.
    for (int c = 0; c < 3; ++c) out[c][i] = (in[c][i] + soft[c][i] * per) * alpha;
    out[3][i] = alpha;
  }
}

}  // namespace

Operation edgeOperation(const Correction& c, const BlendFrame& frame) {
  const double shift = valueOf(c, "shift") * frame.scale, feather = valueOf(c, "feather") * frame.scale;
  if (std::abs(shift) < 0.01 && feather <= 0.02) return {};
  return {nullptr, [=](const NodePtr& in) -> NodePtr {
            if (in->channels != 4) return in;
            NodePtr out = in;
            if (std::abs(shift) >= 0.01) {
              const double sigma = std::max(0.7, std::abs(shift)), z = shift / sigma;
              const float at = float(normalIntegral(-z));
              const float steep = float(sigma * std::sqrt(2 * pi) * std::exp(z * z / 2));
              out = combined({in, blurred(in, sigma)}, 4, NodeKey("edge").with(at).with(steep),
                             [=](const auto& from, float* const* to, int count, int, int) {
                               moved(from[0].data(), from[1].data(), to, count, at, steep);
                             });
            }
            return blurred(out, feather);
          }};
}

}  // namespace dusk
