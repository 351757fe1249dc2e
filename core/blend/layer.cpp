#include "core/blend/layer.h"

#include "core/blend/combine.h"
#include "core/blend/lanes.h"

namespace dusk {
namespace {

// The W3C's "Compositing and Blending Level 1", section 9.1, b the backdrop and s the source, 0 to 1.
DUSK_IN_LANES float screened(float b, float s) { return b + s - b * s; }
DUSK_IN_LANES float hardLit(float b, float s) { return choose(s <= 0.5f, b * 2 * s, screened(b, 2 * s - 1)); }
DUSK_IN_LANES float softLit(float b, float s) {
  const float d = choose(b <= 0.25f, ((16 * b - 12) * b + 4) * b, std::sqrt(b));
  return b + (2 * s - 1) * choose(s <= 0.5f, b * (1 - b), d - b);
}
DUSK_IN_LANES float dodged(float b, float s) { return lower(1.0f, b / higher(1 - s, 1e-7f)); }
DUSK_IN_LANES float burnt(float b, float s) { return 1 - lower(1.0f, (1 - b) / higher(s, 1e-7f)); }

template <LayerMode mode>
DUSK_IN_LANES float joined(float b, float s) {
  using enum LayerMode;
  if constexpr (mode == multiply) return b * s;
  if constexpr (mode == plus) return b + s;
  if constexpr (mode == darken) return b < s ? b : s;
  if constexpr (mode == lighten) return b > s ? b : s;
  if constexpr (mode == screen) return screened(b, s);
  if constexpr (mode == overlay) return hardLit(s, b);
  if constexpr (mode == hardLight) return hardLit(b, s);
  if constexpr (mode == softLight) return softLit(b, s);
  if constexpr (mode == colourDodge) return dodged(b, s);
  if constexpr (mode == colourBurn) return burnt(b, s);
  if constexpr (mode == difference) return std::fabs(b - s);
  return s;
}

template <LayerMode mode, bool masked>
DUSK_IN_LANES void layRow(float* out, const float* below, const float* light, const float* alpha,
                          const float* mask, int count, float strength) {
  using enum LayerMode;
  constexpr bool inLight =
      mode == normal || mode == multiply || mode == plus || mode == darken || mode == lighten;
  for (int i = 0; i < count; ++i) {
    const float w = masked ? mask[i] * strength : strength, a = alpha[i] * w;
    const float b = below[i];
    if constexpr (mode == normal) {
      out[i] = b * (1 - a) + light[i] * w;
    } else if constexpr (inLight) {
      const float s = light[i] / higher(alpha[i], 1e-6f);
      out[i] = b + a * (joined<mode>(b, s) - b);
    } else {
      const float s = light[i] / higher(alpha[i], 1e-6f);
      const float to1 = lower(higher(b, 0.0f), 1.0f), s1 = lower(higher(s, 0.0f), 1.0f);
      // What is brighter than white keeps what it has above that.
      const float made = unitDecoded(joined<mode>(unitEncoded(to1), unitEncoded(s1)));
      out[i] = b + a * (made - to1);
    }
  }
}

#define DUSK_MODE(mode)                                                                             \
  DUSK_LANES void mode##Row(float* out, const float* below, const float* light, const float* alpha, \
                            const float* mask, int count, float strength) {                         \
    if (mask)                                                                                       \
      layRow<LayerMode::mode, true>(out, below, light, alpha, mask, count, strength);               \
    else                                                                                            \
      layRow<LayerMode::mode, false>(out, below, light, alpha, mask, count, strength);              \
  }
DUSK_MODE(normal)
DUSK_MODE(multiply)
DUSK_MODE(screen)
DUSK_MODE(overlay)
DUSK_MODE(darken)
DUSK_MODE(lighten)
DUSK_MODE(colourDodge)
DUSK_MODE(colourBurn)
DUSK_MODE(hardLight)
DUSK_MODE(softLight)
DUSK_MODE(difference)
DUSK_MODE(plus)
#undef DUSK_MODE

using Row = void (*)(float*, const float*, const float*, const float*, const float*, int, float);
constexpr Row rowsOf[] = {normalRow,    multiplyRow,  screenRow,      overlayRow,
                          darkenRow,    lightenRow,   colourDodgeRow, colourBurnRow,
                          hardLightRow, softLightRow, differenceRow,  plusRow};

class Drawn : public Node {
 public:
  Drawn(const ExtraLayer& layer, std::shared_ptr<const Texture> picture, const BlendFrame& frame)
      : Node(frame.whole, 4, {},
             NodeKey("layer picture")
                 .with(frame.whole)
                 .with(frame.shown())
                 .with(picture.get())
                 .with(layer.anchor)
                 .with(layer.size)
                 .with(layer.margin)),
        picture_(std::move(picture)),
        place_(layerPlace(layer, double(picture_->height) / std::max(1, picture_->width),
                          frame.shown().width(), frame.shown().height())) {
    const PixelArea shown = frame.shown();
    place_[0] += shown.x0, place_[1] += shown.y0, place_[2] += shown.x0, place_[3] += shown.y0;
  }
  bool isHeld() const override { return true; }
  void make(std::span<const Sheet>, Sheet& to) const override {
    const float w = float(place_[2] - place_[0]), h = float(place_[3] - place_[1]);
    for (int y = to.area.y0; y < to.area.y1; ++y)
      for (int x = to.area.x0; x < to.area.x1; ++x) {
        const float u = (float(x) + 0.5f - float(place_[0])) / w,
                    v = 1 - (float(y) + 0.5f - float(place_[1])) / h;
        Texture::Texel t{Rgb(0), 0};
        // The border's own pixels fade over themselves: a picture ends where it ends.
        if (u > -0.5f / w && u < 1 + 0.5f / w && v > -0.5f / h && v < 1 + 0.5f / h)
          t = picture_->at({u, v}, {0.5f / w, 0}, {0, 0.5f / h}, false);
        for (int c = 0; c < 3; ++c) to.row(c, y)[x - to.area.x0] = t.colour[c];
        to.row(3, y)[x - to.area.x0] = t.alpha;
      }
  }

 private:
  std::shared_ptr<const Texture> picture_;
  std::array<double, 4> place_;
};

DUSK_LANES void gradientRow(float* out, int count, float t0, float dt, float from, float to) {
  for (int i = 0; i < count; ++i) {
    const float t = lower(higher(t0 + float(i) * dt, 0.0f), 1.0f);
    out[i] = from + (to - from) * t;
  }
}

class Even : public Node {
 public:
  Even(const ExtraLayer& layer, const BlendFrame& frame)
      : Node(frame.whole, 4, {},
             NodeKey("layer colour")
                 .with(frame.whole)
                 .with(frame.shown())
                 .with(layer.kind)
                 .with(layer.colour)
                 .with(layer.end)
                 .with(layer.from)
                 .with(layer.to)),
        from_(toFloat(layer.colour)),
        to_(toFloat(layer.kind == LayerKind::gradient ? layer.end : layer.colour)),
        at_(within(frame.shown(), layer.from)),
        way_(within(frame.shown(), layer.to) - at_) {}
  bool isCheap() const override { return true; }
  void make(std::span<const Sheet>, Sheet& to) const override {
    const float per = 1 / std::max(way_.length2(), 1e-6f);
    for (int y = to.area.y0; y < to.area.y1; ++y) {
      const int n = to.area.width();
      const float along = (float(y) + 0.5f - at_.y) * way_.y * per;
      for (int c = 0; c < 3; ++c)
        gradientRow(to.row(c, y), n, along + (float(to.area.x0) + 0.5f - at_.x) * way_.x * per, way_.x * per,
                    from_[c], to_[c]);
      std::fill_n(to.row(3, y), n, 1.0f);
    }
  }

 private:
  static Vec2f within(const PixelArea& area, const Vec2d& share) {
    return {float(area.x0 + share.x * area.width()), float(area.y0 + share.y * area.height())};
  }
  Rgb from_, to_;
  Vec2f at_, way_;
};

}  // namespace

std::array<double, 4> layerPlace(const ExtraLayer& layer, double shape, int width, int height) {
  if (layer.anchor == LayerAnchor::fill) {
    const double w = std::max(double(width), height / shape), h = w * shape;
    return {(width - w) / 2, (height - h) / 2, (width + w) / 2, (height + h) / 2};
  }
  const int spot = int(layer.anchor) - 1;  // by rows of three
  const double w = layer.size * width, h = w * shape, m = layer.margin * std::min(width, height);
  const auto along = [m](int place, double room, double own) {
    return place == 0 ? m : place == 1 ? (room - own) / 2 : room - m - own;
  };
  const double x = along(spot % 3, width, w), y = along(spot / 3, height, h);
  return {x, y, x + w, y + h};
}

NodePtr layerNode(const ExtraLayer& layer, std::shared_ptr<const Texture> picture, const BlendFrame& frame) {
  if (layer.kind != LayerKind::picture) return std::make_shared<Even>(layer, frame);
  return picture ? std::make_shared<Drawn>(layer, std::move(picture), frame) : nullptr;
}

NodePtr over(const NodePtr& below, const NodePtr& layer, LayerMode mode, float strength,
             const NodePtr& mask) {
  std::vector<NodePtr> inputs{below, layer};
  if (mask) inputs.push_back(mask);
  return combined(inputs, 3, NodeKey("over").with(mode).with(strength),
                  [mode, strength](const auto& in, float* const* out, int count, int, int) {
                    const float* mask = in.size() > 2 ? in[2][0] : nullptr;
                    for (size_t c = 0; c < 3; ++c)
                      rowsOf[size_t(mode)](out[c], in[0][c], in[1][c], in[1][3], mask, count, strength);
                  });
}

}  // namespace dusk
