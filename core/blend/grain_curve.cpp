#include "core/blend/grain_curve.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <numeric>

namespace dusk {
namespace {

constexpr double least = 0.05;  ///< code values: what rounding leaves of none
constexpr double stiff = 12, level = 0.003;
/// Cameras' curves lift shadows: what gets stronger towards white is texture.
constexpr double rising = 4;
constexpr double bound = 0.5;  ///< weight of what the quietest places tell, where the curve lies above it
constexpr double beyond = 24;  ///< code values that it goes on for as it came, past what tells

/// Where a code value lies between two knots.
struct Between {
  int knot;
  double share;
};
Between between(double code, int knots) {
  const double at = std::clamp(code / 255, 0.0, 1.0) * (knots - 1);
  const int k = std::min(int(at), knots - 2);
  return {k, at - k};
}
double valueAt(const Eigen::VectorXd& g, double code) {
  const Between b = between(code, int(g.size()));
  return g[b.knot] * (1 - b.share) + g[b.knot + 1] * b.share;
}
double logOf(double sigma) { return std::log(std::max(least, sigma)); }

/// Sums of least squares, of points and of penalties.
struct NormalEquations {
  Eigen::MatrixXd a;
  Eigen::VectorXd b;
  explicit NormalEquations(const Eigen::VectorXd& now)
      : a(Eigen::MatrixXd::Zero(now.size(), now.size())), b(Eigen::VectorXd::Zero(now.size())) {
    const int knots = int(now.size());
    const auto penalty = [&](int k, std::initializer_list<double> differences, double weight) {
      Eigen::VectorXd row = Eigen::VectorXd::Zero(knots);
      for (const double d : differences) row[k++] = d;
      a += weight * row * row.transpose();
    };
    for (int k = 0; k + 2 < knots; ++k) penalty(k, {1, -2, 1}, stiff);
    for (int k = 0; k + 1 < knots; ++k) penalty(k, {-1, 1}, now[k + 1] > now[k] ? rising : level);
  }
  void add(double code, double value, double weight) {
    const Between at = between(code, int(b.size()));
    const double s[2] = {1 - at.share, at.share};
    for (int i = 0; i < 2; ++i) {
      b[at.knot + i] += weight * s[i] * value;
      for (int k = 0; k < 2; ++k) a(at.knot + i, at.knot + k) += weight * s[i] * s[k];
    }
  }
};

/// The value that a quarter of the weight lies below.
double lowerQuarter(const std::vector<GrainAt>& found) {
  std::vector<size_t> order(found.size());
  std::iota(order.begin(), order.end(), 0);
  std::sort(order.begin(), order.end(), [&](size_t a, size_t b) { return found[a].sigma < found[b].sigma; });
  double all = 0, sum = 0;
  for (const GrainAt& f : found) all += f.weight;
  for (const size_t i : order)
    if ((sum += found[i].weight) >= 0.25 * all && found[i].weight > 0) return found[i].sigma;
  return least;
}

}  // namespace

GrainCurve grainCurve(const std::vector<GrainAt>& found, int knots) {
  GrainCurve out;
  if (std::none_of(found.begin(), found.end(), [](const GrainAt& f) { return f.weight > 0; })) return out;
  Eigen::VectorXd g = Eigen::VectorXd::Constant(knots, logOf(lowerQuarter(found)));
  out.trust.assign(found.size(), 0);
  double above = 1.3;
  for (int round = 0; round < 40; ++round, above = std::max(1.08, above * 0.99)) {
    NormalEquations sums(g);
    for (size_t i = 0; i < found.size(); ++i) {
      const GrainAt& f = found[i];
      const double now = valueAt(g, f.code), ratio = std::exp(logOf(f.sigma) - now);
      out.trust[i] = f.weight > 0 ? std::min(1.0, std::pow(above / ratio, 6)) : 0;
      sums.add(f.code, logOf(f.sigma), f.weight * out.trust[i]);
      if (now > logOf(f.most)) sums.add(f.code, logOf(f.most), bound);
    }
    g = sums.a.ldlt().solve(sums.b);
  }
  double low = 255, high = 0, squares = 0, weights = 0;
  for (size_t i = 0; i < found.size(); ++i) {
    const double w = found[i].weight * out.trust[i];
    if (out.trust[i] < 0.5) continue;
    low = std::min(low, found[i].code), high = std::max(high, found[i].code);
    const double off = logOf(found[i].sigma) - valueAt(g, found[i].code);
    squares += w * off * off, weights += w;
  }
  if (weights <= 0) return out;
  out.spread = std::sqrt(squares / weights);
  for (int k = 0; k < knots; ++k) {
    const double code = 255.0 * k / (knots - 1);
    out.sigma.push_back(std::exp(valueAt(g, std::clamp(code, low - beyond, high + beyond))));
  }
  return out;
}

}  // namespace dusk
