#include "core/vantage/fit.h"

#include <glog/logging.h>

#include "core/base/dense.h"
#include "core/base/median.h"
#include "core/vantage/residuals.h"

namespace dusk::vantage {
namespace {

Vec3d axisOf(Run run) {
  return run == Run::a ? Vec3d(1, 0, 0) : run == Run::b ? Vec3d(0, 1, 0) : Vec3d(0, 0, 1);
}

/// The usual error of a focal length from EXIF: rounded to a millimetre, marked on the lens, breathing.
constexpr double exifFocalSigma = 0.02;
constexpr double heldLevelSigma = 0.05;  // sine of the roll of a camera held by hand

bool hasRun(const Evidence& e, Run run) {
  return std::any_of(e.strokes.begin(), e.strokes.end(),
                     [&](const Stroke& s) { return s.run == run && s.points.size() >= 2; });
}

}  // namespace

Fit::Fit(const Evidence& evidence, const Candidate& candidate)
    : evidence_(evidence), start_(candidate.camera) {
  ceres::Problem::Options options;
  options.loss_function_ownership = ceres::DO_NOT_TAKE_OWNERSHIP;
  problem_ = std::make_unique<ceres::Problem>(options);
  lens_ = {std::log(start_.focalPx), start_.cx, start_.cy, start_.k1, start_.k2};
  position_ = {start_.position.x, start_.position.y, start_.position.z};
  size_ = {candidate.footprintSize.x, candidate.footprintSize.y};
  angles_.resize(evidence.strokes.size());
  references_.resize(evidence.strokes.size());
  problem_->AddParameterBlock(lens_.data(), 5);
  problem_->AddParameterBlock(turn_.data(), 3);
  problem_->AddParameterBlock(position_.data(), 3);
  addStrokes();
  addPoints();
  addBeliefs();
  holdWhatIsNotAsked();
}

Fit::Item& Fit::item(const char* what, std::string id, int stroke) {
  items_.push_back({what, std::move(id), {}, stroke});
  return items_.back();
}

template <typename Functor, int residuals, int... blocks, typename... Blocks>
void Fit::drawn(Item& item, const Functor& functor, Blocks*... at) {
  item.blocks.push_back(problem_->AddResidualBlock(
      new ceres::AutoDiffCostFunction<Functor, residuals, blocks...>(new Functor(functor)), &loss_, at...));
}

template <typename Functor, int size>
void Fit::believed(const Functor& functor, double* block) {
  problem_->AddResidualBlock(new ceres::AutoDiffCostFunction<Functor, 1, size>(new Functor(functor)), nullptr,
                             block);
}

void Fit::addStrokes() {
  for (size_t i = 0; i < evidence_.strokes.size(); ++i) {
    const Stroke& stroke = evidence_.strokes[i];
    if (stroke.points.size() < 2) continue;
    // The two ends' mean, not a drawn point: the free angle then starts near its best.
    const Vec2d middle = (stroke.points.front() + stroke.points.back()) * 0.5;
    const Vec3d axis = axisOf(stroke.run);
    references_[i] = start_.axes.toLocal(rayThrough(start_, middle));
    if (references_[i].cross(start_.axes.toLocal(axis)).length() < 1e-4) continue;  // seen end-on
    Item& it = item("stroke", stroke.id, int(i));
    for (const Vec2d& at : stroke.points)
      drawn<StrokePoint, 1, 5, 3, 1>(it, {start_.axes, axis, references_[i], at, &noise_}, lens_.data(),
                                     turn_.data(), &angles_[i]);
    ++freeParameters_;
  }
}

void Fit::addPoints() {
  const Evidence& e = evidence_;
  if (e.footprint) {
    Item& it = item("footprint", "1");
    for (int i = 0; i < 4; ++i)
      drawn<FootprintCorner, 2, 5, 3, 3, 2>(
          it, {start_.axes, e.footprint->corners[size_t(i)], i, e.footprint->heightM, &noise_}, lens_.data(),
          turn_.data(), position_.data(), size_.data());
    if (e.footprint->sizeM)
      problem_->SetParameterBlockConstant(size_.data());
    else
      freeParameters_ += 2;
    if (!e.footprint->sizeM && e.footprint->ratio)
      believed<RatioBelief, 2>({*e.footprint->ratio}, size_.data());
  }
  for (size_t i = 0; i < e.pins.size(); ++i)
    drawn<PinPoint, 2, 5, 3, 3>(item("pin", std::to_string(i + 1)),
                                {start_.axes, e.pins[i].at, e.pins[i].worldM, &noise_}, lens_.data(),
                                turn_.data(), position_.data());
  for (size_t i = 0; i < e.lengths.size(); ++i) {
    Item& it = item("length", std::to_string(i + 1));
    if (e.lengths[i].on == LengthOn::ground)
      drawn<GroundLength, 1, 5, 3, 3>(it, {start_.axes, e.lengths[i], &noise_}, lens_.data(), turn_.data(),
                                      position_.data());
    else
      drawn<UprightLength, 2, 5, 3, 3>(it, {start_.axes, e.lengths[i], &noise_}, lens_.data(), turn_.data(),
                                       position_.data());
  }
  if (e.levelLine.size() >= 2) {
    Item& it = item("level line", "1");
    for (const Vec2d& at : e.levelLine)
      drawn<HorizonPoint, 1, 5, 3>(it, {start_.axes, at, &noise_}, lens_.data(), turn_.data());
  }
}

void Fit::addBeliefs() {
  const Evidence& e = evidence_;
  const double axisPx = (e.shifted ? 0.25 : 0.003) * start_.width;
  believed<Belief, 5>({centreX, start_.width / 2.0, axisPx}, lens_.data());
  believed<Belief, 5>({centreY, start_.height / 2.0, axisPx}, lens_.data());
  const LensProfile lens = e.lens.value_or(LensProfile{});
  if (e.solveK1) believed<Belief, 5>({lensK1, lens.k1, e.lens ? 0.02 : 0.15}, lens_.data());
  if (e.solveK2) believed<Belief, 5>({lensK2, lens.k2, e.lens ? 0.02 : 0.1}, lens_.data());
  if (e.focalMm35)
    believed<Belief, 5>(
        {logFocal, std::log(focalPxFromMm35(*e.focalMm35, start_.width, start_.height)), exifFocalSigma},
        lens_.data());
  if (e.heightM) believed<Belief, 3>({2, *e.heightM, 0.01 * *e.heightM}, position_.data());
  if (!e.footprint && e.pins.empty()) {
    const bool a = hasRun(e, Run::a), b = hasRun(e, Run::b), up = hasRun(e, Run::up);
    if (!a && !b) believed<AzimuthGauge, 3>({start_.axes.toLocal({0, 0, 1})}, turn_.data());
    if (a != b && !up && e.levelLine.size() < 2)
      believed<RollBelief, 3>({start_.axes, heldLevelSigma}, turn_.data());
  }
}

void Fit::holdWhatIsNotAsked() {
  const auto hold = [&](double* block, int size, const std::vector<int>& kept) {
    std::vector<int> held;
    for (int i = 0; i < size; ++i)
      if (std::find(kept.begin(), kept.end(), i) == kept.end()) held.push_back(i);
    if (kept.empty())
      problem_->SetParameterBlockConstant(block);
    else if (!held.empty())
      problem_->SetManifold(block, new ceres::SubsetManifold(size, held));
    freeParameters_ += int(kept.size());
  };
  freeLens_ = {logFocal, centreX, centreY};
  if (evidence_.solveK1) freeLens_.push_back(lensK1);
  if (evidence_.solveK2) freeLens_.push_back(lensK2);
  hold(lens_.data(), 5, freeLens_);
  // Without points nothing says where the camera stands, only how it looks: the origin is ours to choose.
  if (evidence_.footprint || !evidence_.pins.empty()) freePosition_ = {0, 1};
  if (scaleIsKnown(evidence_)) freePosition_.push_back(2);
  hold(position_.data(), 3, freePosition_);
  freeParameters_ += 3;
}

double Fit::cost() {
  double cost = 0;
  return problem_->Evaluate({}, &cost, nullptr, nullptr, nullptr) ? cost
                                                                  : std::numeric_limits<double>::infinity();
}

bool Fit::refine(int iterations, double tolerance) {
  // A step into where a camera cannot be is tried and taken back; that is no news for the terminal.
  FLAGS_minloglevel = google::GLOG_FATAL;
  ceres::Solver::Options o;
  o.linear_solver_type = ceres::DENSE_NORMAL_CHOLESKY;
  o.max_num_iterations = iterations;
  o.function_tolerance = tolerance;
  o.parameter_tolerance = 1e-11;
  o.logging_type = ceres::SILENT;
  ceres::Solver::Summary summary;
  ceres::Solve(o, problem_.get(), &summary);
  return summary.IsSolutionUsable();
}

bool Fit::learnNoise() {
  std::vector<double> sizes;
  for (const Item& it : items_)
    for (const ceres::ResidualBlockId id : it.blocks) {
      double cost = 0;
      problem_->EvaluateResidualBlock(id, false, &cost, nullptr, nullptr);
      sizes.push_back(std::sqrt(2 * cost / problem_->GetCostFunctionForResidualBlock(id)->num_residuals()));
    }
  int freedom = 0;
  reducedChiSquare(&freedom);
  if (freedom < 4) return false;
  const double fitted = std::sqrt(double(sizes.size()) / freedom);
  const double found = 1.4826 * medianInPlace(sizes) * std::min(fitted, 3.0) * noise_;
  if (found < 1.5 * noise_) return false;
  noise_ = found;
  return true;
}

Camera Fit::camera() const {
  Camera c = start_;
  c.focalPx = std::exp(lens_[logFocal]);
  c.cx = lens_[centreX], c.cy = lens_[centreY], c.k1 = lens_[lensK1], c.k2 = lens_[lensK2];
  c.position = {position_[0], position_[1], position_[2]};
  const auto axis = [&](const Vec3d& a) { return turned(start_.axes, turn_.data(), a); };
  const Vec3d x = axis({1, 0, 0}), y = axis({0, 1, 0}), z = axis({0, 0, 1});
  c.axes = {{x.x, y.x, z.x}, {x.y, y.y, z.y}, {x.z, y.z, z.z}};
  return c;
}

std::vector<EvidenceItem> Fit::items() {
  std::vector<EvidenceItem> items;
  for (const Item& it : items_) {
    double sum = 0;
    for (const ceres::ResidualBlockId id : it.blocks) {
      double cost = 0;
      problem_->EvaluateResidualBlock(id, false, &cost, nullptr, nullptr);
      sum += 2 * cost * noise_ * noise_;
    }
    EvidenceItem answer{
        it.what, it.id, it.blocks.empty() ? 0.0 : std::sqrt(sum / double(it.blocks.size())), false, {}};
    if (it.stroke >= 0) {
      const Stroke& stroke = evidence_.strokes[size_t(it.stroke)];
      for (const Vec2d& at : stroke.points) {
        const StrokePoint point{start_.axes, axisOf(stroke.run), references_[size_t(it.stroke)], at, &noise_};
        double px = 0;
        Vec2d across(0, 0);
        if (!point.distance(lens_.data(), turn_.data(), &angles_[size_t(it.stroke)], px, across)) px = 0;
        answer.bows.push_back(across * -px);
      }
    }
    items.push_back(std::move(answer));
  }
  return items;
}

std::optional<double> Fit::disagreement(const std::vector<EvidenceItem>& items) {
  double within = 0, across = 0;
  int withinFreedom = 0, strokes = 0;
  for (const EvidenceItem& item : items) {
    const Stroke* stroke =
        item.what == "stroke" && !item.outlier ? byId(evidence_.strokes, item.id) : nullptr;
    if (!stroke) continue;
    // The part of the bows that a turn of the stroke about its middle would take away, and the rest.
    const Vec2d along = (stroke->points.back() - stroke->points.front()).normalized(),
                side(-along.y, along.x);
    const double n = double(stroke->points.size());
    double t = 0, r = 0, tt = 0, tr = 0, rr = 0;
    for (size_t i = 0; i < stroke->points.size(); ++i) {
      const double ti = (stroke->points[i] - stroke->points.front()).dot(along), ri = item.bows[i].dot(side);
      t += ti, r += ri, tt += ti * ti, tr += ti * ri, rr += ri * ri;
    }
    const double spread = tt - t * t / n, slope = spread > 0 ? (tr - t * r / n) / spread : 0;
    const double turned = slope * slope * spread;
    within += rr - r * r / n - turned;
    withinFreedom += int(n) - 2;
    across += turned + r * r / n;
    ++strokes;
  }
  // Focal length, three turns; bends and the axis are held by beliefs.
  const int freedom = strokes - 4 - int(evidence_.solveK1);
  if (freedom < 2) return {};
  // Real edges are not perfectly parallel: a few hundredths of a per cent of the frame are forgiven.
  const double floor = std::max(noisePx, 4e-4 * std::hypot(start_.width, start_.height));
  return across / freedom / std::max(floor * floor, withinFreedom > 0 ? within / withinFreedom : 0.0);
}

std::vector<double*> Fit::freeBlocks() {
  std::vector<double*> all, free;
  problem_->GetParameterBlocks(&all);
  for (double* block : all)
    if (!problem_->IsParameterBlockConstant(block)) free.push_back(block);
  return free;
}

double Fit::reducedChiSquare(int* freedom) {
  // Each residual by its weight in the robust fit, so that gross outliers say nothing about the drawing
  // noise.
  double weights = 0, squares = 0;
  const auto take = [&](ceres::ResidualBlockId id) {
    double cost = 0, rho[3];
    problem_->EvaluateResidualBlock(id, false, &cost, nullptr, nullptr);
    const ceres::LossFunction* loss = problem_->GetLossFunctionForResidualBlock(id);
    rho[1] = 1;
    if (loss) loss->Evaluate(2 * cost, rho);
    weights += rho[1] * problem_->GetCostFunctionForResidualBlock(id)->num_residuals();
    squares += rho[1] * 2 * cost;
  };
  std::vector<ceres::ResidualBlockId> all;
  problem_->GetResidualBlocks(&all);
  for (const ceres::ResidualBlockId id : all) take(id);
  const double left = weights - freeParameters_;
  if (freedom) *freedom = int(left);
  // 0.85 is what normal noise as assumed gives under these weights: E[w r^2] / E[w].
  return left > 0.5 ? std::max(0.0, squares / 0.85 / left) : 1.0;
}

double Fit::overstatement() {
  double sum = 0;
  int count = 0;
  for (const Item& it : items_)
    for (const ceres::ResidualBlockId id : it.blocks) {
      double cost = 0, rho[3];
      problem_->EvaluateResidualBlock(id, false, &cost, nullptr, nullptr);
      loss_.Evaluate(2 * cost, rho);
      if (rho[1] > 0.3) sum += rho[1], ++count;
    }
  constexpr double efficiency = 0.97;  // of this Cauchy loss under normal noise
  return count ? sum / count / efficiency : 1;
}

std::optional<Eigen::Matrix<double, 11, 11>> Fit::covariance() {
  ceres::Problem::EvaluateOptions options;
  options.parameter_blocks = freeBlocks();
  ceres::CRSMatrix sparse;
  if (!problem_->Evaluate(options, nullptr, nullptr, nullptr, &sparse)) return {};
  Eigen::MatrixXd normal = Eigen::MatrixXd::Zero(sparse.num_cols, sparse.num_cols);
  for (int row = 0; row < sparse.num_rows; ++row)
    for (int i = sparse.rows[size_t(row)]; i < sparse.rows[size_t(row) + 1]; ++i)
      for (int j = sparse.rows[size_t(row)]; j < sparse.rows[size_t(row) + 1]; ++j)
        normal(sparse.cols[size_t(i)], sparse.cols[size_t(j)]) +=
            sparse.values[size_t(i)] * sparse.values[size_t(j)];
  // Scaled to a unit diagonal first: the parameters' units differ by orders of magnitude.
  const Eigen::VectorXd diagonal = normal.diagonal();
  if (!(diagonal.minCoeff() > 0)) return {};
  const Eigen::VectorXd scale = diagonal.cwiseSqrt().cwiseInverse();
  const SymmetricEigen eigen = symmetricEigen(scale.asDiagonal() * normal * scale.asDiagonal());
  if (!(eigen.values(0) > 1e-11)) return {};
  const Eigen::MatrixXd inverse = scale.asDiagonal() * eigen.vectors *
                                  eigen.values.cwiseInverse().asDiagonal() * eigen.vectors.transpose() *
                                  scale.asDiagonal();
  // Where each free column belongs among the camera's eleven numbers.
  std::vector<int> place(size_t(sparse.num_cols), -1);
  int column = 0;
  for (const double* block : options.parameter_blocks) {
    const bool lens = block == lens_.data(), turn = block == turn_.data(), spot = block == position_.data();
    const int size = problem_->ParameterBlockTangentSize(block);
    for (int i = 0; i < size; ++i, ++column)
      if (lens || turn || spot)
        place[size_t(column)] = lens ? freeLens_[size_t(i)] : turn ? 5 + i : 8 + freePosition_[size_t(i)];
  }
  using Matrix = Eigen::Matrix<double, 11, 11>;
  Matrix result = Matrix::Zero();
  for (int i = 0; i < sparse.num_cols; ++i)
    for (int j = 0; j < sparse.num_cols; ++j)
      if (place[size_t(i)] >= 0 && place[size_t(j)] >= 0)
        result(place[size_t(i)], place[size_t(j)]) = inverse(i, j);
  // From steps of the angle-axis vector to small turns about the camera's axes as solved: the left Jacobian
  // of the rotation group (Barfoot 2017, "State Estimation for Robotics", section 7.1.5).
  const Eigen::Vector3d turn(turn_[0], turn_[1], turn_[2]);
  const double angle = turn.norm();
  if (angle > 1e-9) {
    const Eigen::Vector3d a = turn / angle;
    Eigen::Matrix3d cross;
    cross << 0, -a.z(), a.y(), a.z(), 0, -a.x(), -a.y(), a.x(), 0;
    Matrix jacobian = Matrix::Identity();
    jacobian.block<3, 3>(5, 5) = std::sin(angle) / angle * Eigen::Matrix3d::Identity() +
                                 (1 - std::sin(angle) / angle) * a * a.transpose() +
                                 (1 - std::cos(angle)) / angle * cross;
    result = jacobian * result * jacobian.transpose();
  }
  return result;
}

}  // namespace dusk::vantage
