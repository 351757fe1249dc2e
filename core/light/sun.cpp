#include "core/light/sun.h"

#include "core/base/median.h"
#include "core/light/panorama.h"
#include "core/vantage/camera.h"
#include "core/vantage/levels.h"

namespace dusk {
namespace {

struct Angles {
  double azimuth, elevation;  ///< radians; elevation NaN without a top
};

std::optional<Angles> anglesOf(const Camera& camera, const Gnomon& g) {
  const auto base = levelPoint(camera, g.base), tip = levelPoint(camera, g.shadowTip);
  if (!base || !tip) return {};
  const Vec3d to = *base - *tip;
  const double length = std::hypot(to.x, to.y);
  if (length < 1e-6) return {};
  Angles a{std::atan2(to.x, to.y), std::nan("")};
  if (g.top)
    if (const auto height = heightOver(camera, g.base, *g.top)) a.elevation = std::atan2(*height, length);
  return a;
}

double wrapped(double radians) { return std::remainder(radians, 2 * pi); }

}  // namespace

std::optional<GnomonReading> readGnomon(const Camera& camera, const Gnomon& gnomon, double sigmaPx) {
  const auto at = anglesOf(camera, gnomon);
  if (!at) return {};
  GnomonReading r;
  r.sun.azimuthDegrees = degrees(at->azimuth);
  r.hasElevation = std::isfinite(at->elevation);
  if (r.hasElevation) r.sun.elevationDegrees = degrees(at->elevation);
  // Each coordinate moved by half a pixel each way.
  const auto vary = [&](const auto& point) {
    for (int axis = 0; axis < 2; ++axis) {
      Gnomon more = gnomon, less = gnomon;
      point(more)[axis] += 0.5, point(less)[axis] -= 0.5;
      const auto a = anglesOf(camera, more), b = anglesOf(camera, less);
      if (!a || !b) continue;
      r.azimuthSigma += std::pow(degrees(wrapped(a->azimuth - b->azimuth)) * sigmaPx, 2);
      if (r.hasElevation && std::isfinite(a->elevation) && std::isfinite(b->elevation))
        r.elevationSigma += std::pow(degrees(a->elevation - b->elevation) * sigmaPx, 2);
    }
  };
  vary([](Gnomon& g) -> Vec2d& { return g.base; });
  vary([](Gnomon& g) -> Vec2d& { return g.shadowTip; });
  if (r.hasElevation) vary([](Gnomon& g) -> Vec2d& { return *g.top; });
  r.azimuthSigma = std::sqrt(r.azimuthSigma), r.elevationSigma = std::sqrt(r.elevationSigma);
  return r;
}

std::optional<MarkedShadow> markedShadow(const Camera& camera, const Gnomon& gnomon) {
  const auto reading = readGnomon(camera, gnomon);
  const auto foot = levelPoint(camera, gnomon.base), tip = levelPoint(camera, gnomon.shadowTip);
  if (!reading || !foot || !tip) return {};
  return MarkedShadow{*reading, *foot, *tip};
}

GnomonsApart apart(const GnomonReading& a, const GnomonReading& b) {
  const double across = std::abs(wrapDegrees(a.sun.azimuthDegrees - b.sun.azimuthDegrees));
  GnomonsApart result{across, across > 3 * std::hypot(a.azimuthSigma, b.azimuthSigma) + 0.5};
  if (a.hasElevation && b.hasElevation) {
    const double up = std::abs(a.sun.elevationDegrees - b.sun.elevationDegrees);
    result.degrees = std::max(result.degrees, up);
    result.disagree |= up > 3 * std::hypot(a.elevationSigma, b.elevationSigma) + 0.5;
  }
  return result;
}

SunAngles sunAt(int year, int month, int day, double hourUtc, double latitudeDegrees,
                double longitudeDegrees) {
  // Julian date of the day's midnight (Fliegel & Van Flandern 1968), then days since J2000.
  const int a = (14 - month) / 12, y = year + 4800 - a, m = month + 12 * a - 3;
  const int number = day + (153 * m + 2) / 5 + 365 * y + y / 4 - y / 100 + y / 400 - 32045;
  const double n = number - 0.5 + hourUtc / 24 - 2451545.0;
  const double meanLongitude = radians(std::fmod(280.460 + 0.9856474 * n, 360.0)),
               anomaly = radians(std::fmod(357.528 + 0.9856003 * n, 360.0));
  const double ecliptic = meanLongitude + radians(1.915 * std::sin(anomaly) + 0.020 * std::sin(2 * anomaly));
  const double obliquity = radians(23.439 - 0.0000004 * n);
  const double ascension = std::atan2(std::cos(obliquity) * std::sin(ecliptic), std::cos(ecliptic)),
               declination = std::asin(std::sin(obliquity) * std::sin(ecliptic));
  const double siderealHours = 6.697375 + 0.0657098242 * n + hourUtc + longitudeDegrees / 15;
  const double hourAngle = radians(std::fmod(siderealHours, 24.0) * 15) - ascension;
  const double latitude = radians(latitudeDegrees);
  const double up = std::sin(latitude) * std::sin(declination) +
                    std::cos(latitude) * std::cos(declination) * std::cos(hourAngle);
  const double east = -std::cos(declination) * std::sin(hourAngle),
               north = std::cos(latitude) * std::sin(declination) -
                       std::sin(latitude) * std::cos(declination) * std::cos(hourAngle);
  double azimuth = degrees(std::atan2(east, north));
  if (azimuth < 0) azimuth += 360;
  return {azimuth, degrees(std::asin(std::clamp(up, -1.0, 1.0)))};
}

std::optional<SplitSun> splitSun(const Picture& panorama) {
  const int w = panorama.width, h = panorama.height;
  if (w < 16 || h < 8) return {};
  // The brightest pixel, and what is usual in a ring round it: the sun with its rim is within three degrees.
  size_t best = 0;
  float most = -1;
  for (size_t i = 0; i < size_t(w) * size_t(h); ++i)
    if (const float l =
            luminance({panorama.pixels[i * 3], panorama.pixels[i * 3 + 1], panorama.pixels[i * 3 + 2]});
        l > most)
      most = l, best = i;
  const auto directionOf = [&](int x, int y) {
    return panoramaDirection({(float(x) + 0.5f) / float(w), (float(y) + 0.5f) / float(h)});
  };
  const Vec3f peak = directionOf(int(best % size_t(w)), int(best / size_t(w)));
  const double pixel = 360.0 / w, inner = std::max(3.0, 2.5 * pixel), outer = 2 * inner;
  const auto within = [&](const auto& act) {
    for (int y = 0; y < h; ++y) {
      const double polar = (y + 0.5) / h * 180;
      if (std::abs(polar - degrees(std::acos(double(peak.z)))) > outer + pixel) continue;
      for (int x = 0; x < w; ++x) {
        const double off = degrees(std::acos(std::clamp(double(peak.dot(directionOf(x, y))), -1.0, 1.0)));
        if (off < outer) act(x, y, off);
      }
    }
  };
  std::vector<float> ring[3];
  within([&](int x, int y, double off) {
    for (size_t c = 0; off >= inner && c < 3; ++c) ring[c].push_back(panorama.at(x, y)[c]);
  });
  if (ring[0].size() < 8) return {};
  Rgb usual;
  for (size_t c = 0; c < 3; ++c) usual[int(c)] = medianInPlace(ring[c]);
  // A lamp or a white cloud is not a sun: that outshines its neighbourhood twentyfold.
  if (most < 20 * std::max(1e-6f, luminance(usual))) return {};
  SplitSun split;
  split.rest = panorama;
  Vec3d towards(0, 0, 0), taken(0, 0, 0);
  within([&](int x, int y, double off) {
    if (off >= inner) return;
    const double solid = 2 * pi / w * (std::cos(pi * y / h) - std::cos(pi * (y + 1) / h));
    float* p = split.rest.at(x, y);
    double all = 0;
    for (int c = 0; c < 3; ++c) {
      const double over = double(p[c]) - double(usual[c]);
      if (over <= 0) continue;
      taken[c] += over * solid, all += over * solid;
      p[c] = usual[c];
    }
    towards += toDouble(directionOf(x, y)) * all;
  });
  split.direction = toFloat(towards.normalized());
  split.irradiance = toFloat(taken);
  double total = 0;
  for (int y = 0; y < h; ++y) {
    const double solid = 2 * pi / w * (std::cos(pi * y / h) - std::cos(pi * (y + 1) / h));
    for (int x = 0; x < w; ++x) total += double(luminance(panorama.rgbAt(x, y))) * solid;
  }
  split.share = total > 0 ? double(luminance(split.irradiance)) / total : 0;
  return split;
}

bool isGraded(const Surroundings& s) {
  return s.white != Vec3d(1, 1, 1) || s.contrast != 1 || s.saturation != 1;
}

Picture graded(const Picture& panorama, const Surroundings& s) {
  Picture out = panorama;
  double before = 0, after = 0, weight = 0, logs = 0;
  const auto solid = [&](int y) { return std::sin((y + 0.5) / out.height * pi); };
  for (int y = 0; y < out.height; ++y)
    for (int x = 0; x < out.width; ++x) {
      const double l = double(luminance(out.rgbAt(x, y)));
      before += l * solid(y), weight += solid(y), logs += std::log2(std::max(l, 1e-6)) * solid(y);
    }
  const float pivot = float(std::exp2(logs / weight));
  for (int y = 0; y < out.height; ++y)
    for (int x = 0; x < out.width; ++x) {
      Rgb c = out.rgbAt(x, y);
      const float l = luminance(c);
      if (l > 0 && s.contrast != 1) c *= std::pow(l / pivot, float(s.contrast) - 1);
      const float grey = luminance(c);
      for (int k = 0; k < 3; ++k) c[k] = std::max(0.0f, grey + (c[k] - grey) * float(s.saturation));
      std::copy_n(&c.x, 3, out.at(x, y));
      after += double(luminance(c)) * solid(y);
    }
  const double even = after > 0 ? before / after : 1;
  for (size_t i = 0; i < out.pixels.size(); ++i) out.pixels[i] *= float(even * s.white[int(i % 3)]);
  return out;
}

}  // namespace dusk
