#include "core/surface/memory_texture.h"

#include <array>

#include "core/base/srgb.h"
#include "core/surface/texel.h"

namespace dusk {
namespace {

/// The values of 8 bits as they are.
std::array<float, 256> shares() {
  std::array<float, 256> t;
  for (int i = 0; i < 256; ++i) t[size_t(i)] = float(i) / 255;
  return t;
}

/// One picture of the pyramid in 16 bits.
struct Level {
  int width = 0, height = 0;
  std::vector<std::array<uint16_t, 3>> texels;
};

class MemoryTexture : public Texture {
 public:
  MemoryTexture(std::shared_ptr<const Model> model, int texture, bool colour)
      : model_(std::move(model)),
        file_(model_->textures[size_t(texture)]),
        table_(colour ? lightOfCode() : shares()) {
    width = file_.width, height = file_.height;
    const auto whole = [&](int x, int y) { return texelOfFile(x, y); };
    if (width > 1 || height > 1) levels_.push_back(halved(width, height, whole));
    while (!levels_.empty() && (levels_.back().width > 1 || levels_.back().height > 1)) {
      const Level& last = levels_.back();
      levels_.push_back(halved(last.width, last.height, [&](int x, int y) { return texelOf(last, x, y); }));
    }
  }

  Texel at(const Vec2f& uv, const Vec2f& across, const Vec2f& along, bool) const override {
    const auto pixels = [&](const Vec2f& v) { return std::hypot(v.x * float(width), v.y * float(height)); };
    const float look = 2 * std::sqrt(pixels(across) * pixels(along));  // as round, of the same area
    const float level = look > 1 ? std::min(std::log2(look), float(levels_.size())) : 0.0f;
    const int lower = int(level);
    const Rgb fine = bilinear(lower, uv);
    const float more = level - float(lower);
    return {more > 0 ? fine * (1 - more) + bilinear(lower + 1, uv) * more : fine, 1};
  }

 private:
  Rgb texelOfFile(int x, int y) const {
    const uint8_t* t = dusk::texelOf(file_, x, y);
    return {table_[t[0]], table_[t[1]], table_[t[2]]};
  }
  static Rgb texelOf(const Level& level, int x, int y) {
    const auto& t = level.texels[size_t(y) * size_t(level.width) + size_t(x)];
    return Rgb(t[0], t[1], t[2]) / 65535.0f;
  }
  template <typename At>
  static Level halved(int w, int h, const At& at) {
    Level to{std::max(1, w / 2), std::max(1, h / 2), {}};
    to.texels.resize(size_t(to.width) * size_t(to.height));
    for (int y = 0; y < to.height; ++y)
      for (int x = 0; x < to.width; ++x) {
        const int x0 = std::min(2 * x, w - 1), x1 = std::min(2 * x + 1, w - 1);
        const int y0 = std::min(2 * y, h - 1), y1 = std::min(2 * y + 1, h - 1);
        const Rgb mean = (at(x0, y0) + at(x1, y0) + at(x0, y1) + at(x1, y1)) / 4;
        for (int c = 0; c < 3; ++c)
          to.texels[size_t(y) * size_t(to.width) + size_t(x)][size_t(c)] =
              uint16_t(std::lround(std::clamp(mean[c], 0.0f, 1.0f) * 65535));
      }
    return to;
  }
  Rgb bilinear(int level, const Vec2f& uv) const {
    if (level == 0) return bilinearAt(width, height, uv, [&](int x, int y) { return texelOfFile(x, y); });
    const Level& l = levels_[size_t(std::min(level, int(levels_.size())) - 1)];
    return bilinearAt(l.width, l.height, uv, [&](int x, int y) { return texelOf(l, x, y); });
  }
  std::shared_ptr<const Model> model_;
  const FileTexture& file_;
  std::array<float, 256> table_;
  std::vector<Level> levels_;
};

}  // namespace

std::shared_ptr<const Texture> memoryTexture(std::shared_ptr<const Model> model, int texture, bool colour) {
  if (texture < 0 || size_t(texture) >= model->textures.size()) return nullptr;
  return std::make_shared<MemoryTexture>(std::move(model), texture, colour);
}

}  // namespace dusk
