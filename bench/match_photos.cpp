#include "bench/match_photos.h"

#include <algorithm>
#include <cstdio>
#include <opencv2/imgproc.hpp>
#include <opencv2/photo.hpp>

#include "bench/made_up_photos.h"
#include "core/base/srgb.h"
#include "core/blend/grain.h"
#include "core/blend/product_rows.h"
#include "core/picture/read.h"

namespace dusk::study {
namespace {

constexpr int side = 1500;
constexpr double levels[] = {0, 1, 2.5, 6};
constexpr double read = 0.01;  ///< light whose photons are as noisy as reading

/// Deviation at a code value: of a sensor behind the plain sRGB curve, or of a camera that lifts and rolls
/// off as cameras do, whose grain is even from the shadows on and less towards white.
double deviationAt(double level, double code, bool camera) {
  if (camera) return level * (1.2 - 0.5 * code / 255) * std::min(1.0, (code + 6) / 30);
  const double light = srgbDecoded(code / 255), grey = srgbDecoded(118 / 255.0);
  return level * std::sqrt((read + light) / (read + grey)) * srgbSlope(grey) / srgbSlope(light);
}

/// Reduced, and without what grain that left: non-local means (Buades, Coll & Morel 2005, "A Non-Local
/// Algorithm for Image Denoising") of another library than ours.
Picture quiet(const PackedPicture& p) {
  const double share = std::min(0.5, double(side) / std::max(p.width, p.height));
  Picture out = resized(p, int(p.width * share), int(p.height * share));
  cv::Mat codes(out.height, out.width, CV_8UC3), clean;
  for (int y = 0; y < out.height; ++y)
    for (int x = 0; x < out.width; ++x)
      for (int c = 0; c < 3; ++c)
        codes.at<cv::Vec3b>(y, x)[c] = uchar(std::lround(255 * std::clamp(out.at(x, y)[c], 0.0f, 1.0f)));
  cv::fastNlMeansDenoising(codes, clean, 3, 5, 15);
  for (int y = 0; y < out.height; ++y)
    for (int x = 0; x < out.width; ++x)
      for (int c = 0; c < 3; ++c) out.at(x, y)[c] = float(clean.at<cv::Vec3b>(y, x)[c]) / 255;
  return out;
}

Picture withGrain(const Picture& photo, double level, bool camera, unsigned seed) {
  Picture out = photo;
  const std::vector<double> correlation = correlationOfBlur(0.25 + 0.25 * (seed % 4));
  const PixelArea whole{0, 0, photo.width, photo.height};
  Evaluator evaluator;
  const Sheet noise = evaluator.sheet(noiseField(whole, correlation, {0.5, 0.4, 0.5}, int(seed) + 1), whole);
  for (int y = 0; y < out.height; ++y)
    for (int x = 0; x < out.width; ++x)
      for (int c = 0; c < 3; ++c) {
        const double code = 255.0 * photo.at(x, y)[c];
        out.at(x, y)[c] = float(std::lround(std::clamp(
                              code + deviationAt(level, code, camera) * noise.at(c, x, y), 0.0, 255.0))) /
                          255;
      }
  return out;
}

struct Tally {
  int all = 0, near = 0, fair = 0, silent = 0, wrong = 0;
};

void measureOne(const Picture& photo, unsigned seed, Tally* tallies) {
  for (size_t l = 0; l < std::size(levels); ++l)
    for (const bool camera : {false, true}) {
      if (levels[l] == 0 && camera) continue;
      const GrainFound g = grainOf(withGrain(photo, levels[l], camera, seed));
      Tally& t = tallies[l];
      ++t.all;
      std::printf("  %3.1f%s flat %4d", levels[l], camera ? "c" : " ", g.patches);
      if (g.look.sigma.empty()) {
        ++t.silent, std::printf(" none\n");
        continue;
      }
      double least = 1e9, most = 0;
      for (const double code : {24.0, 48.0, 80.0, 112.0, 144.0, 176.0, 208.0, 232.0}) {
        const double truth = levels[l] > 0 ? deviationAt(levels[l], code, camera) : 1,
                     ratio = sigmaAt(g.look, code, 1) / truth;
        least = std::min(least, ratio), most = std::max(most, ratio);
      }
      std::printf(" grey %.2f, of the truth %.2f to %.2f\n", sigmaAt(g.look, 118, 1), least, most);
      if (levels[l] == 0) {
        t.wrong += most > 1;
        continue;
      }
      const auto within = [&](double times) { return least > 1 / times && most < times; };
      t.near += within(1.2), t.fair += within(1.6), t.wrong += least < 0.5 || most > 2;
    }
}

}  // namespace

void grainOnPhotos(const std::vector<std::string>& files) {
  Tally tallies[std::size(levels)];
  unsigned seed = 0;
  for (const std::string& file : files) {
    const auto photo = readPhoto(file);
    if (!photo) {
      std::printf("%s\n", photo.error().message.c_str());
      continue;
    }
    std::printf("%s\n", file.c_str());
    measureOne(quiet(photo->picture), seed++, tallies);
  }
  for (size_t l = 0; l < std::size(levels); ++l) {
    const Tally& t = tallies[l];
    std::printf(
        "grain %.1f: %d of %d say nothing, %d within 1.2 times at every brightness, %d within 1.6, %d "
        "off by more than 2\n",
        levels[l], t.silent, t.all, t.near, t.fair, t.wrong);
  }
}

}  // namespace dusk::study
