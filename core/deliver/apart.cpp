#include "core/deliver/apart.h"

#include <tbb/parallel_for.h>

#include <limits>

namespace dusk {
namespace {

/// The least alpha by which `above` can come of `below`.
float leastAlpha(float below, float above) {
  if (above < below) return 1 - above / below;
  if (above > below) return below < 1 ? std::min(1.0f, (above - below) / (1 - below)) : 1.0f;
  return 0;
}

}  // namespace

Picture layerOver(const Picture& below, const Picture& above, const Picture& cover, int levels,
                  bool premultiplied) {
  Picture out(above.width, above.height, {"R", "G", "B", "A"});
  tbb::parallel_for(0, above.height, [&](int y) {
    for (int x = 0; x < above.width; ++x) {
      float b[3], t[3], a = 0;
      for (int c = 0; c < 3; ++c) {
        const float most = levels > 0 ? 1.0f : std::numeric_limits<float>::max();
        b[c] = std::clamp(below.at(x, y)[c], 0.0f, most), t[c] = std::clamp(above.at(x, y)[c], 0.0f, most);
      }
      for (int c = 0; c < 3; ++c) {
        a = std::max(a, leastAlpha(b[c], t[c]));
        if (!cover.empty()) a = std::max(a, std::min(1.0f, cover.at(x, y)[c]));
      }
      if (levels > 0) a = std::min(1.0f, std::ceil(a * float(levels) - 1e-4f) / float(levels));
      float* to = out.at(x, y);
      to[3] = a;
      for (int c = 0; c < 3; ++c) {
        const float light = std::max(0.0f, t[c] - (1 - a) * b[c]);
        to[c] = premultiplied ? light : a > 0 ? light / a : 0.0f;
      }
    }
  });
  return out;
}

Picture laidOver(const Picture& below, const Picture& layer, bool premultiplied) {
  Picture out = below;
  for (int y = 0; y < out.height; ++y)
    for (int x = 0; x < out.width; ++x) {
      const float* l = layer.at(x, y);
      for (int c = 0; c < 3; ++c) {
        float& v = out.at(x, y)[c];
        v = v * (1 - l[3]) + l[c] * (premultiplied ? 1 : l[3]);
      }
    }
  return out;
}

}  // namespace dusk
