#pragma once
#include <span>

namespace dusk {

/// A unit that lengths are shown and typed in.
struct ShownUnit {
  const char* name;
  double perMetre;
  int decimals;
  double step;
};
std::span<const ShownUnit> shownUnits();

/// The one chosen, kept between sessions.
int storedUnit();
void storeUnit(int index);

}  // namespace dusk
