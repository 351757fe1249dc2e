// How near the truth renders come and what that costs: the demo's shot against a reference of many samples,
// threads, memory. `dusk-bench-noise [WIDTH] [REFERENCE SAMPLES] [FOLDER FOR PICTURES]`.
#include <tbb/parallel_for.h>
#include <unistd.h>

#include <chrono>
#include <cstdio>
#include <filesystem>
#include <opencv2/photo.hpp>

#include "bench/demo_scene.h"
#include "core/blend/blend.h"
#include "core/deliver/deliver.h"
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

/// Bytes of this process in memory.
double resident() {
  long pages = 0, all = 0;
  if (FILE* f = std::fopen("/proc/self/statm", "r")) {
    if (std::fscanf(f, "%ld %ld", &all, &pages) != 2) pages = 0;
    std::fclose(f);
  }
  return double(pages) * double(::sysconf(_SC_PAGESIZE));
}

/// The same number of samples for every pixel of the picture, whatever is there.
void plainPass(const Integrator& integrator, Film& film, int pass) {
  const int tiles = film.tilesAcross() * film.tilesDown();
  tbb::parallel_for(0, tiles, [&](int tile) {
    const int x0 = tile % film.tilesAcross() * Film::tileSize,
              y0 = tile / film.tilesAcross() * Film::tileSize;
    for (int y = y0; y < std::min(film.height(), y0 + Film::tileSize); ++y)
      for (int x = x0; x < std::min(film.width(), x0 + Film::tileSize); ++x)
        film.add(x, y, integrator.sample(x, y, uint32_t(pass)));
  });
}

/// Plain uniform sampling as it goes on: seconds and error, twice the samples from one to the next.
struct Plain {
  std::vector<std::pair<double, double>> steps;
  Plain(const Scene& scene, const Picture& plate, const Picture& truth,
        const std::vector<unsigned char>& where) {
    const Integrator integrator(scene);
    Film film(scene.camera.width, scene.camera.height, scene.lights->groups());
    double seconds = 0;
    for (int pass = 0; pass < 512;) {
      const auto begun = Clock::now();
      for (const int until = std::max(16, pass * 2); pass < until; ++pass) plainPass(integrator, film, pass);
      seconds += since(begun);
      steps.emplace_back(seconds, error(blend(Shot{}, film.resolve(), &plate), truth, where));
    }
  }
  /// Until it is as near as `wanted`; its error falls as one over the time.
  double secondsTo(double wanted) const {
    for (const auto& [seconds, is] : steps)
      if (is <= wanted) return seconds * is / wanted;
    return steps.back().first * steps.back().second / wanted;
  }
};

/// What a delivery's size takes: the denoiser, the film with every pass, and a second thread.
void wholeSize(DemoScene& demo) {
  Scene scene = demo.scene;
  scene.camera = resized(scene.camera, 1920, 1280);
  scene.samples = 16;
  Progress progress;
  Film film(1920, 1280, scene.lights->groups());
  double begunWith = resident();
  (void)render(scene, film, 16, progress);
  const auto begun = Clock::now();
  const Passes clean = denoised(film, 1, progress, true);
  std::printf("denoiser at 1920 x 1280, every pass: %.1f s\n", since(begun));
  std::printf("memory: %.0f MB a megapixel with every pass (%.0f of it the film)\n",
              (resident() - begunWith) / 1e6 / (1.92 * 1.28), double(film.memory()) / 1e6 / (1.92 * 1.28));
  double seconds[2];
  scene.camera = resized(scene.camera, 640, 427);
  for (int threads = 1; threads <= 2; ++threads) {
    const ThreadLimit limit(threads);
    Film small(640, 427, scene.lights->groups());
    const auto at = Clock::now();
    (void)render(scene, small, 24, progress);
    seconds[threads - 1] = since(at);
  }
  std::printf("two threads: %.2f times as fast as one\n", seconds[0] / seconds[1]);

  auto sheet = std::make_shared<Model>();
  Mesh mesh;
  constexpr unsigned side = 708;
  for (unsigned i = 0; i < side * side; ++i) {
    const float x = float(i % side) / side, y = float(i / side) / side;
    mesh.positions.push_back({x, y, 0.02f * std::sin(40 * x) * std::cos(31 * y)});
    mesh.normals.push_back({0, 0, 1});
  }
  for (unsigned y = 0; y + 1 < side; ++y)
    for (unsigned x = 0; x + 1 < side; ++x) {
      const unsigned a = y * side + x;
      for (const unsigned i : {a, a + 1, a + side, a + 1, a + side + 1, a + side}) mesh.indices.push_back(i);
    }
  sheet->add({"sheet", "sheet"}, std::move(mesh));
  begunWith = resident();
  const auto geometry = demo.cache.get(sheet, {});
  std::printf("memory: %.0f MB a million triangles to trace, besides the model's own %.0f\n",
              (resident() - begunWith) / double(sheet->triangles()), side * side * 24 / 1e6 + 12);
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
      for (int x = 0; x < w; ++x) where[size_t(y) * size_t(w) + size_t(x)] = film.influenced(x, y);
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

  std::printf("\n%-40s %10s %10s\n", "with a noise target, denoised, means of 3", "rel. MSE", "seconds");
  // One picture's error is luck, uniform sampling's most of all, which now and then draws a sample that
  // outshines all: of three with their own random numbers, our mean beside its median.
  std::vector<Plain> plain;
  for (scene.seed = 1; scene.seed <= 3; ++scene.seed) plain.emplace_back(scene, plate, truth, where);
  for (const float target : {0.08f, 0.05f, 0.03f}) {
    double seconds = 0, e = 0;
    for (uint32_t seed = 1; seed <= 3; ++seed) {
      Film film(w, h, scene.lights->groups());
      seconds += run(512, seed, target, film) / 3;
      const auto begun = Clock::now();
      const Passes clean = denoised(film, 1, progress);
      seconds += since(begun) / 3;
      e += error(blend(shot, clean, &plate), truth, where) / 3;
    }
    std::vector<double> took;
    for (const Plain& p : plain) took.push_back(p.secondsTo(e));
    std::sort(took.begin(), took.end());
    std::printf(
        "%4.0f %%                                   %10.6f %10.2f   uniform sampling: %.1f to %.1f s, "
        "median %.1f: %.1f times\n",
        double(target) * 100, e, seconds, took.front(), took.back(), took[1], took[1] / seconds);
  }
  std::puts("");
  wholeSize(demo);
  return 0;
}

}  // namespace dusk::bench

int main(int argc, char** argv) { return dusk::bench::main(argc, argv); }
