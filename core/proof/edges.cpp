#include "core/proof/edges.h"

namespace dusk {
namespace {

constexpr int reach = 4;  // pixels either way: farther out, small things beside the edge would speak too
constexpr int stepsPerPixel = 4;

float grey(const Picture& p, double x, double y) { return luminance(sampleBilinear(p, float(x), float(y))); }

Vec2d gradient(const Picture& p, int x, int y) {
  const auto l = [&](int dx, int dy) { return luminance(p.rgbAt(x + dx, y + dy)); };
  return {(l(1, -1) + 2 * l(1, 0) + l(1, 1) - l(-1, -1) - 2 * l(-1, 0) - l(-1, 1)) / 8.0,
          (l(-1, 1) + 2 * l(0, 1) + l(1, 1) - l(-1, -1) - 2 * l(0, -1) - l(1, -1)) / 8.0};
}

/// The middle of the sharpest quarter: rounded and shaded things are soft by themselves; what the lens can do
/// shows in the sharp ones.
std::optional<EdgeMeasure> typicalSharp(std::vector<EdgeMeasure>& edges) {
  if (edges.size() < 12) return {};
  const auto at = edges.begin() + long(edges.size() / 8);
  std::nth_element(edges.begin(), at, edges.end(),
                   [](const EdgeMeasure& a, const EdgeMeasure& b) { return a.widthPx < b.widthPx; });
  return *at;
}

}  // namespace

std::optional<EdgeMeasure> measureEdge(const Picture& picture, const Vec2d& at, const Vec2d& across,
                                       double contrast) {
  const int n = reach * stepsPerPixel;
  std::vector<float> profile(2 * n + 1);
  for (int i = -n; i <= n; ++i) {
    // Three lines beside each other take the edge off the grain.
    float sum = 0;
    for (int side = -1; side <= 1; ++side) {
      const Vec2d p = at + across * (double(i) / stepsPerPixel) + Vec2d(-across.y, across.x) * double(side);
      sum += grey(picture, p.x, p.y) / 3;
    }
    profile[size_t(i + n)] = sum;
  }
  const auto mean = [&](int from, int to) {
    float sum = 0;
    for (int i = from; i < to; ++i) sum += profile[size_t(i)];
    return sum / float(to - from);
  };
  const float low = mean(0, stepsPerPixel), high = mean(2 * n + 1 - stepsPerPixel, 2 * n + 1);
  const float rise = high - low;
  if (rise < contrast) return {};
  for (const float v : profile)
    if (v < low - 0.2f * rise || v > high + 0.2f * rise) return {};
  const auto crossing = [&](float level, bool fromEnd) -> double {
    for (int k = 1; k <= 2 * n; ++k) {
      const int i = fromEnd ? 2 * n - k : k - 1;
      const float a = profile[size_t(i)], b = profile[size_t(i + 1)];
      if (a <= level && b > level) return i + (level - a) / (b - a);
    }
    return -1;
  };
  // The last crossing of 10 % and the first of 90 %: the steep part itself.
  const double end = crossing(low + 0.9f * rise, false), begin = crossing(low + 0.1f * rise, true);
  if (begin < 0 || end < 0 || end <= begin) return {};
  return EdgeMeasure{at, across, (end - begin) / stepsPerPixel};
}

EdgeComparison compareEdges(const Picture& shown, const Passes& passes) {
  EdgeComparison result;
  const int w = shown.width, h = shown.height;
  const auto alpha = [&](int x, int y) { return passes.alpha.pixels[size_t(y) * w + x]; };
  std::vector<EdgeMeasure> product, photo;
  int x0 = w, x1 = 0, y0 = h, y1 = 0;
  for (int y = reach + 2; y < h - reach - 2; ++y)
    for (int x = reach + 2; x < w - reach - 2; ++x) {
      if (alpha(x, y) <= 0) continue;
      x0 = std::min(x0, x), x1 = std::max(x1, x), y0 = std::min(y0, y), y1 = std::max(y1, y);
      if (alpha(x, y) > 0.2f && alpha(x, y) < 0.8f) {
        const Vec2d g = gradient(shown, x, y);
        if (g.length() > 0.01)
          if (const auto edge = measureEdge(shown, {x + 0.5, y + 0.5}, g.normalized()))
            product.push_back(*edge);
      }
    }
  result.product = typicalSharp(product);
  if (x1 <= x0) return result;
  // The photo's edges in a frame about the product twice its size.
  const int mx = x1 - x0, my = (y1 - y0) / 2;
  const auto clear = [&](int x, int y) {
    for (int dy = -reach; dy <= reach; dy += reach)
      for (int dx = -reach; dx <= reach; dx += reach) {
        const size_t i = size_t(y + dy) * w + x + dx;
        if (passes.alpha.pixels[i] > 0 || std::abs(passes.ratio.pixels[i * 3] - 1) > 0.02f) return false;
      }
    return true;
  };
  for (int y = std::max(reach + 2, y0 - my); y < std::min(h - reach - 2, y1 + my); y += 2)
    for (int x = std::max(reach + 2, x0 - mx); x < std::min(w - reach - 2, x1 + mx); x += 2) {
      const Vec2d g = gradient(shown, x, y);
      if (g.length() < 0.045 || !clear(x, y)) continue;
      if (const auto edge = measureEdge(shown, {x + 0.5, y + 0.5}, g.normalized(), 0.12))
        photo.push_back(*edge);
    }
  result.photo = typicalSharp(photo);
  return result;
}

}  // namespace dusk
