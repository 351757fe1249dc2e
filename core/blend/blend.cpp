#include "core/blend/blend.h"

#include <tbb/parallel_for.h>

namespace dusk {
namespace {

bool changed(const Passes& passes, size_t i) {
  const float* ratio = &passes.ratio.pixels[i * 3];
  if (passes.alpha.pixels[i] > 0 || ratio[0] != 1 || ratio[1] != 1 || ratio[2] != 1) return true;
  if (passes.reflection.empty()) return false;
  const float* mirrored = &passes.reflection.pixels[i * 3];
  return mirrored[0] != 0 || mirrored[1] != 0 || mirrored[2] != 0;
}

/// What the blend's settings come to for each pixel.
struct Weights {
  Rgb product, shadow;
  float mirror;
  explicit Weights(const BlendSettings& b) : product(productGain(b)), mirror(float(b.reflectionStrength)) {
    shadow = (Rgb(1) - toFloat(b.shadowTint)) * float(b.shadowStrength);
  }
};

Rgb blended(const Passes& passes, size_t i, const Picture* plate, const Weights& by) {
  Rgb out(0);
  const float behind = 1 - passes.alpha.pixels[i];
  for (int c = 0; c < 3; ++c) {
    const size_t k = i * 3 + size_t(c);
    // Light that the product throws onto the ground is no shadow: it stays as traced.
    float ratio = passes.ratio.pixels[k];
    if (ratio < 1) ratio = std::max(0.0f, 1 - (1 - ratio) * by.shadow[c]);
    float under = plate ? plate->pixels[k] * ratio * behind : 0.0f;
    // Samples of the ground alone carry it: it is premultiplied by what the product leaves free.
    if (plate && !passes.reflection.empty())
      under = std::max(0.0f, under + passes.reflection.pixels[k] * by.mirror);
    out[c] = under + passes.beauty.pixels[k] * by.product[c];
  }
  return out;
}

}  // namespace

namespace {
/// White brought by so many mired (millionths per kelvin) away from daylight, over daylight.
Rgb shiftedWhite(double mired) {
  return kelvinColour(1e6 / std::max(40.0, 1e6 / 6504 + mired)) / kelvinColour(6504);
}
}  // namespace

Rgb productGain(const BlendSettings& blend) {
  return shiftedWhite(100 * blend.warmth) * toFloat(blend.white) * float(std::exp2(blend.exposureEv));
}

bool isMixed(const BlendSettings& blend) {
  return std::any_of(blend.mix.begin(), blend.mix.end(),
                     [](const auto& m) { return m.second != LightMix{}; });
}

Passes mixed(const Passes& passes, const BlendSettings& blend) {
  Passes out;
  out.beauty = passes.beauty, out.alpha = passes.alpha, out.ratio = passes.ratio;
  out.reflection = passes.reflection;
  std::vector<Rgb> gains;
  bool any = false;
  for (const GroupPasses& g : passes.groups) {
    const auto found = blend.mix.find(g.name);
    const LightMix mix = found == blend.mix.end() ? LightMix{} : found->second;
    any |= mix != LightMix{};
    const Rgb shift = mix.mired == 0 ? Rgb(1) : shiftedWhite(mix.mired);
    gains.push_back(shift * float(std::exp2(mix.ev)));
  }
  if (!any) return out;
  tbb::parallel_for(0, passes.height(), [&](int y) {
    for (size_t i = size_t(y) * passes.width(); i < size_t(y + 1) * passes.width(); ++i) {
      if (!changed(passes, i)) continue;
      for (size_t k = i * 3; k < i * 3 + 3; ++k) {
        float beauty = 0, with = 0, without = 0, mirror = 0;
        for (size_t g = 0; g < gains.size(); ++g) {
          const GroupPasses& group = passes.groups[g];
          const float gain = gains[g][int(k - i * 3)];
          float light = 0;
          for (const Picture& part : group.part) light += part.pixels[k];
          beauty += light * gain;
          with += group.with.pixels[k] * gain, without += group.without.pixels[k] * gain;
          if (!group.mirror.empty()) mirror += group.mirror.pixels[k] * gain;
        }
        out.beauty.pixels[k] = beauty;
        if (without > 0) out.ratio.pixels[k] = with / without;
        if (!out.reflection.empty()) out.reflection.pixels[k] = mirror;
      }
    }
  });
  return out;
}

Picture blend(const Shot& shot, const Passes& passes, const Picture* plate) {
  Picture out = Picture::rgb(passes.width(), passes.height());
  const Weights by(shot.blend);
  tbb::parallel_for(0, out.height, [&](int y) {
    for (size_t i = size_t(y) * out.width; i < size_t(y + 1) * out.width; ++i) {
      const Rgb value = !changed(passes, i) && plate
                            ? Rgb(plate->pixels[i * 3], plate->pixels[i * 3 + 1], plate->pixels[i * 3 + 2])
                            : blended(passes, i, plate, by);
      std::copy_n(&value.x, 3, &out.pixels[i * 3]);
    }
  });
  return out;
}

Picture blendForDisplay(const Shot& shot, const Passes& passes, const Picture* plate,
                        const Picture* shownPlate, const ColourView& view) {
  Picture out = Picture::rgb(passes.width(), passes.height());
  const Weights by(shot.blend);
  tbb::parallel_for(0, out.height, [&](int y) {
    std::vector<float> values;
    std::vector<size_t> where;
    for (size_t i = size_t(y) * out.width; i < size_t(y + 1) * out.width; ++i)
      if (shownPlate && !changed(passes, i)) {
        std::copy_n(&shownPlate->pixels[i * 3], 3, &out.pixels[i * 3]);
      } else {
        const Rgb value = blended(passes, i, plate, by);
        values.insert(values.end(), {value.x, value.y, value.z});
        where.push_back(i);
      }
    if (where.empty()) return;
    view.toDisplay(values.data(), where.size());
    for (size_t k = 0; k < where.size(); ++k) std::copy_n(&values[k * 3], 3, &out.pixels[where[k] * 3]);
  });
  return out;
}

}  // namespace dusk
