#include "core/blend/blur.h"
#include "core/blend/combine.h"
#include "core/blend/operation.h"

namespace dusk {
namespace {

/// What a pixel's blur lies between: levels of deviation 0, s, 2s, 4s ...
float levelOf(float sigma, float first, int levels) {
  if (sigma <= 0) return 0;
  if (sigma < first) return sigma * sigma / (first * first);
  const float l = 1 + std::log2(sigma / first);
  return std::min(l, float(levels));
}

}  // namespace

Operation defocusOperation(const Correction& c, const BlendFrame& frame) {
  const float at = float(valueOf(c, "atM")), far = float(valueOf(c, "px") * frame.scale);
  if (far <= 0.05f || !frame.depth) return {};
  const NodePtr depth = frame.depth;
  return {nullptr, [=](const NodePtr& in) -> NodePtr {
            // A disc has the variance of a Gaussian of a quarter of its diameter.
            const float most = far / 4, first = std::max(0.4f, most / 8);
            std::vector<NodePtr> inputs{in, depth};
            int levels = 0;
            for (float s = first; levels < 6; s *= 2) {
              inputs.push_back(blurred(in, s)), ++levels;
              if (s >= 2 * most) break;
            }
            return combined(inputs, in->channels, NodeKey("defocus").with(at).with(far).with(levels),
                            [=](const auto& from, float* const* out, int count, int, int) {
                              for (int i = 0; i < count; ++i) {
                                const float z = from[1][0][i];
                                const float sigma = z > 0 ? most * std::abs(1 - at / z) : most;
                                const float level = levelOf(sigma, first, levels);
                                const int k = std::min(int(level), levels - 1);
                                const float t = level - float(k);
                                const auto& low = from[k == 0 ? 0 : size_t(k) + 1];
                                const auto& high = from[size_t(k) + 2];
                                for (size_t ch = 0; ch < low.size(); ++ch)
                                  out[ch][i] = low[ch][i] * (1 - t) + high[ch][i] * t;
                              }
                            });
          }};
}

}  // namespace dusk
