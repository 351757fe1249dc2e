#include "core/blend/product_rows.h"

#include "core/blend/blend.h"
#include "core/blend/blur.h"
#include "core/blend/combine.h"
#include "core/blend/lanes.h"
#include "core/blend/resample.h"

namespace dusk {
namespace {

class Source : public Node {
 public:
  Source(std::shared_ptr<const Picture> picture, const PixelArea& whole, int channels)
      : Node(whole, channels, {}, NodeKey("source").with(picture.get()).with(whole).with(channels)),
        picture_(std::move(picture)) {}
  bool isCheap() const override { return true; }
  void make(std::span<const Sheet>, Sheet& to) const override {
    const size_t step = picture_->channels.size();
    for (int y = to.area.y0; y < to.area.y1; ++y) {
      const float* from = picture_->at(to.area.x0 - whole.x0, y - whole.y0);
      const int n = to.area.width();
      if (channels == 3 && step == 3) {
        float *r = to.row(0, y), *g = to.row(1, y), *b = to.row(2, y);
        for (int i = 0; i < n; ++i) r[i] = from[i * 3], g[i] = from[i * 3 + 1], b[i] = from[i * 3 + 2];
        continue;
      }
      for (int c = 0; c < channels; ++c) {
        float* out = to.row(c, y);
        for (int i = 0; i < n; ++i) out[i] = from[size_t(i) * step + size_t(c)];
      }
    }
  }

 private:
  std::shared_ptr<const Picture> picture_;
};

DUSK_LANES void balanced(float* out, const float* light, const float* alpha, int count, float gain,
                         float veil) {
  for (int i = 0; i < count; ++i) out[i] = light[i] * gain * (1 - veil) + alpha[i] * veil;
}

/// One channel of the first so many inputs, added up.
void addUp(const std::vector<std::vector<const float*>>& in, size_t inputs, size_t channel, float* out,
           int count) {
  std::fill(out, out + count, 0.0f);
  for (size_t k = 0; k < inputs; ++k) addScaled(out, in[k][channel], count, 1);
}

/// A look into a picture that `owner` keeps alive.
std::shared_ptr<const Picture> within(const std::shared_ptr<const Passes>& owner, const Picture& picture) {
  return {owner, &picture};
}

/// Light and alpha as one picture of four channels.
NodePtr withAlpha(const NodePtr& light, const NodePtr& alpha) {
  return combined({light, alpha}, 4, NodeKey("with alpha"),
                  [](const auto& in, float* const* out, int count, int, int) {
                    for (size_t c = 0; c < 3; ++c) std::copy_n(in[0][c], count, out[c]);
                    std::copy_n(in[1][0], count, out[3]);
                  });
}

/// All light of one group that the product sends out, mixed and corrected.
NodePtr groupNode(const GroupPasses& group, const BlendSettings& blend, const BlendSources& sources,
                  const NodePtr& alpha, const MaskWorld& world, const FindTable& tableOf) {
  const BlendRow& row = rowOf(blend, std::string(lightRow) + group.name);
  if (!row.on || row.strength == 0) return nullptr;
  std::vector<NodePtr> parts;
  for (const Picture& part : group.part)
    if (!part.empty()) parts.push_back(sourceOf(within(sources.passes, part), world.frame.whole, 3));
  if (parts.empty()) return nullptr;
  const Rgb gain = mixGain(blend, group.name);
  parts.push_back(alpha);
  NodePtr all = combined(parts, 4, NodeKey("group").with(gain),
                         [gain](const auto& in, float* const* out, int count, int, int) {
                           for (int c = 0; c < 3; ++c) {
                             addUp(in, in.size() - 1, size_t(c), out[c], count);
                             for (int i = 0; i < count; ++i) out[c][i] *= gain[c];
                           }
                           std::copy_n(in.back()[0], count, out[3]);
                         });
  all = corrected(all, row.corrections, BlendRole::product, world, tableOf);
  return weighted(all, float(row.strength), maskNode(row.masks, all, world), true);
}

}  // namespace

NodePtr sourceOf(std::shared_ptr<const Picture> picture, const PixelArea& whole, int channels) {
  return std::make_shared<Source>(std::move(picture), whole, channels);
}

NodePtr ratioNode(const Shot& shot, const BlendSources& sources, const PixelArea& whole) {
  const NodePtr ratio = sourceOf(within(sources.passes, sources.passes->ratio), whole, 3);
  const auto& groups = sources.passes->groups;
  if (groups.empty() || !isMixed(shot.blend)) return ratio;
  std::vector<NodePtr> inputs{ratio};
  std::vector<Rgb> gains;
  for (const GroupPasses& g : groups) {
    inputs.push_back(sourceOf(within(sources.passes, g.with), whole, 3));
    inputs.push_back(sourceOf(within(sources.passes, g.without), whole, 3));
    gains.push_back(mixGain(shot.blend, g.name));
  }
  return combined(inputs, 3, NodeKey("mixed ratio").with(gains),
                  [gains](const auto& in, float* const* out, int count, int, int) {
                    for (int c = 0; c < 3; ++c)
                      for (int i = 0; i < count; ++i) {
                        float with = 0, without = 0;
                        for (size_t g = 0; g < gains.size(); ++g)
                          with += in[1 + 2 * g][size_t(c)][i] * gains[g][c],
                              without += in[2 + 2 * g][size_t(c)][i] * gains[g][c];
                        const float ratio = in[0][size_t(c)][i];
                        out[c][i] = ratio != 1 && without > 0 ? with / without : ratio;
                      }
                  });
}

NodePtr mirrorNode(const Shot& shot, const BlendSources& sources, const PixelArea& whole) {
  if (sources.passes->reflection.empty()) return nullptr;
  const auto& groups = sources.passes->groups;
  if (groups.empty() || !isMixed(shot.blend))
    return sourceOf(within(sources.passes, sources.passes->reflection), whole, 3);
  std::vector<NodePtr> inputs;
  std::vector<Rgb> gains;
  for (const GroupPasses& g : groups)
    if (!g.mirror.empty())
      inputs.push_back(sourceOf(within(sources.passes, g.mirror), whole, 3)),
          gains.push_back(mixGain(shot.blend, g.name));
  if (inputs.empty()) return nullptr;
  return combined(inputs, 3, NodeKey("mixed mirror").with(gains),
                  [gains](const auto& in, float* const* out, int count, int, int) {
                    for (int c = 0; c < 3; ++c)
                      for (int i = 0; i < count; ++i) {
                        float sum = 0;
                        for (size_t g = 0; g < gains.size(); ++g) sum += in[g][size_t(c)][i] * gains[g][c];
                        out[c][i] = sum;
                      }
                  });
}

NodePtr emissionNode(const BlendSources& sources, const PixelArea& whole) {
  std::vector<NodePtr> parts;
  for (const GroupPasses& g : sources.passes->groups)
    if (!g.part[emission].empty())
      parts.push_back(sourceOf(within(sources.passes, g.part[emission]), whole, 3));
  if (parts.empty()) return nullptr;
  return combined(parts, 3, NodeKey("emission"), [](const auto& in, float* const* out, int count, int, int) {
    for (size_t c = 0; c < 3; ++c) addUp(in, in.size(), c, out[c], count);
  });
}

NodePtr productNode(const Shot& shot, const BlendSources& sources, const MaskWorld& world,
                    const FindTable& tableOf) {
  const BlendSettings& blend = shot.blend;
  const PixelArea& whole = world.frame.whole;
  const NodePtr alpha = sourceOf(within(sources.passes, sources.passes->alpha), whole, 1);
  NodePtr product;
  if (!sources.passes->groups.empty() && (isMixed(blend) || hasLightRows(blend))) {
    std::vector<NodePtr> lights;
    for (const GroupPasses& g : sources.passes->groups)
      if (NodePtr one = groupNode(g, blend, sources, alpha, world, tableOf)) lights.push_back(one);
    lights.push_back(alpha);
    product =
        combined(lights, 4, NodeKey("lights"), [](const auto& in, float* const* out, int count, int, int) {
          for (size_t c = 0; c < 3; ++c) addUp(in, in.size() - 1, c, out[c], count);
          std::copy_n(in.back()[0], count, out[3]);
        });
  } else {
    product = withAlpha(sourceOf(within(sources.passes, sources.passes->beauty), whole, 3), alpha);
  }
  const Rgb gain = productGain(blend), veil = toFloat(blend.veil);
  if (gain != Rgb(1) || veil != Rgb(0))
    product = combined({product}, 4, NodeKey("balance").with(gain).with(veil),
                       [gain, veil](const auto& in, float* const* out, int count, int, int) {
                         for (int c = 0; c < 3; ++c)
                           balanced(out[c], in[0][size_t(c)], in[0][3], count, gain[c], veil[c]);
                         std::copy_n(in[0][3], count, out[3]);
                       });
  return corrected(product, rowOf(blend, BlendRole::product).corrections, BlendRole::product, world, tableOf);
}

NodePtr throughLens(const NodePtr& product, const LensLook& lens, double strength, const NodePtr& mask,
                    const BlendFrame& frame) {
  const Vec3d sigma = lens.softPx * frame.scale * std::sqrt(strength);
  const bool soft = std::max({sigma.x, sigma.y, sigma.z}) > 0.05, halo = lens.halo != 0,
             fringe = lens.fringe != Vec2d(0), shade = lens.vignette != Vec3d(0);
  if (strength <= 0 || (!soft && !halo && !fringe && !shade)) return product;
  const NodePtr drawn = combined({product}, 6, NodeKey("alpha each"),
                                 [](const auto& in, float* const* out, int count, int, int) {
                                   for (size_t c = 0; c < 6; ++c)
                                     std::copy_n(in[0][std::min<size_t>(c, 3)], count, out[c]);
                                 });
  NodePtr six = drawn;
  if (soft) six = blurredApart(six, {sigma.x, sigma.y, sigma.z});
  if (halo && lens.haloPx * frame.scale > 0.1)
    six = unsharp(six, lens.haloPx * frame.scale, float(lens.halo * strength));
  const Vec2d middle(frame.width / 2.0, frame.height / 2.0);
  if (fringe)
    six = scaledApart(six, middle,
                      {1 + lens.fringe.x * strength / 1000, 1, 1 + lens.fringe.y * strength / 1000});
  if (!shade) return between(drawn, six, 1, mask);
  const Vec3f v(toFloat(lens.vignette) * float(strength));
  six = combined({six}, 6, NodeKey("shade").with(v),
                 [v, middle](const auto& in, float* const* out, int count, int x0, int y) {
                   const float per = float(1 / middle.length2()), dy = float(y + 0.5 - middle.y);
                   for (int i = 0; i < count; ++i) {
                     const float dx = float(x0 + i + 0.5 - middle.x), r2 = (dx * dx + dy * dy) * per;
                     const float gain = 1 + r2 * (v.x + r2 * (v.y + r2 * v.z));
                     for (size_t c = 0; c < 3; ++c)
                       out[c][i] = in[0][c][i] * gain, out[c + 3][i] = in[0][c + 3][i];
                   }
                 });
  return between(drawn, six, 1, mask);
}

}  // namespace dusk
