#include "core/surface/texture.h"

#include <bit>

#include "core/base/cache_folder.h"
#include "core/base/hash.h"
#include "core/base/words.h"
#include "core/surface/noise.h"
#include "core/surface/pyramid.h"
#include "core/surface/tiles.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

/// Raise it when pyramids are made otherwise.
constexpr int generation = 2;

/// One lookup in one picture of the pyramid, of the two about the wanted size by chance: a pixel's many
/// samples come to what both would (as trilinear filtering), at a fifth of the time. A long thin look is
/// taken as round of the same area, which a pixel's samples fill.
class TiledTexture : public Texture {
 public:
  explicit TiledTexture(const fs::path& pyramid) : tiles_(pyramid) {
    if (tiles_.levels().empty()) return;
    width = tiles_.levels().front().width, height = tiles_.levels().front().height;
    mean_ = lookUp(Vec2f(0.5f), 4, true);
  }

  Texel at(const Vec2f& uv, const Vec2f& across, const Vec2f& along, bool repeats) const override {
    const float longer = std::max(across.length(), along.length()),
                shorter = std::min(across.length(), along.length());
    const float look = 2 * std::sqrt(longer * std::max(shorter, longer / 256));
    if (repeats && look > 0.7f) return mean_;
    return lookUp(
        uv, look * std::exp2(evenBy(std::bit_cast<uint32_t>(uv.x), std::bit_cast<uint32_t>(uv.y), 0) - 0.5f),
        repeats);
  }

 private:
  /// The smallest of the pyramid's pictures in which the look is wider than a pixel.
  int levelOf(float look) const {
    const auto& levels = tiles_.levels();
    int level = 0;
    while (level + 1 < int(levels.size()) &&
           look * float(std::min(levels[size_t(level) + 1].width, levels[size_t(level) + 1].height)) > 1)
      ++level;
    return level;
  }

  Texel lookUp(const Vec2f& uv, float look, bool repeats) const {
    const int level = levelOf(look);
    const auto [w, h] = tiles_.levels()[size_t(level)];
    const Vec2f within = repeats ? Vec2f(uv.x - std::floor(uv.x), uv.y - std::floor(uv.y)) : uv;
    // Far beyond its edges, or at no place at all, there is nothing to be looked up.
    if (!(std::abs(within.x) < 8 && std::abs(within.y) < 8)) return {Rgb(0), 0};
    const float x = within.x * float(w) - 0.5f, y = (1 - within.y) * float(h) - 0.5f;
    const int x0 = int(std::floor(x)), y0 = int(std::floor(y));
    const float ax = x - float(x0), ay = y - float(y0);
    float sum[4] = {0, 0, 0, 0};
    const auto add = [&](int px, int py, float weight) {
      if (repeats)
        px = (px + w) % w, py = (py + h) % h;
      else if (px < 0 || py < 0 || px >= w || py >= h)
        return;
      tiles_.add(level, px, py, weight, sum);
    };
    if (x0 >= 0 && y0 >= 0 && x0 + 1 < w && y0 + 1 < h && tiles_.inOne(x0, y0)) {
      tiles_.addSquare(level, x0, y0, ax, ay, sum);
    } else {
      add(x0, y0, (1 - ax) * (1 - ay)), add(x0 + 1, y0, ax * (1 - ay));
      add(x0, y0 + 1, (1 - ax) * ay), add(x0 + 1, y0 + 1, ax * ay);
    }
    const float alpha = tiles_.channels() == 4 ? sum[3] : repeats || inside(uv) ? 1.0f : 0.0f;
    return {{sum[0], sum[1], sum[2]}, alpha};
  }
  static bool inside(const Vec2f& uv) { return uv.x >= 0 && uv.x <= 1 && uv.y >= 0 && uv.y <= 1; }

  TiledPyramid tiles_;
  Texel mean_;
};

}  // namespace

Result<std::shared_ptr<const Texture>> openTexture(const fs::path& file, const std::string& hash, bool colour,
                                                   Progress& progress) {
  std::string key = hash;
  if (key.empty()) {
    const auto now = hashFile(file);
    if (!now) return now.error();
    key = *now;
  }
  const fs::path folder = cacheFolder() / "textures";
  const fs::path pyramid =
      folder / (key + "-" + std::to_string(generation) + (colour ? "-light.tif" : "-values.tif"));
  std::error_code ignored;
  fs::create_directories(folder, ignored);
  if (!fs::exists(pyramid, ignored))
    if (const auto made = writePyramid(file, pyramid, colour, progress); !made) return made.error();
  auto texture = std::make_shared<TiledTexture>(pyramid);
  if (texture->width <= 0) {
    fs::remove(pyramid, ignored);  // damaged: it is made again next time
    return Error{
        words("The picture ") + file.filename().string() + words(" could not be prepared. Try again."),
        ErrorKind::unreadable};
  }
  return std::shared_ptr<const Texture>(std::move(texture));
}

}  // namespace dusk
