// How well spots of photographs are filled of which it is known what was there: `dusk-bench-clean [SPOTS]
// [PHOTO...]`.
#include <chrono>
#include <cmath>
#include <cstdio>
#include <random>

#include "core/assets/clean_plate.h"
#include "core/colour/difference.h"
#include "core/picture/read.h"

using namespace dusk;

namespace {

CleanUp roundSpot(const Vec2d& at, const Vec2d& radius) {
  CleanUp c;
  c.name = "spot", c.marginPx = 0;
  for (int i = 0; i < 40; ++i) {
    const double a = i * M_PI / 20;
    c.loop.push_back(at + Vec2d(std::cos(a) * radius.x, std::sin(a) * radius.y));
  }
  return c;
}

struct Measured {
  double grain = 0, border = 0, colour = 0, seconds = 0;
};

/// How a filled spot compares with what was there: its fine detail and the steps over its border as ratios,
/// the colours of blocks of 8 pixels as CIEDE2000.
Measured measured(const PackedPicture& truth, const CleanUp& cleanUp) {
  Measured m;
  Progress progress;
  const auto begun = std::chrono::steady_clock::now();
  const auto spot = fillSpot(truth, cleanUp, progress);
  m.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
  if (!spot) return m;
  PackedPicture clean = truth;
  putIn(clean, *spot);
  const auto isFilled = [&](int x, int y) {
    const PixelArea& a = spot->area;
    return x >= a.x0 && x < a.x1 && y >= a.y0 && y < a.y1 &&
           spot->filled[size_t(y - a.y0) * size_t(a.width()) + size_t(x - a.x0)];
  };
  double fine[2]{}, step[2]{}, difference = 0, blocks = 0;
  const PackedPicture* both[] = {&truth, &clean};
  for (int y = std::max(1, spot->area.y0); y < std::min(truth.height - 1, spot->area.y1); ++y)
    for (int x = std::max(1, spot->area.x0); x < std::min(truth.width - 1, spot->area.x1); ++x) {
      if (!isFilled(x, y)) continue;
      for (int k = 0; k < 2; ++k) {
        const auto g = [&](int u, int v) { return double(both[k]->rgbAt(u, v).y); };
        fine[k] += std::pow(g(x, y) - 0.25 * (g(x - 1, y) + g(x + 1, y) + g(x, y - 1) + g(x, y + 1)), 2);
        if (!isFilled(x + 1, y)) step[k] += std::abs(g(x + 1, y) - g(x, y));
        if (!isFilled(x, y + 1)) step[k] += std::abs(g(x, y + 1) - g(x, y));
      }
      if (x % 8 || y % 8 || !isFilled(x + 7, y + 7) || !isFilled(x + 7, y) || !isFilled(x, y + 7)) continue;
      Vec3d mean[2]{Vec3d(0), Vec3d(0)};
      for (int k = 0; k < 2; ++k)
        for (int i = 0; i < 64; ++i) {
          const Rgb c = both[k]->rgbAt(x + i % 8, y + i / 8);
          mean[k] += Vec3d(c.x, c.y, c.z) / 64;
        }
      difference += ciede2000(labOfSrgb(mean[0]), labOfSrgb(mean[1])), ++blocks;
    }
  m.grain = std::sqrt(fine[1] / std::max(1e-12, fine[0])), m.border = step[1] / std::max(1e-12, step[0]);
  m.colour = difference / std::max(1.0, blocks);
  return m;
}

void tell(const char* what, std::vector<double> all) {
  std::sort(all.begin(), all.end());
  const auto at = [&](double q) { return all[size_t(q * double(all.size() - 1))]; };
  std::printf("  %-34s 10 %%: %6.2f   median: %6.2f   90 %%: %6.2f\n", what, at(0.1), at(0.5), at(0.9));
}

}  // namespace

int main(int argc, char** argv) {
  const int spots = argc > 1 ? std::max(1, std::atoi(argv[1])) : 20;
  std::vector<std::string> files;
  for (int i = 2; i < argc; ++i) files.emplace_back(argv[i]);
  if (files.empty())
    for (const char* f :
         {"brackwater/quay-plate.jpg", "boathouse/boathouse-plate.jpg", "slipway/slipway-plate.jpg"})
      files.push_back(std::string(DUSK_SOURCE "/demo/") + f);
  for (const std::string& file : files) {
    const auto photo = readPhoto(file);
    if (!photo) return std::fprintf(stderr, "%s\n", photo.error().message.c_str()), 1;
    std::mt19937 random(7);
    std::uniform_real_distribution<double> share(0.08, 0.92), size(25, 110);
    std::vector<double> grain, border, colour, seconds;
    for (int i = 0; i < spots; ++i) {
      const Vec2d at(share(random) * photo->picture.width, share(random) * photo->picture.height);
      const Vec2d radius(size(random), size(random));
      const Measured m = measured(photo->picture, roundSpot(at, radius));
      grain.push_back(m.grain), border.push_back(m.border), colour.push_back(m.colour),
          seconds.push_back(m.seconds);
    }
    std::printf("%s, %d spots 50 to 220 pixels wide\n", file.c_str(), spots);
    tell("fine detail, of the truth's", grain), tell("steps over the border, of the truth's", border);
    tell("colour off the truth, CIEDE2000", colour), tell("seconds", seconds);
  }
  return 0;
}
