#include "core/light/landmarks.h"

#include <tbb/parallel_for.h>

#include <opencv2/features2d.hpp>
#include <opencv2/imgproc.hpp>

#include "core/vantage/camera.h"

namespace dusk {
namespace {

constexpr double farthestGroundM = 15;

/// How a feature is seen, whatever the picture.
struct Seen {
  Vec3d bearing;
  double octaves;  ///< log2 of the angle it takes
  double tilt;     ///< which way it points, radians clockwise from above
};

Seen seenIn(const Cut& cut, double x, double y, double radius, double angle) {
  const Vec3d middle = cut.direction(x, y), up = (Vec3d(0, 0, 1) - middle * middle.z).normalized(),
              right = middle.cross(up);
  const double dx = radius * std::cos(angle), dy = radius * std::sin(angle);
  const Vec3d along = cut.direction(x + dx, y + dy) - middle, across = cut.direction(x - dy, y + dx) - middle;
  return {middle, 0.5 * std::log2(along.length() * across.length()),
          std::atan2(along.dot(right), along.dot(up))};
}

struct Found {
  std::vector<Seen> seen;
  cv::Mat descriptors;  ///< a row each
};

Found foundIn(const Cut& cut, int most) {
  // The detector doubles what it gets, and is slow: it gets less, and its finest features are the cut's own.
  constexpr double scale = 0.6;
  cv::Mat reduced;
  cv::resize(cut.grey, reduced, {}, scale, scale, cv::INTER_AREA);
  std::vector<cv::KeyPoint> points;
  Found found;
  cv::SIFT::create(most, 3, 0.02)->detectAndCompute(reduced, cv::noArray(), points, found.descriptors);
  for (const cv::KeyPoint& p : points)
    found.seen.push_back(seenIn(cut, (double(p.pt.x) + 0.5) / scale, (double(p.pt.y) + 0.5) / scale,
                                double(p.size) / 2 / scale, radians(double(p.angle))));
  return found;
}

/// All features of the cuts, each once.
Found foundInAll(const std::vector<Cut>& cuts) {
  std::vector<Found> each(cuts.size());
  tbb::parallel_for(size_t{0}, cuts.size(), [&](size_t i) { each[i] = foundIn(cuts[i], 450); });
  Found all;
  for (size_t i = 0; i < cuts.size(); ++i)
    for (size_t k = 0; k < each[i].seen.size(); ++k) {
      if (!isNearestTo(cuts, i, each[i].seen[k].bearing)) continue;
      all.seen.push_back(each[i].seen[k]);
      all.descriptors.push_back(each[i].descriptors.row(int(k)));
    }
  return all;
}

/// The features of the mirror image. A descriptor tells 4 x 4 fields about a feature by 8 directions each,
/// all against the feature's own direction: mirrored about that, rows and turns change places.
Found mirrored(const Found& found) {
  constexpr int fields = 4, directions = 8;
  Found other;
  for (const Seen& s : found.seen)
    other.seen.push_back({{-s.bearing.x, s.bearing.y, s.bearing.z}, s.octaves, -s.tilt});
  other.descriptors.create(found.descriptors.size(), found.descriptors.type());
  for (int f = 0; f < found.descriptors.rows; ++f)
    for (int row = 0; row < fields; ++row)
      for (int column = 0; column < fields; ++column)
        for (int d = 0; d < directions; ++d)
          other.descriptors.at<float>(
              f, ((fields - 1 - row) * fields + column) * directions + (directions - d) % directions) =
              found.descriptors.at<float>(f, (row * fields + column) * directions + d);
  return other;
}

std::vector<Landmark> matched(const Found& mine, const Found& theirs, const Vec3d& eye) {
  std::vector<std::vector<cv::DMatch>> matches(static_cast<size_t>(mine.descriptors.rows));
  constexpr int rows = 100;
  tbb::parallel_for(0, (mine.descriptors.rows + rows - 1) / rows, [&](int block) {
    const int from = block * rows, to = std::min(mine.descriptors.rows, from + rows);
    std::vector<std::vector<cv::DMatch>> some;
    cv::BFMatcher(cv::NORM_L2).knnMatch(mine.descriptors.rowRange(from, to), theirs.descriptors, some, 2);
    std::move(some.begin(), some.end(), matches.begin() + from);
  });
  constexpr double most = 0.88;
  std::vector<Landmark> all;
  for (size_t i = 0; i < matches.size(); ++i) {
    if (matches[i].size() < 2) continue;
    const double rival = double(matches[i][0].distance) / std::max(1e-6, double(matches[i][1].distance));
    if (rival > most) continue;
    const Seen &here = mine.seen[i], &there = theirs.seen[size_t(matches[i][0].trainIdx)];
    Landmark l{here.bearing, there.bearing};
    // By the study of made-up places: most of what has no rival near it is the same, few of the others.
    l.same = 0.03 + 0.7 / (1 + std::exp((rival - 0.78) / 0.03));
    l.octaves = here.octaves - there.octaves, l.tilt = std::remainder(here.tilt - there.tilt, 2 * pi);
    if (const double t = -eye.z / l.photo.z; t > 0 && t < farthestGroundM) l.groundM = eye + l.photo * t;
    all.push_back(l);
  }
  return all;
}

}  // namespace

std::array<std::vector<Landmark>, 2> landmarks(const Cut& photo, const std::vector<Cut>& cuts) {
  const Found mine = foundIn(photo, 1200), theirs = foundInAll(cuts);
  if (mine.descriptors.rows < 2 || theirs.descriptors.rows < 2) return {};
  return {matched(mine, theirs, photo.camera.position),
          matched(mine, mirrored(theirs), photo.camera.position)};
}

}  // namespace dusk
