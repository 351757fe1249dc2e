#pragma once
#include <array>
#include <vector>

#include "core/project/blend.h"

namespace dusk {

/// Pixels each way of the patches that grain is measured in.
inline constexpr int grainPatch = 24;

/// What is left of values on a square of `size` pixels when a quadratic surface is taken away.
struct Quadratic {
  explicit Quadratic(int size);
  void takeAway(std::vector<double>& values) const;
  int size;
  std::vector<std::vector<double>> basis;  ///< orthonormal
};

/// Sums that tell of neighbours and channels.
struct GrainNeighbours {
  static constexpr size_t lagCount = size_t(GrainLook::lags);
  std::array<std::vector<double>, lagCount> lags;  ///< of each patch and channel
  double rg = 0, rb = 0, gb = 0, n = 0;

  /// Takes what a surface left of a patch, R, G, B; `floor`: variance that rounding added to each.
  void add(const std::array<std::vector<double>, 3>& left, double floor);
  /// Of each lag the mean of its middle half: a patch with an edge in it tells something else than the
  /// others.
  std::array<double, lagCount> lag();
};

/// The true correlation behind what was left of it: both alike but for what the surface took, which is put
/// back. Not normalised: the middle is by how much the variance was too small.
std::vector<double> putBack(const std::array<double, GrainNeighbours::lagCount>& left);

}  // namespace dusk
