#include "core/vantage/solve.h"

#include "core/base/words.h"
#include "core/vantage/bends.h"
#include "core/vantage/camera.h"
#include "core/vantage/fit.h"
#include "core/vantage/frame.h"
#include "core/vantage/margins.h"

namespace dusk {
namespace {

using namespace vantage;

const char* nameOf(Run run) {
  return run == Run::a ? words("run a") : run == Run::b ? words("run b") : words("the uprights");
}

int strokesOf(const Evidence& e, Run run) {
  return int(std::count_if(e.strokes.begin(), e.strokes.end(),
                           [&](const Stroke& s) { return s.run == run && s.points.size() >= 2; }));
}

/// Fisher's F beyond which runs contradict each other: directions three times as far off as drawing
/// and real edges explain.
constexpr double mostDisagreement = 9;

/// What a person should draw when there is too little, or nothing.
std::optional<std::string> missing(const Evidence& e) {
  const bool focal = e.focalMm35.has_value(), horizon = e.levelLine.size() >= 2;
  if (e.footprint || e.pins.size() >= 4) return {};
  const bool a = strokesOf(e, Run::a) >= 2, b = strokesOf(e, Run::b) >= 2, up = strokesOf(e, Run::up) >= 2;
  if (a + b + up >= 2) return {};
  if (focal && (a || b || up || horizon)) return {};
  if (up && horizon) return {};
  if (!e.pins.empty() && a + b + up == 0)
    return words("Too few pins: set four or more (three are seen alike by up to four cameras).");
  if (a + b + up == 1)
    return words("All strokes run one way: draw two along another direction, or give the focal length.");
  if (horizon) return words("The horizon alone is not enough: add the focal length, or two upright strokes.");
  return words(
      "Draw two strokes along each of two directions (edges that are parallel in the real place), or the "
      "four corners of a real rectangle on the ground.");
}

/// Whether a footprint is a usable four-sided shape: convex, and no corner within a few pixels of the line
/// between its neighbours, where drawing noise alone decides the perspective.
bool usable(const Footprint& f) {
  double least = 1e300, most = -1e300;
  for (size_t i = 0; i < 4; ++i) {
    const Vec2d before = f.corners[(i + 3) % 4], at = f.corners[i], after = f.corners[(i + 1) % 4];
    const Vec2d across = after - before;
    const double off =
        (across.x * (at.y - before.y) - across.y * (at.x - before.x)) / std::max(across.length(), 1e-9);
    least = std::min(least, off), most = std::max(most, off);
  }
  const double floor = 6 * noisePx;
  return least > floor || most < -floor;
}

/// A run that lost half its strokes, or more than a third and not just one: a camera that explains the photo
/// does not need that.
std::optional<Run> lostRun(const Evidence& e, const std::vector<EvidenceItem>& items) {
  for (const Run run : {Run::a, Run::b, Run::up}) {
    int all = 0, out = 0;
    for (const EvidenceItem& item : items) {
      const Stroke* stroke = item.what == "stroke" ? byId(e.strokes, item.id) : nullptr;
      if (!stroke || stroke->run != run) continue;
      ++all, out += item.outlier;
    }
    if (all >= 2 && (out * 2 >= all || (out >= 2 && out * 3 > all))) return run;
  }
  return {};
}

Fit* fitted(std::vector<std::unique_ptr<Fit>>& fits, size_t starts) {
  // The most promising starts by their cost as they stand; robust fitting decides between them.
  std::vector<std::pair<double, Fit*>> order;
  for (auto& fit : fits)
    if (const double cost = fit->cost(); std::isfinite(cost)) order.push_back({cost, fit.get()});
  std::sort(order.begin(), order.end());
  if (order.size() > starts) order.resize(starts);
  Fit* best = nullptr;
  double bestCost = std::numeric_limits<double>::infinity();
  // A few steps show which start leads somewhere; only that one is followed to its end.
  for (const auto& [cost, fit] : order)
    if (fit->refine(4, 1e-4) && fit->cost() < bestCost) bestCost = fit->cost(), best = fit;
  if (!best || !best->refine(60)) return nullptr;
  if (best->learnNoise() && !best->refine(30)) return nullptr;
  return best;
}

double rootMeanSquare(const std::vector<EvidenceItem>& items) {
  double sum = 0;
  int kept = 0;
  for (const EvidenceItem& item : items)
    if (!item.outlier) sum += item.rmsPx * item.rmsPx, ++kept;
  return kept ? std::sqrt(sum / kept) : 1e9;
}

/// Where to begin: where bent lines vanish is far off, so the lens and the rest are then begun with together.
std::vector<Candidate> startsOf(const Evidence& evidence, int width, int height) {
  std::vector<Candidate> all = candidates(evidence, width, height);
  if (!evidence.solveK1 || evidence.lens) return all;
  const PlumbLines lines = plumbLines(evidence, width, height);
  if (!lines.areBent) return all;
  const double half = std::hypot(width, height) / 2;
  for (Candidate c : candidates(straightened(evidence, width, height, lines.bend), width, height)) {
    c.camera.k1 = lines.bend * c.camera.focalPx * c.camera.focalPx / (half * half);
    all.push_back(c);
  }
  return all;
}

/// What would make a solved vantage better.
void advise(const Evidence& e, VantageAnswer& answer) {
  const VantageSigma& sigma = answer.vantage.sigma;
  auto& advice = answer.advice;
  if (!answer.scaleKnown)
    advice.emplace_back(
        words("True size is not known yet (camera height taken as 1.5 m): give a known length, "
              "the footprint's size or the camera's height."));
  const auto outliers =
      std::count_if(answer.items.begin(), answer.items.end(), [](const auto& i) { return i.outlier; });
  if (outliers)
    advice.emplace_back(std::to_string(outliers) + " item" + (outliers > 1 ? "s do" : " does") +
                        " not fit and hardly counts: check where it lies and which run it is on.");
  if (sigma.focalPx > 0.05 * answer.vantage.camera.focalPx)
    advice.emplace_back(
        words("The focal length is uncertain by more than 5 %: longer strokes, or a third run, would help."));
  const bool a = strokesOf(e, Run::a), b = strokesOf(e, Run::b), up = strokesOf(e, Run::up);
  if (a != b && !up && !e.footprint && e.pins.empty() && e.levelLine.size() < 2)
    advice.emplace_back(
        words("One level run alone: the camera is taken as held level to 3°. Upright strokes would tell."));
  if (answer.vantage.rmsPx > 2 * fitLimitPx(answer.vantage.camera))
    advice.emplace_back(
        sigma.k1 > 0
            ? words("The drawing fits loosely: snap the strokes to their edges.")
            : words("The drawing fits loosely: snap the strokes to their edges, or let the lens bend (k1)."));
}

/// The fit's covariance, scaled to what the residuals say of the drawing noise and turned into the frame
/// asked for. Nothing when the evidence leaves some direction free.
std::optional<CameraCovariance> honestCovariance(Fit& fit, double disagreement, const GroundMove& frame) {
  auto covariance = fit.covariance();
  if (!covariance) return {};
  int freedom = 0;
  const double found = fit.reducedChiSquare(&freedom);
  // Few measurements say little about their own noise: the assumed noise counts as ten of them.
  freedom = std::max(freedom, 0);
  // Many measurements finer than assumed are no promise that the place is as square as that: then it stays.
  const double variance = (freedom * found + 10) / (freedom + 10);
  *covariance *= (freedom > 10 ? std::max(1.0, variance) : variance) * fit.overstatement();
  *covariance *= std::max(1.0, disagreement);  // edges of the place that are not quite square
  Eigen::Matrix<double, 11, 11> turn = Eigen::Matrix<double, 11, 11>::Identity();
  const Vec3d x = frame.direction({1, 0, 0}), y = frame.direction({0, 1, 0});
  turn.block<2, 2>(8, 8) << x.x, y.x, x.y, y.y;
  CameraCovariance result;
  Eigen::Map<Eigen::Matrix<double, 11, 11>>(result.data()) = turn * *covariance * turn.transpose();
  return result;
}

}  // namespace

bool scaleIsKnown(const Evidence& e) {
  return (e.footprint && e.footprint->sizeM) || e.pins.size() >= 2 || !e.lengths.empty() || e.heightM;
}

namespace {

VantageAnswer solveAsAsked(const Evidence& evidence, int width, int height) {
  VantageAnswer answer;
  answer.vantage.camera.width = width;
  answer.vantage.camera.height = height;
  const auto refuse = [&](std::string why) {
    answer.vantage.solved = false;
    answer.advice.insert(answer.advice.begin(), std::move(why));
    return answer;
  };
  if (width < 2 || height < 2) return refuse(words("There is no photo to solve for."));
  if (const auto why = missing(evidence)) return refuse(*why);
  if (evidence.footprint && !usable(*evidence.footprint))
    return refuse(
        words("The footprint's corners do not make a four-sided shape: go around it corner by corner, and "
              "choose a rectangle that is not seen edge-on."));

  std::vector<std::unique_ptr<Fit>> fits;
  for (const Candidate& candidate : startsOf(evidence, width, height))
    fits.push_back(std::make_unique<Fit>(evidence, candidate));
  // Few points have more ways to go wrong than strokes, which are many.
  Fit* best = fitted(fits, evidence.pins.empty() ? 3 : 6);
  if (!best)
    return refuse(words(
        "The evidence does not fit any camera. Check that each stroke is on the right run, and that the "
        "runs are truly perpendicular."));

  const Camera camera = best->camera();
  answer.vantage.camera = camera;
  answer.items = best->items();
  for (EvidenceItem& item : answer.items) item.outlier = item.rmsPx > std::max(3.0, 4 * best->noise());
  answer.vantage.rmsPx = rootMeanSquare(answer.items);
  const auto outliers =
      std::count_if(answer.items.begin(), answer.items.end(), [](const auto& i) { return i.outlier; });
  if (const auto run = lostRun(evidence, answer.items))
    return refuse(
        std::string(words("The evidence contradicts itself: ")) + nameOf(*run) +
        words(" does not agree with the rest. Check which run each stroke belongs to, and that the runs "
              "are perpendicular in the place."));
  if (outliers * 2 > long(answer.items.size()) || best->noise() > 0.004 * std::hypot(width, height))
    return refuse(words(
        "The evidence contradicts itself: most of it does not fit one camera. Check which run each stroke "
        "belongs to."));
  const double disagreement = best->disagreement(answer.items).value_or(1.0);
  if (disagreement > mostDisagreement)
    return refuse(words(
        "The evidence contradicts itself: the runs are not perpendicular to each other as drawn. "
        "Check which run each stroke belongs to, and leave out edges that are not square in the place."));
  if (camera.position.z <= 0)
    return refuse(words("The camera would be below the ground. Check the footprint's order."));
  const GroundMove frame = askedFrame(evidence, camera);
  const auto covariance = honestCovariance(*best, disagreement, frame);
  const double f35 = focalMm35(camera);
  if (covariance) {
    answer.covariance = *covariance;
    answer.vantage.sigma = margins(camera, answer.covariance);
  }
  const VantageSigma& sigma = answer.vantage.sigma;
  if (!covariance || !(sigma.focalPx < 0.35 * camera.focalPx) || f35 < 5 || f35 > 2000)
    return refuse(words(
        "The evidence does not fix the focal length: the drawn lines hardly converge. Draw longer strokes "
        "nearer the picture's border, a third run, or give the focal length."));
  if (!(sigma.tiltDegrees < 15))
    return refuse(
        words("The evidence does not fix how the camera is tilted. Add strokes along another direction."));
  answer.vantage.solved = true;

  answer.vantage.camera = moved(camera, frame);
  if (evidence.footprint) answer.footprintSizeM = best->footprintSize();
  answer.scaleKnown = scaleIsKnown(evidence);
  advise(evidence, answer);
  return answer;
}

}  // namespace

double fitLimitPx(const Camera& camera) {
  constexpr double limit = 1.5, width = 1920;
  return limit * std::max(1.0, std::max(camera.width, camera.height) / width);
}

VantageAnswer solve(const Evidence& evidence, int width, int height) {
  const bool asked = evidence.solveK1 || evidence.solveK2 || evidence.lens;
  if (asked || !plumbLines(evidence, width, height).areBent) return solveAsAsked(evidence, width, height);
  // Taken as straight, bent lines would give a wrong focal length with small margins.
  Evidence free = evidence;
  free.solveK1 = true;
  VantageAnswer bent = solveAsAsked(free, width, height);
  if (!bent.vantage.solved) return solveAsAsked(evidence, width, height);
  bent.advice.emplace_back(
      words("The strokes themselves bend: the lens's bend (k1) was found with the rest."));
  return bent;
}

}  // namespace dusk
