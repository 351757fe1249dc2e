#pragma once

namespace dusk {

/// The normal distribution at `z`, in standard deviations.
struct NormalAt {
  double below;    ///< share of it below: a step as soft as one standard deviation
  double density;  ///< its slope
};
/// Within 1e-10, by Taylor's series about the nearest of many points: fits ask for it millions of times.
NormalAt normalAt(double z);

inline double normalIntegral(double z) { return normalAt(z).below; }

}  // namespace dusk
