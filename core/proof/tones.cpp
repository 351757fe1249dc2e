#include "core/proof/tones.h"

#include "core/base/words.h"

namespace dusk {
namespace {

/// White or black in all channels, within so many 8-bit codes.
bool isPlain(const Rgb& code, float within) {
  const float off = within / 255;
  return std::min({code.x, code.y, code.z}) >= 1 - off || std::max({code.x, code.y, code.z}) <= off;
}
/// Nothing of a shape is left there.
constexpr float isGone = 0.5f;
/// There is little of one to lose: a dial that is nearly white may become it.
constexpr float isFaint = 12;

}  // namespace

std::optional<Finding> tonesFinding(const Picture& shown, const Passes& passes, const ColourView& view) {
  if (shown.width != passes.width() || shown.height != passes.height()) return {};
  // The product's own pixels, in a row.
  std::vector<size_t> at;
  for (size_t i = 0; i < passes.alpha.pixels.size(); ++i)
    if (passes.alpha.pixels[i] > 0.99f) at.push_back(i);
  const auto xOf = [&](size_t i) { return int(at[i]) % shown.width; };
  const auto yOf = [&](size_t i) { return int(at[i]) / shown.width; };
  constexpr size_t fewest = 200;
  if (at.size() < fewest) return {};
  Picture rendered(int(at.size()), 1, {"R", "G", "B"});
  for (size_t i = 0; i < at.size(); ++i) {
    const Rgb light = passes.beauty.rgbAt(xOf(i), yOf(i));
    for (int c = 0; c < 3; ++c) rendered.at(int(i), 0)[c] = light[c];
  }
  const Picture before = displayed(rendered, view);
  size_t lost = 0, first = 0;
  for (size_t i = 0; i < at.size(); ++i)
    if (isPlain(shown.rgbAt(xOf(i), yOf(i)), isGone) && !isPlain(before.rgbAt(int(i), 0), isFaint))
      if (lost++ == 0) first = i;
  Finding finding{"tones-lost",
                  words("part of the product that the blend turns plain white or black"),
                  100 * double(lost) / double(at.size()),
                  0,
                  5,
                  "%",
                  words("Take exposure, levels or curves back until its shapes show again."),
                  "Blend"};
  if (lost) finding.at = Vec2d((xOf(first) + 0.5) / shown.width, (yOf(first) + 0.5) / shown.height);
  return finding;
}

}  // namespace dusk
