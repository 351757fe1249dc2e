// How right the light is that is found: `dusk-bench-light [CASES]`. Panoramas turned, mirrored and brightened
// at random against photos of the made-up quay; brackets of a known place, with OpenCV's merge as a peer.
#include <chrono>
#include <cstdio>
#include <opencv2/imgcodecs.hpp>
#include <opencv2/photo.hpp>
#include <random>

#include "bench/demo_scene.h"
#include "core/light/align.h"
#include "core/light/merge.h"

namespace dusk::bench {
namespace {

void alignments(int cases) {
  const std::filesystem::path demo = std::filesystem::path(DUSK_SOURCE) / "demo/brackwater";
  const Project project = *loadProject(demo / "brackwater.dusk");
  const Shot& shot = project.shots[0];
  AssetStore assets(demo);
  const auto plate = *assets.plate(shot);
  const auto truth = *assets.panorama(shot.surroundings.panorama);
  std::mt19937 random(20);
  std::uniform_real_distribution<> turn(-180, 180), gain(-3, 3);
  int right = 0, mirrors = 0, unflagged = 0;
  double seconds = 0, worstTurn = 0, worstGain = 0;
  for (int i = 0; i < cases; ++i) {
    Surroundings s;
    s.turnDegrees = turn(random), s.gainEv = gain(random), s.mirrored = i % 2;
    Picture p = Picture::rgb(4096, 2048);
    for (int y = 0; y < p.height; ++y)
      for (int x = 0; x < p.width; ++x) {
        const Vec3f d = panoramaDirection({(float(x) + 0.5f) / 4096, (float(y) + 0.5f) / 2048});
        const Rgb c = truth->radiance(worldFromPanorama(s, d)) * float(std::exp2(-s.gainEv));
        std::copy_n(&c.x, 3, p.at(x, y));
      }
    const auto panorama = Panorama::make(std::move(p));
    const auto begun = std::chrono::steady_clock::now();
    Progress progress;
    const auto found = align(*plate, shot.vantage.camera, *panorama, captureGuess(shot), progress);
    seconds += std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
    if (!found) continue;
    const Alignment::Peak& best = found->best();
    const double off = std::abs(wrapDegrees(best.turnDegrees - s.turnDegrees)),
                 ev = std::abs(best.gainEv - s.gainEv - 3);
    const bool good = best.mirrored == s.mirrored && off < 1 && ev < 0.1;
    mirrors += best.mirrored == s.mirrored, right += good;
    unflagged += !good && !found->ambiguous;
    worstTurn = std::max(worstTurn, off), worstGain = std::max(worstGain, ev);
    if (!good) std::printf("  off by %.2f deg, %.3f EV\n", off, ev);
  }
  std::printf(
      "aligned: %d of %d within 1 deg and 0.1 EV (worst %.2f deg, %.3f EV), mirrored state right in %d, "
      "wrong and not said to be ambiguous %d, %.1f s each for a 4k panorama\n",
      right, cases, worstTurn, worstGain, mirrors, unflagged, seconds / cases);
}

double meanOff(const Picture& is, const Picture& truth) {
  std::vector<double> ratio;
  for (int y = 4; y < truth.height; y += 4)
    for (int x = 12; x + 12 < truth.width; x += 8)
      for (int c = 0; c < 3; ++c)
        if (is.at(x, y)[c] > 0) ratio.push_back(std::log(double(is.at(x, y)[c]) / double(truth.at(x, y)[c])));
  std::vector<double> sorted = ratio;
  std::sort(sorted.begin(), sorted.end());
  double off = 0;
  for (const double r : ratio) off += std::abs(r - sorted[sorted.size() / 2]);
  return off / double(ratio.size());
}

void brackets() {
  // Patches over 18 EV, photographed nine times, two EV apart, as JPEGs.
  Picture truth = Picture::rgb(480, 320);
  for (int y = 0; y < truth.height; ++y)
    for (int x = 0; x < truth.width; ++x)
      for (int c = 0; c < 3; ++c)
        truth.at(x, y)[c] = std::exp2(18.0f * float(x / 8) / 60 - 9 + 0.6f * float((x / 8 + y / 8) % 2)) *
                            (1 + 0.2f * float(c - 1)) * (1 + 0.15f * float(y) / 320);
  std::mt19937 random(1);
  std::normal_distribution<float> bell;
  std::vector<Exposure> photos;
  std::vector<cv::Mat> files;
  std::vector<float> times;
  for (int i = 0; i < 9; ++i) {
    const float seconds = 0.01f * std::exp2(float(i - 4) * 2);
    cv::Mat photo(truth.height, truth.width, CV_8UC3), read;
    for (int y = 0; y < truth.height; ++y)
      for (int x = 0; x < truth.width; ++x)
        for (int c = 0; c < 3; ++c) {
          const float v = truth.at(x, y)[c] * seconds / 0.01f;
          const float t = std::min(1.0f, std::max(0.0f, v + bell(random) * std::sqrt(1e-6f + 1e-4f * v)));
          photo.at<cv::Vec3b>(y, x)[2 - c] =
              uchar(std::lround(std::pow(t, 1 / 2.1f) * (1.12f - 0.12f * t) * 255));
        }
    std::vector<uchar> jpeg;
    cv::imencode(".jpg", photo, jpeg, {cv::IMWRITE_JPEG_QUALITY, 95});
    read = cv::imdecode(jpeg, cv::IMREAD_COLOR);
    Exposure e;
    e.seconds = double(seconds), e.codes = Picture::rgb(truth.width, truth.height);
    for (int y = 0; y < truth.height; ++y)
      for (int x = 0; x < truth.width; ++x)
        for (int c = 0; c < 3; ++c) e.codes.at(x, y)[c] = float(read.at<cv::Vec3b>(y, x)[2 - c]) / 255;
    photos.push_back(std::move(e));
    files.push_back(read), times.push_back(seconds);
  }
  Progress progress;
  const auto merged = mergeBracket(photos, progress);
  cv::Mat response, light;
  cv::createCalibrateDebevec(200)->process(files, response, times);
  cv::createMergeDebevec()->process(files, light, times, response);
  Picture peer = Picture::rgb(truth.width, truth.height);
  for (int y = 0; y < truth.height; ++y)
    for (int x = 0; x < truth.width; ++x)
      for (int c = 0; c < 3; ++c) peer.at(x, y)[c] = light.at<cv::Vec3f>(y, x)[2 - c];
  if (merged)
    std::printf("bracket of nine JPEGs: light off by %.1f %% over %.1f EV; cv::MergeDebevec %.1f %%\n",
                meanOff(merged->light, truth) * 100, merged->rangeEv, meanOff(peer, truth) * 100);
}

}  // namespace
}  // namespace dusk::bench

int main(int argc, char** argv) {
  dusk::bench::brackets();
  dusk::bench::alignments(argc > 1 ? std::atoi(argv[1]) : 20);
  return 0;
}
