#include "core/trace/fresnel.h"

#include <vector>

#include "core/base/dense.h"

namespace dusk {
namespace {

/// Terms of dielectrics, by the root of their reflectance at normal incidence.
struct TermTable {
  static constexpr float step = 0.01f;
  static constexpr int count = 71;                                            // up to an index of 5.6
  std::vector<RiseTerms> terms = std::vector<RiseTerms>(count, RiseTerms{});  // of index 1: none

  TermTable() {
    for (int i = 1; i < count; ++i) {
      const float root = float(i) * step;
      terms[size_t(i)] = fitted((1 + root) / (1 - root));
    }
  }

  /// Least squares, each direction by the light that comes from there. All goes to 1 at grazing by the first.
  static RiseTerms fitted(float ior) {
    constexpr int samples = 200, free = riseTerms - 1;
    Eigen::MatrixXd curves(samples, free);
    Eigen::VectorXd left(samples);
    for (int i = 0; i < samples; ++i) {
      const float c = (float(i) + 0.5f) / samples;
      const RiseTerms at = riseTermsAt(c);
      const double weight = std::sqrt(std::max(double(c), 0.02));
      for (int j = 0; j < free; ++j) curves(i, j) = weight * double(at[size_t(j) + 1]);
      left[i] = weight * (double(dielectricRise(c, ior)) - double(at[0]));
    }
    const Eigen::VectorXd found = leastSquares(curves, left);
    RiseTerms terms{1};
    for (int i = 0; i < free; ++i) terms[size_t(i) + 1] = float(found[i]);
    return terms;
  }
};

}  // namespace

float dielectricReflectance(float cosine, float eta) {
  const float sine2 = eta * eta * (1 - cosine * cosine);
  if (sine2 >= 1) return 1;
  const float beyond = std::sqrt(1 - sine2);
  const float parallel = (cosine - eta * beyond) / (cosine + eta * beyond);
  const float across = (eta * cosine - beyond) / (eta * cosine + beyond);
  return (parallel * parallel + across * across) / 2;
}

float dielectricRise(float cosine, float ior) {
  const float f0 = normalReflectance(ior);
  return (dielectricReflectance(std::clamp(cosine, 1e-4f, 1.0f), 1 / ior) - f0) / (1 - f0);
}

RiseTerms riseTermsAt(float cosine) {
  const float m = 1 - cosine, m2 = m * m, m3 = m2 * m, m5 = m3 * m2;
  return {m5, cosine * m3, cosine * m5, cosine * m5 * m3};
}

RiseTerms dielectricTerms(float ior) {
  static const TermTable table;
  const float at = std::min(std::sqrt(normalReflectance(ior)) / TermTable::step, TermTable::count - 1.001f);
  const size_t low = size_t(at);
  RiseTerms terms;
  for (size_t i = 0; i < riseTerms; ++i)
    terms[i] = table.terms[low][i] + (table.terms[low + 1][i] - table.terms[low][i]) * (at - float(low));
  return terms;
}

}  // namespace dusk
