#include "core/light/reshape.h"

#include <tbb/parallel_for.h>

#include <opencv2/imgproc.hpp>

#include "core/base/words.h"
#include "core/light/panorama.h"

namespace dusk {

Picture withGuessedRange(const Picture& panorama, double ev) {
  Picture out = panorama;
  const size_t count = out.pixels.size() / 3;
  for (size_t i = 0; i < count; ++i) {
    float* p = &out.pixels[i * 3];
    // From about the upper fifth of the code values on.
    const float t = std::clamp((std::max({p[0], p[1], p[2]}) - 0.6f) / 0.4f, 0.0f, 1.0f);
    const float gain = std::exp2(float(ev) * t * t * (3 - 2 * t));
    for (int c = 0; c < 3; ++c) p[c] *= gain;
  }
  return out;
}

Picture blurredPanorama(const Picture& panorama, double degrees) {
  if (degrees <= 0) return panorama;
  // Three pixels a standard deviation are enough to hold what is left.
  const int width = std::clamp(int(360 / degrees * 3), 64, panorama.width), height = std::max(2, width / 2);
  const Picture small = resized(panorama, width, height);
  const double sigma = degrees / 180 * height;
  const auto kernel = [](double s) {
    std::vector<float> k;
    const int reach = std::max(1, int(std::ceil(3 * s)));
    float sum = 0;
    for (int i = -reach; i <= reach; ++i)
      k.push_back(float(std::exp(-0.5 * i * i / (s * s)))), sum += k.back();
    for (float& v : k) v /= sum;
    return k;
  };
  // Along the meridians each pixel weighs by the area it has on the sphere; over a pole it goes on opposite.
  Picture down = small;
  const auto along = kernel(std::max(sigma, 1e-3));
  const int reach = int(along.size()) / 2;
  tbb::parallel_for(0, width, [&](int x) {
    for (int y = 0; y < height; ++y) {
      Rgb sum(0);
      float weights = 0;
      for (int k = -reach; k <= reach; ++k) {
        int yy = y + k, xx = x;
        if (yy < 0) yy = -1 - yy, xx = (x + width / 2) % width;
        if (yy >= height) yy = 2 * height - 1 - yy, xx = (x + width / 2) % width;
        if (yy < 0 || yy >= height) continue;
        const float w = along[size_t(k + reach)] * std::sin((yy + 0.5f) / height * pif);
        sum += small.rgbAt(xx, yy) * w, weights += w;
      }
      sum /= std::max(weights, 1e-12f);
      std::copy_n(&sum.x, 3, down.at(x, y));
    }
  });
  Picture out = down;
  tbb::parallel_for(0, height, [&](int y) {
    const double stretched = sigma / std::max(std::sin((y + 0.5) / height * pi), 1e-3);
    const auto across = kernel(std::min(stretched, width / 6.0));
    const int far = int(across.size()) / 2;
    for (int x = 0; x < width; ++x) {
      Rgb sum(0);
      for (int k = -far; k <= far; ++k)
        sum += down.rgbAt(((x + k) % width + width) % width, y) * across[size_t(k + far)];
      std::copy_n(&sum.x, 3, out.at(x, y));
    }
  });
  return out;
}

Result<BallPhoto> findBall(const Picture& light) {
  const int width = 480, height = std::max(2, light.height * width / std::max(1, light.width));
  const Picture small = resized(light, width, height);
  cv::Mat grey(height, width, CV_8U);
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x)
      grey.at<uint8_t>(y, x) =
          uint8_t(255 * std::pow(std::clamp(luminance(small.rgbAt(x, y)), 0.0f, 1.0f), 1 / 2.2f));
  cv::GaussianBlur(grey, grey, {5, 5}, 1.5);
  std::vector<cv::Vec3f> circles;
  cv::HoughCircles(grey, circles, cv::HOUGH_GRADIENT, 1.5, height, 120, 40, height / 6, height);
  if (circles.empty())
    return Error{
        words("No mirror ball is to be seen in the photo: say where it is, by its middle and its radius.")};
  const double s = double(light.width) / width;
  return BallPhoto{light, Vec2d(circles[0][0] + 0.5, circles[0][1] + 0.5) * s, circles[0][2] * s, 0};
}

namespace {

/// Fills a panorama by what `light` says of each direction.
template <typename Light>
Result<Picture> filled(int width, const Progress& progress, const Light& light) {
  Picture out = Picture::rgb(width, width / 2);
  tbb::parallel_for(0, out.height, [&](int y) {
    if (progress.cancelled()) return;
    for (int x = 0; x < width; ++x) {
      const Rgb c = light(panoramaDirection({(x + 0.5f) / width, (y + 0.5f) / out.height}));
      std::copy_n(&c.x, 3, out.at(x, y));
    }
  });
  if (progress.cancelled()) return cancelledError();
  return out;
}

}  // namespace

Result<Picture> fromBalls(const std::vector<BallPhoto>& photos, int width, const Progress& progress) {
  if (photos.empty()) return Error{words("No photo of a mirror ball was given.")};
  for (const BallPhoto& p : photos)
    if (p.radius <= 1 || p.light.empty())
      return Error{words("A mirror ball needs a radius of more than a pixel.")};
  return filled(width, progress, [&](const Vec3f& d) {
    Rgb sum(0);
    float weights = 0;
    for (const BallPhoto& p : photos) {
      const float a = float(radians(p.lookDegrees));
      // In the photo's own axes: right, up, and back towards its camera.
      const Vec3f right(std::cos(a), -std::sin(a), 0), back(-std::sin(a), -std::cos(a), 0);
      Vec3f n(d.dot(right), d.z, d.dot(back) + 1);
      if (n.length2() < 1e-8f) n = {1, 0, 0};
      n.normalize();
      const float rim = std::min(1.0f, 0.995f / std::max(1e-6f, std::hypot(n.x, n.y)));
      const float x = float(p.centre.x + p.radius * n.x * rim), y = float(p.centre.y - p.radius * n.y * rim);
      // A direction takes up the more of the photo the nearer it is to the camera's own.
      const float weight = std::pow(std::max(n.z, 1e-3f), 3.0f);
      sum += sampleBilinear(p.light, x, y) * weight, weights += weight;
    }
    return sum / weights;
  });
}

Result<Picture> fromFisheyes(const Picture& front, const Picture& back, double fovDegrees, int width,
                             const Progress& progress) {
  if (front.empty() || front.width != back.width || front.height != back.height)
    return Error{words("The two fisheye pictures must be of one size.")};
  if (fovDegrees < 180 || fovDegrees > 300)
    return Error{words("A pair of fisheye pictures needs a field of 180 to 300 degrees each.")};
  const float half = float(radians(fovDegrees)) / 2, radius = front.height / 2.0f,
              overlap = std::max(0.01f, half - pif / 2);
  return filled(width, progress, [&](const Vec3f& d) {
    Rgb sum(0);
    float weights = 0;
    for (const bool behind : {false, true}) {
      const Vec3f own = behind ? Vec3f(-d.x, -d.y, d.z) : d;
      const float off = std::acos(std::clamp(own.y, -1.0f, 1.0f));
      if (off > half) continue;
      const float level = std::max(1e-6f, std::hypot(own.x, own.z)), r = off / half * radius;
      const float weight = std::clamp((half - off) / (2 * overlap), 1e-4f, 1.0f);
      sum += sampleBilinear(behind ? back : front, front.width / 2.0f + r * own.x / level,
                            front.height / 2.0f - r * own.z / level) *
             weight;
      weights += weight;
    }
    return sum / std::max(weights, 1e-12f);
  });
}

}  // namespace dusk
