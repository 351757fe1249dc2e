#include "core/surface/texture.h"

#include <OpenImageIO/texture.h>

#include <array>
#include <atomic>
#include <bit>

#include "core/base/cache_folder.h"
#include "core/base/hash.h"
#include "core/base/words.h"
#include "core/surface/noise.h"
#include "core/surface/pyramid.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

/// Raise it when pyramids are made otherwise.
constexpr int generation = 1;

/// The library's texture system, one for all: its cache is what bounds the memory. It outlives all threads.
OIIO::TextureSystem& textures() {
  static OIIO::TextureSystem* const system = [] {
    auto* made = OIIO::TextureSystem::create(false);
    made->attribute("max_memory_MB", float(textureCacheBytes >> 20));
    made->attribute("max_open_files", 400);
    made->attribute("deduplicate", 0);  // they are by content already
    return made;
  }();
  return *system;
}

/// The library remembers the last two tiles that a thread looked at: with one such memory for all pictures of
/// a surface, each look at one would drive out the others'. So a thread has several, and a picture one of
/// them.
class Lookers {
 public:
  static constexpr unsigned slots = 16;
  ~Lookers() {
    for (auto* looker : mine_)
      if (looker) textures().destroy_thread_info(looker);
  }
  OIIO::TextureSystem::Perthread* of(unsigned slot) {
    if (!mine_[slot]) mine_[slot] = textures().create_thread_info();
    return mine_[slot];
  }

 private:
  std::array<OIIO::TextureSystem::Perthread*, slots> mine_{};
};
thread_local Lookers lookers;

/// One lookup in one picture of the pyramid, of the two about the wanted size by chance: a pixel's many
/// samples come to what both would (as trilinear filtering), at a fifth of the time. A long thin look is
/// taken as round of the same area, which a pixel's samples fill.
class TiledTexture : public Texture {
 public:
  TiledTexture(const fs::path& pyramid, int w, int h, int channels)
      : handle_(textures().get_texture_handle(OIIO::ustring(pyramid.string()))), channels_(channels) {
    static std::atomic<unsigned> opened{0};
    slot_ = opened++ % Lookers::slots;
    width = w, height = h;
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
  Texel lookUp(const Vec2f& uv, float look, bool repeats) const {
    OIIO::TextureSystem& system = textures();
    OIIO::TextureSystem::Perthread* const mine = lookers.of(slot_);
    OIIO::TextureOpt how;
    how.swrap = how.twrap = repeats ? OIIO::TextureOpt::WrapPeriodic : OIIO::TextureOpt::WrapBlack;
    how.mipmode = OIIO::TextureOpt::MipModeOneLevel;
    how.interpmode = OIIO::TextureOpt::InterpBilinear;
    how.fill = 1;
    float out[4] = {0, 0, 0, 1};
    // Its t grows downwards.
    if (!system.texture(handle_, mine, how, uv.x, 1 - uv.y, look, 0, 0, look, channels_, out))
      (void)system.geterror();
    const float alpha = channels_ == 4 ? out[3] : repeats || inside(uv) ? 1.0f : 0.0f;
    return {{out[0], out[1], out[2]}, alpha};
  }
  static bool inside(const Vec2f& uv) { return uv.x >= 0 && uv.x <= 1 && uv.y >= 0 && uv.y <= 1; }
  OIIO::TextureSystem::TextureHandle* handle_;
  int channels_;
  unsigned slot_ = 0;
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
  const auto in = OIIO::ImageInput::open(pyramid.string());
  if (!in) {
    fs::remove(pyramid, ignored);  // damaged: it is made again next time
    return Error{
        words("The picture ") + file.filename().string() + words(" could not be prepared. Try again."),
        ErrorKind::unreadable};
  }
  return std::shared_ptr<const Texture>(
      std::make_shared<TiledTexture>(pyramid, in->spec().width, in->spec().height, in->spec().nchannels));
}

}  // namespace dusk
