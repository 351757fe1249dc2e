#include "core/vantage/three_points.h"

#include "core/base/dense.h"

namespace dusk::vantage {
namespace {

/// Real roots of c[0] + c[1] x + ... + c[4] x^4 by the companion matrix.
std::vector<double> realRoots(const std::array<double, 5>& c) {
  if (std::abs(c[4]) < 1e-14) return {};
  Eigen::Matrix4d companion = Eigen::Matrix4d::Zero();
  for (int i = 0; i < 4; ++i) companion(i, 3) = -c[size_t(i)] / c[4];
  for (int i = 1; i < 4; ++i) companion(i, i - 1) = 1;
  std::vector<double> roots;
  for (const auto& root : eigenvalues(companion))
    if (std::abs(root.imag()) < 1e-5 * (1 + std::abs(root.real()))) roots.push_back(root.real());
  return roots;
}

/// The triad of a triangle: first side, normal, and what completes them.
Triadd triadOf(const std::array<Vec3d, 3>& p) {
  const Vec3d x = (p[1] - p[0]).normalized(), z = x.cross(p[2] - p[0]).normalized();
  return {x, z.cross(x), z};
}

}  // namespace

std::vector<Pose> posesOfThreePoints(const std::array<Vec3d, 3>& world, const std::array<Vec3d, 3>& rays) {
  const double a = (world[1] - world[2]).length(), b = (world[0] - world[2]).length(),
               c = (world[0] - world[1]).length();
  if ((world[1] - world[0]).cross(world[2] - world[0]).length() < 1e-9 * b * c) return {};
  const double cosA = rays[1].dot(rays[2]), cosB = rays[0].dot(rays[2]), cosC = rays[0].dot(rays[1]);
  const double a2 = a * a, b2 = b * b, c2 = c * c, p = (a2 - c2) / b2, q = (a2 + c2) / b2;
  const std::array<double, 5> quartic = {
      (1 + p) * (1 + p) - 4 * a2 / b2 * cosC * cosC,
      4 * (-p * (1 + p) * cosB + 2 * a2 / b2 * cosC * cosC * cosB - (1 - q) * cosA * cosC),
      2 * (p * p - 1 + 2 * p * p * cosB * cosB + 2 * (b2 - c2) / b2 * cosA * cosA -
           4 * q * cosA * cosB * cosC + 2 * (b2 - a2) / b2 * cosC * cosC),
      4 * (p * (1 - p) * cosB - (1 - q) * cosA * cosC + 2 * c2 / b2 * cosA * cosA * cosB),
      (p - 1) * (p - 1) - 4 * c2 / b2 * cosA * cosA};
  std::vector<Pose> poses;
  for (const double v : realRoots(quartic)) {
    const double under = 2 * (cosC - v * cosA);
    if (v <= 0 || std::abs(under) < 1e-12) continue;
    const double u = ((-1 + p) * v * v - 2 * p * cosB * v + 1 + p) / under;
    const double s2 = b2 / (1 + v * v - 2 * v * cosB);
    if (u <= 0 || s2 <= 0) continue;
    const double s = std::sqrt(s2);
    const std::array<Vec3d, 3> seen = {rays[0] * s, rays[1] * (u * s), rays[2] * (v * s)};
    const Triadd there = triadOf(world), here = triadOf(seen);
    // World from camera: the triangle's triad in the world times its transpose in the camera's frame.
    const auto turn = [&](const Vec3d& local) { return there.toWorld(here.toLocal(local)); };
    Pose pose{{turn({1, 0, 0}), turn({0, 1, 0}), turn({0, 0, 1})}, {}};
    pose.position = world[0] - turn(seen[0]);
    poses.push_back(pose);
  }
  return poses;
}

}  // namespace dusk::vantage
