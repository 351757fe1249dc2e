#include "bench/vantage_photos.h"

#include <cstdio>
#include <opencv2/calib3d.hpp>
#include <opencv2/imgproc.hpp>

#include "core/picture/read.h"
#include "core/vantage/camera.h"
#include "core/vantage/find_edges.h"

namespace dusk::study {
namespace {

const std::string folder = "/usr/share/doc/opencv-doc/examples/data/";
constexpr int columns = 9, rows = 6;

struct Board {
  std::string name;
  int width, height;
  std::vector<cv::Point2f> corners;
};

std::vector<cv::Point3f> boardPoints() {
  std::vector<cv::Point3f> points;
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < columns; ++c) points.emplace_back(float(c), float(-r), 0.0f);  // seen from above
  return points;
}

std::vector<Board> boards(const std::string& camera) {
  std::vector<Board> found;
  for (int i = 1; i <= 14; ++i) {
    char name[32];
    std::snprintf(name, sizeof name, "%s%02d.jpg", camera.c_str(), i);
    const auto photo = readPhoto(folder + name);
    if (!photo) continue;
    const PackedPicture& p = photo->picture;
    cv::Mat grey(p.height, p.width, CV_8UC1);
    for (int y = 0; y < p.height; ++y)
      for (int x = 0; x < p.width; ++x)
        grey.at<uchar>(y, x) = uchar(std::clamp(255 * p.rgbAt(x, y).y, 0.0f, 255.0f));
    std::vector<cv::Point2f> corners;
    if (!cv::findChessboardCorners(grey, {columns, rows}, corners)) continue;
    cv::cornerSubPix(grey, corners, {5, 5}, {-1, -1},
                     {cv::TermCriteria::EPS | cv::TermCriteria::COUNT, 50, 1e-3});
    found.push_back({name, p.width, p.height, corners});
  }
  return found;
}

constexpr int sameUnknowns = cv::CALIB_FIX_ASPECT_RATIO | cv::CALIB_ZERO_TANGENT_DIST | cv::CALIB_FIX_K3 |
                             cv::CALIB_USE_INTRINSIC_GUESS;

/// Their focal length in pixels from these boards together.
double theirFocal(const std::vector<Board>& from, int flags) {
  std::vector<std::vector<cv::Point2f>> seen;
  for (const Board& b : from) seen.push_back(b.corners);
  const std::vector<std::vector<cv::Point3f>> world(from.size(), boardPoints());
  const int w = from[0].width, h = from[0].height;
  cv::Mat k = (cv::Mat_<double>(3, 3) << w, 0, (w - 1) / 2.0, 0, w, (h - 1) / 2.0, 0, 0, 1),
          bend = cv::Mat::zeros(1, 5, CV_64F);
  std::vector<cv::Mat> turns, shifts;
  cv::calibrateCamera(world, seen, {w, h}, k, bend, turns, shifts, flags | sameUnknowns);
  return k.at<double>(0, 0);
}

Vec2d pixelOf(const cv::Point2f& p) { return {p.x + 0.5, p.y + 0.5}; }

Evidence asPins(const Board& b) {
  Evidence e;
  const auto world = boardPoints();
  for (size_t i = 0; i < world.size(); ++i)
    e.pins.push_back({pixelOf(b.corners[i]), {world[i].x, world[i].y, 0}});
  e.solveK1 = e.solveK2 = true;
  return e;
}

Evidence asStrokes(const Board& b) {
  Evidence e;
  for (int r = 0; r < rows; ++r) {
    Stroke s{"a" + std::to_string(r), Run::a, {}, {}};
    for (int c = 0; c < columns; ++c) s.points.push_back(pixelOf(b.corners[size_t(r * columns + c)]));
    e.strokes.push_back(s);
  }
  for (int c = 0; c < columns; ++c) {
    Stroke s{"b" + std::to_string(c), Run::b, {}, {}};
    for (int r = 0; r < rows; ++r) s.points.push_back(pixelOf(b.corners[size_t(r * columns + c)]));
    e.strokes.push_back(s);
  }
  e.solveK1 = true;
  return e;
}

double median(std::vector<double> v) {
  if (v.empty()) return 0;
  std::nth_element(v.begin(), v.begin() + long(v.size() / 2), v.end());
  return v[v.size() / 2];
}

struct OwnEdges {
  VantageAnswer answer;
  size_t strokes = 0;
  bool doubtful = false;
};

/// A photo's vantage from its own edges alone, as the program proposes it.
std::optional<OwnEdges> fromOwnEdges(const std::string& name) {
  const auto photo = readPhoto(folder + name);
  if (!photo) return {};
  Progress progress;
  const auto found = findEdges(*photo, std::nullopt, progress);
  if (!found) return {};
  const int w = photo->picture.width, h = photo->picture.height;
  Evidence e;
  e.strokes = found->strokes;
  e.solveK1 = found->bent || bendsMatter(e, w, h);
  return OwnEdges{solve(e, w, h), e.strokes.size(), !found->doubt().empty()};
}

/// Webcams that bend lines: held boards among clutter, all edges taken as they come.
void studyBoardsByThemselves() {
  std::vector<double> off;
  int solved = 0, doubtful = 0, sure = 0, surelyOff = 0;
  std::printf(
      "\n| photo, its own edges alone | focal length off | our 1 sigma | k1 |\n| --- | ---: | ---: | ---: "
      "|\n");
  for (const char* camera : {"left", "right"}) {
    const auto all = boards(camera);
    if (all.size() < 5) continue;
    const double truth = theirFocal(all, 0);
    for (const Board& b : all) {
      const auto own = fromOwnEdges(b.name);
      if (!own) continue;
      const Vantage& v = own->answer.vantage;
      doubtful += own->doubtful;
      if (!v.solved) {
        std::printf("| %s | refused | | |\n", b.name.c_str());
        continue;
      }
      const double by = 100 * (v.camera.focalPx / truth - 1);
      off.push_back(std::abs(by)), ++solved, sure += !own->doubtful;
      surelyOff += !own->doubtful && std::abs(v.camera.focalPx - truth) > 3 * v.sigma.focalPx;
      std::printf("| %s%s | %+.1f %% | %.1f %% | %.3f |\n", b.name.c_str(),
                  own->doubtful ? " (doubtful)" : "", by, 100 * v.sigma.focalPx / truth, v.camera.k1);
    }
  }
  std::printf(
      "| median, absolute | %.1f %% | %d solved, %d doubtful, of %d others %d off by more than 3 sigma | |\n",
      median(off), solved, doubtful, sure, surelyOff);
}

}  // namespace

void studyPhotographs() {
  const auto all = boards("left");
  if (all.size() < 5) {
    std::printf("\n(real photographs: skipped, the package opencv-doc is not installed)\n");
    return;
  }
  const double truth = theirFocal(all, 0);
  std::printf("\n%zu chessboard photos; all together: focal length %.1f px. Each alone:\n\n", all.size(),
              truth);
  std::printf(
      "| photo | pins, ours | strokes, ours | their single view | our 1 sigma (strokes) |\n| --- | ---: | "
      "---: | ---: | ---: |\n");
  std::vector<double> pins, strokes, theirs;
  int covered = 0, solved = 0;
  for (const Board& b : all) {
    const VantageAnswer p = solve(asPins(b), b.width, b.height), s = solve(asStrokes(b), b.width, b.height);
    const double their = theirFocal({b}, cv::CALIB_FIX_PRINCIPAL_POINT);
    const auto off = [&](double f) { return 100 * (f / truth - 1); };
    const auto cell = [&](const VantageAnswer& a) {
      char text[32];
      std::snprintf(text, sizeof text, "%+.1f %%", off(a.vantage.camera.focalPx));
      return std::string(a.vantage.solved ? text : "refused");
    };
    if (p.vantage.solved) pins.push_back(std::abs(off(p.vantage.camera.focalPx)));
    if (s.vantage.solved) {
      strokes.push_back(std::abs(off(s.vantage.camera.focalPx)));
      ++solved;
      covered += std::abs(s.vantage.camera.focalPx - truth) <= s.vantage.sigma.focalPx;
    }
    theirs.push_back(std::abs(off(their)));
    std::printf("| %s | %s | %s | %+.1f %% | %.1f %% |\n", b.name.c_str(), cell(p).c_str(), cell(s).c_str(),
                off(their), 100 * s.vantage.sigma.focalPx / truth);
  }
  std::printf("| median, absolute | %.1f %% | %.1f %% | %.1f %% | %d of %d within 1 sigma |\n", median(pins),
              median(strokes), median(theirs), covered, solved);

  studyBoardsByThemselves();
  const auto building = fromOwnEdges("building.jpg");
  if (!building) return;
  const Vantage& v = building->answer.vantage;
  std::printf(
      "\nA photo of a building, from its own edges alone: %zu strokes, %s, focal length %.1f mm +/- %.1f, "
      "fit %.2f px.\n",
      building->strokes, v.solved ? "solved" : "refused", focalMm35(v.camera),
      v.sigma.focalPx / v.camera.focalPx * focalMm35(v.camera), v.rmsPx);
}

}  // namespace dusk::study
