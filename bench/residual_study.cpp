// Whether the grain put on a product can be told from the photo's: `dusk-bench-residual [CASES]`. Even
// patches of the photo's own sensor, of known character, beside even patches of a product on which the grain
// lies that was measured in the photo. What is left of each about its mean is compared at like brightness by
// the two-sample test of Kolmogorov and Smirnov at 5 %: the values, and the steps from pixel to pixel, which
// tell the spectrum. Two halves of one thing pass in 95 of 100. Looks lie so far apart that each is its own.
#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <random>

#include "bench/made_up_photos.h"
#include "core/base/srgb.h"
#include "core/blend/grain.h"
#include "core/blend/product_rows.h"

using namespace dusk;

namespace {

constexpr int side = 64, apart = 4;
constexpr int codes[] = {40, 64, 96, 128, 160, 192, 224};
constexpr int patches = int(std::size(codes));

/// An even patch for each brightness, side by side, as light.
std::shared_ptr<Picture> evenPatches() {
  auto p = std::make_shared<Picture>(Picture::rgb(side * patches, side));
  for (int y = 0; y < side; ++y)
    for (int x = 0; x < p->width; ++x) std::fill_n(p->at(x, y), 3, srgbDecoded(float(codes[x / side]) / 255));
  return p;
}

/// As a file of 8 bits holds it.
float coded(float light) {
  return float(std::lround(255 * std::clamp(srgbEncoded(std::max(0.0f, light)), 0.0f, 1.0f)));
}

struct Looks {
  std::vector<float> values, steps;
};

Looks looksAt(const Sheet& sheet, int channel, int patch, unsigned seed) {
  Looks looks;
  // Whole codes about means that are none would tell the means apart, not the grain.
  std::mt19937 random(seed);
  std::uniform_real_distribution<float> within(-0.5f, 0.5f);
  double mean = 0;
  for (int y = 0; y < side; ++y)
    for (int x = 0; x < side; ++x)
      mean += double(coded(sheet.at(channel, patch * side + x, y))) / side / side;
  for (int y = 0; y < side; y += apart)
    for (int x = 0; x + 1 < side; x += apart) {
      const float v = coded(sheet.at(channel, patch * side + x, y));
      looks.values.push_back(v + within(random) - float(mean));
      looks.steps.push_back(coded(sheet.at(channel, patch * side + x + 1, y)) - v + within(random));
    }
  return looks;
}

/// Whether two samples may be of one distribution, at 5 %.
bool mayBeOne(std::vector<float> a, std::vector<float> b) {
  std::sort(a.begin(), a.end()), std::sort(b.begin(), b.end());
  double most = 0;
  for (const auto* each : {&a, &b})
    for (const float v : *each) {
      const auto below = [v](const std::vector<float>& of) {
        return double(std::upper_bound(of.begin(), of.end(), v) - of.begin()) / double(of.size());
      };
      most = std::max(most, std::abs(below(a) - below(b)));
    }
  const double n = double(a.size()), m = double(b.size());
  return most < 1.358 * std::sqrt((n + m) / (n * m));
}

/// Passed of all.
struct Tally {
  int passed = 0, all = 0;
  void add(bool one) { ++all, passed += one; }
  double percent() const { return all ? 100.0 * passed / all : 0; }
};

/// The photo's sensor over the patches.
Sheet photographed(const MadeUpPhoto& photo, const Picture& light, int seed) {
  Evaluator evaluator;
  const PixelArea whole{0, 0, light.width, light.height};
  Sheet noise = evaluator.sheet(noiseField(whole, photo.correlation, {0.3, 0.2, 0.3}, seed), whole);
  for (int c = 0; c < 3; ++c)
    for (int y = 0; y < light.height; ++y)
      for (int x = 0; x < light.width; ++x) {
        const double v = double(light.at(x, y)[c]);
        noise.row(c, y)[x] =
            float(v + std::sqrt(photo.read + photo.shot * v) * photo.channel[c] * double(noise.at(c, x, y)));
      }
  return noise;
}

/// The patches with a grain that was measured put on.
Sheet matched(const std::shared_ptr<Picture>& light, const GrainLook& look) {
  Evaluator evaluator;
  const PixelArea whole{0, 0, light->width, light->height};
  auto nothing = std::make_shared<Picture>(Picture::rgb(light->width, light->height)),
       all = std::make_shared<Picture>(*nothing);
  std::fill(all->pixels.begin(), all->pixels.end(), 1.0f);
  BlendFrame frame;
  frame.whole = whole, frame.scale = 1;
  return evaluator.sheet(grained(sourceOf(light, whole, 3), sourceOf(nothing, whole, 3),
                                 sourceOf(all, whole, 3), look, 1, frame),
                         whole);
}

}  // namespace

int main(int argc, char** argv) {
  const int cases = argc > 1 ? std::atoi(argv[1]) : 24;
  Tally values, steps, own;
  const auto light = evenPatches();
  for (int i = 0; i < cases; ++i) {
    const MadeUpPhoto photo = madeUpPhoto(unsigned(i));
    if (photo.grain <= 0) continue;
    const GrainFound found = grainOf(photo.codes);
    const Sheet theirs = photographed(photo, *light, 1000 + i), other = photographed(photo, *light, 5000 + i),
                ours = matched(light, found.look);
    Tally here;
    for (int c = 0; c < 3; ++c)
      for (int p = 0; p < patches; ++p) {
        const Looks a = looksAt(theirs, c, p, 1), b = looksAt(ours, c, p, 2), again = looksAt(other, c, p, 3);
        const bool v = mayBeOne(a.values, b.values), s = mayBeOne(a.steps, b.steps);
        values.add(v), steps.add(s), here.add(v && s);
        own.add(mayBeOne(a.values, again.values) && mayBeOne(a.steps, again.steps));
      }
    std::printf("%2d  grain %.2f codes  both pass in %d of %d\n", i, photo.grain, here.passed, here.all);
  }
  std::printf(
      "values %.1f %%, steps %.1f %% of %d patches pass; both tests on two of the photo's own %.1f %%\n",
      values.percent(), steps.percent(), values.all, own.percent());
}
