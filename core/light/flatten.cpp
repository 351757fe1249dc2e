#include "core/light/flatten.h"

#include <tbb/parallel_for.h>

#include "core/base/dense.h"
#include "core/base/words.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

/// A rectangle on a level, its sides to the camera's right and away from it.
struct Level {
  Vec3d right{1, 0, 0}, ahead{0, 1, 0};
  double left = 0, end = 0, near = 0, far = 0, heightM = 0;
  double width() const { return end - left; }
  double depth() const { return far - near; }
  /// `u` from left to right, `v` from the far side to the near one, 0 to 1.
  Vec3d at(double u, double v) const {
    const Vec3d p = right * (left + u * width()) + ahead * (far - v * depth());
    return {p.x, p.y, heightM};
  }
};

Result<Level> levelIn(const Camera& camera, double heightM, const Vec2d& corner, const Vec2d& opposite) {
  const Vec2d low(std::min(corner.x, opposite.x), std::min(corner.y, opposite.y)),
      high(std::max(corner.x, opposite.x), std::max(corner.y, opposite.y));
  Level level;
  level.heightM = heightM;
  level.right = Vec3d(camera.axes.x.x, camera.axes.x.y, 0).normalized();
  level.ahead = Vec3d(-level.right.y, level.right.x, 0);
  double u[4], v[4];
  const Vec2d corners[] = {low, {high.x, low.y}, {low.x, high.y}, high};
  for (int i = 0; i < 4; ++i) {
    const auto on = levelPoint(camera, corners[i], heightM);
    if (!on)
      return Error{
          words("Part of the frame does not lie on the ground: frame a level place, below the horizon.")};
    u[i] = on->dot(level.right), v[i] = on->dot(level.ahead);
  }
  level.left = std::max(u[0], u[2]), level.end = std::min(u[1], u[3]);
  level.near = std::max(v[2], v[3]), level.far = std::min(v[0], v[1]);
  if (level.width() <= 1e-4 || level.depth() <= 1e-4)
    return Error{words("The frame is too small to take a surface from: draw it larger.")};
  return level;
}

/// How many pixels the photo has along the nearest border, and down the side, at their densest.
std::array<double, 2> pixelsOf(const Camera& camera, const Level& level) {
  const auto along = [&](const Vec3d& a, const Vec3d& b) {
    const auto p = projected(camera, a), q = projected(camera, b);
    return p && q ? (*p - *q).length() : 0;
  };
  return {along(level.at(0, 1), level.at(1, 1)), along(level.at(0.5, 0.9), level.at(0.5, 1)) * 10};
}

/// Divides by the even rise of brightness from side to side, which is the light's.
void evenOut(Picture& colour) {
  const int step = std::max(1, std::min(colour.width, colour.height) / 64);
  Eigen::MatrixXd rows(((colour.width - 1) / step + 1) * ((colour.height - 1) / step + 1), 3);
  Eigen::VectorXd lights(rows.rows());
  Eigen::Index n = 0;
  const auto place = [&](int x, int y) {
    return Vec2d((x + 0.5) / colour.width - 0.5, (y + 0.5) / colour.height - 0.5);
  };
  for (int y = 0; y < colour.height; y += step)
    for (int x = 0; x < colour.width; x += step, ++n) {
      const Vec2d p = place(x, y);
      rows.row(n) << 1, p.x, p.y;
      lights[n] = double(luminance(colour.rgbAt(x, y)));
    }
  const Eigen::VectorXd plane = leastSquares(rows, lights);
  // A plane that comes near to nothing at a border is no light's.
  if (plane[0] <= 0 || std::abs(plane[1]) + std::abs(plane[2]) > 1.2 * plane[0]) return;
  for (int y = 0; y < colour.height; ++y)
    for (int x = 0; x < colour.width; ++x) {
      const Vec2d p = place(x, y);
      const auto by = float(plane[0] / (plane[0] + plane[1] * p.x + plane[2] * p.y));
      for (int c = 0; c < 3; ++c) colour.at(x, y)[c] *= by;
    }
}

/// Times what makes radiance base colour, per channel.
Rgb takingLightOut(const Picture& seen, const Rgb& irradiance, bool isLit) {
  if (isLit) return Rgb(pif) / irradiance;
  std::vector<float> lights;
  for (int y = 0; y < seen.height; y += 1 + seen.height / 200)
    for (int x = 0; x < seen.width; x += 1 + seen.width / 200) lights.push_back(luminance(seen.rgbAt(x, y)));
  std::sort(lights.begin(), lights.end());
  constexpr float paleGrey = 0.6f;
  return Rgb(paleGrey / std::max(1e-4f, lights[lights.size() * 98 / 100]));
}

}  // namespace

Result<Flattened> flattened(const Picture& plate, const Camera& camera, const Lights* lights, double heightM,
                            const Vec2d& corner, const Vec2d& opposite) {
  const auto level = levelIn(camera, heightM, corner, opposite);
  if (!level) return level.error();
  const auto [across, down] = pixelsOf(camera, *level);
  constexpr double fewest = 16, most = 4096;
  if (across < fewest || down < fewest)
    return Error{words("Hardly a pixel is left of that place: frame one that is nearer, or larger.")};
  const double less = std::min(1.0, most / std::max(across, down));
  Flattened flat;
  flat.sizeMm = {1000 * level->width(), 1000 * level->depth()};
  flat.middleM = level->at(0.5, 0.5);
  flat.colour = Picture::rgb(int(std::lround(across * less)), int(std::lround(down * less)));
  Picture& colour = flat.colour;
  tbb::parallel_for(0, colour.height, [&](int y) {
    for (int x = 0; x < colour.width; ++x)
      if (const auto at = projected(camera, level->at((x + 0.5) / colour.width, (y + 0.5) / colour.height))) {
        const Rgb light = plateAt(plate, camera, *at);
        std::copy_n(&light.x, 3, colour.at(x, y));
      }
  });
  const Rgb irradiance = lights ? lights->groundIrradiance(toFloat(flat.middleM)) : Rgb(0);
  flat.isLit = std::min({irradiance.x, irradiance.y, irradiance.z}) > 1e-4f;
  evenOut(colour);
  const Rgb by = takingLightOut(colour, irradiance, flat.isLit);
  for (int y = 0; y < colour.height; ++y)
    for (int x = 0; x < colour.width; ++x)
      for (int c = 0; c < 3; ++c) colour.at(x, y)[c] = std::clamp(colour.at(x, y)[c] * by[c], 0.0f, 1.0f);
  return flat;
}

}  // namespace dusk
