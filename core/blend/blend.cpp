#include "core/blend/blend.h"

#include <tbb/parallel_for.h>

namespace dusk {
namespace {

bool changed(const Passes& passes, size_t i) {
  const float* ratio = &passes.ratio.pixels[i * 3];
  return passes.alpha.pixels[i] > 0 || ratio[0] != 1 || ratio[1] != 1 || ratio[2] != 1;
}

Rgb blended(const Passes& passes, size_t i, const Picture* plate, const Rgb& gain) {
  Rgb out(0);
  const float behind = 1 - passes.alpha.pixels[i];
  for (int c = 0; c < 3; ++c) {
    const float under = plate ? plate->pixels[i * 3 + c] * passes.ratio.pixels[i * 3 + c] * behind : 0.0f;
    out[c] = under + passes.beauty.pixels[i * 3 + c] * gain[c];
  }
  return out;
}

}  // namespace

Rgb productGain(const BlendSettings& blend) {
  // One unit of warmth is 100 mired away from daylight white.
  const double daylight = 1e6 / 6504;
  const Rgb white = kelvinColour(6504),
            shifted = kelvinColour(1e6 / std::max(40.0, daylight + 100 * blend.warmth));
  return shifted / white * float(std::exp2(blend.exposureEv));
}

Picture blend(const Shot& shot, const Passes& passes, const Picture* plate) {
  Picture out = Picture::rgb(passes.width(), passes.height());
  const Rgb gain = productGain(shot.blend);
  tbb::parallel_for(0, out.height, [&](int y) {
    for (size_t i = size_t(y) * out.width; i < size_t(y + 1) * out.width; ++i) {
      const Rgb value = !changed(passes, i) && plate
                            ? Rgb(plate->pixels[i * 3], plate->pixels[i * 3 + 1], plate->pixels[i * 3 + 2])
                            : blended(passes, i, plate, gain);
      std::copy_n(&value.x, 3, &out.pixels[i * 3]);
    }
  });
  return out;
}

Picture blendForDisplay(const Shot& shot, const Passes& passes, const Picture* plate,
                        const Picture* shownPlate, const ColourView& view) {
  Picture out = Picture::rgb(passes.width(), passes.height());
  const Rgb gain = productGain(shot.blend);
  tbb::parallel_for(0, out.height, [&](int y) {
    std::vector<float> values;
    std::vector<size_t> where;
    for (size_t i = size_t(y) * out.width; i < size_t(y + 1) * out.width; ++i)
      if (shownPlate && !changed(passes, i)) {
        std::copy_n(&shownPlate->pixels[i * 3], 3, &out.pixels[i * 3]);
      } else {
        const Rgb value = blended(passes, i, plate, gain);
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
