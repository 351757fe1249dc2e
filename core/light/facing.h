#pragma once
#include <vector>

#include "core/base/maths.h"

namespace dusk {

/// Draws cells of a sphere in proportion to light times the cosine to a surface's normal: what lies behind
/// the surface is never drawn. A table for each of a set of normals, whose cosines are widened so that none
/// between them finds a cell missing (Conty Estevez & Lecocq 2018, "Fast Product Importance Sampling of
/// Environment Maps").
class FacingTables {
 public:
  static constexpr int across = 64, down = 32;  ///< cells, equirectangular

  FacingTables() = default;
  /// `light`: [cell], luminance times solid angle, >= 0. `centreOf(column, row)`: unit.
  template <typename CentreOf>
  FacingTables(const std::vector<float>& light, const CentreOf& centreOf) : light_(light) {
    for (int y = 0; y < down; ++y)
      for (int x = 0; x < across; ++x) centres_.push_back(centreOf(x, y));
    build();
  }

  /// The table of a normal (unit).
  static int of(const Vec3f& normal);

  struct Drawn {
    int cell;
    float rest;  ///< uniform in [0, 1)
  };
  /// `u` uniform in [0, 1). Requires chance(table, any) above 0.
  Drawn draw(int table, float u) const;
  float light(int cell) const { return light_[size_t(cell)]; }
  /// How likely a cell is drawn.
  float chance(int table, int cell) const {
    const float* c = &cumulative_[size_t(table) * stride];
    return c[stride - 1] > 0 ? (c[cell + 1] - c[cell]) / c[stride - 1] : 0;
  }
  bool isDark(int table) const { return cumulative_[size_t(table + 1) * stride - 1] <= 0; }

 private:
  void build();
  static constexpr int normalsAcross = 24;  ///< an octahedron's square of so many each way, and straight up
  static constexpr int upwards = normalsAcross * normalsAcross;
  static constexpr size_t stride = size_t(across) * down + 1;
  std::vector<float> light_, cumulative_;  // [table][cell + 1]
  std::vector<Vec3f> centres_;
};

}  // namespace dusk
