// How near the truth renders come: the demo's shot against a reference of many samples. `dusk-bench-noise
// [WIDTH] [REFERENCE SAMPLES] [FOLDER FOR PICTURES]`.
#include <chrono>
#include <cstdio>
#include <filesystem>
#include <opencv2/photo.hpp>

#include "bench/demo_scene.h"
#include "core/blend/blend.h"
#include "core/picture/write.h"
#include "core/trace/denoise.h"
#include "core/trace/render.h"

namespace dusk::bench {

namespace {

using Clock = std::chrono::steady_clock;
double since(Clock::time_point begun) { return std::chrono::duration<double>(Clock::now() - begun).count(); }

/// Relative mean squared error over the pixels that the product influences.
double error(const Picture& is, const Picture& truth, const std::vector<unsigned char>& where) {
  double sum = 0;
  size_t count = 0;
  for (size_t i = 0; i < where.size(); ++i) {
    if (!where[i]) continue;
    for (size_t c = 0; c < 3; ++c) {
      const double d = is.pixels[i * 3 + c] - truth.pixels[i * 3 + c], t = truth.pixels[i * 3 + c];
      sum += d * d / (t * t + 0.01);
    }
    count += 3;
  }
  return sum / double(std::max<size_t>(count, 1));
}

/// The same on 8-bit code values, for a peer that works on those.
Picture codes(const Picture& linear, const ColourView& view) {
  Picture out = displayed(linear, view);
  for (float& v : out.pixels) v = std::round(std::clamp(v, 0.0f, 1.0f) * 255) / 255;
  return out;
}

}  // namespace

int main(int argc, char** argv) {
  const int width = argc > 1 ? std::atoi(argv[1]) : 640,
            referenceSamples = argc > 2 ? std::atoi(argv[2]) : 4096;
  DemoScene demo(width);
  Scene& scene = demo.scene;
  const int w = scene.camera.width, h = scene.camera.height;
  const Picture plate = resized(*scene.plate, w, h);
  const Shot shot;
  Progress progress;
  const auto view = *ColourView::make("plain sRGB");
  const auto run = [&](int samples, uint32_t seed, float target, Film& film) {
    scene.seed = seed, scene.samples = samples, scene.noiseTarget = target;
    const auto begun = Clock::now();
    (void)render(scene, film, samples, progress);
    return since(begun);
  };

  // The reference is kept between runs of this program: it takes long.
  const auto file = std::filesystem::temp_directory_path() /
                    ("dusk-reference-" + std::to_string(w) + "-" + std::to_string(referenceSamples) + ".raw");
  Picture truth = Picture::rgb(w, h);
  std::vector<unsigned char> where(size_t(w) * size_t(h));
  if (FILE* in = std::fopen(file.c_str(), "rb")) {
    if (std::fread(truth.pixels.data(), 4, truth.pixels.size(), in) != truth.pixels.size() ||
        std::fread(where.data(), 1, where.size(), in) != where.size())
      return 1;
    std::fclose(in);
  } else {
    Film film(w, h, scene.lights->groups());
    std::printf("reference: %.0f s\n", run(referenceSamples, 999, 0, film));
    truth = blend(shot, film.resolve(), &plate);
    for (int y = 0; y < h; ++y)
      for (int x = 0; x < w; ++x) where[size_t(y) * size_t(w) + size_t(x)] = film.touched(x, y);
    if (FILE* out = std::fopen(file.c_str(), "wb")) {
      std::fwrite(truth.pixels.data(), 4, truth.pixels.size(), out);
      std::fwrite(where.data(), 1, where.size(), out);
      std::fclose(out);
    }
  }

  std::printf("\n%-40s %10s %10s\n", "the demo's shot", "rel. MSE", "seconds");
  for (const int samples : {16, 64, 256}) {
    Film film(w, h, scene.lights->groups());
    const double seconds = run(samples, 1, 0, film);
    const double e = error(blend(shot, film.resolve(), &plate), truth, where);
    std::printf("%4d samples                             %10.6f %10.2f\n", samples, e, seconds);
    const auto begun = Clock::now();
    const Passes clean = denoised(film, 1, progress);
    const double taken = since(begun);
    std::printf("%4d samples, denoised                   %10.6f %10.2f\n", samples,
                error(blend(shot, clean, &plate), truth, where), seconds + taken);
    if (argc > 3 && samples == 64) {
      const std::filesystem::path folder = argv[3];
      (void)writePng8(folder / "noisy.png", displayed(blend(shot, film.resolve(), &plate), *view));
      (void)writePng8(folder / "denoised.png", displayed(blend(shot, clean, &plate), *view));
      (void)writePng8(folder / "reference.png", displayed(truth, *view));
    }
    if (samples != 64) continue;
    const Picture noisy = codes(blend(shot, film.resolve(), &plate), *view), goal = codes(truth, *view),
                  ours = codes(blend(shot, clean, &plate), *view);
    cv::Mat from(h, w, CV_8UC3), peer;
    for (int y = 0; y < h; ++y)
      for (int x = 0; x < w; ++x)
        for (int c = 0; c < 3; ++c)
          from.at<cv::Vec3b>(y, x)[2 - c] = uchar(std::lround(noisy.at(x, y)[c] * 255));
    double best = 1e9;
    for (const float strength : {3.f, 5.f, 8.f, 12.f}) {
      cv::fastNlMeansDenoisingColored(from, peer, strength, strength);
      Picture theirs = Picture::rgb(w, h);
      for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x)
          for (int c = 0; c < 3; ++c) theirs.at(x, y)[c] = float(peer.at<cv::Vec3b>(y, x)[2 - c]) / 255;
      best = std::min(best, error(theirs, goal, where));
    }
    std::printf(
        "  on code values: noisy %.6f, ours %.6f, cv::fastNlMeansDenoisingColored at its best %.6f: ours is "
        "%.2f of it\n",
        error(noisy, goal, where), error(ours, goal, where), best, error(ours, goal, where) / best);
    std::printf("  film %.1f MB for %.2f megapixels, all passes\n", double(film.memory()) / 1e6, w * h / 1e6);
  }
  return 0;
}

}  // namespace dusk::bench

int main(int argc, char** argv) { return dusk::bench::main(argc, argv); }
