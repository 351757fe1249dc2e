#pragma once
#include <cmath>

namespace dusk {

/// Share of the normal distribution below `z`: a step as soft as one standard deviation.
inline double normalIntegral(double z) { return 0.5 * std::erfc(-z / std::sqrt(2.0)); }

}  // namespace dusk
