// Match against photos of which the truth is known: `dusk-bench-match [CASES] [PHOTO...]`. Each case is a
// made-up picture of walls, boards and blobs drawn fine, through a lens and a sensor of known character,
// rounded to 8 bits. Photographs of one's own are reduced and get grain of known strength.
#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <random>

#include "bench/made_up_photos.h"
#include "bench/match_photos.h"
#include "core/blend/blur.h"
#include "core/blend/grain.h"
#include "core/blend/measure_vignette.h"

using namespace dusk;

namespace {

/// Power of a correlation in four rings of frequency, of which the first is the lowest.
std::array<double, 4> bandsOf(const std::vector<double>& correlation) {
  constexpr int n = 32;
  std::array<double, 4> sum{}, count{};
  for (int v = 0; v < n; ++v)
    for (int u = 0; u < n; ++u) {
      const double power = grainPower(correlation, u, v, n);
      const double fu = std::min(u, n - u) / double(n), fv = std::min(v, n - v) / double(n);
      const size_t band = std::min<size_t>(3, size_t(std::hypot(fu, fv) * 8));
      sum[band] += power, count[band] += 1;
    }
  for (size_t i = 0; i < 4; ++i) sum[i] /= count[i];
  return sum;
}

struct Tally {
  int good = 0, all = 0;
  double sum = 0, most = 0;
  void add(double off, double allowed) {
    ++all, sum += off, most = std::max(most, off), good += off <= allowed;
  }
  void print(const char* what) const {
    if (all)
      std::printf("%-22s within in %d of %d, mean %.3f, largest %.3f\n", what, good, all, sum / all, most);
  }
};

}  // namespace

int main(int argc, char** argv) {
  const int cases = argc > 1 ? std::atoi(argv[1]) : 24;
  Tally sigma, bands, soft, fringe, none, halo, vignette, noVignette, covered;
  // Light lost at corners alone, of many more.
  for (int i = 0; i < 3 * cases; ++i)
    for (const double loss : {0.0, 0.1, 0.25, 0.4}) {
      const auto found = measureVignette(madeUpPhoto(unsigned(i), 900, 600, loss).light);
      if (!found || found->margin >= 0.02) continue;
      const double off = std::abs(found->loss - loss);
      (loss > 0 ? vignette : noVignette).add(off, 0.01), covered.add(off, 2 * found->margin + 0.003);
      std::printf("%2d  vignette %.3f of %.2f ± %.3f\n", i, found->loss, loss, found->margin);
    }
  for (int i = 0; i < cases; ++i) {
    const MadeUpPhoto photo = madeUpPhoto(unsigned(i));
    Progress progress;
    const GrainFound grain = grainOf(photo.codes);
    const std::vector<EdgeFit> edges = cleanEdges(photo.light, grain.sigma / 255 * 0.89, progress);
    const auto softness = softnessOf(edges, photo.light, {}, 0);
    const auto fringes = fringesOf(edges, photo.light.width, photo.light.height);
    std::printf("%2d  patches %5d  edges %4zu", i, grain.patches, edges.size());
    if (photo.grain > 0 && !grain.look.sigma.empty()) {
      double most = 0;
      for (const int code : {48, 80, 112, 144, 176, 208})
        for (int c = 0; c < 3; ++c) {
          const double off = std::abs(sigmaAt(grain.look, code, c) / photo.sigmaAt(code, c) - 1);
          sigma.add(off, 0.1), most = std::max(most, off);
        }
      const auto got = bandsOf(grain.look.correlation), truth = bandsOf(photo.correlation);
      double worst = 0;
      for (size_t b = 0; b < 4; ++b) {
        const double off = std::abs(got[b] - truth[b]) / std::max(truth[b], 0.1);
        bands.add(off, 0.1), worst = std::max(worst, off);
      }
      std::printf("  grain off %.3f  bands off %.3f", most, worst);
      for (size_t b = 0; b < 4; ++b) std::printf(" %.2f/%.2f", got[b], truth[b]);
    } else if (photo.grain > 0) {
      sigma.add(1, 0.1), std::printf("  grain not found");
    } else {
      none.add(grain.look.sigma.empty() ? 0 : 1, 0.5);
    }
    if (softness) {
      double most = 0;
      for (size_t c = 0; c < 3; ++c)
        most = std::max(most, std::abs(softness->sigma[c] / photo.edgeSigma[c] - 1));
      soft.add(most, 0.07), halo.add(std::abs(softness->halo - photo.halo), 0.1);
      std::printf("  soft %.3f of %.3f off %.3f  halo %.2f of %.2f", softness->sigma[1], photo.edgeSigma[1],
                  most, softness->halo, photo.halo);
    } else {
      soft.add(1, 0.07), std::printf("  no softness");
    }
    if (fringes) {
      const double corner = std::hypot(photo.light.width, photo.light.height) / 2 / 1000;
      const double off =
          std::max(std::abs(fringes->scale.x - photo.fringe.x), std::abs(fringes->scale.y - photo.fringe.y)) *
          corner;
      fringe.add(off, 0.15), std::printf("  fringe off %.3f px", off);
    } else {
      fringe.add(1, 0.15);
    }
    std::printf("\n");
  }
  sigma.print("grain (10 %)"), bands.print("spectrum (10 %)"), soft.print("edge spread (7 %)");
  halo.print("halo (0.1)"), fringe.print("fringes (0.15 px)"), none.print("no grain found");
  vignette.print("vignette (1 %)"), noVignette.print("no vignette (1 %)"),
      covered.print("within two margins");
  if (argc > 2) study::grainOnPhotos({argv + 2, argv + argc});
}
