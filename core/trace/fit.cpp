#include "core/trace/fit_trace.h"

#include <ceres/ceres.h>

#include "core/base/dense.h"
#include "core/base/words.h"
#include "core/colour/difference.h"
#include "core/trace/integrator.h"
#include "core/trace/pick_pass.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

constexpr int mostPixels = 320, looks = 160;

/// Three residuals a pixel, in units of the noise, and how each value moves them. What a colour's channel
/// does is seen in that channel alone, so that all three are moved in one trace.
class Residuals : public ceres::CostFunction {
 public:
  Residuals(const FitTracer& traced, const FitPatch& patch, const Surface& from, const FitGuess& guess)
      : traced_(traced), patch_(patch), from_(from), guess_(guess), weights_(fitWeights(patch)) {
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
    std::vector<double> left;
    for (size_t i = 0; i < seen.size(); ++i)
      for (int c = 0; c < 3; ++c) left.push_back(leftAt(patch_, i, c, seen[i][c], weights_[i][c]));
    return left;
  }

  const FitTracer& traced_;
  const FitPatch& patch_;
  const Surface& from_;
  const FitGuess& guess_;
  const std::vector<Vec3d> weights_;
  mutable std::vector<double> last_, left_;  ///< where it has been, and what was left there
};

struct Found {
  FitGuess guess;
  double left = 0;  ///< see leftBy(); one a residual would be noise alone
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

Found improved(const FitTracer& traced, const FitPatch& patch, const Surface& from, const FitGuess& guess,
               Progress& progress) {
  Found found{guess};
  ceres::Problem problem;
  double* v = found.guess.values;
  problem.AddResidualBlock(new Residuals(traced, patch, from, found.guess), nullptr, v);
  for (int i = 0; i < guess.count(); ++i)
    problem.SetParameterLowerBound(v, i, leastOf(i)), problem.SetParameterUpperBound(v, i, 1);
  ceres::Solver::Options options;
  options.max_num_iterations = 12;
  options.linear_solver_type = ceres::DENSE_QR;
  options.function_tolerance = 1e-3;
  options.logging_type = ceres::SILENT;
  Cancel cancel(progress);
  options.callbacks.push_back(&cancel);
  ceres::Solver::Summary summary;
  ceres::Solve(options, &problem, &summary);
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
  return found.left / 3 / scale / alike + found.guess.count() * std::log(pixels / alike);
}

}  // namespace

Result<FitPatch> fitPatchOf(const Scene& scene, const Vec2d& a, const Vec2d& b) {
  if (!scene.plate) return Error{words("There is no photo behind the product to fit to.")};
  const Vec2d low(std::min(a.x, b.x), std::min(a.y, b.y)), high(std::max(a.x, b.x), std::max(a.y, b.y));
  const Integrator integrator(scene);
  const Camera& whole = scene.plateCamera.width > 0 ? scene.plateCamera : scene.camera;
  const double scale = double(scene.camera.width) / whole.width;
  const double area = std::max(1.0, (high.x - low.x) * (high.y - low.y));
  const double step = std::max(double(whole.width) / scene.plate->width, std::sqrt(area / mostPixels / 1.5));
  std::map<std::pair<unsigned, unsigned>, FitPatch> parts;
  const auto met = [&](const Vec2d& pixel) { return firstSeen(scene, integrator.cameraRay(pixel * scale)); };
  // At the middles of the plate's own pixels: between them it would be softer than what is traced.
  const double across = double(whole.width) / scene.plate->width,
               down = double(whole.height) / scene.plate->height;
  for (double v = low.y + step / 2; v < high.y; v += step)
    for (double u = low.x + step / 2; u < high.x; u += step) {
      const double x = (std::floor(u / across) + 0.5) * across, y = (std::floor(v / down) + 0.5) * down;
      const Hit hit = met({x, y});
      const auto isEdge = [&](const Vec2d& by) {
        const Hit beside = met(Vec2d(x, y) + by);
        return !beside.found() || beside.instance != hit.instance || beside.part != hit.part;
      };
      const double rim = 2 / scale;
      if (!hit.found() || isEdge({rim, 0}) || isEdge({-rim, 0}) || isEdge({0, rim}) || isEdge({0, -rim}))
        continue;
      FitPatch& patch = parts[{hit.instance, hit.part}];
      patch.instance = hit.instance, patch.part = hit.part, patch.footprint = across * scale;
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
  const Progress::Part whole = progress.part();
  progress.reportWithin(whole.within(0, 0.25));
  const std::vector<FitStart> starts = fitStarts(scene, patch, from, progress);
  if (progress.cancelled()) return cancelledError();
  progress.reportWithin(whole);
  const FitTracer traced(scene, patch, looks);
  std::vector<Found> all;
  for (size_t i = 0; i < starts.size(); ++i) {
    // What is far off after a few looks is not made good by more of them.
    constexpr double hopeless = 6;
    if (starts[i].left <= hopeless * std::max(0.0, starts[0].left) + double(3 * patch.seen.size()))
      all.push_back(improved(traced, patch, from, starts[i].guess, progress));
    progress.report(0.25 + 0.65 * double(i + 1) / double(starts.size()));
    if (progress.cancelled()) return cancelledError();
  }
  // Which of them it is must not be told by what of the tracing's noise they happen to meet.
  for (Found& f : all) {
    f.left = leftBy(scene, patch, from, f.guess, 4 * looks);
    if (progress.cancelled()) return cancelledError();
  }
  const double pixels = double(patch.seen.size());
  double scale = 1e300;
  for (const Found& f : all) scale = std::min(scale, f.left / (3 * pixels));
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
