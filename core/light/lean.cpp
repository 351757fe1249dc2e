#include "core/light/lean.h"

#include <tbb/parallel_for.h>

#include <algorithm>

#include "core/light/lights.h"

namespace dusk {
namespace {

/// An edge that may be an upright: z = (x, y, 1) is the zenith where a x + b y + c is none.
struct Upright {
  double a, b, c, weight;
  double off(double x, double y) const { return a * x + b * y + c; }
};

std::vector<Upright> uprightsIn(const std::vector<Segment>& segments) {
  constexpr double farthest = 14 * pi / 180;
  std::vector<Upright> all;
  for (const Segment& s : segments) {
    // Edges of floor and ceiling that run towards the eye look upright, too, and those near the poles anyhow.
    if (std::abs(s.normal.z) > std::sin(farthest) || std::abs(s.middle.z) > std::sin(radians(50.0))) continue;
    all.push_back({s.normal.x, s.normal.y, s.normal.z, std::min(s.angle, radians(20.0))});
  }
  return all;
}

/// Where most uprights meet: in steps of a quarter degree.
Vec2d roughly(const std::vector<Upright>& all) {
  constexpr int each = 40;
  constexpr double step = 0.25 * pi / 180, reach = 0.5 * pi / 180;
  std::vector<double> sums(size_t(2 * each + 1) * (2 * each + 1));
  tbb::parallel_for(-each, each + 1, [&](int j) {
    for (int i = -each; i <= each; ++i) {
      double sum = 0;
      for (const Upright& u : all)
        sum += u.weight * std::max(0.0, 1 - std::abs(u.off(i * step, j * step)) / reach);
      sums[size_t((j + each) * (2 * each + 1) + i + each)] = sum;
    }
  });
  const int best = int(std::max_element(sums.begin(), sums.end()) - sums.begin());
  return {(best % (2 * each + 1) - each) * step, (best / (2 * each + 1) - each) * step};
}

/// Sums of the normal equations about a zenith.
struct Sums {
  double xx = 0, xy = 0, yy = 0, x = 0, y = 0, weight = 0, squares = 0, left = 0;
};
Sums sumsAbout(const std::vector<Upright>& all, const Vec2d& at, double reach) {
  Sums s;
  for (const Upright& u : all) {
    const double r = u.off(at.x, at.y), t = r / reach;
    if (std::abs(t) >= 1) continue;
    const double w = u.weight * (1 - t * t) * (1 - t * t);
    s.xx += w * u.a * u.a, s.xy += w * u.a * u.b, s.yy += w * u.b * u.b;
    s.x += w * u.a * r, s.y += w * u.b * r;
    s.weight += w, s.squares += w * w, s.left += w * r * r;
  }
  return s;
}

}  // namespace

std::optional<Lean> leanOf(const std::vector<Cut>& cuts) {
  const std::vector<Upright> all = uprightsIn(segmentsOf(cuts, 0.3, radians(6.0)));
  Vec2d at = roughly(all);
  Sums s;
  for (const double degreesOff : {1.5, 1.0, 0.7, 0.7, 0.7}) {
    s = sumsAbout(all, at, radians(degreesOff));
    const double det = s.xx * s.yy - s.xy * s.xy;
    // Seen on one side alone they do not tell a lean towards there.
    if (!(det > 0.02 * s.weight * s.weight)) return {};
    at -= Vec2d(s.yy * s.x - s.xy * s.y, s.xx * s.y - s.xy * s.x) / det;
  }
  double candidates = 0;
  for (const Upright& u : all) candidates += u.weight;
  // What overlaps is counted twice, and edges of one thing are off together.
  const double count = s.weight * s.weight / s.squares / 4, share = s.weight / candidates;
  const double mean = (s.xx + s.yy) / 2, least = mean - std::hypot((s.xx - s.yy) / 2, s.xy);
  const double sigma = std::sqrt(s.left / (count * std::max(1e-12, least)));
  if (count < 4 || share < 0.25 || !(sigma < radians(0.5)) || at.length() > radians(8.0)) return {};
  // The roll brings the zenith over the y axis, the tilt then upright.
  return Lean{degrees(std::atan2(-at.y, std::hypot(at.x, 1.0))), degrees(std::atan2(-at.x, 1.0)),
              degrees(sigma)};
}

std::shared_ptr<const Panorama> straightened(const Panorama& panorama, const Lean& lean) {
  constexpr int widest = 4096;  // finer than anything is compared at
  if (panorama.picture().width > widest)
    return straightened(*Panorama::make(resized(panorama.picture(), widest, widest / 2)), lean);
  Surroundings s;
  s.tiltDegrees = lean.tiltDegrees, s.rollDegrees = lean.rollDegrees;
  const Triadf upright{worldFromPanorama(s, {1, 0, 0}), worldFromPanorama(s, {0, 1, 0}),
                       worldFromPanorama(s, {0, 0, 1})};
  const int width = panorama.picture().width, height = panorama.picture().height;
  Picture out = Picture::rgb(width, height);
  tbb::parallel_for(0, height, [&](int y) {
    for (int x = 0; x < width; ++x) {
      const Vec3f d =
          panoramaDirection({(float(x) + 0.5f) / float(width), (float(y) + 0.5f) / float(height)});
      const Rgb light = panorama.radiance(upright.toLocal(d));
      for (int c = 0; c < 3; ++c) out.at(x, y)[c] = light[c];
    }
  });
  return Panorama::make(std::move(out));
}

}  // namespace dusk
