#include "core/product/plausible.h"

#include <algorithm>
#include <cstdio>

#include "core/base/words.h"

namespace dusk {
namespace {

/// The product's largest size as a share of the picture's height, where it stands.
std::optional<double> shareOfPicture(const Product& product, const Placement& placement, const Model& model,
                                     const Camera& camera, double planeM) {
  const double size = trueSize(product, model.box()).length();
  const double away = (Vec3d(placement.xM, placement.yM, planeM) - camera.position).dot(camera.axes.z);
  if (away <= 0) return {};
  return size * camera.focalPx / away / camera.height;
}

/// Units in which a thing would be at ease; else the one that comes nearest to it, where it is clearly
/// nearer. `perMetre`: its size for a unit of one metre, as a factor of what is at ease; `now`: for the unit
/// it has.
std::vector<LengthUnit> betterUnits(double perMetre, double now) {
  // What files are drawn in: in a unit of people's measures less often than in the two of engineers.
  const auto strangeness = [](const LengthUnit& u) {
    return u.metres == 0.001 || u.metres == 1 ? 0 : u.metres == 0.3048 ? 1.2 : 0.4;
  };
  constexpr double atEase = 2.5;  // twelve times as large or small
  std::vector<std::pair<double, LengthUnit>> found;
  for (const LengthUnit& u : lengthUnits()) {
    const double off = std::abs(std::log(perMetre * u.metres));
    if (off < 0.7 * std::abs(std::log(now))) found.push_back({off + strangeness(u), u});
  }
  std::sort(found.begin(), found.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
  std::vector<LengthUnit> units;
  for (const auto& [off, unit] : found)
    if (units.empty() || (units.size() < 2 && off < atEase && strangeness(unit) < 1)) units.push_back(unit);
  return units;
}

}  // namespace

const std::vector<LengthUnit>& lengthUnits() {
  static const std::vector<LengthUnit> all = {{marked("millimetre"), 0.001},
                                              {marked("centimetre"), 0.01},
                                              {marked("metre"), 1.0},
                                              {marked("inch"), 0.0254},
                                              {marked("foot"), 0.3048}};
  return all;
}

const LengthUnit& nearestUnit(double metresPerUnit) {
  const LengthUnit* best = &lengthUnits()[0];
  for (const LengthUnit& u : lengthUnits())
    if (std::abs(std::log(u.metres / metresPerUnit)) < std::abs(std::log(best->metres / metresPerUnit)))
      best = &u;
  return *best;
}

std::optional<SizeDoubt> sizeDoubt(const Product& product, const Placement& placement, const Model& model,
                                   const Vantage& vantage, double planeM) {
  const auto share =
      vantage.solved ? shareOfPicture(product, placement, model, vantage.camera, planeM) : std::nullopt;
  const Vec3d size = trueSize(product, model.box());
  const double largest = std::max({size.x, size.y, size.z});
  const bool off = share ? *share > 3 || *share < 0.01 : largest > 20 || largest < 0.002;
  if (!off) return {};
  // A third of the picture is at ease, or a third of a metre.
  const double now = share ? *share / 0.33 : largest / 0.3;
  char text[200];
  if (share)
    std::snprintf(text, sizeof text,
                  words("%.3g m at its largest: %.3g times the picture's height where it stands."), largest,
                  *share);
  else
    std::snprintf(text, sizeof text, words("%.3g m at its largest is unlikely."), largest);
  SizeDoubt doubt{withDecimalMark(text), betterUnits(now / product.metresPerUnit, now)};
  if (doubt.units.size() == 1)
    doubt.sentence += std::string(words(" One unit may be a ")) + words(doubt.units[0].name) + ".";
  if (doubt.units.size() == 2)
    doubt.sentence += std::string(words(" One unit may be a ")) + words(doubt.units[0].name) +
                      words(" or a ") + words(doubt.units[1].name) + ".";
  return doubt;
}

}  // namespace dusk
