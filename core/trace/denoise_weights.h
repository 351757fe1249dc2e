#pragma once
#include <vector>

#include "core/trace/film.h"

/// The loops of the denoiser: all over one block of planes, so that they vectorise.
namespace dusk {

inline constexpr int searchRadius = 8, patchRadius = 2;

using Plane = std::vector<float>;

/// A part of the picture with a margin around: enough to search and to compare patches.
struct Block {
  int x0, y0, width, height;  ///< with the margin; may reach over the picture's border
  int inX0, inY0, inX1, inY1;
  Block(int left, int top, int right, int bottom)
      : x0(left - margin),
        y0(top - margin),
        width(right - left + 2 * margin),
        height(bottom - top + 2 * margin),
        inX0(left),
        inY0(top),
        inX1(right),
        inY1(bottom) {}
  static constexpr int margin = searchRadius + patchRadius;
  Plane plane() const { return Plane(size_t(width) * size_t(height), 0.0f); }
};

/// The part of a block in which there is anything to average, with what its patches reach to.
struct Area {
  int x0, y0, x1, y1;
};
/// Around where `present` is above 0.
Area areaOf(const Block& block, const Plane& present);

/// What tells surfaces apart without noise.
struct FeaturePlanes {
  Plane normal[3], position[3], albedo[3], normalVariance, albedoVariance, reach, cover;
  // Albedo of what shows through glass or in the ground, empty where nothing does anywhere; a variance below
  // 0 where nothing does there.
  Plane behind[3], behindVariance;
  void make(const Block& block);
  void gather(const Film::Pixel& pixel, size_t i);
  void gatherBehind(const Film::Pixel& pixel, size_t i);
};

/// Smooths a variance a little: few samples tell it badly.
void smooth(const Block& block, Plane& variance);
/// 1 where the pixel and the one at the offset are of one kind, falling to 0.
void featureWeights(const Block& block, const Area& area, const FeaturePlanes& features, int dx, int dy,
                    Plane& weight);
/// Less where what shows through glass, or in the ground, is of another kind.
void multiplyByBehind(const Block& block, const Area& area, const FeaturePlanes& features, int dx, int dy,
                      Plane& weight);
/// The same by how alike the patches around are, against their noise.
void signalWeights(const Block& block, const Area& area, const Plane& guide, const Plane& variance, int dx,
                   int dy, Plane& scratch, Plane& weight);
void multiply(const Block& block, const Area& area, Plane& weight, const Plane& by);
/// Adds the weighted values of the pixel at the offset to this one's, and the other way about.
void average(const Block& block, const Area& area, const Plane& weight, const Plane& reliability,
             const Plane& in, int dx, int dy, Plane& out);
void gatherWeights(const Block& block, const Area& area, const Plane& weight, const Plane& reliability,
                   int dx, int dy, Plane& sum);

}  // namespace dusk
