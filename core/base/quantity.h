#pragma once
#include <string_view>

#include "core/base/result.h"

namespace dusk {

/// What kind of thing a number is of: which units can be typed for it.
enum class Quantity { plain, length, angle, time, temperature, exposure, share };

/// The value of what a person typed, in `unit` (the field's own, as shown: "mm", "°", "K", "%"...): numbers,
/// units,
/// + - * / and brackets, as in `3/8 in`, `2*40 mm`, `1.2 m + 3 cm`, `1,5`. A unit is that of the
/// whole quotient or product of plain numbers before it. Numbers without a unit are in `unit`.
/// Error: says what could not be read.
Result<double> quantityFromText(std::string_view text, Quantity quantity, std::string_view unit);

/// Which quantity a field's unit belongs to.
Quantity quantityOfUnit(std::string_view unit);

}  // namespace dusk
