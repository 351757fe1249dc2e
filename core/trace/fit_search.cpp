#include <tbb/parallel_for.h>

#include "core/base/srgb.h"
#include "core/surface/made_surface.h"
#include "core/trace/fit_trace.h"
#include "core/trace/integrator.h"

namespace dusk {
namespace {

constexpr uint32_t otherSeed = 57;

/// How much the eye makes of a small difference at that light: the slope of the code. Differences themselves
/// stay straight, so that the noise in what is traced does not bend them.
double eyeSlope(float linear) { return 1 / srgbSlope(std::clamp(double(linear), 0.004, 1.0)); }

/// Of the square of what is left at a pixel, that on which two traces by other random numbers agree.
double agreedAt(const FitPatch& patch, size_t pixel, int channel, float one, float other, double weight) {
  return leftAt(patch, pixel, channel, one, weight) * leftAt(patch, pixel, channel, other, weight);
}

/// By what a base of 0 and one of 1 look like, twice by other random numbers: what is seen lies on the line
/// between them, but for light that comes back to the part from itself.
struct Line {
  std::vector<Rgb> dark[2], bright[2];
};

/// The base that comes nearest to the photo, channel by channel, and what it leaves.
FitStart nearest(const FitPatch& patch, const std::vector<Vec3d>& weights, const Line& line, FitGuess guess) {
  FitStart start{guess, 0};
  for (int c = 0; c < 3; ++c) {
    double& base = start.guess.values[c];
    const auto seen = [&](int half, size_t i) {
      const float dark = line.dark[half][i][c];
      return dark + float(base) * (line.bright[half][i][c] - dark);
    };
    // What is clipped counts once it is known which side of the clip the base puts it.
    for (const bool first : {true, false}) {
      double up = 0, down = 0;
      for (size_t i = 0; i < weights.size(); ++i) {
        const float photo = patch.seen[i][c], both = (seen(0, i) + seen(1, i)) / 2;
        if (photo >= patch.clipped && (first || both >= photo)) continue;
        const double w = weights[i][c] * weights[i][c];
        double dark = 0, slope = 0;
        for (int half = 0; half < 2; ++half)
          dark += line.dark[half][i][c] / 2.0,
              slope += (line.bright[half][i][c] - line.dark[half][i][c]) / 2.0;
        up += w * slope * (double(photo) - dark), down += w * slope * slope;
      }
      if (down > 0) base = std::clamp(up / down, leastOf(c), 1.0);
    }
    for (size_t i = 0; i < weights.size(); ++i)
      start.left += agreedAt(patch, i, c, seen(0, i), seen(1, i), weights[i][c]);
  }
  return start;
}

class Search {
 public:
  Search(const Scene& scene, const FitPatch& patch, const Surface& from)
      : patch_(patch),
        from_(from),
        weights_(fitWeights(patch)),
        one_(scene, patch, looks),
        other_(scene, patch, looks, otherSeed) {}

  FitStart at(FitGuess guess) const {
    Line line;
    for (const double base : {0.0, 1.0}) {
      std::fill_n(guess.values, 3, base);
      const BsdfParameters p = parametersFor(from_, guess, guess.values);
      auto& to = base > 0 ? line.bright : line.dark;
      to[0] = one_.with(p), to[1] = other_.with(p);
    }
    return nearest(patch_, weights_, line, guess);
  }

 private:
  static constexpr int looks = 24;
  const FitPatch& patch_;
  const Surface& from_;
  std::vector<Vec3d> weights_;
  FitTracer one_, other_;
};

constexpr double bareRoughness[] = {0.03, 0.06, 0.1, 0.14, 0.19, 0.25, 0.32, 0.4, 0.5, 0.62, 0.78, 1};
constexpr double underCoat[] = {0.25, 0.45, 0.7, 1}, ofCoat[] = {0.02, 0.05, 0.09, 0.15, 0.25};

}  // namespace

BsdfParameters parametersFor(const Surface& from, const FitGuess& g, const double* v) {
  BsdfParameters p = parametersOf(from);
  p.emission = Rgb(0), p.transmission = 0, p.subsurface = 0, p.opacity = 1;
  p.base = {float(v[0]), float(v[1]), float(v[2])}, p.roughness = float(v[3]);
  p.metalness = g.metal ? 1 : 0;
  p.clearcoat = g.coated ? float(v[4]) : 0, p.clearcoatRoughness = g.coated ? float(v[5]) : 0.1f;
  return p;
}

FitTracer::FitTracer(const Scene& scene, const FitPatch& patch, int looks, uint32_t seed)
    : scene_(scene), patch_(patch), looks_(looks), seed_(seed) {
  scene_.samples = looks, scene_.bounces = std::min(scene_.bounces, 4);
}

std::vector<Rgb> FitTracer::with(const BsdfParameters& p) const {
  Scene scene = scene_;
  scene.materials[patch_.instance][patch_.part] = std::make_shared<PlainMaterial>(p);
  const Integrator integrator(scene);
  std::vector<Rgb> seen(patch_.pixels.size());
  tbb::parallel_for(size_t(0), seen.size(), [&](size_t i) {
    Rgb sum(0);
    for (int k = 0; k < looks_; ++k) {
      Sampler sampler(seed_, int(i) & 127, int(i) >> 7, uint32_t(k), Sampler::bitsFor(looks_));
      const Vec2f u = sampler.next2();
      Ray ray = integrator.cameraRay(patch_.pixels[i] +
                                     Vec2d(double(u.x) - 0.5, double(u.y) - 0.5) * patch_.footprint);
      ray.spread = float(1 / scene.camera.focalPx) / 4;
      sum += integrator.radiance(ray, sampler);
    }
    seen[i] = sum / float(looks_);
  });
  return seen;
}

std::vector<Vec3d> fitWeights(const FitPatch& patch) {
  std::vector<float> lights;
  for (const Rgb& c : patch.seen) lights.push_back(luminance(c));
  std::vector<float> sorted = lights;
  std::sort(sorted.begin(), sorted.end());
  // Highlights are few: they count as much together as all the rest.
  const float high = 1.5f * sorted[sorted.size() / 2] + 0.02f;
  const auto bright = double(std::count_if(lights.begin(), lights.end(), [&](float l) { return l > high; }));
  const double more = bright > 0 ? std::clamp(std::sqrt(double(lights.size()) / bright), 1.0, 4.0) : 1;
  std::vector<Vec3d> weights(lights.size());
  for (size_t i = 0; i < lights.size(); ++i)
    for (int c = 0; c < 3; ++c)
      weights[i][c] = (lights[i] > high ? more : 1) * eyeSlope(patch.seen[i][c]) / fitNoise;
  return weights;
}

std::vector<FitStart> fitStarts(const Scene& scene, const FitPatch& patch, const Surface& from,
                                Progress& progress) {
  const Search search(scene, patch, from);
  std::vector<FitStart> best;
  const auto more = [](const FitStart& a, const FitStart& b) { return a.left < b.left; };
  const double all = 2 * double(std::size(bareRoughness) + std::size(underCoat) * std::size(ofCoat));
  double done = 0;
  for (const bool metal : {false, true}) {
    std::vector<FitStart> bare;
    for (const double roughness : bareRoughness) {
      if (progress.cancelled()) return {};
      bare.push_back(search.at({metal, false, {0, 0, 0, roughness, 1, 0.1}}));
      progress.report(++done / all);
    }
    // Valleys: there may be one of a wide highlight and one of a narrow.
    for (size_t i = 0; i < bare.size(); ++i)
      if ((i == 0 || bare[i].left <= bare[i - 1].left) &&
          (i + 1 == bare.size() || bare[i].left < bare[i + 1].left))
        best.push_back(bare[i]);
    std::vector<FitStart> coated;
    for (const double roughness : underCoat)
      for (const double coat : ofCoat) {
        if (progress.cancelled()) return {};
        coated.push_back(search.at({metal, true, {0, 0, 0, roughness, 1, coat}}));
        progress.report(++done / all);
      }
    std::sort(coated.begin(), coated.end(), more);
    best.insert(best.end(), coated.begin(), coated.begin() + 2);
  }
  std::sort(best.begin(), best.end(), more);
  return best;
}

double leftBy(const Scene& scene, const FitPatch& patch, const Surface& from, const FitGuess& guess,
              int looks) {
  const std::vector<Vec3d> weights = fitWeights(patch);
  const BsdfParameters p = parametersFor(from, guess, guess.values);
  const std::vector<Rgb> one = FitTracer(scene, patch, looks).with(p),
                         other = FitTracer(scene, patch, looks, otherSeed).with(p);
  double left = 0;
  for (size_t i = 0; i < weights.size(); ++i)
    for (int c = 0; c < 3; ++c) left += agreedAt(patch, i, c, one[i][c], other[i][c], weights[i][c]);
  return left;
}

}  // namespace dusk
