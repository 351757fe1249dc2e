#include "core/vantage/find_edges.h"

#include <Eigen/Dense>
#include <opencv2/imgproc.hpp>
#include <random>

#include "core/base/words.h"
#include "core/vantage/camera.h"
#include "core/vantage/snap.h"

namespace dusk {
namespace {

using Eigen::Vector3d;

struct Segment {
  Vec2d from, to;  ///< pixels of the photo
  double length() const { return (to - from).length(); }
};

void longestFirst(std::vector<Segment>& segments) {
  std::sort(segments.begin(), segments.end(),
            [](const Segment& a, const Segment& b) { return a.length() > b.length(); });
}

/// Straight segments of the photo, looked for at no more than `longest` pixels a side.
std::vector<Segment> segmentsIn(const Photo& photo, int longest) {
  const PackedPicture& p = photo.picture;
  const double scale = std::min(1.0, double(longest) / std::max(p.width, p.height));
  const int w = std::max(1, int(p.width * scale)), h = std::max(1, int(p.height * scale));
  const Picture reduced = resized(p, w, h);
  cv::Mat grey(h, w, CV_8UC1);
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w; ++x) {
      const float l = luminance(reduced.rgbAt(x, y));
      grey.at<uchar>(y, x) =
          uchar(std::clamp(255 * (photo.sceneLinear ? std::sqrt(std::max(l, 0.0f)) : l), 0.0f, 255.0f));
    }
  std::vector<cv::Vec4f> found;
  cv::createLineSegmentDetector(cv::LSD_REFINE_STD)->detect(grey, found);
  std::vector<Segment> result;
  for (const cv::Vec4f& s : found)
    result.push_back({Vec2d(s[0] + 0.5, s[1] + 0.5) / scale, Vec2d(s[2] + 0.5, s[3] + 0.5) / scale});
  return result;
}

/// Joins segments, longest first, that lie on one line with small gaps: a joint crossed by a shadow is one
/// edge still.
void joinOnOneLine(std::vector<Segment>& segments, double nearPx) {
  for (size_t i = 0; i < segments.size(); ++i)
    for (size_t j = i + 1; j < segments.size();) {
      Segment& a = segments[i];
      const Segment& b = segments[j];
      const Vec2d along = (a.to - a.from).normalized(), across(-along.y, along.x);
      const double t0 = (b.from - a.from).dot(along), t1 = (b.to - a.from).dot(along);
      const double off =
          std::max(std::abs((b.from - a.from).dot(across)), std::abs((b.to - a.from).dot(across)));
      const double gap = std::max(std::min(t0, t1) - a.length(), -std::max(t0, t1));
      if (off > nearPx || gap > 0.25 * (a.length() + b.length())) {
        ++j;
        continue;
      }
      const double low = std::min({0.0, t0, t1}), high = std::max({a.length(), t0, t1});
      const Vec2d start = a.from;
      a = {start + along * low, start + along * high};
      segments.erase(segments.begin() + long(j));
    }
}

/// A segment in the normalised frame of a pinhole camera: origin in the middle, unit = half the diagonal.
struct Seen {
  Vector3d middle, line;
  double weight;
};

/// Three perpendicular directions in the camera's frame, up the last, and the focal length they are seen
/// with.
struct Hypothesis {
  std::array<Vector3d, 3> axes;
  double focal = 1;
  double score = 0;
};

/// Sine of the angle between a segment and the line from its middle to where `axis` vanishes.
double misfit(const Seen& s, const Vector3d& axis, double focal) {
  const Vector3d towards = s.middle.cross(Vector3d(axis.x() * focal, axis.y() * focal, axis.z()));
  const double n = std::hypot(towards.x(), towards.y());
  return n < 1e-9 ? 1.0 : std::abs(towards.x() * s.line.y() - towards.y() * s.line.x()) / n;
}

constexpr double within = 0.02;  // sine: about a degree

/// The axis a segment belongs to, or -1.
int runOf(const Seen& s, const Hypothesis& h, double limit, double* off = nullptr) {
  int best = -1;
  double least = limit;
  for (int i = 0; i < 3; ++i)
    if (const double m = misfit(s, h.axes[size_t(i)], h.focal); m < least) least = m, best = i;
  if (off) *off = least;
  return best;
}

double scoreOf(const std::vector<Seen>& seen, const Hypothesis& h) {
  std::array<double, 3> sums{};
  for (const Seen& s : seen) {
    double off = within;
    const int run = runOf(s, h, within, &off);
    if (run >= 0) sums[size_t(run)] += s.weight * (1 - off * off / (within * within));
  }
  // A run nearly without support is no run: three good ones beat one very good one.
  return sums[0] + sums[1] + sums[2] +
         2 * std::min({sums[0] + sums[1], sums[1] + sums[2], sums[0] + sums[2]});
}

/// Axes in the order a, b, up; false when no axis is upright enough for a photo held by a person.
bool ordered(Hypothesis& h) {
  auto& d = h.axes;
  const auto upright = std::max_element(
      d.begin(), d.end(), [](const auto& a, const auto& b) { return std::abs(a.y()) < std::abs(b.y()); });
  std::swap(*upright, d[2]);
  if (std::abs(d[2].y()) < 0.72 || std::abs(d[2].x()) > 0.3) return false;
  // Run b leads away from the camera.
  if (std::abs(d[0].z()) > std::abs(d[1].z())) std::swap(d[0], d[1]);
  return true;
}

class Sampler {
 public:
  Sampler(const std::vector<Seen>& seen, std::optional<double> focal) : seen_(seen), focal_(focal) {
    std::vector<double> weights;
    for (const Seen& s : seen) weights.push_back(s.weight);
    pick_ = std::discrete_distribution<size_t>(weights.begin(), weights.end());
  }

  std::optional<Hypothesis> next() {
    const Vector3d v1 = seen_[pick_(random_)].line.cross(seen_[pick_(random_)].line);
    if (v1.norm() < 1e-9) return {};
    Hypothesis h;
    if (!focal_ && std::uniform_int_distribution<int>(0, 1)(random_)) {
      const Vector3d v2 = seen_[pick_(random_)].line.cross(seen_[pick_(random_)].line);
      const double f2 = -(v1.x() * v2.x() + v1.y() * v2.y()) / (v1.z() * v2.z());
      if (!(f2 > 0.25 && f2 < 80)) return {};
      h.focal = std::sqrt(f2);
      h.axes[0] = direction(v1, h.focal), h.axes[1] = direction(v2, h.focal);
    } else {
      // One pair and the plane of sight of a third segment, at a known or a guessed focal length.
      h.focal = focal_
                    ? *focal_
                    : std::exp(std::uniform_real_distribution<double>(std::log(0.9), std::log(4.0))(random_));
      h.axes[0] = direction(v1, h.focal);
      const Vector3d& line = seen_[pick_(random_)].line;
      const Vector3d normal(line.x() * h.focal, line.y() * h.focal, line.z());
      h.axes[1] = normal.cross(h.axes[0]);
      if (h.axes[1].norm() < 1e-6) return {};
      h.axes[1].normalize();
    }
    h.axes[2] = h.axes[0].cross(h.axes[1]);
    if (h.axes[2].norm() < 0.5) return {};
    h.axes[2].normalize();
    return ordered(h) ? std::optional(h) : std::nullopt;
  }

 private:
  static Vector3d direction(const Vector3d& v, double focal) {
    return Vector3d(v.x(), v.y(), v.z() * focal).normalized();
  }
  const std::vector<Seen>& seen_;
  std::optional<double> focal_;
  std::mt19937 random_{7};
  std::discrete_distribution<size_t> pick_;
};

/// The longest segments of one run that do not lie beside one already taken.
std::vector<Segment> spread(std::vector<Segment> of, double apartPx) {
  longestFirst(of);
  std::vector<Segment> taken;
  for (const Segment& s : of) {
    const Vec2d middle = (s.from + s.to) * 0.5;
    const bool beside = std::any_of(taken.begin(), taken.end(), [&](const Segment& t) {
      const Vec2d along = (t.to - t.from).normalized(), d = middle - t.from;
      return std::abs(d.x * along.y - d.y * along.x) < apartPx;
    });
    if (!beside) taken.push_back(s);
    if (int(taken.size()) == mostPerRun) break;
  }
  return taken;
}

/// Segments that are no edges of the place: those along the picture's own border, or that of a frame in it.
void dropBorder(std::vector<Segment>& segments, double width, double height) {
  const double near = 0.01 * std::hypot(width, height);
  const auto lies = [&](double a, double b, double size) {
    return std::max(a, b) < near || std::min(a, b) > size - near;
  };
  std::erase_if(segments, [&](const Segment& s) {
    return lies(s.from.x, s.to.x, width) || lies(s.from.y, s.to.y, height);
  });
}

Seen seenFrom(const Segment& s, double width, double height, double unit) {
  const auto frame = [&](const Vec2d& p) {
    return Vector3d((p.x - width / 2) / unit, (p.y - height / 2) / unit, 1);
  };
  Vector3d line = frame(s.from).cross(frame(s.to));
  line /= std::hypot(line.x(), line.y());
  return {(frame(s.from) + frame(s.to)) / 2, line, s.length() / unit};
}

/// A photo's size, and how its lens bends: by k, of the half diagonal.
struct Lens {
  double width, height, k = 0;
  Vec2d centre() const { return {width / 2, height / 2}; }
  double unit() const { return std::hypot(width, height) / 2; }
  Vec2d straight(const Vec2d& p) const {
    return centre() + undistorted((p - centre()) / unit(), k, 0) * unit();
  }
  Vec2d bent(const Vec2d& p) const { return centre() + distorted((p - centre()) / unit(), k, 0.0) * unit(); }
};

/// Segments that lie on one line behind such a lens, joined, and the three directions most of them agree on.
struct Agreed {
  Lens lens;
  std::vector<Segment> segments;  ///< as without its bend
  std::vector<Seen> seen;
  Hypothesis best;
  double agreement = 0;  ///< the best's score, of all their length

  Agreed(const std::vector<Segment>& found, const Lens& with, std::optional<double> focal, int rounds,
         Progress& progress)
      : lens(with), segments(found) {
    constexpr size_t most = 300;
    const double unit = lens.unit();
    if (lens.k != 0)
      for (Segment& s : segments) s = {lens.straight(s.from), lens.straight(s.to)};
    joinOnOneLine(segments, std::max(1.2, 0.0012 * unit));
    longestFirst(segments);
    if (segments.size() > most) segments.resize(most);
    if (segments.size() < 6) return;
    double length = 0;
    for (const Segment& s : segments)
      seen.push_back(seenFrom(s, lens.width, lens.height, unit)), length += s.length() / unit;
    Sampler sampler(seen, focal);
    for (int i = 0; i < rounds && (i % 500 != 0 || !progress.cancelled()); ++i) {
      auto h = sampler.next();
      if (!h) continue;
      h->score = scoreOf(seen, *h);
      if (h->score > best.score) best = *h;
    }
    agreement = best.score / length;
  }
};

/// How much better segments must agree behind a bent lens than behind a straight one for that to be believed.
constexpr double clearlyBetter = 1.15;

/// The lens behind which the segments agree best, where that is clear: a distortion is right that lets edges
/// be straight (Devernay & Faugeras 2001, "Straight Lines Have to Be Straight"), and parallel ones meet.
Lens lensOf(const std::vector<Segment>& segments, const Lens& straight, std::optional<double> focal,
            Progress& progress) {
  constexpr int rounds = 1500;
  const double plain = Agreed(segments, straight, focal, rounds, progress).agreement;
  Lens best = straight;
  double most = clearlyBetter * plain;
  for (const double k : {0.1, 0.05, -0.05, -0.1, -0.15, -0.2, -0.25, -0.3}) {
    Lens lens = straight;
    lens.k = k;
    if (const Agreed g(segments, lens, focal, rounds, progress); g.agreement > most)
      most = g.agreement, best = lens;
  }
  return best;
}

/// A stroke along a segment, on the edge that the photo shows there.
Stroke strokeAlong(const Segment& s, Run run, const Lens& lens, const Photo& photo) {
  Stroke stroke{"", run, {s.from, s.to}, {}};
  if (lens.k != 0) {
    constexpr int pieces = 4;
    stroke.points.clear();
    for (int i = 0; i <= pieces; ++i)
      stroke.points.push_back(lens.bent(s.from + (s.to - s.from) * (double(i) / pieces)));
  }
  if (const auto edge = snapped(photo, stroke.points, std::max(3.0, 0.003 * lens.unit()))) {
    stroke.drawn = stroke.points;
    stroke.points = edge->points;
  }
  return stroke;
}

}  // namespace

std::string EdgeProposal::doubt() const {
  constexpr double poor = 0.65;
  if (strokes.empty() || agreement >= poor) return {};
  return words(
      "The photo's edges hardly agree on three directions: check the run of each, or draw strokes by hand.");
}

Result<EdgeProposal> findEdges(const Photo& photo, std::optional<double> focalMm35, Progress& progress) try {
  const int width = photo.picture.width, height = photo.picture.height;
  if (photo.picture.empty()) return Error{words("There is no photo to look for edges in.")};
  progress.report(0.02);
  std::vector<Segment> segments = segmentsIn(photo, 1600);
  if (progress.cancelled()) return cancelledError();
  EdgeProposal proposal;
  proposal.segmentsSeen = int(segments.size());
  progress.report(0.4);
  const Lens straight{double(width), double(height)};
  const double unit = straight.unit();
  std::erase_if(segments, [&](const Segment& s) { return s.length() < 0.012 * unit; });
  dropBorder(segments, width, height);
  longestFirst(segments);
  if (segments.size() > 1500) segments.resize(1500);
  std::optional<double> focal;
  if (focalMm35) focal = focalPxFromMm35(*focalMm35, width, height) / unit;
  const Lens lens = lensOf(segments, straight, focal, progress);
  if (progress.cancelled()) return cancelledError();
  progress.report(0.7);
  const Agreed all(segments, lens, focal, 6000, progress);
  if (progress.cancelled()) return cancelledError();
  progress.report(0.85);
  if (all.best.score <= 0) return proposal;
  proposal.bent = lens.k != 0, proposal.agreement = all.agreement;

  std::array<std::vector<Segment>, 3> runs;
  for (size_t i = 0; i < all.segments.size(); ++i)
    if (const int run = runOf(all.seen[i], all.best, within); run >= 0)
      runs[size_t(run)].push_back(all.segments[i]);
  for (size_t run = 0; run < 3; ++run) {
    const auto chosen = spread(runs[run], 0.02 * unit);
    if (chosen.size() < 2) continue;
    for (const Segment& s : chosen) {
      Stroke stroke = strokeAlong(s, Run(run), lens, photo);
      stroke.id = freshId(proposal.strokes, "found");
      proposal.strokes.push_back(std::move(stroke));
    }
  }
  progress.report(1);
  return proposal;
} catch (const cv::Exception& error) {
  return Error{std::string(words("Looking for edges failed: ")) + error.what()};
}

bool bendsMatter(const Evidence& evidence, int width, int height) {
  Evidence straight = evidence, bent = evidence;
  straight.solveK1 = false, bent.solveK1 = true;
  const VantageAnswer a = solve(straight, width, height), b = solve(bent, width, height);
  if (!b.vantage.solved) return false;
  return std::abs(b.vantage.camera.k1) > 3 * b.vantage.sigma.k1 &&
         (!a.vantage.solved || b.vantage.rmsPx < 0.9 * a.vantage.rmsPx);
}

}  // namespace dusk
