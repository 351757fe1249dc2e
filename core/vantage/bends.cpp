#include "core/vantage/bends.h"

#include "core/vantage/camera.h"
#include "core/vantage/solve.h"

namespace dusk {
namespace {

/// Expected standard deviation of a point that was snapped to its edge, pixels.
constexpr double snappedNoisePx = 0.25;

/// Sum of squared distances of points from their best line, in pixels of the photo, when a distortion of `k`
/// (of the half diagonal) is taken out first.
double offLine(const std::vector<Vec2d>& points, const Vec2d& centre, double half, double k) {
  Vec2d mean(0, 0);
  std::vector<Vec2d> straight;
  double stretch = 0;
  for (const Vec2d& p : points) {
    const Vec2d bent = (p - centre) / half, s = undistorted(bent, k, 0);
    stretch += bent.length() > 1e-9 ? s.length() / bent.length() : 1;
    straight.push_back(s * half), mean += s * half;
  }
  const double n = double(points.size());
  mean /= n, stretch /= n;
  double xx = 0, xy = 0, yy = 0;
  for (const Vec2d& s : straight) {
    const Vec2d d = s - mean;
    xx += d.x * d.x, xy += d.x * d.y, yy += d.y * d.y;
  }
  // The smaller principal moment; taking a bend out stretches what is measured in.
  return ((xx + yy) / 2 - std::sqrt((xx - yy) * (xx - yy) / 4 + xy * xy)) / (stretch * stretch);
}

}  // namespace

PlumbLines plumbLines(const Evidence& evidence, int width, int height) {
  const Vec2d centre(width / 2.0, height / 2.0);
  const double half = centre.length();
  int freedom = -1;  // the bend itself is fitted
  for (const Stroke& s : evidence.strokes) freedom += std::max(0, int(s.points.size()) - 2);
  if (freedom < 3) return {};
  const auto offOf = [&](const Stroke& s, double k) {
    const double noise = s.drawn.empty() ? noisePx : snappedNoisePx;
    return s.points.size() < 3 ? 0 : offLine(s.points, centre, half, k) / (noise * noise);
  };
  const auto off = [&](double k) {
    double sum = 0;
    for (const Stroke& s : evidence.strokes) sum += offOf(s, k);
    return sum;
  };
  constexpr double significant = 16;  // four sigma
  const double straight = off(0);
  // Not even a bend that left nothing would be: a solve while a handle is dragged has no time to search for
  // it.
  if (straight <= significant) return {};
  // Beyond this a photo would be a fisheye's, which no radial polynomial straightens.
  constexpr double most = 0.6;
  constexpr int steps = 24;
  double best = 0, least = straight;
  const auto tryOut = [&](double k) {
    if (const double sum = off(k); sum < least) best = k, least = sum;
  };
  for (int i = -steps; i <= steps; ++i) tryOut(most * i / steps);
  for (double step = most / steps / 2; step > 1e-4; step /= 2)
    for (const double k : {best - step, best + step}) tryOut(k);
  const double unit = std::max(1.0, least / freedom);
  // A single edge that is not straight is no lens: the others have to say so, too.
  double byOne = 0;
  for (const Stroke& s : evidence.strokes) byOne = std::max(byOne, offOf(s, 0) - offOf(s, best));
  constexpr double ofOthers = 4;  // two sigma
  return {best, (straight - least) / unit > significant && (straight - least - byOne) / unit > ofOthers};
}

Evidence straightened(const Evidence& evidence, int width, int height, double bend) {
  const Vec2d centre(width / 2.0, height / 2.0);
  const double half = centre.length();
  Evidence straight = evidence;
  for (Stroke& s : straight.strokes)
    for (Vec2d& p : s.points) p = centre + undistorted((p - centre) / half, bend, 0) * half;
  return straight;
}

}  // namespace dusk
