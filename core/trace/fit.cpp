#include "core/trace/fit.h"

#include <ceres/ceres.h>

#include <tbb/parallel_for.h>

#include "core/base/dense.h"
#include "core/base/srgb.h"
#include "core/base/words.h"
#include "core/colour/difference.h"
#include "core/surface/made_surface.h"
#include "core/trace/integrator.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

constexpr int mostPixels = 320, looks = 80, roughPixels = 80, roughLooks = 16;
constexpr double noise = 0.01;  // of a code value of 1: what photo and tracing leave at best

/// What is looked for: colour, roughness, and where it is lacquered that coat's share and roughness.
struct Guess {
  bool metal = false, coated = false;
  double values[6] = {0.4, 0.4, 0.4, 0.4, 1, 0.1};
  int count() const { return coated ? 6 : 4; }
};

double leastOf(int value) { return value == 3 || value == 5 ? 0.02 : 0.004; }

BsdfParameters parametersFor(const Surface& from, const Guess& g, const double* v) {
  BsdfParameters p = parametersOf(from);
  p.emission = Rgb(0), p.transmission = 0, p.subsurface = 0, p.opacity = 1;
  p.base = {float(v[0]), float(v[1]), float(v[2])}, p.roughness = float(v[3]);
  p.metalness = g.metal ? 1 : 0;
  p.clearcoat = g.coated ? float(v[4]) : 0, p.clearcoatRoughness = g.coated ? float(v[5]) : 0.1f;
  return p;
}

/// How much the eye makes of a small difference at that light: the slope of the code. Differences themselves
/// stay straight, so that the noise in what is traced does not bend them.
double eyeSlope(float linear) {
  const float at = std::clamp(linear, 0.004f, 1.0f), step = 0.01f * at;
  return double(srgbEncoded(at + step) - srgbEncoded(at - step)) / double(2 * step);
}

class Traced {
 public:
  Traced(const Scene& scene, const FitPatch& patch, int looks) : scene_(scene), patch_(patch), looks_(looks) {
    scene_.samples = looks, scene_.bounces = std::min(scene_.bounces, 4);
  }
  std::vector<Rgb> with(const BsdfParameters& p) const {
    Scene scene = scene_;
    scene.materials[patch_.instance][patch_.part] = std::make_shared<PlainMaterial>(p);
    const Integrator integrator(scene);
    std::vector<Rgb> seen(patch_.pixels.size());
    tbb::parallel_for(size_t(0), seen.size(), [&](size_t i) {
      Rgb sum(0);
      for (int k = 0; k < looks_; ++k) {
        Sampler sampler(23, int(i) & 127, int(i) >> 7, uint32_t(k), Sampler::bitsFor(looks_));
        const Vec2f u = sampler.next2();
        Ray ray = integrator.cameraRay(patch_.pixels[i] + Vec2d(double(u.x) - 0.5, double(u.y) - 0.5));
        ray.spread = float(1 / scene.camera.focalPx) / 4;
        sum += integrator.radiance(ray, sampler);
      }
      seen[i] = sum / float(looks_);
    });
    return seen;
  }

 private:
  Scene scene_;
  const FitPatch& patch_;
  int looks_;
};

/// Every n-th pixel, so that about `most` are left.
FitPatch thinned(const FitPatch& patch, size_t most) {
  FitPatch few = patch;
  few.pixels.clear(), few.seen.clear();
  const size_t step = std::max<size_t>(1, patch.pixels.size() / most);
  for (size_t i = step / 2; i < patch.pixels.size(); i += step)
    few.pixels.push_back(patch.pixels[i]), few.seen.push_back(patch.seen[i]);
  return few;
}

/// Highlights are few and say the most: they count as much together as all the rest.
std::vector<double> weightsOf(const FitPatch& patch) {
  std::vector<float> lights;
  for (const Rgb& c : patch.seen) lights.push_back(luminance(c));
  std::vector<float> sorted = lights;
  std::sort(sorted.begin(), sorted.end());
  const float high = 1.5f * sorted[sorted.size() / 2] + 0.02f;
  const auto bright = double(std::count_if(lights.begin(), lights.end(), [&](float l) { return l > high; }));
  const double more = bright > 0 ? std::clamp(std::sqrt(double(lights.size()) / bright), 1.0, 4.0) : 1;
  std::vector<double> weights;
  for (const float l : lights) weights.push_back(l > high ? more : 1.0);
  return weights;
}

/// Three residuals a pixel, in units of the noise, and how each value moves them. What a colour's channel
/// does is seen in that channel alone, so that all three are moved in one trace.
class Residuals : public ceres::CostFunction {
 public:
  Residuals(const Traced& traced, const FitPatch& patch, const Surface& from, const Guess& guess)
      : traced_(traced), patch_(patch), from_(from), guess_(guess), weights_(weightsOf(patch)) {
    set_num_residuals(int(3 * patch.seen.size()));
    mutable_parameter_block_sizes()->push_back(guess.count());
  }

  bool Evaluate(double const* const* at, double* left, double** slopes) const override {
    const size_t count = size_t(guess_.count());
    const std::vector<double> v(at[0], at[0] + count);
    if (v != last_) left_ = of(v), last_ = v;  // the solver asks for slopes where it has just been
    std::copy(left_.begin(), left_.end(), left);
    if (!slopes || !slopes[0]) return true;
    double* out = slopes[0];  // [residual][value]
    std::fill_n(out, left_.size() * count, 0.0);
    const auto moved = [&](size_t first, size_t end) {
      std::vector<double> there = v;
      for (size_t k = first; k < end; ++k) there[k] += step(v[k]);
      const std::vector<double> beside = of(there);
      for (size_t i = 0; i < beside.size(); ++i) {
        const size_t k = end - first > 1 ? first + i % 3 : first;
        out[i * count + k] = (beside[i] - left_[i]) / step(v[k]);
      }
    };
    moved(0, 3);
    for (size_t k = 3; k < count; ++k) moved(k, k + 1);
    return true;
  }

 private:
  static double step(double value) { return 0.02 * std::max(std::abs(value), 1e-3); }
  std::vector<double> of(const std::vector<double>& v) const {
    const std::vector<Rgb> seen = traced_.with(parametersFor(from_, guess_, v.data()));
    std::vector<double> left(3 * seen.size());
    for (size_t i = 0; i < seen.size(); ++i)
      for (int c = 0; c < 3; ++c) {
        const float photo = patch_.seen[i][c];
        const bool beyond = photo >= patch_.clipped && seen[i][c] >= photo;
        left[3 * i + size_t(c)] =
            beyond ? 0 : weights_[i] * double(seen[i][c] - photo) * eyeSlope(photo) / noise;
      }
    return left;
  }

  const Traced& traced_;
  const FitPatch& patch_;
  const Surface& from_;
  const Guess& guess_;
  const std::vector<double> weights_;
  mutable std::vector<double> last_, left_;  ///< where it has been, and what was left there
};

struct Found {
  Guess guess;
  double cost = 1e300;  ///< sum of squares, of which one a residual would be noise alone
  double sigma[6]{};
};

class Cancel : public ceres::IterationCallback {
 public:
  explicit Cancel(Progress& progress) : progress_(progress) {}
  ceres::CallbackReturnType operator()(const ceres::IterationSummary&) override {
    return progress_.cancelled() ? ceres::SOLVER_ABORT : ceres::SOLVER_CONTINUE;
  }

 private:
  Progress& progress_;
};

/// One sigma of each value from how far groups of neighbouring pixels, each for itself, would move it: what
/// is wrong in one corner of the patch counts, too (Wu 1986, "Jackknife, Bootstrap and Other Resampling
/// Methods in Regression Analysis").
void sigmas(const std::vector<double>& left, const ceres::CRSMatrix& slopes, int count, double* sigma) {
  constexpr int groups = 8;
  using Matrix = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>;
  const Eigen::Map<const Matrix> jacobian(slopes.values.data(), Eigen::Index(left.size()), count);
  const Eigen::Map<const Eigen::VectorXd> residual(left.data(), Eigen::Index(left.size()));
  const auto step = [&](const Matrix& j, const Eigen::VectorXd& r) -> Eigen::VectorXd {
    const Eigen::MatrixXd square = j.transpose() * j + 1e-6 * Eigen::MatrixXd::Identity(count, count);
    return solveSymmetric(square, j.transpose() * r);
  };
  const Eigen::Index each = residual.size() / groups;
  std::vector<Eigen::VectorXd> moves;
  Eigen::VectorXd mean = Eigen::VectorXd::Zero(count);
  for (int g = 0; g < groups; ++g) {
    Matrix j(residual.size() - each, count);
    Eigen::VectorXd r(residual.size() - each);
    const Eigen::Index from = g * each, after = residual.size() - from - each;
    j << jacobian.topRows(from), jacobian.bottomRows(after);
    r << residual.head(from), residual.tail(after);
    moves.push_back(step(j, r));
    mean += moves.back() / groups;
  }
  Eigen::VectorXd squares = Eigen::VectorXd::Zero(count);
  for (const Eigen::VectorXd& move : moves) squares += (move - mean).cwiseAbs2();
  for (int i = 0; i < count; ++i) sigma[i] = std::sqrt(squares[i] * (groups - 1) / groups);
}

Found improved(const Traced& traced, const FitPatch& patch, const Surface& from, Guess guess, int steps,
               Progress& progress) {
  Found found{guess, 1e300, {}};
  ceres::Problem problem;
  double* v = found.guess.values;
  problem.AddResidualBlock(new Residuals(traced, patch, from, found.guess), nullptr, v);
  for (int i = 0; i < guess.count(); ++i)
    problem.SetParameterLowerBound(v, i, leastOf(i)), problem.SetParameterUpperBound(v, i, 1);
  ceres::Solver::Options options;
  options.max_num_iterations = steps;
  options.linear_solver_type = ceres::DENSE_QR;
  options.function_tolerance = 1e-3;
  options.logging_type = ceres::SILENT;
  Cancel cancel(progress);
  options.callbacks.push_back(&cancel);
  ceres::Solver::Summary summary;
  ceres::Solve(options, &problem, &summary);
  found.cost = 2 * summary.final_cost;
  std::vector<double> left;
  ceres::CRSMatrix slopes;
  problem.Evaluate({}, nullptr, &left, nullptr, &slopes);
  sigmas(left, slopes, guess.count(), found.sigma);
  // At the end of what it may be, a value has no slope to tell a margin by.
  for (int i = 0; i < guess.count(); ++i)
    if (v[i] <= leastOf(i) * 1.05 || v[i] >= 0.999) found.sigma[i] = std::max(found.sigma[i], 0.1);
  return found;
}

/// Schwarz's criterion, by the scale of what the best answer leaves. What is left at neighbouring pixels is
/// alike - the same noise, the same thing the model cannot say - so that one in a few counts.
double worth(const Found& found, double scale, double pixels) {
  constexpr double alike = 3;
  return found.cost / 3 / scale / alike + found.guess.count() * std::log(pixels / alike);
}

/// Where the way down is to begin, by a few looks at a few pixels: from a wide highlight to a narrow one it
/// is long and flat.
Found begun(const Scene& scene, const FitPatch& whole, const Surface& from, bool metal, bool coated,
            Progress& progress) {
  const FitPatch patch = thinned(whole, roughPixels);
  const Traced traced(scene, patch, roughLooks);
  Found best;
  Rgb mean(0);
  for (const Rgb& c : patch.seen) mean += c / float(patch.seen.size());
  for (const double roughness : coated ? std::vector{0.4, 0.8} : std::vector{0.1, 0.22, 0.42, 0.7}) {
    if (progress.cancelled()) break;
    Guess guess;
    guess.metal = metal, guess.coated = coated, guess.values[3] = roughness;
    // What a base of one half looks like tells how bright the base is.
    for (int c = 0; c < 3; ++c) guess.values[c] = 0.5;
    const std::vector<Rgb> seen = traced.with(parametersFor(from, guess, guess.values));
    Rgb shown(0);
    for (const Rgb& c : seen) shown += c / float(seen.size());
    for (int c = 0; c < 3; ++c)
      guess.values[c] = std::clamp(0.5 * double(mean[c]) / std::max(1e-3, double(shown[c])), 0.02, 0.95);
    const Found found = improved(traced, patch, from, guess, 8, progress);
    if (found.cost < best.cost) best = found;
  }
  return best;
}

}  // namespace

Result<FitPatch> fitPatchOf(const Scene& scene, const Vec2d& a, const Vec2d& b) {
  if (!scene.plate) return Error{words("There is no photo behind the product to fit to.")};
  const Vec2d low(std::min(a.x, b.x), std::min(a.y, b.y)), high(std::max(a.x, b.x), std::max(a.y, b.y));
  const Integrator integrator(scene);
  const Camera& whole = scene.plateCamera.width > 0 ? scene.plateCamera : scene.camera;
  const double scale = double(scene.camera.width) / whole.width;
  const double area = std::max(1.0, (high.x - low.x) * (high.y - low.y));
  const double step = std::max(1.0, std::sqrt(area / mostPixels / 1.5));
  std::map<std::pair<unsigned, unsigned>, FitPatch> parts;
  const auto met = [&](const Vec2d& pixel) {
    return scene.geometry->closest(integrator.cameraRay(pixel * scale));
  };
  for (double y = low.y + step / 2; y < high.y; y += step)
    for (double x = low.x + step / 2; x < high.x; x += step) {
      const Hit hit = met({x, y});
      const auto isEdge = [&](const Vec2d& by) {
        const Hit beside = met(Vec2d(x, y) + by);
        return !beside.found() || beside.instance != hit.instance || beside.part != hit.part;
      };
      const double rim = 2 / scale;
      if (!hit.found() || isEdge({rim, 0}) || isEdge({-rim, 0}) || isEdge({0, rim}) || isEdge({0, -rim}))
        continue;
      FitPatch& patch = parts[{hit.instance, hit.part}];
      patch.instance = hit.instance, patch.part = hit.part;
      patch.pixels.push_back(Vec2d(x, y) * scale);
      patch.seen.push_back(plateAt(*scene.plate, whole, {x, y}));
    }
  const auto largest = std::max_element(parts.begin(), parts.end(), [](const auto& p, const auto& q) {
    return p.second.pixels.size() < q.second.pixels.size();
  });
  if (largest == parts.end() || largest->second.pixels.size() < 40)
    return Error{words(
        "Too little of one part is in that patch. Draw it larger, over a part that stands where the real "
        "one does in the photo.")};
  return largest->second;
}

Result<SurfaceFit> fitSurface(const Scene& scene, const FitPatch& patch, const Surface& from,
                              Progress& progress) {
  const Traced traced(scene, patch, looks);
  std::vector<Found> starts;
  double least = 1e300;
  for (const bool metal : {false, true})
    for (const bool coated : {false, true}) {
      starts.push_back(begun(scene, patch, from, metal, coated, progress));
      least = std::min(least, starts.back().cost);
      progress.report(double(starts.size()) / 12);
      if (progress.cancelled()) return cancelledError();
    }
  std::vector<Found> all;
  for (const Found& start : starts) {
    // What is far off after a few looks is not made good by more of them.
    constexpr double hopeless = 3;
    if (start.cost < hopeless * least)
      all.push_back(improved(traced, patch, from, start.guess, 12, progress));
    progress.report(1 / 3.0 + double(&start - starts.data() + 1) / 6);
    if (progress.cancelled()) return cancelledError();
  }
  const double pixels = double(patch.seen.size());
  double scale = 1e300;
  for (const Found& f : all) scale = std::min(scale, f.cost / (3 * pixels));
  scale = std::max(1.0, scale);
  const auto worthOf = [&](const Found& f) { return worth(f, scale, pixels); };
  const Found& won = *std::min_element(
      all.begin(), all.end(), [&](const Found& a, const Found& b) { return worthOf(a) < worthOf(b); });
  const auto rival = [&](auto isOther) {
    double nearest = 1e300;
    for (const Found& f : all)
      if (isOther(f)) nearest = std::min(nearest, worthOf(f) - worthOf(won));
    return nearest;
  };
  constexpr double clearly = 20;  // twice what Kass & Raftery 1995, "Bayes Factors", call very strong
  SurfaceFit fit;
  const double* v = won.guess.values;
  fit.surface = from;
  for (int c = 0; c < 3; ++c) fit.colour[c] = {v[c], won.sigma[c]}, fit.surface.baseColour[c] = v[c];
  fit.roughness = {v[3], won.sigma[3]}, fit.surface.roughness = v[3];
  fit.metalness = {won.guess.metal ? 1.0 : 0.0, 0}, fit.surface.metalness = fit.metalness.value;
  fit.surface.clearcoat = won.guess.coated ? v[4] : 0;
  fit.clearcoat = {fit.surface.clearcoat, won.guess.coated ? won.sigma[4] : 0};
  if (won.guess.coated) fit.coatRoughness = {v[5], won.sigma[5]}, fit.surface.clearcoatRoughness = v[5];
  fit.coatIsSure = rival([&](const Found& f) { return f.guess.coated != won.guess.coated; }) > clearly;
  fit.metalIsSure = rival([&](const Found& f) { return f.guess.metal != won.guess.metal; }) > clearly;
  fit.fitted = traced.with(parametersFor(from, won.guess, v));
  for (size_t i = 0; i < patch.seen.size(); ++i)
    fit.error +=
        ciede2000(labOfLinear(toDouble(patch.seen[i])), labOfLinear(toDouble(fit.fitted[i]))) / pixels;
  if (!fit.coatIsSure) fit.doubts.push_back(words("The light there does not tell whether it is lacquered."));
  if (!fit.metalIsSure) fit.doubts.push_back(words("The light there does not tell whether it is metal."));
  if (fit.roughness.sigma > 0.05)
    fit.doubts.push_back(
        words("The light there hardly tells how rough it is: no highlight ends in the patch."));
  return fit;
}

}  // namespace dusk
