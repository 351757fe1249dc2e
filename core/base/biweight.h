#pragma once
#include <cmath>
#include <vector>

namespace dusk {

/// Mean of the values about a centre, farther ones counting less and those beyond `reach` not at all (Beaton
/// & Tukey 1974, "The Fitting of Power Series, Meaning Polynomials, Illustrated on Band-Spectroscopic Data":
/// their biweight). The centre where none is near it.
inline double biweightMean(const std::vector<double>& values, double centre, double reach) {
  double sum = 0, weights = 0;
  for (const double v : values) {
    const double r = (v - centre) / reach;
    if (std::abs(r) >= 1) continue;
    const double w = (1 - r * r) * (1 - r * r);
    sum += w * v, weights += w;
  }
  return weights > 0 ? sum / weights : centre;
}

}  // namespace dusk
