#include "core/proof/shadow_fit.h"

#include <ceres/ceres.h>

#include <algorithm>

#include "core/base/normal_integral.h"

namespace dusk {
namespace {

constexpr double spreadOfDisc = 0.25;  // sigma of a disc seen edge on, over its width
constexpr double edgeOfSigma = 2.563;  // from 10 % to 90 % of a Gaussian edge

double spreadM(double discDegrees, const ShadowRows::Row& row) {
  return std::hypot(spreadOfDisc * radians(discDegrees) * row.away, row.blurM);
}

/// How much of the disc is hidden at an offset from the shadow's middle, 0 to 1.
double hidden(double x, double halfWidth, double sigma) {
  const double s = std::max(1e-9, sigma);
  return normalIntegral((x + halfWidth) / s) - normalIntegral((x - halfWidth) / s);
}

/// From -1 in the first row to 1 in the last.
double along(const ShadowRows& rows, size_t row) {
  return rows.rows.size() < 2 ? 0 : 2.0 * double(row) / double(rows.rows.size() - 1) - 1;
}

/// The even, perhaps leaning, light of the open ground in a row: where `keeps` of it is left at each step.
struct Open {
  double level = 0, lean = 0;
};
Open openIn(const ShadowRows& rows, const std::vector<double>& light, const std::vector<double>& keeps) {
  double a = 0, b = 0, c = 0, u = 0, v = 0;
  for (size_t i = 0; i < light.size(); ++i) {
    const double k = keeps[i], x = rows.offsetM(i) / rows.reachM;
    a += k * k, b += k * k * x, c += k * k * x * x, u += k * light[i], v += k * x * light[i];
  }
  const double det = a * c - b * b;
  if (det < 1e-12) return {a > 0 ? u / a : 0, 0};
  return {(c * u - b * v) / det, (a * v - b * u) / det};
}

/// Rows of one channel, or of luminance, each about 1.
struct Lines {
  const ShadowRows& rows;
  std::vector<size_t> taken;  ///< which rows
  std::vector<std::vector<double>> light{};

  template <typename Of>
  Lines(const ShadowRows& from, std::vector<size_t> which, const Of& of)
      : rows(from), taken(std::move(which)) {
    for (const size_t r : taken) {
      std::vector<double> line;
      double sum = 0;
      for (const Rgb& l : from.rows[r].light) line.push_back(of(l)), sum += line.back();
      for (double& l : line) l *= double(line.size()) / std::max(1e-12, sum);
      light.push_back(std::move(line));
    }
  }
  size_t count() const { return light.size() * light.front().size(); }

  /// How much of the disc a shape hides at each step, whatever light it leaves.
  std::vector<double> hiddenBy(const ShadowShape& shape) const {
    std::vector<double> all;
    all.reserve(count());
    for (size_t n = 0; n < taken.size(); ++n) {
      const double sigma = spreadM(shape.discDegrees, rows.rows[taken[n]]),
                   middle = shape.middleM + shape.driftM * along(rows, taken[n]);
      for (size_t i = 0; i < light[n].size(); ++i)
        all.push_back(hidden(rows.offsetM(i) - middle, shape.halfWidthM, sigma));
    }
    return all;
  }
  /// What that leaves unexplained at each step.
  void residuals(const std::vector<double>& hides, double left, double* out) const {
    std::vector<double> keeps(light.front().size());
    auto hidden = hides.begin();
    for (const std::vector<double>& line : light) {
      for (double& k : keeps) k = 1 - (1 - left) * *hidden++;
      const Open open = openIn(rows, line, keeps);
      for (size_t i = 0; i < keeps.size(); ++i)
        *out++ = line[i] - (open.level + open.lean * rows.offsetM(i) / rows.reachM) * keeps[i];
    }
  }
  double squares(const std::vector<double>& hides, double left) const {
    std::vector<double> off(count());
    residuals(hides, left, off.data());
    double sum = 0;
    for (const double o : off) sum += o * o;
    return sum;
  }
};

/// The light left that fits best while all else stays: golden section search.
double bestLeft(const Lines& lines, const ShadowShape& shape) {
  constexpr double golden = 0.6180339887;
  double low = 0.003, high = 1.2;
  double a = high - golden * (high - low), b = low + golden * (high - low);
  const std::vector<double> hides = lines.hiddenBy(shape);
  double atA = lines.squares(hides, a), atB = lines.squares(hides, b);
  for (int i = 0; i < 24; ++i) {
    if (atA < atB)
      high = b, b = a, atB = atA, a = high - golden * (high - low), atA = lines.squares(hides, a);
    else
      low = a, a = b, atA = atB, b = low + golden * (high - low), atB = lines.squares(hides, b);
  }
  return (low + high) / 2;
}

/// Widths, places and lights all over the rows: where to begin.
ShadowShape roughly(const ShadowRows& rows, const std::vector<size_t>& which) {
  std::vector<size_t> few;
  for (size_t i = 0; i < which.size(); i += 5) few.push_back(which[i]);
  const Lines lines(rows, few, [](const Rgb& l) { return double(luminance(l)); });
  ShadowShape best;
  double least = 1e300;
  for (const double width : {0.03, 0.07, 0.13, 0.22, 0.34})
    for (double middle = -0.4; middle < 0.41; middle += 0.1)
      for (const double disc : {0.4, 1.5, 6.0}) {
        ShadowShape shape;
        shape.halfWidthM = width * rows.reachM, shape.middleM = middle * rows.reachM;
        shape.discDegrees = disc;
        const std::vector<double> hides = lines.hiddenBy(shape);
        for (const double left : {0.25, 0.6}) {
          shape.left = Rgb(float(left));
          if (const double off = lines.squares(hides, left); off < least) least = off, best = shape;
        }
      }
  return best;
}

/// Parameters as the solver sees them, all about 1.
struct Packed {
  double values[5];
  static Packed of(const ShadowShape& s, double reach) {
    return {{std::log(s.halfWidthM / reach), s.middleM / reach, s.driftM / reach,
             std::log(std::max(0.02, s.discDegrees)), double(luminance(s.left))}};
  }
  static ShadowShape shape(const double* v, double reach) {
    ShadowShape s;
    s.halfWidthM = std::exp(std::min(v[0], 0.0)) * reach, s.middleM = v[1] * reach, s.driftM = v[2] * reach;
    s.discDegrees = std::exp(std::clamp(v[3], -4.0, 4.5)), s.left = Rgb(float(v[4]));
    return s;
  }
};

struct OffBy {
  const Lines& lines;
  bool operator()(double const* const* v, double* out) const {
    lines.residuals(lines.hiddenBy(Packed::shape(v[0], lines.rows.reachM)), v[0][4], out);
    return true;
  }
};

ShadowShape refined(const ShadowRows& rows, const std::vector<size_t>& which, const ShadowShape& from) {
  const Lines lines(rows, which, [](const Rgb& l) { return double(luminance(l)); });
  Packed packed = Packed::of(from, rows.reachM);
  auto* cost = new ceres::DynamicNumericDiffCostFunction<OffBy, ceres::CENTRAL>(new OffBy{lines});
  cost->AddParameterBlock(5);
  cost->SetNumResiduals(int(lines.count()));
  ceres::Problem problem;
  problem.AddResidualBlock(cost, nullptr, packed.values);
  problem.SetParameterLowerBound(packed.values, 4, 0.003);
  problem.SetParameterUpperBound(packed.values, 4, 1.2);
  ceres::Solver::Options options;
  options.max_num_iterations = 15, options.logging_type = ceres::SILENT;
  options.linear_solver_type = ceres::DENSE_QR;
  ceres::Solver::Summary summary;
  ceres::Solve(options, &problem, &summary);
  return Packed::shape(packed.values, rows.reachM);
}

}  // namespace

double ShadowShape::leftAt(const ShadowRows& rows, size_t row, double offsetM) const {
  const double kept = double(luminance(left));
  return 1 - (1 - kept) * hidden(offsetM - middleM - driftM * along(rows, row), halfWidthM,
                                 spreadM(discDegrees, rows.rows[row]));
}

double ShadowShape::edgeM(const ShadowRows::Row& row) const {
  return edgeOfSigma * spreadM(discDegrees, row);
}

std::vector<double> lightAcross(const ShadowRows& rows, const ShadowShape& shape, int steps) {
  std::vector<size_t> all;
  for (size_t i = 0; i < rows.rows.size(); ++i) all.push_back(i);
  const Lines lines(rows, all, [](const Rgb& l) { return double(luminance(l)); });
  std::vector<double> sums(static_cast<size_t>(steps), 0.0), counts(sums);
  const double span = std::min(rows.reachM, 2.5 * shape.halfWidthM + shape.edgeM(rows.rows[all.size() / 2]));
  for (const size_t r : all) {
    const std::vector<double>& light = lines.light[r];
    const double middle = shape.middleM + shape.driftM * along(rows, r);
    std::vector<double> keeps;
    for (size_t i = 0; i < light.size(); ++i) keeps.push_back(shape.leftAt(rows, r, rows.offsetM(i)));
    const Open open = openIn(rows, light, keeps);
    for (int n = 0; n < steps; ++n) {
      const double x = middle + span * (2.0 * n / (steps - 1) - 1),
                   at = (x / rows.reachM + 1) / 2 * double(light.size() - 1);
      const double level = open.level + open.lean * x / rows.reachM;
      if (at < 0 || at > double(light.size() - 1) || level <= 0) continue;
      const auto i = std::min(size_t(at), light.size() - 2);
      const double t = at - double(i);
      sums[size_t(n)] += (light[i] * (1 - t) + light[i + 1] * t) / level, counts[size_t(n)] += 1;
    }
  }
  for (size_t n = 0; n < sums.size(); ++n) sums[n] /= counts[n];
  return sums;
}

std::optional<ShadowShape> fitShadow(const ShadowRows& rows, bool howSure) {
  constexpr size_t fewest = 8;
  if (rows.rows.size() < fewest || rows.reachM <= 0) return {};
  std::vector<size_t> all;
  for (size_t i = 0; i < rows.rows.size(); ++i) all.push_back(i);
  ShadowShape shape = refined(rows, all, roughly(rows, all));
  const Lines lines(rows, all, [](const Rgb& l) { return double(luminance(l)); });
  const std::vector<double> hides = lines.hiddenBy(shape);
  const double without = lines.squares(hides, 1), with = lines.squares(hides, double(luminance(shape.left)));
  shape.explained = without > 0 ? 1 - with / without : 0;
  // A shadow that is cut off by the rows' ends, or takes nothing, is none that could be read.
  if (shape.explained < 0.35 || luminance(shape.left) > 0.97f || shape.halfWidthM > 0.7 * rows.reachM ||
      std::abs(shape.middleM) > 0.7 * rows.reachM)
    return {};
  for (int c = 0; c < 3; ++c)
    shape.left[c] = float(bestLeft(Lines(rows, all, [c](const Rgb& l) { return double(l[c]); }), shape));
  if (!howSure) return shape;
  constexpr size_t parts = 4;
  const double kept = double(luminance(shape.left));
  double evs = 0, discs = 0;
  for (size_t part = 0; part < parts; ++part) {
    std::vector<size_t> some;
    for (const size_t i : all)
      if (i % parts == part) some.push_back(i);
    const ShadowShape other = refined(rows, some, shape);
    evs += std::pow(std::log2(double(luminance(other.left)) / kept), 2);
    discs += std::pow(other.discDegrees - shape.discDegrees, 2);
  }
  // The mean of four is twice as sure as each.
  shape.leftEv = std::sqrt(evs / parts) / 2, shape.discSigmaDegrees = std::sqrt(discs / parts) / 2;
  return shape;
}

}  // namespace dusk
