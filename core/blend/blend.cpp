#include "core/blend/blend.h"

#include "core/blend/operation.h"
#include "core/blend/stack.h"

namespace dusk {

Rgb whiteShift(double mired, double tintPercent) {
  const Rgb warm =
      mired == 0 ? Rgb(1) : kelvinColour(1e6 / std::max(40.0, 1e6 / 6504 + mired)) / kelvinColour(6504);
  const Rgb tint(float(1 + tintPercent / 200), float(1 - tintPercent / 200), float(1 + tintPercent / 200));
  return warm * tint / luminance(tint);
}

Rgb productGain(const BlendSettings& blend) {
  return whiteShift(100 * blend.warmth) * toFloat(blend.white) * float(std::exp2(blend.exposureEv));
}

Rgb mixGain(const BlendSettings& blend, const std::string& group) {
  const auto found = blend.mix.find(group);
  if (found == blend.mix.end()) return Rgb(1);
  return whiteShift(found->second.mired) * float(std::exp2(found->second.ev));
}

bool isMixed(const BlendSettings& blend) {
  return std::any_of(blend.mix.begin(), blend.mix.end(),
                     [](const auto& m) { return m.second != LightMix{}; });
}

bool hasLightRows(const BlendSettings& blend) {
  return std::any_of(blend.rows.begin(), blend.rows.end(), [](const auto& entry) {
    return entry.first.starts_with(lightRow) && entry.second != BlendRow{};
  });
}

namespace {
/// What somebody else keeps alive.
template <typename T>
std::shared_ptr<const T> borrowed(const T* value) {
  return {std::shared_ptr<const T>(), value};
}
Stack stackOf(const Shot& shot, const Passes& passes, const Picture* plate, const Picture* shownPlate) {
  BlendSources sources;
  sources.passes = borrowed(&passes), sources.plate = borrowed(plate),
  sources.shownPlate = borrowed(shownPlate);
  return buildStack(shot, sources);
}
}  // namespace

Picture blend(const Shot& shot, const Passes& passes, const Picture* plate) {
  Evaluator evaluator;
  return lightOf(stackOf(shot, passes, plate, nullptr), evaluator);
}

Picture blendForDisplay(const Shot& shot, const Passes& passes, const Picture* plate,
                        const Picture* shownPlate, const ColourView& view) {
  Evaluator evaluator;
  return codesOf(stackOf(shot, passes, plate, shownPlate), view, evaluator);
}

}  // namespace dusk
