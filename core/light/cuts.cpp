#include "core/light/cuts.h"

#include <tbb/parallel_for.h>

#include "core/vantage/camera.h"

namespace dusk {
namespace {

constexpr double pixelDegrees = 0.11;

/// Log luminance brought to 8 bits: from the darkest fiftieth of the light that is there to the brightest.
class Coding {
 public:
  explicit Coding(const Picture& light) {
    std::vector<float> logs;
    const size_t pixels = light.pixels.size() / 3, step = std::max<size_t>(1, pixels / 20'000);
    for (size_t i = 0; i < pixels; i += step)
      logs.push_back(logOf(Rgb(light.pixels[i * 3], light.pixels[i * 3 + 1], light.pixels[i * 3 + 2])));
    const auto at = [&](double share) {
      const auto n = logs.begin() + long(share * double(logs.size() - 1));
      std::nth_element(logs.begin(), n, logs.end());
      return *n;
    };
    low_ = at(0.02), range_ = std::max(0.5f, at(0.98) - low_);
  }
  uchar code(const Rgb& light) const {
    return uchar(std::clamp(255 * (logOf(light) - low_) / range_, 0.0f, 255.0f));
  }

 private:
  static float logOf(const Rgb& light) { return std::log2(std::max(luminance(light), 0.0f) + 1e-3f); }
  float low_ = 0, range_ = 1;
};

}  // namespace

Vec3d Cut::direction(double x, double y) const { return rayThrough(camera, {x, y}); }

Cut cutOf(const Picture& photo, const Camera& camera) {
  const double degreesAcross = 2 * degrees(std::atan(camera.width / 2.0 / camera.focalPx));
  const int w = std::clamp(int(degreesAcross / pixelDegrees), 64, std::max(64, photo.width)),
            h = std::max(16, w * camera.height / camera.width);
  const Picture reduced = resized(photo, w, h);
  const Coding coding(reduced);
  Cut cut{resized(camera, w, h), cv::Mat(h, w, CV_8UC1)};
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w; ++x) cut.grey.at<uchar>(y, x) = coding.code(reduced.rgbAt(x, y));
  return cut;
}

std::vector<Cut> cutsOf(const Panorama& panorama) {
  constexpr int across = 8;
  constexpr double fov = 62, pitch = 27;
  const int size = int(fov / pixelDegrees);
  const Coding coding(resized(panorama.picture(), 512, 256));
  std::vector<Cut> cuts;
  for (const double up : {-pitch, pitch})
    for (int i = 0; i < across; ++i) {
      const double azimuth = 2 * pi * i / across, e = radians(up);
      const Vec3d to(std::cos(e) * std::sin(azimuth), std::cos(e) * std::cos(azimuth), std::sin(e));
      const double focal = size / 2.0 / std::tan(radians(fov / 2));
      cuts.push_back({lookAt(size, size, focal, Vec3d(0, 0, 0), to), cv::Mat(size, size, CV_8UC1)});
    }
  tbb::parallel_for(size_t{0}, cuts.size(), [&](size_t k) {
    Cut& cut = cuts[k];
    for (int y = 0; y < size; ++y)
      for (int x = 0; x < size; ++x) {
        const Vec3f d = toFloat(cut.direction(x + 0.5, y + 0.5));
        cut.grey.at<uchar>(y, x) = coding.code(panorama.radiance(d));
      }
  });
  return cuts;
}

bool isNearestTo(const std::vector<Cut>& cuts, size_t index, const Vec3d& direction) {
  const double own = cuts[index].camera.axes.z.dot(direction);
  return std::none_of(cuts.begin(), cuts.end(),
                      [&](const Cut& c) { return c.camera.axes.z.dot(direction) > own + 1e-12; });
}

}  // namespace dusk
