#include "core/vantage/camera.h"

namespace dusk {

namespace {

/// The radius where r (1 + k1 r^2 + k2 r^4) folds back; infinite where it never does.
double foldRadius(double k1, double k2) {
  // Where its slope 1 + 3 k1 s + 5 k2 s^2, s = r^2, is zero first.
  const double under = 9 * k1 * k1 - 20 * k2;
  if (under < 0) return HUGE_VAL;
  // Without cancellation: 2 c / (-b +- root), for the smaller positive s.
  const double root = std::sqrt(under);
  double first = HUGE_VAL;
  for (const double below : {-3 * k1 + root, -3 * k1 - root})
    if (below > 0) first = std::min(first, 2 / below);
  return std::sqrt(first);
}

}  // namespace

Vec2d undistorted(const Vec2d& p, double k1, double k2) {
  const double rd = p.length();
  if (rd == 0 || (k1 == 0 && k2 == 0)) return p;
  const auto bent = [&](double r) { return r * (1 + r * r * (k1 + r * r * k2)); };
  double low = 0, high = HUGE_VAL, r = rd;
  // Where the bend is small no fold is near.
  const double far2 = 2.25 * rd * rd;
  if (far2 * (3 * std::abs(k1) + far2 * 5 * std::abs(k2)) > 0.5) {
    // Nothing the lens can see lies beyond the fold: what is there is taken to be on it.
    high = foldRadius(k1, k2);
    if (std::isfinite(high) && rd >= bent(high)) return p * (high / rd);
    r = std::min(rd, 0.9 * high);
  }
  // Newton's steps, kept between bounds within which the bent radius grows.
  for (int i = 0; i < 60; ++i) {
    const double off = bent(r) - rd, r2 = r * r, step = off / (1 + r2 * (3 * k1 + r2 * 5 * k2));
    if (std::abs(step) < 1e-14) break;
    (off > 0 ? high : low) = r;
    const double next = r - step;
    r = next > low && next < high ? next : std::isfinite(high) ? (low + high) / 2 : 2 * r;
  }
  return p * (r / rd);
}

std::optional<Vec2d> projected(const Camera& camera, const Vec3d& world) {
  const Vec3d p = camera.axes.toLocal(world - camera.position);
  if (p.z <= 1e-9) return {};
  // Past the radius where the distortion folds back, points far outside the frame would land inside it again.
  const double r2 = (p.x * p.x + p.y * p.y) / (p.z * p.z);
  if (1 + r2 * (3 * camera.k1 + r2 * 5 * camera.k2) <= 0) return {};
  const Vec2d d = distorted(Vec2d(p.x / p.z, p.y / p.z), camera.k1, camera.k2);
  return Vec2d(camera.focalPx * d.x + camera.cx, camera.focalPx * d.y + camera.cy);
}

Vec3d rayThrough(const Camera& camera, const Vec2d& pixel) {
  const Vec2d p = undistorted(
      {(pixel.x - camera.cx) / camera.focalPx, (pixel.y - camera.cy) / camera.focalPx}, camera.k1, camera.k2);
  return camera.axes.toWorld(Vec3d(p.x, p.y, 1).normalized());
}

std::optional<Vec3d> levelPoint(const Camera& camera, const Vec2d& pixel, double height) {
  const Vec3d d = rayThrough(camera, pixel);
  const double t = (height - camera.position.z) / d.z;
  if (!(t > 0) || t > 1e4) return {};
  return camera.position + d * t;
}

Camera resized(const Camera& camera, int width, int height) {
  Camera c = camera;
  const double s = double(width) / camera.width;
  c.width = width, c.height = height;
  c.focalPx *= s, c.cx *= s, c.cy *= double(height) / camera.height;
  return c;
}

Rgb plateAt(const Picture& plate, const Camera& camera, const Vec2d& pixel) {
  const float sx = float(plate.width) / camera.width, sy = float(plate.height) / camera.height;
  return sampleBilinear(plate, float(pixel.x) * sx, float(pixel.y) * sy);
}

namespace {
double diagonalPx(double width, double height) { return std::hypot(width, height); }
const double diagonal35 = std::hypot(36.0, 24.0);
}  // namespace

Camera cropped(const Camera& camera, int x, int y, int width, int height) {
  Camera c = camera;
  c.width = width, c.height = height, c.cx -= x, c.cy -= y;
  return c;
}

double focalMm35(const Camera& c) { return c.focalPx * diagonal35 / diagonalPx(c.width, c.height); }
double focalPxFromMm35(double mm, int width, int height) {
  return mm * diagonalPx(width, height) / diagonal35;
}

double tilt(const Camera& camera) { return std::asin(std::clamp(camera.axes.z.z, -1.0, 1.0)); }
double roll(const Camera& camera) { return std::atan2(camera.axes.x.z, -camera.axes.y.z); }

Camera lookAt(int width, int height, double focalPx, const Vec3d& position, const Vec3d& target) {
  Camera c;
  c.width = width, c.height = height, c.focalPx = focalPx;
  c.cx = width / 2.0, c.cy = height / 2.0;
  c.position = position;
  const Vec3d forward = (target - position).normalized();
  const Vec3d up = std::abs(forward.z) > 0.9999 ? Vec3d(0, 1, 0) : Vec3d(0, 0, 1);
  c.axes.z = forward;
  c.axes.x = forward.cross(up).normalized();
  c.axes.y = c.axes.z.cross(c.axes.x);
  return c;
}

}  // namespace dusk
