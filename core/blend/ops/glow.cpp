#include "core/blend/blur.h"
#include "core/blend/combine.h"
#include "core/blend/lanes.h"
#include "core/blend/operation.h"

namespace dusk {
namespace {

DUSK_LANES void above(const float* r, const float* g, const float* b, float* ro, float* go, float* bo,
                      int count, float threshold, float amount) {
  for (int i = 0; i < count; ++i) {
    const float y = 0.2126f * r[i] + 0.7152f * g[i] + 0.0722f * b[i];
    const float w = y > threshold ? amount * (y - threshold) / y : 0.0f;
    ro[i] = r[i] * w, go[i] = g[i] * w, bo[i] = b[i] * w;
  }
}
DUSK_LANES void exchanged(float* out, const float* in, const float* taken, const float* back, int count) {
  for (int i = 0; i < count; ++i) out[i] = in[i] - taken[i] + back[i];
}

}  // namespace

Operation glowOperation(const Correction& c, const BlendFrame& frame) {
  const float threshold = float(valueOf(c, "threshold")), amount = float(valueOf(c, "amount") / 100);
  const double sigma = valueOf(c, "px") * frame.scale, spread = valueOf(c, "spread");
  if (amount == 0 || sigma <= 0.02) return {};
  return {nullptr, [=](const NodePtr& raw) -> NodePtr {
            const NodePtr in = held(raw);
            // Light above the threshold is taken away where it is, and comes back spread out.
            const NodePtr bright = combined({in}, 3, NodeKey("above").with(threshold).with(amount),
                                            [=](const auto& from, float* const* out, int count, int, int) {
                                              above(from[0][0], from[0][1], from[0][2], out[0], out[1],
                                                    out[2], count, threshold, amount);
                                            });
            constexpr int scales = 4;
            std::vector<double> sigmas;
            std::vector<float> weights;
            const double sum = 1 + spread * (scales - 1);
            for (int i = 0; i < scales; ++i) {
              const double weight = i == 0 ? 1 : spread;
              if (weight <= 0) break;
              sigmas.push_back(sigma / std::exp2(i)), weights.push_back(float(weight / sum));
            }
            return combined({in, bright, blurredSum(bright, sigmas, weights)}, in->channels, NodeKey("glow"),
                            [](const auto& from, float* const* out, int count, int, int) {
                              for (size_t k = 0; k < 3; ++k)
                                exchanged(out[k], from[0][k], from[1][k], from[2][k], count);
                              if (from[0].size() == 4) std::copy_n(from[0][3], count, out[3]);
                            });
          }};
}

}  // namespace dusk
