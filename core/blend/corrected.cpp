#include "core/blend/corrected.h"

#include "core/blend/combine.h"
#include "core/blend/lanes.h"

namespace dusk {
namespace {

DUSK_LANES void lerpRow(float* out, const float* a, const float* b, const float* mask, int count,
                        float strength) {
  if (mask) {
    for (int i = 0; i < count; ++i) {
      const float w = mask[i] * strength;
      out[i] = a[i] + (b[i] - a[i]) * w;
    }
  } else {
    for (int i = 0; i < count; ++i) out[i] = a[i] + (b[i] - a[i]) * strength;
  }
}
DUSK_LANES void weighRow(float* out, const float* in, const float* mask, int count, float strength) {
  if (mask)
    for (int i = 0; i < count; ++i) out[i] = in[i] * (mask[i] * strength);
  else
    for (int i = 0; i < count; ++i) out[i] = in[i] * strength;
}
DUSK_LANES void straight(float* out, const float* light, const float* alpha, int count) {
  for (int i = 0; i < count; ++i) out[i] = light[i] / higher(alpha[i], 1e-5f);
}
DUSK_LANES void premultiplied(float* light, const float* alpha, int count) {
  for (int i = 0; i < count; ++i) light[i] *= alpha[i];
}

/// A point operation, straight through the alpha, as strong as asked for.
NodePtr pointwise(const NodePtr& in, const std::shared_ptr<const PointOperation>& op, const Correction& c,
                  const NodePtr& mask) {
  std::vector<NodePtr> inputs{in};
  if (mask) inputs.push_back(mask);
  const float strength = float(c.strength);
  NodeKey key("point");
  key.with(c.kind).with(strength);
  for (const CorrectionField& f : infoOf(c.kind).fields) key.with(valueOf(c, f.name));
  key.with(c.curve).with(c.file.hash).with(c.file.path);
  return combined(inputs, in->channels, key,
                  [op, strength](const auto& from, float* const* out, int count, int x0, int y) {
                    const bool hasAlpha = from[0].size() == 4, whole = from.size() == 1 && strength == 1;
                    const float* mask = from.size() > 1 ? from[1][0] : nullptr;
                    for (size_t k = 0; k < 3; ++k)
                      if (hasAlpha)
                        straight(out[k], from[0][k], from[0][3], count);
                      else
                        std::copy_n(from[0][k], count, out[k]);
                    op->apply(out[0], out[1], out[2], count, x0, y);
                    for (size_t k = 0; k < 3; ++k) {
                      if (hasAlpha) premultiplied(out[k], from[0][3], count);
                      if (!whole) lerpRow(out[k], from[0][k], out[k], mask, count, strength);
                    }
                    if (hasAlpha) std::copy_n(from[0][3], count, out[3]);
                  });
}

/// A table of display code values, looked up for the light's own.
class Table : public PointOperation {
 public:
  explicit Table(std::shared_ptr<const ColourTable> table) : table_(std::move(table)) {}
  void apply(float* r, float* g, float* b, int count, int, int) const override {
    std::vector<float> codes(size_t(count) * 3);
    for (int i = 0; i < count; ++i) {
      codes[size_t(i) * 3] = quickEncoded(r[i]), codes[size_t(i) * 3 + 1] = quickEncoded(g[i]);
      codes[size_t(i) * 3 + 2] = quickEncoded(b[i]);
    }
    table_->apply(codes.data(), size_t(count));
    for (int i = 0; i < count; ++i) {
      r[i] = quickDecoded(codes[size_t(i) * 3]), g[i] = quickDecoded(codes[size_t(i) * 3 + 1]);
      b[i] = quickDecoded(codes[size_t(i) * 3 + 2]);
    }
  }

 private:
  std::shared_ptr<const ColourTable> table_;
};

Operation operationOf(const Correction& c, const BlendFrame& frame, const FindTable& tableOf) {
  using K = CorrectionKind;
  switch (c.kind) {
    case K::exposure:
      return exposureOperation(c);
    case K::white:
      return whiteOperation(c);
    case K::contrast:
      return contrastOperation(c);
    case K::liftGammaGain:
      return liftGammaGainOperation(c);
    case K::curve:
      return curveOperation(c);
    case K::levels:
      return levelsOperation(c);
    case K::saturation:
      return saturationOperation(c);
    case K::hue:
      return hueOperation(c);
    case K::split:
      return splitOperation(c);
    case K::blur:
      return blurOperation(c, frame);
    case K::sharpen:
      return sharpenOperation(c, frame);
    case K::defocus:
      return defocusOperation(c, frame);
    case K::glow:
      return glowOperation(c, frame);
    case K::vignette:
      return vignetteOperation(c, frame);
    case K::fringes:
      return fringesOperation(c, frame);
    case K::edge:
      return edgeOperation(c, frame);
    case K::noise:
      return noiseOperation(c, frame);
    case K::table:
      if (const auto table = c.file.empty() || !tableOf ? nullptr : tableOf(c.file))
        return {std::make_shared<Table>(table), {}};
  }
  return {};
}

}  // namespace

NodePtr between(const NodePtr& from, const NodePtr& to, float strength, const NodePtr& mask) {
  if (!mask && strength == 1) return to;
  std::vector<NodePtr> inputs{from, to};
  if (mask) inputs.push_back(mask);
  return combined(inputs, from->channels, NodeKey("between").with(strength),
                  [strength](const auto& in, float* const* out, int count, int, int) {
                    const float* mask = in.size() > 2 ? in[2][0] : nullptr;
                    for (size_t k = 0; k < in[0].size(); ++k)
                      lerpRow(out[k], in[0][k], in[1][k], mask, count, strength);
                  });
}

NodePtr weighted(const NodePtr& picture, float strength, const NodePtr& mask, bool keepsAlpha) {
  if (strength == 1 && !mask) return picture;
  std::vector<NodePtr> inputs{picture};
  if (mask) inputs.push_back(mask);
  return combined(inputs, picture->channels, NodeKey("weighted").with(strength).with(keepsAlpha),
                  [strength, keepsAlpha](const auto& in, float* const* out, int count, int, int) {
                    for (size_t c = 0; c < in[0].size(); ++c)
                      if (c == 3 && keepsAlpha)
                        std::copy_n(in[0][c], count, out[c]);
                      else
                        weighRow(out[c], in[0][c], in.size() > 1 ? in[1][0] : nullptr, count, strength);
                  });
}

NodePtr corrected(NodePtr light, const std::vector<Correction>& corrections, BlendRole role,
                  const MaskWorld& world, const FindTable& tableOf) {
  for (const Correction& c : corrections) {
    if (!c.on || c.strength == 0 || !fits(infoOf(c.kind), role)) continue;
    const NodePtr mask = maskNode(c.masks, light, world);
    const Operation op = operationOf(c, world.frame, tableOf);
    if (!op.point && !op.area) continue;
    light = op.point ? pointwise(light, op.point, c, mask)
                     : between(light, op.area(light), float(c.strength), mask);
  }
  return light;
}

}  // namespace dusk
