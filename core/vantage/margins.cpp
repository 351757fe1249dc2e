#include "core/vantage/margins.h"

#include <Eigen/Geometry>

#include "core/vantage/camera.h"

namespace dusk {
namespace {

using Step = std::array<double, 11>;
using Column = Eigen::Matrix<double, 11, 1>;
using Matrix = Eigen::Matrix<double, 11, 11, Eigen::RowMajor>;

/// The derivative of `f` at the camera along each of the eleven directions, by central differences.
template <typename F>
auto derivatives(const Camera& camera, const F& f) {
  using Value = decltype(f(camera));
  std::array<Value, 11> result;
  for (int i = 0; i < 11; ++i) {
    const double h = i == 1 || i == 2 ? 1e-3 : 1e-6;
    Step ahead{}, back{};
    ahead[size_t(i)] = h, back[size_t(i)] = -h;
    result[size_t(i)] = (f(stepped(camera, ahead)) - f(stepped(camera, back))) / (2 * h);
  }
  return result;
}

}  // namespace

Camera stepped(const Camera& camera, const Step& step) {
  Camera c = camera;
  c.focalPx *= std::exp(step[0]);
  c.cx += step[1], c.cy += step[2], c.k1 += step[3], c.k2 += step[4];
  // The world turns in the camera's frame: camera-from-world goes to R(step) camera-from-world.
  const Eigen::Vector3d turn(step[5], step[6], step[7]);
  if (turn.norm() > 0) {
    const Eigen::AngleAxisd back(-turn.norm(), turn.normalized());
    const auto axis = [&](double x, double y, double z) {
      const Eigen::Vector3d v = back * Eigen::Vector3d(x, y, z);
      return camera.axes.toWorld({v.x(), v.y(), v.z()});
    };
    c.axes = {axis(1, 0, 0), axis(0, 1, 0), axis(0, 0, 1)};
  }
  c.position += Vec3d(step[8], step[9], step[10]);
  return c;
}

VantageSigma margins(const Camera& camera, const CameraCovariance& covariance) {
  const auto sigma = [&](const auto& f) {
    const auto d = derivatives(camera, f);
    const Eigen::Map<const Column> gradient(d.data());
    return std::sqrt(std::max(0.0, gradient.dot(Eigen::Map<const Matrix>(covariance.data()) * gradient)));
  };
  return {sigma([](const Camera& c) { return c.focalPx; }),
          degrees(sigma([](const Camera& c) { return tilt(c); })),
          degrees(sigma([](const Camera& c) { return roll(c); })),
          std::sqrt(std::max(0.0, covariance[120])),
          std::sqrt(std::max(0.0, covariance[36])),
          std::sqrt(std::max(0.0, covariance[48]))};
}

double wobblePx(const Camera& camera, const CameraCovariance& covariance, const Vec2d& spot,
                const Vec3d& sizeM) {
  if (!levelPoint(camera, spot)) return 0;
  double sum = 0;
  int count = 0;
  for (int corner = 0; corner < 8; ++corner) {
    const Vec3d offset((corner & 1 ? 0.5 : -0.5) * sizeM.x, (corner & 2 ? 0.5 : -0.5) * sizeM.y,
                       corner & 4 ? sizeM.z : 0.0);
    const auto at = [&](const Camera& c) {
      const auto ground = levelPoint(c, spot);
      const auto pixel = ground ? projected(c, *ground + offset) : std::nullopt;
      return pixel.value_or(Vec2d(0, 0));
    };
    if (at(camera) == Vec2d(0, 0)) continue;
    const auto d = derivatives(camera, at);
    Eigen::Matrix<double, 2, 11> jacobian;
    for (int i = 0; i < 11; ++i) jacobian.col(i) << d[size_t(i)].x, d[size_t(i)].y;
    sum += (jacobian * Eigen::Map<const Matrix>(covariance.data()) * jacobian.transpose()).trace();
    ++count;
  }
  return count ? std::sqrt(sum / count) : 0;
}

}  // namespace dusk
