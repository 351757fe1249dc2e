#pragma once
#include <optional>
#include <vector>

#include "core/base/maths.h"

/// What a shadow on the ground looks like, told by how the light goes across it.
namespace dusk {

/// The ground across a shadow at places along it, each in even steps from one side to the other.
struct ShadowRows {
  struct Row {
    double away = 0;           ///< metres from there to what throws the shadow, along the light
    double blurM = 0;          ///< one sigma of what the picture blurs there, across
    std::vector<Rgb> light{};  ///< scene-linear, as many in each row
  };
  double reachM = 0;  ///< the first step lies so far to one side of the middle, the last to the other
  std::vector<Row> rows{};
  /// Where the i-th step of a row lies, metres from the middle.
  double offsetM(size_t i) const {
    return reachM * (2.0 * double(i) / double(rows.front().light.size() - 1) - 1);
  }
};

/// The shadow of something upright of one width, by a light that is a disc.
struct ShadowShape {
  Rgb left{1, 1, 1};       ///< share of the ground's light where all of the disc is hidden
  double discDegrees = 0;  ///< how wide the light looks: its width of penumbra over the way
  double halfWidthM = 0, middleM = 0, driftM = 0;  ///< `driftM`: by how much the middle moves from row to row
  double explained = 0;                            ///< share of what varies across the rows that this tells
  /// One sigma, by what a quarter of the rows at a time says: of the light left, in EV, and of the disc.
  double leftEv = 0, discSigmaDegrees = 0;
  /// Share of the light that is left, by luminance, in a row.
  double leftAt(const ShadowRows& rows, size_t row, double offsetM) const;
  /// Where the light goes from a tenth to nine tenths, metres.
  double edgeM(const ShadowRows::Row& row) const;
};

/// What is left of the open ground's light across the middle of a shadow, by luminance, all rows together: in
/// even steps from one side to the other; NaN beyond the rows' ends.
std::vector<double> lightAcross(const ShadowRows& rows, const ShadowShape& shape, int steps);

/// The shape that tells the rows best: the ground itself may be brighter on one side, and each row as bright
/// as it likes. Blurred by the disc (its spread is a quarter of its width) and by the picture. Nothing where
/// there are too few rows, or no shadow with two edges in them. `howSure`: with the margins, too.
std::optional<ShadowShape> fitShadow(const ShadowRows& rows, bool howSure = false);

}  // namespace dusk
