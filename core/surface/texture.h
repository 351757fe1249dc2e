#pragma once
#include <filesystem>
#include <memory>

#include "core/base/maths.h"
#include "core/base/progress.h"
#include "core/base/result.h"

namespace dusk {

/// A picture on a surface. Safe to sample from many threads.
class Texture {
 public:
  virtual ~Texture() = default;
  struct Texel {
    Rgb colour{0, 0, 0};
    float alpha = 1;  ///< the colour is premultiplied by it
  };
  /// About as filtered over what the half axes `across` and `along` span, all in shares of the picture: (0,
  /// 0) is its lower left corner. `repeats`: beyond its edges it goes on with itself; else there is nothing.
  virtual Texel at(const Vec2f& uv, const Vec2f& across, const Vec2f& along, bool repeats) const = 0;
  int width = 0, height = 0;  ///< of the picture in the file
};

/// A picture file as a tiled pyramid, of which only the tiles that are looked at are in memory: all together
/// at most `textureCacheBytes`. `colour`: its code values become light (sRGB, or as the file is linear), the
/// smaller pictures are made of light; else values stay as they are. The pyramid is made in the user's cache
/// folder when it is not there. Errors: unreadable, larger than 60,000 pixels, disk full, cancelled.
Result<std::shared_ptr<const Texture>> openTexture(const std::filesystem::path& file, const std::string& hash,
                                                   bool colour, Progress& progress);

/// Most of what tiles take in memory.
inline constexpr size_t textureCacheBytes = size_t{1} << 30;

}  // namespace dusk
