#pragma once
#include "core/picture/photo.h"
#include "core/project/project.h"

/// What a lamp's strength comes to in the units lamps are sold and measured by.
namespace dusk {

/// Luminance in cd/m2 that the photo shows as white: as said in the shot, else by the plate's exposure
/// (`info`; ISO 12232:2019, saturation-based speed: 120 N^2 / (t S)), else a bright room's 1,000.
double whiteNits(const Shot& shot, const PhotoInfo& info);

/// Daylight's luminous efficacy.
inline constexpr double lumenPerWatt = 179;
/// The temperature of the glow whose light is nearest to a colour, by its red against its blue.
double nearestKelvin(const Vec3d& colour);

enum class LampUnit { ev, lumen, lux, wattPerM2 };

/// The lamp's power in `unit`. Lux: on a surface at its target that faces it, or for a sun on any that does.
/// Watt per m2: what its surface gives off (a sun: what arrives), at daylight's 179 lm/W. Lumen: all it gives
/// off; nothing for a sun.
std::optional<double> powerIn(LampUnit unit, const Lamp& lamp, double whiteNits);
/// The powerEv with which it has that power; nothing where there is none.
std::optional<double> powerEvFor(LampUnit unit, double value, const Lamp& lamp, double whiteNits);

}  // namespace dusk
