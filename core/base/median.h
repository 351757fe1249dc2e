#pragma once
#include <algorithm>
#include <vector>

namespace dusk {

/// The upper median of `values`, which must not be empty; their order is lost.
template <typename T>
T medianInPlace(std::vector<T>& values) {
  const auto middle = values.begin() + static_cast<long>(values.size() / 2);
  std::nth_element(values.begin(), middle, values.end());
  return *middle;
}

/// The same of a copy.
template <typename T>
T median(std::vector<T> values) {
  return medianInPlace(values);
}

}  // namespace dusk
