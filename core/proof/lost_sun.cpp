#include "core/proof/lost_sun.h"

#include "core/base/median.h"
#include "core/base/words.h"
#include "core/trace/compile.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

/// Light left in the shadow over light beside it, at so many places along it.
struct Depths {
  std::vector<double> of[3];
};

/// The ground along a line across the shadow, from -1 to 1 of its reach.
struct Profile {
  static constexpr int reach = 100;
  std::vector<Rgb> light{};

  Rgb mean(int from, int to) const {
    Rgb sum(0);
    for (int i = from; i <= to; ++i) sum += light[size_t(i + reach)];
    return sum / float(to - from + 1);
  }

  /// What lies in the shadow over what lies beside it, right at its hardest edge, where the ground is most
  /// alike on both sides: past the penumbra, and within a shadow as narrow as a post's.
  std::optional<Rgb> depth() const {
    constexpr int near = 4, far = 8, within = 60;
    std::optional<Rgb> deepest;
    for (int i = -within; i <= within; ++i) {
      Rgb dark = mean(i - far, i - near), lit = mean(i + near, i + far);
      if (luminance(dark) > luminance(lit)) std::swap(dark, lit);
      if (std::min({lit.x, lit.y, lit.z}) < 1e-4f) continue;
      if (const Rgb depth = dark / lit; !deepest || luminance(depth) < luminance(*deepest)) deepest = depth;
    }
    return deepest;
  }
};

/// Looks across the shadow, on the ground, at places between its foot and its tip.
Depths depthsAlong(const Picture& plate, const Camera& camera, const Vec3d& foot, const Vec3d& tip) {
  Depths depths;
  const Vec3d along = tip - foot, across = Vec3d(-along.y, along.x, 0) * 0.45;
  for (double t = 0.6; t <= 0.92; t += 0.01) {  // by the foot, the thing itself hides much of the sky
    Profile profile;
    for (int i = -Profile::reach; i <= Profile::reach; ++i) {
      const auto pixel = projected(camera, foot + along * t + across * (double(i) / Profile::reach));
      if (!pixel || pixel->x < 1 || pixel->y < 1 || pixel->x >= camera.width - 1 ||
          pixel->y >= camera.height - 1)
        break;
      profile.light.push_back(plateAt(plate, camera, *pixel));
    }
    if (profile.light.size() != 2 * Profile::reach + 1) continue;
    if (const auto depth = profile.depth())
      for (int c = 0; c < 3; ++c) depths.of[c].push_back(double((*depth)[c]));
  }
  return depths;
}

Vec3f directionOf(double azimuthDegrees, double elevationDegrees) {
  Lamp lamp;
  lamp.azimuthDegrees = azimuthDegrees, lamp.elevationDegrees = elevationDegrees;
  return sunDirection(lamp);
}

/// Where the sky is brightest about that azimuth, between two elevations: the middle of what is about as
/// bright, for a clipped sun is a flat spot.
Vec3f brightestAbout(const Lights& lights, double azimuthDegrees, double low, double high) {
  constexpr double step = 0.25, aside = 3;
  float most = 0;
  const auto each = [&](const auto& act) {
    for (double e = std::max(low, 1.0); e <= std::min(high, 89.0); e += step)
      for (double a = -aside; a <= aside; a += step) {
        const Vec3f d = directionOf(azimuthDegrees + a / std::cos(radians(e)), e);
        act(d, luminance(lights.sky(d)));
      }
  };
  Vec3f peak(0, 0, 1), sum(0);
  each([&](const Vec3f& d, float l) {
    if (l > most) most = l, peak = d;
  });
  each([&](const Vec3f& d, float l) {
    if (l > 0.9f * most && d.dot(peak) > std::cos(float(radians(2.0)))) sum += d;
  });
  return sum.length2() > 0 ? sum.normalized() : peak;
}

/// Irradiance of a facing surface by what stands out of its surroundings about a direction: as much of the
/// sun as the panorama has.
Rgb sunIn(const Lights& lights, const Vec3f& towards) {
  const Triadf about = triadAround(towards);
  constexpr int rings = 48, steps = 96;
  constexpr double inner = 3, outer = 6;
  const auto at = [&](double off, int k) {
    const double a = radians(off), turn = 2 * pi * (k + 0.5) / steps;
    return lights.sky(
        about.toWorld(toFloat({std::sin(a) * std::cos(turn), std::sin(a) * std::sin(turn), std::cos(a)})));
  };
  std::vector<float> usual[3];
  for (int k = 0; k < steps; ++k)
    for (int c = 0; c < 3; ++c) usual[c].push_back(at((inner + outer) / 2, k)[c]);
  Rgb base, sum(0);
  for (int c = 0; c < 3; ++c) base[c] = medianInPlace(usual[c]);
  for (int r = 0; r < rings; ++r) {
    const double off = (r + 0.5) / rings * inner,
                 solid = std::sin(radians(off)) * radians(inner / rings) * 2 * pi / steps;
    for (int k = 0; k < steps; ++k) sum += (at(off, k) - base) * float(solid);
  }
  return {std::max(0.0f, sum.x), std::max(0.0f, sum.y), std::max(0.0f, sum.z)};
}

}  // namespace

Result<LostSun> findLostSun(const Shot& shot, AssetStore& assets) {
  if (!shot.gnomon || !shot.vantage.solved || !hasPlate(shot) || shot.surroundings.panorama.empty())
    return Error{words(
        "Needs a photo, a solved vantage, a panorama, and a gnomon: drag from the foot of something upright "
        "to the tip of its shadow.")};
  const auto marked = markedShadow(shot.vantage.camera, *shot.gnomon);
  if (!marked) return Error{words("The gnomon's foot or tip is not on the ground.")};
  const auto& [read, foot, tip] = *marked;
  const auto plate = assets.plate(shot);
  if (!plate) return plate.error();
  const auto dome = assets.dome(shot.surroundings);
  if (!dome) return dome.error();

  Shot sky = shot;
  sky.lamps.clear();
  const auto lights = lightsOf(sky, assets);
  LostSun sun;
  sun.at = read.sun;
  const double low = read.hasElevation ? sun.at.elevationDegrees - 3 : 3,
               high = read.hasElevation ? sun.at.elevationDegrees + 3 : 88;
  const Vec3f peak =
      dome->sun ? dome->sun->direction : brightestAbout(*lights, sun.at.azimuthDegrees, low, high);
  if (!read.hasElevation) sun.at.elevationDegrees = degrees(std::asin(std::clamp(double(peak.z), 0.0, 1.0)));
  if (sun.at.elevationDegrees < 2)
    return Error{words("The sun would stand at the horizon: mark the gnomon's top, too.")};
  Depths depths = depthsAlong(**plate, workingCamera(shot.vantage), foot, tip);
  for (int c = 0; c < 3; ++c) {
    if (depths.of[c].size() < 5)
      return Error{
          words("No shadow with two clear edges is found along the gnomon: mark it along its middle, on open "
                "ground.")};
    sun.shadow[c] = float(medianInPlace(depths.of[c]));
  }
  if (luminance(sun.shadow) > 0.9f) return Error{words("There is no shadow where the gnomon says so.")};

  const Vec3f towards = directionOf(sun.at.azimuthDegrees, sun.at.elevationDegrees);
  const Rgb shown =
      dome->sun ? dome->sun->irradiance * float(std::exp2(shot.surroundings.gainEv)) : sunIn(*lights, peak);
  const float shownHeight = std::max(0.0f, peak.z);
  Rgb rest = lights->groundIrradiance(toFloat(foot)) - shown * shownHeight;
  for (int c = 0; c < 3; ++c) {
    rest[c] = std::max(rest[c], 1e-6f);
    const float kept = std::clamp(sun.shadow[c], 0.01f, 1.0f);
    sun.irradiance[c] = rest[c] * (1 / kept - 1) / towards.z;
    sun.missing[c] = std::max(0.0f, sun.irradiance[c] - shown[c] * shownHeight / towards.z);
  }
  sun.givenShare = std::clamp(
      1 - double(luminance(sun.missing)) / std::max(1e-9, double(luminance(sun.irradiance))), 0.0, 1.0);
  // How the places along it scatter, and what that comes to in the sun.
  std::vector<double> off;
  for (const double d : depths.of[1]) off.push_back(std::abs(d - double(sun.shadow.y)));
  const double sigma =
                   1.4826 * medianInPlace(off) / std::sqrt(double(off.size())) + 0.01 * double(sun.shadow.y),
               kept = std::clamp(double(sun.shadow.y), 0.01, 0.99);
  // Things that stand about hide some of the sky from the shadow, so that it asks for a little too much.
  constexpr double byThings = 0.2;
  sun.marginEv = std::hypot(sigma / (kept * (1 - kept)) / std::log(2.0), byThings);
  return sun;
}

Lamp sunLampFor(const LostSun& sun, Lamp lamp) {
  lamp.on = true;
  lamp.azimuthDegrees = sun.at.azimuthDegrees, lamp.elevationDegrees = sun.at.elevationDegrees;
  setIrradiance(lamp, sun.missing);
  return lamp;
}

}  // namespace dusk
