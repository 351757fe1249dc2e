#pragma once
#include "core/product/model.h"

namespace dusk {

struct LengthUnit {
  const char* name;
  double metres;
};

/// A doubt about a product's size where it stands, and the units that would settle it.
struct SizeDoubt {
  std::string sentence;  ///< "340 m at its largest: 60 times the picture's height where it stands. …"
  std::vector<LengthUnit> units;  ///< two at most, the likelier first; none where no usual one is better
};

/// What one unit of a file may mean: millimetre, centimetre, metre, inch, foot.
const std::vector<LengthUnit>& lengthUnits();
/// The nearest of those.
const LengthUnit& nearestUnit(double metresPerUnit);

/// Whether the product, where it stands, would be taller than three times the picture or lower than a
/// hundredth of it; without a solved camera, taller than 20 m or lower than 2 mm. Nothing when its size can
/// be.
std::optional<SizeDoubt> sizeDoubt(const Product& product, const Placement& placement, const Model& model,
                                   const Vantage& vantage, double planeM);

}  // namespace dusk
