#include "core/product/plausible.h"

#include "core/base/words.h"

#include <cstdio>

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
  // Doubt as a factor: above 1 too large, below 1 too small; what fills a third of the picture is at ease.
  const double largest = std::max({size.x, size.y, size.z});
  const bool off = share ? *share > 3 || *share < 0.01 : largest > 20 || largest < 0.002;
  if (!off) return {};
  const double now = share ? *share / 0.33 : largest / 0.3;
  const LengthUnit* better = nullptr;
  double least = std::abs(std::log(now));
  for (const LengthUnit& u : lengthUnits()) {
    const double then = std::abs(std::log(now * u.metres / product.metresPerUnit));
    if (then < 0.7 * least) least = then, better = &u;
  }
  char text[200];
  if (share)
    std::snprintf(text, sizeof text,
                  words("%.3g m at its largest: %.3g times the picture's height where it stands."), largest,
                  *share);
  else
    std::snprintf(text, sizeof text, words("%.3g m at its largest is unlikely."), largest);
  SizeDoubt doubt{withDecimalMark(text), better ? better->metres : 0};
  if (better) doubt.sentence += std::string(words(" One unit may be a ")) + better->name + ".";
  return doubt;
}

}  // namespace dusk
