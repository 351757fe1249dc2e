#include "core/surface/tiles.h"

#include <Imath/half.h>

#include <array>
#include <atomic>

#include "core/surface/texture.h"

namespace dusk {
namespace {

/// It outlives all threads.
OIIO::ImageCache& tileCache() {
  static OIIO::ImageCache* const cache = [] {
    auto* made = OIIO::ImageCache::create(false);
    made->attribute("max_memory_MB", float(textureCacheBytes >> 20));
    made->attribute("max_open_files", 400);
    made->attribute("deduplicate", 0);  // they are by content already
    return made;
  }();
  return *cache;
}

float shareOf(uint8_t v) { return float(v) * (1.0f / 255); }
float shareOf(uint16_t v) { return float(v) * (1.0f / 65535); }
float shareOf(half v) { return v; }
float shareOf(float v) { return v; }

template <typename T, int channels>
void addPixels(const void* values, const int* at, const float* weights, int count, float* sum) {
  for (int k = 0; k < count; ++k) {
    const T* p = static_cast<const T*>(values) + at[k] * channels;
    for (int c = 0; c < channels; ++c) sum[c] += shareOf(p[c]) * weights[k];
  }
}
template <typename T>
void addPixels(const void* values, int channels, const int* at, const float* weights, int count, float* sum) {
  if (channels == 4)
    addPixels<T, 4>(values, at, weights, count, sum);
  else
    addPixels<T, 3>(values, at, weights, count, sum);
}

}  // namespace

/// The tiles that a thread looked at last. What it holds is not given up by the cache: at most 16 MB a
/// thread.
class LastTiles {
 public:
  struct Entry {
    uint64_t key = ~uint64_t{0};
    OIIO::ImageCache::Tile* tile = nullptr;
    const void* values = nullptr;
    OIIO::TypeDesc type;
  };
  ~LastTiles() {
    for (Entry& e : entries_)
      if (e.tile) tileCache().release_tile(e.tile);
  }
  const Entry& of(const TiledPyramid& pyramid, int level, int x, int y) {
    const unsigned tx = unsigned(x) / TiledPyramid::side, ty = unsigned(y) / TiledPyramid::side;
    // A number for each: 2^24 pictures, 2^8 levels, 2^12 tiles each way.
    const uint64_t key = (uint64_t(pyramid.number_) << 40) | (uint64_t(level) << 32) | (ty << 12) | tx;
    Entry& e = entries_[(key * 0x9e3779b97f4a7c15u) >> (64 - bits)];  // spread as by the golden ratio
    if (e.key == key) return e;
    if (e.tile) tileCache().release_tile(e.tile);
    e = {key, tileCache().get_tile(pyramid.handle_, nullptr, 0, level, x, y, 0), nullptr, {}};
    if (e.tile)
      e.values = tileCache().tile_pixels(e.tile, e.type);
    else
      (void)tileCache().geterror();
    return e;
  }

 private:
  static constexpr int bits = 9;
  std::array<Entry, 1 << bits> entries_{};
};

namespace {

thread_local LastTiles lastTiles;

void addOf(const LastTiles::Entry& tile, int channels, const int* at, const float* weights, int count,
           float* sum) {
  if (!tile.values) return;
  switch (tile.type.basetype) {
    case OIIO::TypeDesc::UINT8:
      return addPixels<uint8_t>(tile.values, channels, at, weights, count, sum);
    case OIIO::TypeDesc::UINT16:
      return addPixels<uint16_t>(tile.values, channels, at, weights, count, sum);
    case OIIO::TypeDesc::HALF:
      return addPixels<half>(tile.values, channels, at, weights, count, sum);
    case OIIO::TypeDesc::FLOAT:
      return addPixels<float>(tile.values, channels, at, weights, count, sum);
    default:
      return;
  }
}

int placeIn(int x, int y) {
  constexpr int within = TiledPyramid::side - 1;
  return (y & within) * TiledPyramid::side + (x & within);
}

}  // namespace

TiledPyramid::TiledPyramid(const std::filesystem::path& file) {
  static std::atomic<unsigned> opened{0};
  number_ = opened++;
  OIIO::ImageCache& cache = tileCache();
  const OIIO::ustring name(file.string());
  handle_ = cache.get_image_handle(name);
  const OIIO::ImageSpec* largest = handle_ ? cache.imagespec(handle_, nullptr) : nullptr;
  if (!largest || largest->tile_width != side || largest->tile_height != side || largest->nchannels < 3 ||
      largest->nchannels > 4) {
    (void)cache.geterror();
    cache.invalidate(name, true);  // it may be made anew under its name
    return;
  }
  channels_ = largest->nchannels;
  while (const OIIO::ImageSpec* spec = cache.imagespec(handle_, nullptr, 0, int(levels_.size())))
    levels_.push_back({spec->width, spec->height});
  (void)cache.geterror();  // about the one that is not there
}

void TiledPyramid::add(int level, int x, int y, float weight, float* sum) const {
  const int at = placeIn(x, y);
  addOf(lastTiles.of(*this, level, x, y), channels_, &at, &weight, 1, sum);
}

void TiledPyramid::addSquare(int level, int x, int y, float ax, float ay, float* sum) const {
  const int first = placeIn(x, y), at[] = {first, first + 1, first + side, first + side + 1};
  const float weights[] = {(1 - ax) * (1 - ay), ax * (1 - ay), (1 - ax) * ay, ax * ay};
  addOf(lastTiles.of(*this, level, x, y), channels_, at, weights, 4, sum);
}

}  // namespace dusk
