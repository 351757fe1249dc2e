#pragma once
#include <OpenImageIO/imagecache.h>

#include <filesystem>
#include <vector>

#include "core/surface/pyramid.h"

namespace dusk {

/// The values of a pyramid of pictures (`writePyramid`), by the image library's cache of tiles, which is one
/// for all and bounds the memory. To find a tile in that cache takes several times as long as to read four
/// values of it, so each thread remembers those that it looked at last. Safe to look at from many threads.
class TiledPyramid {
 public:
  explicit TiledPyramid(const std::filesystem::path& file);
  struct Level {
    int width, height;
  };
  /// From the largest on; none of a file that cannot be read.
  const std::vector<Level>& levels() const { return levels_; }
  int channels() const { return channels_; }
  /// Whether a pixel and those to its right and below lie in one tile.
  bool inOne(int x, int y) const { return (x & (side - 1)) != side - 1 && (y & (side - 1)) != side - 1; }
  /// Adds a pixel, which must lie within, by its weight: as many values as there are channels. A tile that
  /// cannot be read is nothing.
  void add(int level, int x, int y, float weight, float* sum) const;
  /// Adds a pixel and those to its right and below, all of one tile, as they lie `ax` and `ay` from it (0 to
  /// 1).
  void addSquare(int level, int x, int y, float ax, float ay, float* sum) const;

  static constexpr int side = pyramidTile;

 private:
  friend class LastTiles;
  OIIO::ImageCache::ImageHandle* handle_ = nullptr;
  int channels_ = 0;
  unsigned number_ = 0;  ///< of those opened
  std::vector<Level> levels_;
};

}  // namespace dusk
