#include "app/document/units.h"

#include "app/document/preferences.h"

namespace dusk {
namespace {
constexpr ShownUnit units[] = {
    {"mm", 1000, 1, 1}, {"cm", 100, 2, 0.1}, {"m", 1, 4, 0.001}, {"in", 1 / 0.0254, 3, 0.1}};
}

std::span<const ShownUnit> shownUnits() { return units; }

int storedUnit() { return Preferences::own().number("lengths"); }
void storeUnit(int index) { Preferences::own().set("lengths", index); }

}  // namespace dusk
