#pragma once
#include <algorithm>
#include <limits>
#include <map>
#include <memory>

#include "core/trace/passes.h"

namespace dusk {

/// Sums of samples per pixel, kept for tiles in which the product shows or changes the light; all others are
/// the plate itself. A pixel's sum is made by one thread in sample order, so that the same samples give the
/// same film to the last bit.
class Film {
 public:
  Film(int width, int height, std::vector<std::string> groups = {"surroundings"});
  int width() const { return width_; }
  int height() const { return height_; }

  static constexpr int tileSize = 16;
  int tilesAcross() const { return (width_ + tileSize - 1) / tileSize; }
  int tilesDown() const { return (height_ + tileSize - 1) / tileSize; }
  /// Whether anything of the tile is kept.
  bool isKept(int tile) const { return !tiles_[size_t(tile)].pixels.empty(); }
  int tileOf(int x, int y) const { return y / tileSize * tilesAcross() + x / tileSize; }

  /// Adds to a pixel; its tile is kept from now on.
  void add(int x, int y, const PixelSample& sample);
  /// Whether, so far, the product shows at the pixel or changes its light.
  bool influenced(int x, int y) const;
  /// Whether a sample shows that.
  static bool influences(const PixelSample& sample);
  /// Estimated error of the finished pixel over its brightness; 0 where nothing is kept.
  float error(int x, int y) const;

  /// What the picture is blended from; with `all`, everything.
  Passes resolve(bool all = false) const { return resolve(all, {0, height_}); }
  /// The same of some rows.
  Passes resolve(bool all, const Rows& rows) const;

  /// Luminance sums from which the noise is told.
  enum NoiseOf { diffuseNoise, specularNoise, transmissionNoise, mirrorNoise, noiseCount };
  struct Pixel {
    float count = 0, alpha = 0, depth = 0, facing = 0, occlusion = 0;
    Rgb diffuse{0, 0, 0}, specular{0, 0, 0};
    Vec3f normal{0, 0, 0}, position{0, 0, 0};
    float albedo2 = 0;
    float passed = 0,
          behind2 = 0;    ///< samples that show through glass or in the ground, and squares of the next
    Rgb behind{0, 0, 0};  ///< their albedos
    float sum[noiseCount]{}, squares[noiseCount]{}, beauty2 = 0;
    float with = 0, without = 0, withSquared = 0, withTimesWithout = 0, withoutSquared = 0;
    Covers covers;
  };
  /// nullptr where nothing is kept.
  const Pixel* pixel(int x, int y) const;
  const GroupLight* light(int x, int y) const;
  const std::vector<std::string>& groups() const { return groups_; }
  /// Variance of the mean of a luminance, and of the ground's ratio.
  static float variance(const Pixel& p, NoiseOf which);
  static float ratioVariance(const Pixel& p);
  /// About how bright the finished pixel will be: a dark reflection on a bright part is not seen.
  static float shown(const Pixel& p);
  /// Bytes held.
  size_t memory() const;

  /// Lets go of pixels that are not `samplingMask`: they are the plate itself.
  void forgetInactive();
  /// Lets go of all rows above `end` (a multiple of the tiles' size).
  void forgetAbove(int end);

  /// Number of passes already in it; render() goes on from there.
  int passesDone = 0;
  /// Only tiles that touch this part of the picture are traced; empty: all.
  struct Window {
    int x0 = 0, y0 = 0, x1 = 0, y1 = 0;
    bool empty() const { return x1 <= x0 || y1 <= y0; }
    bool operator==(const Window&) const = default;
  };
  Window window;
  /// That part, of this picture.
  Window windowed() const {
    if (window.empty()) return {0, 0, width_, height_};
    return {std::max(0, window.x0), std::max(0, window.y0), std::min(width_, window.x1),
            std::min(height_, window.y1)};
  }
  /// Every tile that a part of the picture touches, row by row.
  template <typename Act>
  void eachTile(const Window& part, const Act& act) const {
    for (int y = part.y0 / tileSize; y * tileSize < part.y1; ++y)
      for (int x = part.x0 / tileSize; x * tileSize < part.x1; ++x) act(y * tilesAcross() + x);
  }
  /// A kept tile's sums as bytes, and put back.
  size_t tileBytes() const {
    return size_t(tileSize * tileSize) * (sizeof(Pixel) + groups_.size() * sizeof(GroupLight));
  }
  void appendTile(int tile, std::string& bytes) const;
  void setTile(int tile, const char* bytes);
  void forgetTile(int tile) { tiles_[size_t(tile)] = Tile{}, foundAt_[size_t(tile)] = never; }
  /// After the thin first passes: 1 where it is worth going on. Empty before.
  std::vector<unsigned char> samplingMask;
  /// The mask is known already, or is all there will be: no more thin passes are needed.
  bool maskIsGiven = false;
  /// What tells whether the product matters at a pixel: its sums.
  struct Influence {
    float with = 0, without = 0, mirrored = 0, count = 0;
    bool shows = false;
  };
  /// As it was judged after so many passes, whoever came before: nothing in tiles where nothing was found
  /// yet.
  Influence influence(int x, int y) const;
  Influence sumsOf(int x, int y) const;
  /// A pass has found something of the product in a tile.
  void foundIn(int tile, int pass) { foundAt_[size_t(tile)] = std::min(foundAt_[size_t(tile)], pass); }
  /// Pixels that `renderAhead` has given their first passes already (their number from 1 on, else 0), how
  /// many, and what their influence was after the thin passes at which that is judged: [passes][number - 1].
  std::vector<uint32_t> ahead;
  int passesAhead = 0;
  std::map<int, std::vector<Influence>> aheadInfluence;
  /// The pass that found something there: [number - 1].
  std::vector<int> aheadFoundAt;
  static constexpr int never = std::numeric_limits<int>::max();
  /// Index of a part among all placed ones: [instance] + part.
  std::vector<uint32_t> firstPart{0};

 private:
  struct Tile {
    std::vector<Pixel> pixels;
    std::vector<GroupLight> light;  // [pixel][group]
  };
  void keep(int tile);
  size_t within(int x, int y) const { return size_t(y % tileSize) * tileSize + size_t(x % tileSize); }

  int width_, height_;
  std::vector<std::string> groups_;
  std::vector<Tile> tiles_;
  std::vector<int> foundAt_;  // of each tile, the first pass
};

}  // namespace dusk
