#include "core/vantage/solve.h"

#include <ceres/ceres.h>

#include "core/vantage/candidates.h"
#include "core/vantage/residuals.h"

namespace dusk {
namespace {

using namespace vantage;

Vec3d axisOf(Run run) {
  return run == Run::a ? Vec3d(1, 0, 0) : run == Run::b ? Vec3d(0, 1, 0) : Vec3d(0, 0, 1);
}

int strokesOf(const Evidence& e, Run run) {
  return int(std::count_if(e.strokes.begin(), e.strokes.end(),
                           [&](const Stroke& s) { return s.run == run && s.points.size() >= 2; }));
}

/// One candidate as a least-squares problem, and everything it owns.
class Fit {
 public:
  Fit(const Evidence& evidence, const Candidate& candidate)
      : evidence_(evidence), start_(candidate.camera), problem_(options()) {
    lens_ = {std::log(start_.focalPx), start_.cx, start_.cy, start_.k1, start_.k2};
    position_ = {start_.position.x, start_.position.y, start_.position.z};
    size_ = {candidate.footprintSize.x, candidate.footprintSize.y};
    angles_.resize(evidence.strokes.size());
    problem_.AddParameterBlock(lens_.data(), 5);
    problem_.AddParameterBlock(turn_.data(), 3);
    problem_.AddParameterBlock(position_.data(), 3);
    addStrokes();
    addPoints();
    addBeliefs();
    holdWhatIsNotAsked();
  }

  double cost() {
    double cost = 0;
    return problem_.Evaluate({}, &cost, nullptr, nullptr, nullptr) ? cost
                                                                   : std::numeric_limits<double>::infinity();
  }

  /// False when the fit ended without usable values.
  bool refine(int iterations) {
    ceres::Solver::Options o;
    o.linear_solver_type = ceres::DENSE_QR;
    o.max_num_iterations = iterations;
    o.function_tolerance = 1e-10;
    o.parameter_tolerance = 1e-12;
    o.logging_type = ceres::SILENT;
    ceres::Solver::Summary summary;
    ceres::Solve(o, &problem_, &summary);
    return summary.IsSolutionUsable();
  }

  Camera camera() const {
    Camera c = start_;
    c.focalPx = std::exp(lens_[logFocal]);
    c.cx = lens_[centreX], c.cy = lens_[centreY], c.k1 = lens_[lensK1], c.k2 = lens_[lensK2];
    c.position = {position_[0], position_[1], position_[2]};
    const auto axis = [&](const Vec3d& a) { return turned(start_.axes, turn_.data(), a); };
    const Vec3d x = axis({1, 0, 0}), y = axis({0, 1, 0}), z = axis({0, 0, 1});
    c.axes = {{x.x, y.x, z.x}, {x.y, y.y, z.y}, {x.z, y.z, z.z}};
    return c;
  }

  Vec2d footprintSize() const { return {size_[0], size_[1]}; }

  /// Residual per item, in pixels, without the robust loss.
  std::vector<EvidenceItem> items() {
    std::vector<EvidenceItem> items;
    for (const Item& item : items_) {
      double sum = 0;
      int count = 0;
      for (const ceres::ResidualBlockId id : item.blocks) {
        double cost = 0;
        problem_.EvaluateResidualBlock(id, false, &cost, nullptr, nullptr);
        sum += 2 * cost * noisePx * noisePx;
        ++count;
      }
      items.push_back({item.what, item.id, count ? std::sqrt(sum / count) : 0.0, false});
    }
    return items;
  }

  /// One-sigma margins; nothing when the evidence leaves some direction free.
  std::optional<VantageSigma> sigma(double variance) {
    ceres::Covariance::Options o;
    o.algorithm_type = ceres::DENSE_SVD;
    o.min_reciprocal_condition_number = 1e-15;
    ceres::Covariance covariance(o);
    const std::vector<const double*> blocks = {lens_.data(), turn_.data(), position_.data()};
    if (!covariance.Compute(blocks, &problem_)) return {};
    Eigen::Matrix<double, 5, 5, Eigen::RowMajor> lens;
    Eigen::Matrix<double, 3, 3, Eigen::RowMajor> turn, position;
    covariance.GetCovarianceBlock(lens_.data(), lens_.data(), lens.data());
    covariance.GetCovarianceBlock(turn_.data(), turn_.data(), turn.data());
    covariance.GetCovarianceBlock(position_.data(), position_.data(), position.data());
    // Small turns about the camera's x and z axes are tilt and roll.
    return VantageSigma{std::exp(lens_[logFocal]) * std::sqrt(std::max(0.0, variance * lens(0, 0))),
                        degrees(std::sqrt(std::max(0.0, variance * turn(0, 0)))),
                        degrees(std::sqrt(std::max(0.0, variance * turn(2, 2)))),
                        std::sqrt(std::max(0.0, variance * position(2, 2)))};
  }

  /// Sum of squared robust residuals over the degrees of freedom left; 1 for drawing noise as assumed.
  double reducedChiSquare() {
    const int freedom = problem_.NumResiduals() - freeParameters_;
    return freedom > 0 ? 2 * cost() / freedom : 1.0;
  }

 private:
  struct Item {
    std::string what, id;
    std::vector<ceres::ResidualBlockId> blocks;
  };

  static ceres::Problem::Options options() {
    ceres::Problem::Options o;
    o.loss_function_ownership = ceres::DO_NOT_TAKE_OWNERSHIP;
    return o;
  }

  void addStrokes() {
    for (size_t i = 0; i < evidence_.strokes.size(); ++i) {
      const Stroke& stroke = evidence_.strokes[i];
      if (stroke.points.size() < 2) continue;
      // The two ends' mean, not a drawn point: the free angle then starts near its best.
      const Vec2d middle = (stroke.points.front() + stroke.points.back()) * 0.5;
      const Vec3d reference = start_.axes.toLocal(rayThrough(start_, middle));
      if (reference.cross(start_.axes.toLocal(axisOf(stroke.run))).length() < 1e-4) continue;  // seen end-on
      Item item{"stroke", stroke.id, {}};
      for (const Vec2d& at : stroke.points)
        item.blocks.push_back(
            problem_.AddResidualBlock(new ceres::AutoDiffCostFunction<StrokePoint, 1, 5, 3, 1>(
                                          new StrokePoint{start_.axes, axisOf(stroke.run), reference, at}),
                                      &loss_, lens_.data(), turn_.data(), &angles_[i]));
      items_.push_back(item);
      ++freeParameters_;
    }
  }

  void addPoints() {
    if (evidence_.footprint) {
      Item item{"footprint", "1", {}};
      for (int i = 0; i < 4; ++i)
        item.blocks.push_back(problem_.AddResidualBlock(
            new ceres::AutoDiffCostFunction<FootprintCorner, 2, 5, 3, 3, 2>(
                new FootprintCorner{start_.axes, evidence_.footprint->corners[i], i}),
            &loss_, lens_.data(), turn_.data(), position_.data(), size_.data()));
      if (evidence_.footprint->sizeM)
        problem_.SetParameterBlockConstant(size_.data());
      else
        freeParameters_ += 2;
      items_.push_back(item);
    }
    for (size_t i = 0; i < evidence_.pins.size(); ++i)
      items_.push_back(
          {"pin",
           std::to_string(i + 1),
           {problem_.AddResidualBlock(new ceres::AutoDiffCostFunction<PinPoint, 2, 5, 3, 3>(new PinPoint{
                                          start_.axes, evidence_.pins[i].at, evidence_.pins[i].worldM}),
                                      &loss_, lens_.data(), turn_.data(), position_.data())}});
    for (size_t i = 0; i < evidence_.lengths.size(); ++i)
      items_.push_back({"length",
                        std::to_string(i + 1),
                        {problem_.AddResidualBlock(new ceres::AutoDiffCostFunction<GroundLength, 1, 5, 3, 3>(
                                                       new GroundLength{start_.axes, evidence_.lengths[i]}),
                                                   &loss_, lens_.data(), turn_.data(), position_.data())}});
  }

  void believe(double* block, int size, const Belief& belief) {
    if (size == 5)
      problem_.AddResidualBlock(new ceres::AutoDiffCostFunction<Belief, 1, 5>(new Belief(belief)), nullptr,
                                block);
    else
      problem_.AddResidualBlock(new ceres::AutoDiffCostFunction<Belief, 1, 3>(new Belief(belief)), nullptr,
                                block);
  }

  void addBeliefs() {
    const double width = start_.width;
    believe(lens_.data(), 5, {centreX, start_.width / 2.0, 0.003 * width});
    believe(lens_.data(), 5, {centreY, start_.height / 2.0, 0.003 * width});
    if (evidence_.solveK1) believe(lens_.data(), 5, {lensK1, 0, 0.15});
    if (evidence_.solveK2) believe(lens_.data(), 5, {lensK2, 0, 0.1});
    if (evidence_.focalMm35)
      believe(lens_.data(), 5,
              {logFocal, std::log(focalPxFromMm35(*evidence_.focalMm35, start_.width, start_.height)), 0.02});
    if (evidence_.heightM) believe(position_.data(), 3, {2, *evidence_.heightM, 0.01 * *evidence_.heightM});
  }

  void holdWhatIsNotAsked() {
    std::vector<int> held;
    if (!evidence_.solveK1) held.push_back(lensK1);
    if (!evidence_.solveK2) held.push_back(lensK2);
    if (!held.empty()) problem_.SetManifold(lens_.data(), new ceres::SubsetManifold(5, held));
    freeParameters_ += 5 - int(held.size()) + 3;
    // Without points nothing says where the camera stands, only how it looks: the origin is ours to choose.
    const bool spot = evidence_.footprint || !evidence_.pins.empty();
    const bool scale = (evidence_.footprint && evidence_.footprint->sizeM) || evidence_.pins.size() >= 2 ||
                       !evidence_.lengths.empty() || evidence_.heightM;
    std::vector<int> fixed;
    if (!spot) fixed = {0, 1};
    if (!scale) fixed.push_back(2);
    if (fixed.size() == 3)
      problem_.SetParameterBlockConstant(position_.data());
    else if (!fixed.empty())
      problem_.SetManifold(position_.data(), new ceres::SubsetManifold(3, fixed));
    freeParameters_ += 3 - int(fixed.size());
  }

  const Evidence& evidence_;
  Camera start_;
  ceres::CauchyLoss loss_{3.0};  // in units of the drawing noise
  std::array<double, 5> lens_{};
  std::array<double, 3> turn_{}, position_{};
  std::array<double, 2> size_{};
  std::vector<double> angles_;
  std::vector<Item> items_;
  int freeParameters_ = 0;
  ceres::Problem problem_;
};

/// What a person should draw when there is too little, or nothing.
std::optional<std::string> missing(const Evidence& e) {
  if (e.footprint || e.pins.size() >= 6) return {};
  const int runs = (strokesOf(e, Run::a) >= 2) + (strokesOf(e, Run::b) >= 2) + (strokesOf(e, Run::up) >= 2);
  if (runs >= 2) return {};
  if (!e.pins.empty() && e.pins.size() < 6 && runs == 0) {
    const bool flat = std::all_of(e.pins.begin(), e.pins.end(), [](const Pin& p) { return p.worldM.z == 0; });
    if (flat && e.pins.size() >= 4) return {};
    return "Too few pins: set six or more, or four on the ground.";
  }
  if (runs == 1) return "All strokes run one way: draw two along another direction.";
  return "Draw two strokes along each of two directions (edges that are parallel in the real place), or the "
         "four "
         "corners of a real rectangle on the ground.";
}

/// Whether a footprint is a usable four-sided shape: convex and not squeezed to a line.
bool usable(const Footprint& f) {
  double least = 1e300, most = -1e300, sides = 0;
  for (int i = 0; i < 4; ++i) {
    const Vec2d a = f.corners[(i + 1) % 4] - f.corners[i],
                b = f.corners[(i + 2) % 4] - f.corners[(i + 1) % 4];
    const double turn = a.x * b.y - a.y * b.x;
    least = std::min(least, turn), most = std::max(most, turn);
    sides += a.length();
  }
  const double floor = 1e-4 * sides * sides;
  return least > floor || most < -floor;
}

}  // namespace

VantageAnswer solve(const Evidence& evidence, int width, int height) {
  VantageAnswer answer;
  answer.vantage.camera.width = width;
  answer.vantage.camera.height = height;
  const auto refuse = [&](std::string why) {
    answer.vantage.solved = false;
    answer.advice.insert(answer.advice.begin(), std::move(why));
    return answer;
  };
  if (width < 2 || height < 2) return refuse("There is no photo to solve for.");
  if (const auto why = missing(evidence)) return refuse(*why);
  if (evidence.footprint && !usable(*evidence.footprint))
    return refuse("The footprint's corners do not make a four-sided shape: go around it corner by corner.");

  // The most promising starts by their cost as they stand; robust fitting decides between them.
  std::vector<std::unique_ptr<Fit>> fits;
  for (const Candidate& candidate : candidates(evidence, width, height))
    fits.push_back(std::make_unique<Fit>(evidence, candidate));
  std::vector<std::pair<double, Fit*>> order;
  for (auto& fit : fits)
    if (const double cost = fit->cost(); std::isfinite(cost)) order.push_back({cost, fit.get()});
  std::sort(order.begin(), order.end());
  if (order.size() > 4) order.resize(4);
  Fit* best = nullptr;
  double bestCost = std::numeric_limits<double>::infinity();
  // A few steps show which start leads somewhere; only that one is followed to its end.
  for (const auto& [cost, fit] : order)
    if (fit->refine(8) && fit->cost() < bestCost) bestCost = fit->cost(), best = fit;
  if (!best || !best->refine(60))
    return refuse(
        "The evidence does not fit any camera. Check that each stroke is on the right run, and that the "
        "runs are truly perpendicular.");

  answer.vantage.camera = best->camera();
  answer.items = best->items();
  double sum = 0;
  int kept = 0, outliers = 0;
  for (EvidenceItem& item : answer.items) {
    item.outlier = item.rmsPx > std::max(4.0, width * 0.003);
    outliers += item.outlier;
    if (!item.outlier) sum += item.rmsPx * item.rmsPx, ++kept;
  }
  answer.vantage.rmsPx = kept ? std::sqrt(sum / kept) : 1e9;
  if (outliers * 2 > int(answer.items.size()))
    return refuse(
        "The evidence contradicts itself: most of it does not fit one camera. Check which run each stroke "
        "belongs to.");
  const Camera& camera = answer.vantage.camera;
  if (camera.position.z <= 0)
    return refuse("The camera would be below the ground. Check the footprint's order.");
  const auto sigma = best->sigma(std::max(1.0, best->reducedChiSquare()));
  const double f35 = focalMm35(camera);
  if (!sigma || sigma->focalPx > 0.35 * camera.focalPx || f35 < 5 || f35 > 2000)
    return refuse(
        "The evidence does not fix the focal length: the drawn lines hardly converge. Draw longer strokes "
        "nearer the picture's border, a third run, or give the focal length.");
  if (sigma->tiltDegrees > 15)
    return refuse("The evidence does not fix how the camera is tilted. Add strokes along another direction.");
  answer.vantage.sigma = *sigma;
  answer.vantage.solved = true;

  if (evidence.footprint) answer.footprintSizeM = best->footprintSize();
  answer.scaleKnown = (evidence.footprint && evidence.footprint->sizeM) || evidence.pins.size() >= 2 ||
                      !evidence.lengths.empty() || evidence.heightM;
  if (!answer.scaleKnown)
    answer.advice.push_back(
        "True size is not known yet (camera height taken as 1.5 m): give a length on the ground, "
        "the footprint's size or the camera's height.");
  if (outliers)
    answer.advice.push_back(std::to_string(outliers) + " item" + (outliers > 1 ? "s do" : " does") +
                            " not fit and hardly counts: check where it lies and which run it is on.");
  if (sigma->focalPx > 0.05 * camera.focalPx)
    answer.advice.push_back(
        "The focal length is uncertain by more than 5 %: longer strokes, or a third run, would help.");
  return answer;
}

}  // namespace dusk
