#pragma once
#include <memory>
#include <optional>

#include "core/base/result.h"
#include "core/light/facing.h"
#include "core/picture/picture.h"

namespace dusk {

/// Equirectangular picture coordinates (u, v in 0..1) of a world direction: u = 0.5 looks along +Y and grows
/// clockwise from above, v = 0 is up; and back.
Vec2f panoramaUv(const Vec3f& direction);
Vec3f panoramaDirection(const Vec2f& uv);

/// Scene-linear light all round, ready to be looked up and to draw directions from in proportion to radiance.
/// Immutable: share it between threads. Its own frame: turn, mirror and gain are the lookup's business (see
/// Dome).
class Panorama {
 public:
  /// `picture`: equirectangular, three channels, width = 2 height (others are taken as such too), all values
  /// >= 0.
  static std::shared_ptr<const Panorama> make(Picture picture);

  const Picture& picture() const { return picture_; }
  /// Radiance from direction (unit). Bilinear.
  Rgb radiance(const Vec3f& direction) const { return lookup(panoramaUv(direction)); }

  /// Draws a direction by luminance times solid angle. `u` uniform in [0, 1)^2. With a table of `facing`, by
  /// what that does to a surface.
  Vec3f sampleDirection(const Vec2f& u, int facing = anyNormal) const;
  /// The table for a surface that looks along `normal` (unit, of the panorama's own frame).
  int facing(const Vec3f& normal) const;
  static constexpr int anyNormal = -1;
  /// Radiance and density of one direction together: they share the costly angles.
  struct Seen {
    Rgb radiance;
    float pdf;  ///< per steradian
  };
  Seen seen(const Vec3f& direction, int facing = anyNormal) const;

  /// Irradiance of a surface that looks along `normal`, from its first nine spherical harmonics: within a few
  /// percent but for a sun. Ramamoorthi & Hanrahan 2001, "An Efficient Representation for Irradiance
  /// Environment Maps".
  Rgb irradiance(const Vec3f& normal) const;

  /// Mean luminance over the sphere.
  float meanLuminance() const { return mean_; }
  /// Direction of the brightest spot (luminance blurred over about 3 degrees), and how many times the mean it
  /// is.
  struct Peak {
    Vec3f direction;
    float timesMean;
  };
  const Peak& brightest() const { return peak_; }
  /// Darkest to brightest luminance in EV, over the 0.1 % to 100 % quantiles.
  float rangeEv() const { return rangeEv_; }
  /// Whether it is no brighter than white anywhere, as an 8-bit file; and the share of the sphere that is at
  /// the top of its range: as good as surely clipped, where that is more than a spot.
  bool isLowRange() const { return top_ <= 1.001f; }
  float clippedShare() const { return clipped_; }
  /// The whole at 256 x 128 by area averaging: enough for sums over the sphere.
  const Picture& coarse() const { return coarse_; }

 private:
  Rgb lookup(const Vec2f& uv) const;
  Peak findBrightest() const;
  float measureRangeEv();
  void projectIrradiance();

  Picture picture_, coarse_;
  Rgb harmonics_[9];
  Peak peak_{{0, 0, 1}, 0};
  float rangeEv_ = 0, top_ = 0, clipped_ = 0;
  // Piecewise-constant 2D distribution (Pharr, Jakob & Humphreys 2016, "Physically Based Rendering", 13.6.7):
  // cumulative weights over rows, and over the cells of each row: pixels, or more of a very large
  // picture. A cell's weight is the mean of what `radiance` gives inside it: by its own value alone, the rim
  // of a sun would be bright and hardly ever drawn.
  std::vector<float> rows_, columns_, weights_;
  int across_ = 0, down_ = 0;  ///< cells
  /// The cells of `tables_` hold several of these each: cumulative weights over the rows of a column of them,
  /// [column][row + 1].
  FacingTables tables_;
  std::vector<float> columnRows_;
  std::vector<int> firstColumn_, firstRow_;    ///< [coarse]: of the cells it holds; one more at the end
  std::vector<uint8_t> columnCell_, rowCell_;  ///< [cell]: the coarse one it lies in
  std::vector<float> rowSines_;                ///< [row of cells]
  void buildTables();
  /// The first of the cells that a coarse one holds, of so many.
  static int firstOf(int coarse, int coarseCount, int count) {
    return int((int64_t(coarse) * count + coarseCount - 1) / coarseCount);
  }
  float total_ = 0, mean_ = 0;
};

}  // namespace dusk
