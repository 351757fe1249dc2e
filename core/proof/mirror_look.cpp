#include "core/proof/mirror_look.h"

#include "core/base/normal_integral.h"
#include "core/base/words.h"
#include "core/trace/sampler.h"
#include "core/trace/shading.h"

namespace dusk {
namespace {

constexpr int samplesAcross = 61;
constexpr double halfStroke = 0.014;  // of the picture's width

Vec3d turnedBack(const Vec3d& point, double groundM) { return {point.x, point.y, 2 * groundM - point.z}; }

/// Where the thing is by both marks, the light's way turned back at the ground; nothing where they do not
/// meet.
std::optional<Vec3d> meeting(const Camera& camera, double groundM, const MirroredEdge& edge) {
  const Vec3d a = camera.position, u = rayThrough(camera, edge.thing), b = turnedBack(a, groundM);
  Vec3d v = rayThrough(camera, edge.mirrored);
  v.z = -v.z;
  // The nearest points of two lines.
  const Vec3d w = a - b;
  const double uv = u.dot(v), det = 1 - uv * uv;
  if (det < 1e-9) return {};
  const double s = (uv * v.dot(w) - u.dot(w)) / det, t = (v.dot(w) - uv * u.dot(w)) / det;
  if (s <= 0 || t <= 0) return {};
  const Vec3d p = a + u * s, q = b + v * t;
  // Marks are some pixels off.
  if ((p - q).length() > 15 / camera.focalPx * s || (p.z + q.z) / 2 <= groundM) return {};
  return (p + q) / 2;
}

float lightAt(const Picture& plate, const Camera& camera, const Vec2d& pixel) {
  return luminance(plateAt(plate, camera, pixel));
}

/// The steepest spot near a mark, and which way it rises.
struct Slope {
  Vec2d at{0, 0}, rises{0, 0};
};
std::optional<Slope> steepest(const Picture& plate, const Camera& camera, const Vec2d& near) {
  const double reach = halfStroke * camera.width * 0.6, step = std::max(1.0, reach / 6), arm = 1.5 * step;
  double most = 0;
  Slope best;
  for (double y = -reach; y <= reach; y += step)
    for (double x = -reach; x <= reach; x += step) {
      const Vec2d p = near + Vec2d(x, y);
      Vec2d g(0);
      for (const double k : {-1.0, 0.0, 1.0})
        g += {lightAt(plate, camera, p + Vec2d(arm, k * arm)) -
                  lightAt(plate, camera, p + Vec2d(-arm, k * arm)),
              lightAt(plate, camera, p + Vec2d(k * arm, arm)) -
                  lightAt(plate, camera, p + Vec2d(k * arm, -arm))};
      if (g.length() > most) most = g.length(), best = {p, g.normalized()};
    }
  if (most <= 0) return {};
  return best;
}

/// A stroke across an edge, by points of the picture; averaged along the edge.
using PixelLine = std::vector<Vec2d>;
std::vector<double> profile(const Picture& plate, const Camera& camera, const PixelLine& stroke) {
  const double wide = std::max(1.5, halfStroke * camera.width / 5);
  std::vector<double> light;
  for (size_t i = 0; i < stroke.size(); ++i) {
    const Vec2d along = stroke[std::min(i + 1, stroke.size() - 1)] - stroke[i ? i - 1 : 0];
    const Vec2d beside = Vec2d(-along.y, along.x).normalized();
    double sum = 0;
    for (int k = -3; k <= 3; ++k) sum += lightAt(plate, camera, stroke[i] + beside * (wide * k / 3));
    light.push_back(sum / 7);
  }
  return light;
}

/// low + height * Phi((x - middle) / soft), x from -1 to 1 along a stroke.
struct Step {
  double height = 0, middle = 0, soft = 0, heightSigma = 0;
};
Step fitStep(const std::vector<double>& light) {
  const auto n = double(light.size());
  Step best;
  double least = std::numeric_limits<double>::infinity();
  for (double middle = -0.6; middle <= 0.6; middle += 0.02)
    for (double soft = 0.01; soft < 0.7; soft *= 1.12) {
      double sp = 0, spp = 0, sl = 0, slp = 0, sll = 0;
      for (size_t i = 0; i < light.size(); ++i) {
        const double x = 2 * double(i) / (n - 1) - 1, p = normalIntegral((x - middle) / soft);
        sp += p, spp += p * p, sl += light[i], slp += light[i] * p, sll += light[i] * light[i];
      }
      const double spread = spp - sp * sp / n;
      if (spread < 1e-9) continue;
      const double height = (slp - sp * sl / n) / spread, left = sll - sl * sl / n - height * height * spread;
      if (left < least)
        least = left, best = {height, middle, soft, std::sqrt(std::max(0.0, left) / (n - 3) / spread)};
    }
  return best;
}

/// As the tracer has it.
double reflectanceOf(double ior, const Vec3f& wo) {
  return luminance(Bsdf(glossParameters({1, 0.05f, float(ior)}), wo).sample({0.5f, 0.5f}, 0).weight.specular);
}

/// How far along the thing's stroke, in halves of it, a mirror of that roughness spreads what is seen.
double spreadOf(double roughness, double ior, const Vec3d& groundPoint, const Camera& camera,
                const Vec3d& thing, const Vec3d& facing, const Vec2d& half) {
  const Vec3f wo = toFloat((camera.position - groundPoint).normalized());
  const Bsdf bsdf(glossParameters({1, float(roughness), float(ior)}), wo);
  const Vec2d middle = *projected(camera, thing);
  std::vector<std::pair<double, double>> seen;  // where, weight
  double all = 0;
  constexpr int draws = 512;
  for (int i = 0; i < draws; ++i) {
    Sampler sampler(9, 0, 0, uint32_t(i), Sampler::bitsFor(draws));
    const Bsdf::Sample next = bsdf.sample(sampler.next2(), 0.0f);
    if (next.pdf <= 0 || next.wi.z <= 0) continue;
    const Vec3d d = toDouble(next.wi);
    const double t = (thing - groundPoint).dot(facing) / d.dot(facing);
    const auto pixel = t > 0 ? projected(camera, groundPoint + d * t) : std::nullopt;
    // What passes the thing's plane altogether is far off on either side.
    const double where = pixel ? (*pixel - middle).dot(half) / half.length2() : 1e3;
    const double weight = luminance(next.weight.specular);
    seen.emplace_back(where, weight), all += weight;
  }
  if (all <= 0) return 0;
  std::sort(seen.begin(), seen.end());
  double sum = 0, low = 0, high = 0;
  for (const auto& [where, weight] : seen) {
    if (sum < 0.16 * all) low = where;
    if (sum < 0.84 * all) high = where;
    sum += weight;
  }
  return (high - low) / 2;
}

}  // namespace

Result<MirrorLook> measureMirror(const Picture& plate, const Camera& camera, double groundM, double ior,
                                 const MirroredEdge& edge) {
  const auto about = meeting(camera, groundM, edge);
  if (!about)
    return Error{
        words("The two marks are not one thing and its mirror image: drag from an edge of something that "
              "stands there down to the same edge in the ground.")};
  const Error none{words("There is no clear edge there: one between bright and dark is needed.")};
  const auto slope = steepest(plate, camera, edge.thing);
  if (!slope) return none;
  const Vec3d facing = Vec3d(camera.position.x - about->x, camera.position.y - about->y, 0).normalized();
  // On the upright plane through it that faces the camera.
  const auto onThing = [&](const Vec2d& pixel) {
    const Vec3d ray = rayThrough(camera, pixel);
    return camera.position + ray * ((*about - camera.position).dot(facing) / ray.dot(facing));
  };
  const Vec3d thing = onThing(slope->at);
  const Vec2d half = slope->rises * (halfStroke * camera.width);
  // The same stroke on the thing's plane, and as the ground mirrors that.
  PixelLine own, mirrored;
  for (int i = 0; i < samplesAcross; ++i) {
    const Vec2d pixel = slope->at + half * (2.0 * i / (samplesAcross - 1) - 1);
    const auto image = projected(camera, turnedBack(onThing(pixel), groundM));
    if (!image) return none;
    own.push_back(pixel), mirrored.push_back(*image);
  }
  const Step first = fitStep(profile(plate, camera, own)), second = fitStep(profile(plate, camera, mirrored));
  if (std::abs(first.height) < 4 * first.heightSigma || first.height == 0) return none;
  MirrorLook look;
  look.thingM = thing, look.contrast = second.height / first.height, look.ior = ior;
  if (look.contrast < 0.002 || second.height < 3 * second.heightSigma)
    return Error{words("The ground mirrors nothing of that edge that could be measured.")};
  const Vec3d image = turnedBack(thing, groundM), down = image - camera.position;
  const Vec3d groundPoint = camera.position + down * ((groundM - camera.position.z) / down.z);
  const Vec3f wo = toFloat(-down.normalized());
  double reflects = reflectanceOf(ior, wo);
  while (reflects < look.contrast && look.ior < 3) look.ior += 0.01, reflects = reflectanceOf(look.ior, wo);
  look.strength = std::min(1.0, look.contrast / reflects);
  look.strengthSigma =
      std::hypot(second.heightSigma / second.height, first.heightSigma / first.height) * look.strength;
  const double softer = std::sqrt(std::max(0.0, second.soft * second.soft - first.soft * first.soft));
  double low = 0.01, high = 0.8;
  for (int i = 0; i < 12; ++i) {
    const double middle = (low + high) / 2;
    (spreadOf(middle, look.ior, groundPoint, camera, thing, facing, half) < softer ? low : high) = middle;
  }
  look.roughness = (low + high) / 2;
  return look;
}

}  // namespace dusk
