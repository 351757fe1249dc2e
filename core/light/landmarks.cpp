#include "core/light/landmarks.h"

#include <tbb/parallel_for.h>

#include <opencv2/features2d.hpp>
#include <opencv2/imgproc.hpp>

#include "core/vantage/camera.h"

namespace dusk {
namespace {

constexpr double nearestThingM = 0.25;  ///< from the camera
constexpr double farthestGroundM = 15;

struct Found {
  std::vector<Vec3d> bearings;
  cv::Mat descriptors;
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
    found.bearings.push_back(cut.direction((double(p.pt.x) + 0.5) / scale, (double(p.pt.y) + 0.5) / scale));
  return found;
}

/// All features of the cuts, each once.
Found foundInAll(const std::vector<Cut>& cuts) {
  std::vector<Found> each(cuts.size());
  tbb::parallel_for(size_t{0}, cuts.size(), [&](size_t i) { each[i] = foundIn(cuts[i], 450); });
  Found all;
  for (size_t i = 0; i < cuts.size(); ++i)
    for (size_t k = 0; k < each[i].bearings.size(); ++k) {
      if (!isNearestTo(cuts, i, each[i].bearings[k])) continue;
      all.bearings.push_back(each[i].bearings[k]);
      all.descriptors.push_back(each[i].descriptors.row(int(k)));
    }
  return all;
}

/// The features of the mirror image. A descriptor tells 4 x 4 fields about a feature by 8 directions each,
/// all against the feature's own direction: mirrored about that, rows and turns change places.
Found mirrored(const Found& found) {
  constexpr int fields = 4, directions = 8;
  Found other;
  for (const Vec3d& b : found.bearings) other.bearings.push_back({-b.x, b.y, b.z});
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

double angleBetween(const Vec3d& a, const Vec3d& b) { return std::atan2(a.cross(b).length(), a.dot(b)); }

}  // namespace

namespace {

std::vector<Landmark> matched(const Found& mine, const Found& theirs, const Vec3d& eye) {
  std::vector<std::vector<cv::DMatch>> matches(static_cast<size_t>(mine.descriptors.rows));
  constexpr int rows = 100;
  tbb::parallel_for(0, (mine.descriptors.rows + rows - 1) / rows, [&](int block) {
    const int from = block * rows, to = std::min(mine.descriptors.rows, from + rows);
    std::vector<std::vector<cv::DMatch>> some;
    cv::BFMatcher(cv::NORM_L2).knnMatch(mine.descriptors.rowRange(from, to), theirs.descriptors, some, 2);
    std::move(some.begin(), some.end(), matches.begin() + from);
  });
  std::vector<Landmark> all;
  for (size_t i = 0; i < matches.size(); ++i) {
    if (matches[i].size() < 2 || matches[i][0].distance > 0.82f * matches[i][1].distance) continue;
    Landmark l{mine.bearings[i], theirs.bearings[size_t(matches[i][0].trainIdx)]};
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

Sightings::Fit Sightings::fitOf(const Landmark& l, double cosine, double sine, const Vec3d& captureM) const {
  // The panorama's bearing in the world: turned clockwise.
  const Vec3d& p = l.panorama;
  const Vec3d q(cosine * p.x + sine * p.y, -sine * p.x + cosine * p.y, p.z);
  Fit fit{0, 0, 10};
  if (l.groundM) fit.offGround = angleBetween(q, *l.groundM - captureM);
  const Vec3d start = (eye_ + l.photo * nearestThingM - captureM).normalized(), across = start.cross(l.photo);
  fit.arc = angleBetween(start, l.photo);
  if (fit.arc < 1e-3) {
    fit.offArc = angleBetween(q, l.photo);
    return fit;
  }
  const Vec3d n = across.normalized();
  // Between the nearest the thing may be and the infinitely far, or nearer to one of the two.
  const bool between = start.cross(q).dot(n) > 0 && q.cross(l.photo).dot(n) > 0;
  fit.offArc = between ? std::abs(std::asin(std::clamp(q.dot(n), -1.0, 1.0)))
                       : std::min(angleBetween(q, start), angleBetween(q, l.photo));
  return fit;
}

double Sightings::likelihood(double turn, const Vec3d& captureM, double sigma) const {
  constexpr double fitsShare = 0.4, onGround = 0.4;
  const double cosine = std::cos(turn), sine = std::sin(turn), spot = 2 * pi * sigma * sigma / (4 * pi);
  double sum = 0;
  for (const Landmark& l : landmarks_) {
    const Fit fit = fitOf(l, cosine, sine, captureM);
    const auto bell = [&](double off) { return std::exp(-off * off / (2 * sigma * sigma)); };
    // A bell along the arc holds so much of the sphere, and one about the point so much.
    const double band = spot + std::sqrt(2 * pi) * sigma * fit.arc / (4 * pi);
    const double ground = l.groundM ? onGround : 0;
    const double ratio = (1 - ground) * bell(fit.offArc) / band + ground * bell(fit.offGround) / spot;
    sum += std::log(1 - fitsShare + fitsShare * ratio);
  }
  return sum;
}

std::vector<size_t> Sightings::fitting(double turn, const Vec3d& captureM, double sigma) const {
  std::vector<size_t> all;
  for (size_t i = 0; i < landmarks_.size(); ++i) {
    const Fit fit = fitOf(landmarks_[i], std::cos(turn), std::sin(turn), captureM);
    if (std::min(fit.offArc, fit.offGround) < 3 * sigma) all.push_back(i);
  }
  return all;
}

}  // namespace dusk
