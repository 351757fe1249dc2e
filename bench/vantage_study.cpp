#include <chrono>
#include <cstdio>
#include <opencv2/calib3d.hpp>

#include "bench/made_up_cameras.h"
#include "bench/vantage_photos.h"
#include "core/vantage/fit.h"
#include "core/vantage/snap.h"
#include "core/vantage/solve.h"
#include "tests/made_up_edge.h"

/// How good the vantage solver is, on made-up cameras with known truth. Prints tables in Markdown.
namespace dusk::study {
namespace {

double quantile(std::vector<double> values, double share) {
  if (values.empty()) return 0;
  std::sort(values.begin(), values.end());
  return values[std::min(values.size() - 1, size_t(share * double(values.size())))];
}

/// The Cramer-Rao bound of log focal length: the inverse of the same normal equations the solver uses
/// (beliefs included), at the truth, from evidence without noise. A stroke that is a gross outlier carries
/// nothing.
double boundOfLogFocal(const Evidence& drawn, const Drawing& drawing, const Camera& truth,
                       Vec2d footprintSize) {
  Evidence exact = drawing.exact;
  exact.solveK1 = drawn.solveK1, exact.solveK2 = drawn.solveK2, exact.focalMm35 = drawn.focalMm35;
  std::erase_if(exact.strokes, [&](const Stroke& s) { return s.id == drawing.outlier; });
  vantage::Fit fit(exact, {truth, footprintSize});
  fit.refine(30);
  const auto covariance = fit.covariance();
  return covariance ? std::sqrt((*covariance)(0, 0)) : 0;
}

struct Tally {
  std::vector<double> error, ratio;  ///< relative focal error; that over its bound
  int solved = 0, refused = 0, covered = 0, bounded = 0;

  void take(const VantageAnswer& answer, const Camera& truth, double bound) {
    if (!answer.vantage.solved) {
      ++refused;
      return;
    }
    ++solved;
    const double off = std::abs(answer.vantage.camera.focalPx - truth.focalPx);
    error.push_back(off / truth.focalPx);
    covered += off <= answer.vantage.sigma.focalPx;
    if (bound > 0) ratio.push_back(std::log(answer.vantage.camera.focalPx / truth.focalPx) / bound);
  }

  void print(const char* name) const {
    double sum = 0;
    for (double r : ratio) sum += r * r;
    std::printf("| %-46s | %4d | %4d | %6.2f %% | %6.2f %% | %5.2f | %4.0f %% |\n", name, solved, refused,
                100 * quantile(error, 0.5), 100 * quantile(error, 0.95),
                ratio.empty() ? 0.0 : std::sqrt(sum / double(ratio.size())),
                solved ? 100.0 * covered / solved : 0.0);
  }
};

const std::vector<Run> allRuns = {Run::a, Run::b, Run::up};

void studyStrokes() {
  std::mt19937 random(20261123);
  Tally tally;
  for (int i = 0; i < 300; ++i) {
    const Camera truth = someCamera(random);
    Drawing d = strokes(truth, random, allRuns, 4 + i % 3, 0.7, i % 3 == 0);
    d.drawn.solveK1 = true;
    tally.take(solve(d.drawn, width, height), truth, boundOfLogFocal(d.drawn, d, truth, {1, 1}));
  }
  tally.print("three runs of 4 to 6 strokes, outliers, k1 unknown");
}

void studyFootprint() {
  std::mt19937 random(3);
  Tally known, shape;
  for (int i = 0; i < 300;) {
    Camera truth = someCamera(random);
    truth.k1 = 0;
    auto d = footprint(truth, random, 0.7);
    if (!d) continue;
    ++i;
    const Vec2d size = *d->exact.footprint->sizeM;
    known.take(solve(d->drawn, width, height), truth, boundOfLogFocal(d->drawn, *d, truth, size));
    for (Evidence* e : {&d->exact, &d->drawn})
      e->footprint->ratio = size.x / size.y, e->footprint->sizeM.reset();
    Camera scaled = truth;  // the frame and scale the solver chooses where nothing says them
    const Evidence& e = d->exact;
    const VantageAnswer exact = solve(e, width, height);
    if (exact.vantage.solved) scaled = exact.vantage.camera;
    shape.take(solve(d->drawn, width, height), truth,
               boundOfLogFocal(d->drawn, *d, scaled, exact.footprintSizeM.value_or(Vec2d(1, 1))));
  }
  known.print("footprint of known size");
  shape.print("footprint of known ratio");
}

void studyOneRun() {
  std::mt19937 random(4);
  std::normal_distribution<double> exif(0, 0.02);
  for (const Run run : {Run::up, Run::b}) {
    Tally tally;
    std::vector<double> tilts;
    for (int i = 0; i < 300; ++i) {
      Camera truth = someCamera(random);
      truth.k1 = 0;
      Drawing d = strokes(truth, random, {run}, 5, 0.7, false);
      d.drawn.focalMm35 = focalMm35(truth) * std::exp(exif(random));
      const VantageAnswer answer = solve(d.drawn, width, height);
      tally.take(answer, truth, boundOfLogFocal(d.drawn, d, truth, {1, 1}));
      if (answer.vantage.solved)
        tilts.push_back(std::abs(degrees(tilt(answer.vantage.camera) - tilt(truth))));
    }
    tally.print(run == Run::up ? "uprights + EXIF (2 % sigma)" : "one level run + EXIF (2 % sigma)");
    std::fprintf(stderr, "  (tilt error of the row above: median %.2f, 95th %.2f degrees)\n",
                 quantile(tilts, 0.5), quantile(tilts, 0.95));
  }
}

cv::Point2f toCv(const Vec2d& p) { return {float(p.x - 0.5), float(p.y - 0.5)}; }
cv::Point3f toCv(const Vec3d& p) { return {float(p.x), float(p.y), float(p.z)}; }

/// Their focal length in pixels from one view, the same unknowns as ours: focal length and pose.
double theirFocal(const std::vector<Vec2d>& at, const std::vector<Vec3d>& world, double guess, int flags) {
  std::vector<cv::Point2f> image;
  std::vector<cv::Point3f> object;
  for (const Vec2d& p : at) image.push_back(toCv(p));
  for (const Vec3d& p : world) object.push_back(toCv(p));
  cv::Mat k = (cv::Mat_<double>(3, 3) << guess, 0, (width - 1) / 2.0, 0, guess, (height - 1) / 2.0, 0, 0, 1),
          bend = cv::Mat::zeros(1, 5, CV_64F);
  std::vector<cv::Mat> turns, shifts;
  try {
    cv::calibrateCamera(
        std::vector<std::vector<cv::Point3f>>{object}, std::vector<std::vector<cv::Point2f>>{image},
        cv::Size(width, height), k, bend, turns, shifts,
        flags | cv::CALIB_USE_INTRINSIC_GUESS | cv::CALIB_FIX_PRINCIPAL_POINT | cv::CALIB_FIX_ASPECT_RATIO |
            cv::CALIB_ZERO_TANGENT_DIST | cv::CALIB_FIX_K2 | cv::CALIB_FIX_K3);
  } catch (const cv::Exception&) {
    return 0;
  }
  return k.at<double>(0, 0);
}

void printPeer(const char* name, const std::vector<double>& ours, const std::vector<double>& theirs,
               const char* unit) {
  std::printf("| %-46s | %.2f | %.2f | %.2f | %.2f | %s |\n", name, quantile(ours, 0.5),
              quantile(theirs, 0.5), quantile(ours, 0.95), quantile(theirs, 0.95), unit);
}

void studyPins() {
  std::mt19937 random(5);
  std::normal_distribution<double> exif(0, 0.02);
  Tally tally;
  std::vector<double> ours, theirs, oursAt, theirsAt, oursFlat, theirsFlat;
  for (int i = 0; i < 300; ++i) {
    Camera truth = someCamera(random);
    truth.k1 = 0;
    Drawing d = pins(truth, random, 6, 0.7);
    const VantageAnswer answer = solve(d.drawn, width, height);
    tally.take(answer, truth, boundOfLogFocal(d.drawn, d, truth, {1, 1}));
    std::vector<Vec2d> at;
    std::vector<Vec3d> world;
    for (const Pin& p : d.drawn.pins) at.push_back(p.at), world.push_back(p.worldM);
    // They need a guess to start from: the usual one, the frame's width.
    const double theirPx = theirFocal(at, world, 1.2 * width, cv::CALIB_FIX_K1);
    ours.push_back(100 * std::abs(answer.vantage.camera.focalPx / truth.focalPx - 1));
    theirs.push_back(100 * std::abs(theirPx / truth.focalPx - 1));
    // Where the focal length is known to 2 %: where does the camera stand?
    d.drawn.focalMm35 = focalMm35(truth) * std::exp(exif(random));
    const VantageAnswer known = solve(d.drawn, width, height);
    oursAt.push_back(100 * (known.vantage.camera.position - truth.position).length());
    std::vector<cv::Point2f> image;
    std::vector<cv::Point3f> object;
    for (const Vec2d& p : at) image.push_back(toCv(p));
    for (const Vec3d& p : world) object.push_back(toCv(p));
    const double f = focalPxFromMm35(*d.drawn.focalMm35, width, height);
    const cv::Mat k = (cv::Mat_<double>(3, 3) << f, 0, (width - 1) / 2.0, 0, f, (height - 1) / 2.0, 0, 0, 1);
    cv::Mat turn, shift, rotation;
    cv::solvePnP(object, image, k, cv::Mat(), turn, shift);
    cv::Rodrigues(turn, rotation);
    const cv::Mat p = -rotation.t() * shift;
    theirsAt.push_back(100 *
                       (Vec3d(p.at<double>(0), p.at<double>(1), p.at<double>(2)) - truth.position).length());
  }
  for (int i = 0; i < 300;) {
    Camera truth = someCamera(random);
    truth.k1 = 0;
    const auto d = footprint(truth, random, 0.7);
    if (!d) continue;
    ++i;
    const Footprint& f = *d->drawn.footprint;
    const std::vector<Vec3d> world = {
        {0, 0, 0}, {f.sizeM->x, 0, 0}, {f.sizeM->x, f.sizeM->y, 0}, {0, f.sizeM->y, 0}};
    const double theirPx =
        theirFocal({f.corners.begin(), f.corners.end()}, world, 1.2 * width, cv::CALIB_FIX_K1);
    theirsFlat.push_back(100 * std::abs(theirPx / truth.focalPx - 1));
    const VantageAnswer answer = solve(d->drawn, width, height);
    // A refusal counts as the worst there is.
    oursFlat.push_back(answer.vantage.solved
                           ? 100 * std::abs(answer.vantage.camera.focalPx / truth.focalPx - 1)
                           : theirsFlat.back());
  }
  tally.print("6 pins");
  std::printf(
      "\n| against the calibration of a general library | ours, median | theirs, median | ours, 95th | "
      "theirs, 95th | |\n"
      "| --- | ---: | ---: | ---: | ---: | --- |\n");
  printPeer("6 pins: focal length", ours, theirs, "%");
  printPeer("6 pins, EXIF: camera position", oursAt, theirsAt, "cm");
  printPeer("footprint of known size: focal length", oursFlat, theirsFlat, "%");
}

/// Evidence that cannot have an answer; every one must be refused with a reason.
Evidence degenerate(int kind, std::mt19937& random) {
  std::uniform_real_distribution<double> u(0, 1);
  Camera truth = someCamera(random);
  switch (kind) {
    case 0: {  // parallel in the photo: two runs without convergence
      Evidence e;
      const double turn = 2 * pi * u(random);
      std::normal_distribution<double> bell(0, 0.3);
      for (int i = 0; i < 8; ++i) {
        const double way = turn + (i % 2) * pi / 2;
        const Vec2d middle((0.3 + 0.4 * u(random)) * width, (0.3 + 0.4 * u(random)) * height),
            along = Vec2d(std::cos(way), std::sin(way)) * (0.2 * height);
        e.strokes.push_back({"s" + std::to_string(i), i % 2 ? Run::b : Run::a, {}});
        for (double t : {-1.0, -0.5, 0.0, 0.5, 1.0})
          e.strokes.back().points.push_back(middle + along * t + Vec2d(bell(random), bell(random)));
      }
      return e;
    }
    case 1: {  // three corners on one line
      Drawing d;
      while (!d.drawn.footprint) {
        truth = someCamera(random);
        d = footprint(truth, random, 0.7).value_or(Drawing{});
      }
      auto& c = d.drawn.footprint->corners;
      const size_t i = size_t(4 * u(random)) % 4;
      c[i] = c[(i + 3) % 4] + (c[(i + 1) % 4] - c[(i + 3) % 4]) * (0.3 + 0.4 * u(random));
      return d.drawn;
    }
    case 2: {  // run b seen end-on, the others square to the view: nothing tells the focal length
      truth = lookAt(width, height, truth.focalPx, {0, 0, 1.2}, {0, 5, 1.2});
      return strokes(truth, random, allRuns, 5, 0.7, false).drawn;
    }
    case 3: {  // half of run b is really run a
      Evidence e = strokes(truth, random, {Run::a, Run::b, Run::up}, 4, 0.7, false).drawn;
      for (Stroke& s : strokes(truth, random, {Run::a}, 4, 0.7, false).drawn.strokes)
        e.strokes.push_back({"b" + s.id, Run::b, s.points});
      return e;
    }
    case 4:  // one run, no focal length
      return strokes(truth, random, {Run(int(3 * u(random)) % 3)}, 6, 0.7, false).drawn;
    case 5: {  // run b is really 30 to 60 degrees off the perpendicular, seen with perspective enough to tell
      while (focalMm35(truth) > 50) truth = someCamera(random);
      Evidence e = strokes(truth, random, {Run::a, Run::up}, 5, 0.7, false).drawn;
      const double off = radians(30 + 30 * std::uniform_real_distribution<double>(0, 1)(random));
      Camera turned = truth;
      const auto about = [&](const Vec3d& v) {
        return Vec3d(std::cos(off) * v.x - std::sin(off) * v.y, std::sin(off) * v.x + std::cos(off) * v.y,
                     v.z);
      };
      turned.axes = {about(truth.axes.x), about(truth.axes.y), about(truth.axes.z)};
      turned.position = about(truth.position);
      for (const Stroke& s : strokes(turned, random, {Run::b}, 5, 0.7, false).drawn.strokes)
        e.strokes.push_back({"b" + s.id, Run::b, s.points});
      return e;
    }
    default: {  // runs at random: no place looks like this
      Evidence e = strokes(truth, random, allRuns, 5, 0.7, false).drawn;
      for (Stroke& s : e.strokes)
        for (Vec2d& p : s.points) {
          const Vec2d from = s.points.front(), d = p - from;
          const double turn = std::hash<std::string>{}(s.id) % 628 / 100.0;
          p = from +
              Vec2d(d.x * std::cos(turn) - d.y * std::sin(turn), d.x * std::sin(turn) + d.y * std::cos(turn));
        }
      return e;
    }
  }
}

void studyRefusals() {
  const char* names[] = {"parallel strokes",  "three collinear corners",
                         "a run seen end-on", "contradictory runs",
                         "one run only",      "runs not perpendicular, by 30 to 60 degrees",
                         "strokes at random"};
  std::printf("\n| degenerate evidence (200 each) | refused with a reason |\n| --- | ---: |\n");
  for (int kind = 0; kind < 7; ++kind) {
    std::mt19937 random(unsigned(100 + kind));
    int refused = 0;
    for (int i = 0; i < 200; ++i) {
      const VantageAnswer answer = solve(degenerate(kind, random), width, height);
      refused += !answer.vantage.solved && !answer.advice.empty();
      if (answer.vantage.solved && std::getenv("DUSK_STUDY_TALK"))
        std::printf("   answered: %d f35 %.0f f %.0f +/- %.0f rms %.2f\n", kind,
                    focalMm35(answer.vantage.camera), answer.vantage.camera.focalPx,
                    answer.vantage.sigma.focalPx, answer.vantage.rmsPx);
    }
    std::printf("| %s | %.1f %% |\n", names[kind], refused / 2.0);
  }
}

void studySnapping() {
  std::mt19937 random(9);
  std::uniform_real_distribution<double> u(0, 1);
  double square = 0;
  int points = 0, lost = 0;
  for (unsigned i = 0; i < 200; ++i) {
    const Vec2d middle(140 + 40 * u(random), 100 + 40 * u(random));
    const double angle = 2 * pi * u(random);
    const Photo photo = edgePhoto(middle, angle, 0, 80, 0.7 + 1.3 * u(random), 0.005 + 0.025 * u(random), i);
    const Vec2d along(std::cos(angle), std::sin(angle)), across(-along.y, along.x);
    const auto rough = [&](double t) { return middle + along * t + across * (8 * u(random) - 4); };
    const auto snap = snapped(photo, {rough(-75), rough(75)}, 9);
    if (!snap) {
      ++lost;
      continue;
    }
    for (const Vec2d& p : snap->points) square += std::pow((p - middle).dot(across), 2), ++points;
  }
  std::printf(
      "\nSnapping on 200 made-up edges (blur 0.7 to 2 px, grain 0.5 to 3 %%, drawn 4 px off): %.3f px rms, "
      "%d not found.\n",
      std::sqrt(square / points), lost);
}

void studySpeed() {
  std::mt19937 random(1);
  std::vector<double> times;
  for (int i = 0; i < 200; ++i) {
    const Camera truth = someCamera(random);
    Drawing d = strokes(truth, random, allRuns, 5, 0.7, false);
    d.drawn.solveK1 = i % 2;
    const auto begun = std::chrono::steady_clock::now();
    (void)solve(d.drawn, width, height);
    times.push_back(
        std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - begun).count());
  }
  std::printf("One solve with 15 strokes of 5 points: median %.1f ms, 95th %.1f ms.\n", quantile(times, 0.5),
              quantile(times, 0.95));
}

}  // namespace
}  // namespace dusk::study

int main() {
  using namespace dusk::study;
  std::printf(
      "| evidence | solved | refused | focal error, median | 95th | rms error over the bound | within 1 "
      "sigma |\n"
      "| --- | ---: | ---: | ---: | ---: | ---: | ---: |\n");
  studyStrokes();
  studyFootprint();
  studyOneRun();
  studyPins();
  studyRefusals();
  studySnapping();
  studySpeed();
  studyPhotographs();
}
