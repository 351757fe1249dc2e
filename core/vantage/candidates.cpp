#include "core/vantage/candidates.h"

#include "core/base/dense.h"
#include "core/vantage/camera.h"
#include "core/vantage/three_points.h"

namespace dusk::vantage {
namespace {

using Eigen::Matrix3d;
using Eigen::Vector3d;

/// Pixel to the normalised frame.
struct Frame {
  double width, height, unit;
  Frame(int w, int h) : width(w), height(h), unit(std::hypot(w, h) / 2) {}
  Vector3d operator()(const Vec2d& p) const {
    return {(p.x - width / 2) / unit, (p.y - height / 2) / unit, 1};
  }
};

struct Segment {
  Vector3d from, to;
  Vector3d line() const { return from.cross(to); }
  Vector3d middle() const { return (from + to) / 2; }
  double length() const { return (to - from).norm(); }
};

/// Distance of the segment's end from the line that joins its middle with `v`.
double misfit(const Segment& s, const Vector3d& v) {
  const Vector3d l = s.middle().cross(v);
  const double norm = std::hypot(l.x(), l.y());
  return norm < 1e-12 ? s.length() : std::abs(l.dot(s.from)) / norm;
}

std::vector<Segment> segmentsOf(const Evidence& evidence, Run run, const Frame& frame) {
  std::vector<Segment> result;
  for (const Stroke& stroke : evidence.strokes)
    if (stroke.run == run && stroke.points.size() >= 2) {
      const Segment s{frame(stroke.points.front()), frame(stroke.points.back())};
      if (s.length() > 1e-3) result.push_back(s);
    }
  return result;
}

Triadd triad(const Matrix3d& m) {  // world from camera
  const auto column = [&](int i) { return Vec3d(m(0, i), m(1, i), m(2, i)); };
  return {column(0), column(1), column(2)};
}

Matrix3d nearestRotation(const Matrix3d& m) {
  const Svd parts = svd(m);
  const Matrix3d u = parts.u, v = parts.v;
  Matrix3d r = u * v.transpose();
  if (r.determinant() < 0) r = u * Vector3d(1, 1, -1).asDiagonal() * v.transpose();
  return r;
}

struct Known {
  Vec2d at;
  Vec3d world;
};

std::vector<Known> knownPoints(const Evidence& evidence) {
  std::vector<Known> known;
  for (const Pin& pin : evidence.pins) known.push_back({pin.at, pin.worldM});
  if (evidence.footprint && evidence.footprint->sizeM) {
    const auto [s, z] = std::pair(*evidence.footprint->sizeM, evidence.footprint->heightM);
    const Vec3d corners[] = {{0, 0, z}, {s.x, 0, z}, {s.x, s.y, z}, {0, s.y, z}};
    for (size_t i = 0; i < 4; ++i) known.push_back({evidence.footprint->corners[i], corners[i]});
  }
  return known;
}

/// The camera's height from the first known length, or the assumed one.
double guessedHeight(const Evidence& evidence, Camera camera) {
  camera.position = {0, 0, 1};
  for (const KnownLength& length : evidence.lengths) {
    const auto from = levelPoint(camera, length.from);
    if (!from) continue;
    double found = 0;  // for a camera one metre up
    if (length.on == LengthOn::ground) {
      if (const auto to = levelPoint(camera, length.to)) found = (*to - *from).length();
    } else {
      // Where the ray to the top passes nearest to the upright over the foot.
      const Vec3d ray = rayThrough(camera, length.to), up(0, 0, 1), side = ray.cross(up);
      if (side.length() > 1e-6) found = (camera.position - *from).cross(ray).dot(side) / side.dot(side);
    }
    if (std::abs(found) > 1e-6) return std::clamp(length.metres / std::abs(found), 1e-3, 1e4);
  }
  return assumedHeightM;
}

/// Places a camera whose turn is known: by known points (linear), by a footprint of unknown size standing on
/// the ground, or with the ground's middle of the picture as origin.
Candidate placed(const Evidence& evidence, Camera camera) {
  Candidate c{camera, {1, 1}};
  const auto known = knownPoints(evidence);
  if (known.size() >= 2) {
    // For each point, ray x (X - position) = 0: two independent linear equations in the position.
    Matrix3d a = Matrix3d::Zero();
    Vector3d b = Vector3d::Zero();
    for (const Known& k : known) {
      const Vec3d d = rayThrough(camera, k.at);
      const Vector3d e(d.x, d.y, d.z);
      const Matrix3d across = Matrix3d::Identity() - e * e.transpose();
      a += across;
      b += across * Vector3d(k.world.x, k.world.y, k.world.z);
    }
    const Vector3d p = solveSymmetric(a, b);
    c.camera.position = {p.x(), p.y(), p.z()};
    if (evidence.footprint && evidence.footprint->sizeM) c.footprintSize = *evidence.footprint->sizeM;
    return c;
  }
  c.camera.position = {0, 0, evidence.heightM.value_or(guessedHeight(evidence, camera))};
  const Vec2d origin =
      evidence.footprint ? evidence.footprint->corners[0] : Vec2d(camera.width * 0.5, camera.height * 0.75);
  const double level = evidence.footprint ? evidence.footprint->heightM : 0;
  if (auto ground = levelPoint(c.camera, origin, level)) {
    ground->z = 0;
    if (evidence.footprint) {
      const auto x = levelPoint(c.camera, evidence.footprint->corners[1], level);
      const auto y = levelPoint(c.camera, evidence.footprint->corners[3], level);
      if (x && y)
        c.footprintSize = {std::hypot(x->x - ground->x, x->y - ground->y),
                           std::hypot(y->x - ground->x, y->y - ground->y)};
    }
    c.camera.position -= *ground;
  }
  return c;
}

Camera bareCamera(int width, int height, double focalPx) {
  Camera c;
  c.width = width, c.height = height, c.focalPx = focalPx;
  c.cx = width / 2.0, c.cy = height / 2.0;
  return c;
}

/// Focal lengths to try (px) besides the ones the evidence computes.
std::vector<double> usualFocals(const Evidence& evidence, int width, int height) {
  if (evidence.focalMm35) return {focalPxFromMm35(*evidence.focalMm35, width, height)};
  std::vector<double> focals;
  for (double mm : {22.0, 35.0, 60.0, 110.0}) focals.push_back(focalPxFromMm35(mm, width, height));
  return focals;
}

/// The horizon as a line in the normalised frame, by total least squares; nothing with fewer than two points.
std::optional<Vector3d> horizonOf(const Evidence& evidence, const Frame& frame) {
  if (evidence.levelLine.size() < 2) return {};
  Vector3d middle = Vector3d::Zero();
  for (const Vec2d& p : evidence.levelLine) middle += frame(p) / double(evidence.levelLine.size());
  Eigen::Matrix2d spread = Eigen::Matrix2d::Zero();
  for (const Vec2d& p : evidence.levelLine) {
    const Eigen::Vector2d d = (frame(p) - middle).head<2>();
    spread += d * d.transpose();
  }
  const Eigen::Vector2d across = symmetricEigen(spread).vectors.col(0);
  return Vector3d(across.x(), across.y(), -across.dot(middle.head<2>()));
}

/// Focal lengths (in the frame's unit, squared) at which the directions found come out perpendicular.
std::vector<double> squaredFocals(const std::array<std::optional<Vector3d>, 3>& v,
                                  const std::optional<Vector3d>& horizon) {
  std::vector<double> squares;
  for (int i = 0; i < 3; ++i)
    for (int j = i + 1; j < 3; ++j)
      if (v[i] && v[j])
        squares.push_back(-(v[i]->x() * v[j]->x() + v[i]->y() * v[j]->y()) / (v[i]->z() * v[j]->z()));
  // The upright's vanishing point is the pole of the horizon.
  if (v[2] && horizon)
    squares.push_back(horizon->z() * v[2]->head<2>().dot(horizon->head<2>()) /
                      (v[2]->z() * horizon->head<2>().squaredNorm()));
  std::erase_if(squares, [](double f2) { return !(f2 > 0.04 && f2 < 400); });
  return squares;
}

void fromVanishingPoints(const Evidence& evidence, int width, int height, std::vector<Candidate>& out) {
  const Frame frame(width, height);
  std::array<std::optional<Vector3d>, 3> v;
  for (Run run : {Run::a, Run::b, Run::up}) v[size_t(run)] = vanishingPoint(evidence, run, width, height);
  const auto horizon = horizonOf(evidence, frame);
  const int found = int(v[0].has_value()) + v[1].has_value() + v[2].has_value() + horizon.has_value();
  if (found < 2 && !(found == 1 && evidence.focalMm35)) return;
  std::vector<double> focals = usualFocals(evidence, width, height);
  for (const double f2 : squaredFocals(v, horizon)) focals.push_back(std::sqrt(f2) * frame.unit);
  for (const double focal : focals) {
    const double f = focal / frame.unit;
    std::array<Vector3d, 3> d;  // world axes as seen in the camera's frame
    for (size_t i = 0; i < 3; ++i)
      if (v[i]) d[i] = Vector3d(v[i]->x(), v[i]->y(), v[i]->z() * f).normalized();
    bool upright = v[2].has_value();
    if (!upright && horizon) {
      d[2] = Vector3d(f * horizon->x(), f * horizon->y(), horizon->z()).normalized();
      upright = true;
    }
    if (!upright && v[0] && v[1]) {
      d[2] = d[0].cross(d[1]).normalized();
    } else if (!upright) {
      // One level run alone: held level, the upright has no part to the side.
      const Vector3d& level = v[0] ? d[0] : d[1];
      d[2] = Vector3d(0, -std::abs(level.z()), level.z() < 0 ? -level.y() : level.y());
      if (d[2].norm() < 0.2) d[2] = Vector3d(0, -1, 0);
      d[2] = (d[2] - d[2].dot(level) * level).normalized();
    }
    // The upright points up in the picture.
    if (d[2].y() > 0) d[2] = -d[2];
    if (!v[0] && !v[1]) {  // any azimuth does: +Y ahead
      d[1] = (Vector3d(0, 0, 1) - d[2].z() * d[2]).normalized();
      d[0] = d[1].cross(d[2]);
    }
    if (!v[0] && v[1]) d[0] = d[1].cross(d[2]).normalized();
    if (!v[1] && v[0]) d[1] = d[2].cross(d[0]).normalized();
    if (d[0].cross(d[1]).dot(d[2]) < 0) d[v[1] ? 1 : 0] *= -1;
    // Two turns remain, half a turn apart about the upright; without points to tell, +Y leads away from the
    // camera.
    if (d[1].z() < 0) d[0] = -d[0], d[1] = -d[1];
    const bool told = !evidence.pins.empty() || evidence.footprint;
    for (int half = 0; half < (told ? 2 : 1); ++half) {
      Matrix3d cameraFromWorld;
      cameraFromWorld << d[0], d[1], d[2];
      Camera camera = bareCamera(width, height, focal);
      camera.axes = triad(nearestRotation(cameraFromWorld).transpose());
      out.push_back(placed(evidence, camera));
      d[0] = -d[0], d[1] = -d[1];
    }
  }
}

/// Homography from the plane's (x, y, 1) to the normalised frame, by the direct linear transform.
Matrix3d homography(const std::vector<Known>& known, const Frame& frame) {
  Eigen::MatrixXd a(known.size() * 2, 9);
  for (size_t i = 0; i < known.size(); ++i) {
    const Vector3d p = frame(known[i].at), w(known[i].world.x, known[i].world.y, 1);
    a.row(2 * i) << w.transpose(), 0, 0, 0, -p.x() * w.transpose();
    a.row(2 * i + 1) << 0, 0, 0, w.transpose(), -p.y() * w.transpose();
  }
  const Eigen::VectorXd h = a.jacobiSvd(Eigen::ComputeFullV).matrixV().col(8);
  Matrix3d m;
  m << h.segment<3>(0).transpose(), h.segment<3>(3).transpose(), h.segment<3>(6).transpose();
  return m;
}

void fromPlane(const Evidence& evidence, int width, int height, std::vector<Candidate>& out) {
  const Frame frame(width, height);
  std::vector<Known> known = knownPoints(evidence);
  const double level = evidence.footprint && evidence.footprint->sizeM ? evidence.footprint->heightM : 0;
  std::erase_if(known, [&](const Known& k) { return k.world.z != level; });
  const bool sized = known.size() >= 4;
  if (!sized) {
    if (!evidence.footprint) return;
    known.clear();
    const Vec3d square[] = {{0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {0, 1, 0}};
    for (int i = 0; i < 4; ++i) known.push_back({evidence.footprint->corners[i], square[i]});
  }
  const Matrix3d h = homography(known, frame);
  const Vector3d h1 = h.col(0), h2 = h.col(1);
  // h1 and h2 must come out perpendicular, and of one length when the sizes are real.
  const double a1 = h1.x() * h2.x() + h1.y() * h2.y(), b1 = h1.z() * h2.z();
  const double a2 = h1.head<2>().squaredNorm() - h2.head<2>().squaredNorm(),
               b2 = h1.z() * h1.z() - h2.z() * h2.z();
  std::vector<double> focals = usualFocals(evidence, width, height);
  const double f2 = sized ? -(a1 * b1 + a2 * b2) / (b1 * b1 + b2 * b2) : -a1 / b1;
  if (f2 > 0.04 && f2 < 400) focals.push_back(std::sqrt(f2) * frame.unit);
  for (const double focal : focals) {
    const Vector3d k(frame.unit / focal, frame.unit / focal, 1);
    Vector3d r1 = k.cwiseProduct(h1), r2 = k.cwiseProduct(h2), t = k.cwiseProduct(h.col(2));
    if (t.z() < 0) r1 = -r1, r2 = -r2, t = -t;
    const double n1 = r1.norm(), n2 = r2.norm();
    Matrix3d r;
    r << r1 / n1, r2 / n2, (r1 / n1).cross(r2 / n2);
    r = nearestRotation(r);
    Camera camera = bareCamera(width, height, focal);
    camera.axes = triad(r.transpose());
    if (sized) {
      const Vector3d p = -r.transpose() * t / std::sqrt(n1 * n2);
      camera.position = {p.x(), p.y(), p.z() + level};
      out.push_back(
          {camera, evidence.footprint ? evidence.footprint->sizeM.value_or(Vec2d(1, 1)) : Vec2d(1, 1)});
    } else {
      out.push_back(placed(evidence, camera));
    }
  }
}

/// Six or more pins off one plane: projection matrix by the direct linear transform, split by RQ.
void fromPins(const Evidence& evidence, int width, int height, std::vector<Candidate>& out) {
  if (evidence.pins.size() < 6) return;
  const Frame frame(width, height);
  Vector3d centre = Vector3d::Zero();
  for (const Pin& pin : evidence.pins) centre += Vector3d(pin.worldM.x, pin.worldM.y, pin.worldM.z);
  centre /= double(evidence.pins.size());
  Eigen::MatrixXd a(evidence.pins.size() * 2, 12);
  for (size_t i = 0; i < evidence.pins.size(); ++i) {
    const Pin& pin = evidence.pins[i];
    const Vector3d p = frame(pin.at);
    const Eigen::RowVector4d w(pin.worldM.x - centre.x(), pin.worldM.y - centre.y(),
                               pin.worldM.z - centre.z(), 1);
    a.row(2 * i) << w, 0, 0, 0, 0, -p.x() * w;
    a.row(2 * i + 1) << 0, 0, 0, 0, w, -p.y() * w;
  }
  const Eigen::VectorXd h = svd(a).v.col(11);
  Matrix3d m;
  m << h.segment<3>(0).transpose(), h.segment<3>(4).transpose(), h.segment<3>(8).transpose();
  const Vector3d t(h[3], h[7], h[11]);
  if (m.determinant() == 0) return;
  // m = K R with K upper triangular: QR of the reversed inverse.
  const Qr parts = qr(m.inverse());
  Matrix3d rotation = Matrix3d(parts.q).transpose(), k = Matrix3d(parts.r).inverse();
  for (int i = 0; i < 3; ++i)
    if (k(i, i) < 0) k.col(i) *= -1, rotation.row(i) *= -1;
  if (rotation.determinant() < 0) rotation = -rotation;
  const double focal = (k(0, 0) + k(1, 1)) / 2 / k(2, 2) * frame.unit;
  const Vector3d p = centre - m.inverse() * t;
  std::vector<double> focals = usualFocals(evidence, width, height);
  if (std::isfinite(focal) && focal > frame.unit * 0.2 && focal < frame.unit * 20) focals.push_back(focal);
  for (double f : focals) {
    Camera camera = bareCamera(width, height, f);
    camera.axes = triad(rotation.transpose());
    camera.position = {p.x(), p.y(), p.z()};
    out.push_back({camera, {1, 1}});
  }
}

/// The three known points that span the largest triangle in the photo, at each focal length worth a try.
void fromThreePoints(const Evidence& evidence, int width, int height, std::vector<Candidate>& out) {
  const auto known = knownPoints(evidence);
  if (known.size() < 3 || known.size() > 40) return;
  std::array<size_t, 3> best{0, 1, 2};
  double widest = -1;
  for (size_t i = 0; i < known.size(); ++i)
    for (size_t j = i + 1; j < known.size(); ++j)
      for (size_t k = j + 1; k < known.size(); ++k) {
        const Vec2d u = known[j].at - known[i].at, w = known[k].at - known[i].at;
        if (const double area = std::abs(u.x * w.y - u.y * w.x); area > widest)
          widest = area, best = {i, j, k};
      }
  for (const double focal : usualFocals(evidence, width, height)) {
    Camera camera = bareCamera(width, height, focal);
    std::array<Vec3d, 3> world, rays;
    for (size_t i = 0; i < 3; ++i)
      world[i] = known[best[i]].world, rays[i] = rayThrough(camera, known[best[i]].at);
    for (const Pose& pose : posesOfThreePoints(world, rays)) {
      camera.axes = pose.axes, camera.position = pose.position;
      out.push_back(
          {camera, evidence.footprint ? evidence.footprint->sizeM.value_or(Vec2d(1, 1)) : Vec2d(1, 1)});
    }
  }
}

}  // namespace

std::optional<Eigen::Vector3d> vanishingPoint(const Evidence& evidence, Run run, int width, int height) {
  const Frame frame(width, height);
  const auto segments = segmentsOf(evidence, run, frame);
  if (segments.size() < 2) return {};
  const double scale = 3 / frame.unit;  // three pixels
  const auto score = [&](const Vector3d& v) {
    double sum = 0;
    for (const Segment& s : segments) sum += std::log1p(std::pow(misfit(s, v) / scale, 2));
    return sum;
  };
  Vector3d best = Vector3d::Zero();
  double bestScore = std::numeric_limits<double>::infinity();
  for (size_t i = 0; i < segments.size(); ++i)
    for (size_t j = i + 1; j < segments.size(); ++j) {
      const Vector3d v = segments[i].line().cross(segments[j].line());
      if (v.norm() < 1e-12) continue;
      if (const double s = score(v); s < bestScore) bestScore = s, best = v;
    }
  if (best.norm() == 0) return {};
  for (int round = 0; round < 3; ++round) {
    Matrix3d sum = Matrix3d::Zero();
    for (const Segment& s : segments) {
      const double w = 1 / (1 + std::pow(misfit(s, best) / scale, 2));
      sum += w * s.line() * s.line().transpose();
    }
    const Vector3d v = symmetricEigen(sum).vectors.col(0);
    if (score(v) <= bestScore) bestScore = score(v), best = v;
  }
  return best.normalized();
}

std::vector<Candidate> candidates(const Evidence& evidence, int width, int height) {
  std::vector<Candidate> all;
  fromVanishingPoints(evidence, width, height, all);
  fromPlane(evidence, width, height, all);
  fromPins(evidence, width, height, all);
  fromThreePoints(evidence, width, height, all);
  if (evidence.lens)
    for (Candidate& c : all) c.camera.k1 = evidence.lens->k1, c.camera.k2 = evidence.lens->k2;
  std::erase_if(all, [](const Candidate& c) {
    const Vec3d p = c.camera.position;
    return !std::isfinite(p.x + p.y + p.z + c.camera.focalPx + c.camera.axes.x.x);
  });
  return all;
}

}  // namespace dusk::vantage
