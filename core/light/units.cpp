#include "core/light/units.h"

#include "core/colour/view.h"
#include "core/project/lamp_kinds.h"

namespace dusk {
namespace {

/// The power for a luminance of 1 cd/m2.
std::optional<double> perNit(LampUnit unit, const Lamp& lamp) {
  const LampKindInfo& info = infoOf(lamp.kind);
  if (unit == LampUnit::ev || !info.lights) return {};
  if (info.body == LampBody::distant) {
    if (unit == LampUnit::lumen) return {};
    return unit == LampUnit::lux ? pi : pi / lumenPerWatt;
  }
  const double r2 = lamp.radiusM * lamp.radiusM,
               area = info.body == LampBody::rectangle ? lamp.widthM * lamp.heightM : pi * r2;
  if (unit == LampUnit::wattPerM2) return pi / lumenPerWatt;
  if (unit == LampUnit::lux) {
    const double away2 = (lamp.targetM - lamp.positionM).length2();
    return pi * area / (pi * away2 + area);
  }
  if (info.body == LampBody::ball) return pi * 4 * pi * r2;
  if (!info.hasCone) return pi * area;
  // A smooth step from the inner to the outer cosine: by their middle, Lambert's cone pi sin^2.
  const double outer = std::cos(radians(lamp.coneDegrees) / 2),
               inner = std::cos(radians(lamp.coneDegrees) / 2 * (1 - lamp.coneSoftness)),
               middle = (outer + inner) / 2;
  return pi * area * (1 - middle * middle);
}

}  // namespace

double whiteNits(const Shot& shot, const PhotoInfo& info) {
  if (shot.whiteNits) return *shot.whiteNits;
  if (info.fNumber > 0 && info.exposureSeconds > 0 && info.iso > 0)
    return 120 * info.fNumber * info.fNumber / (info.exposureSeconds * info.iso);
  return 1000;
}

double nearestKelvin(const Vec3d& colour) {
  const auto warmth = [](double red, double blue) {
    return std::log(std::max(1e-6, red) / std::max(1e-6, blue));
  };
  const double wanted = warmth(colour.x, colour.z);
  double low = 1667, high = 25000;
  for (int i = 0; i < 40; ++i) {
    const double middle = std::sqrt(low * high);
    const Rgb glow = kelvinColour(middle);
    (warmth(double(glow.x), double(glow.z)) > wanted ? low : high) = middle;
  }
  return std::sqrt(low * high);
}

std::optional<double> powerIn(LampUnit unit, const Lamp& lamp, double white) {
  if (unit == LampUnit::ev) return lamp.powerEv;
  const auto share = perNit(unit, lamp);
  return share ? std::optional(*share * white * std::exp2(lamp.powerEv)) : std::nullopt;
}

std::optional<double> powerEvFor(LampUnit unit, double value, const Lamp& lamp, double white) {
  if (unit == LampUnit::ev) return value;
  const auto share = perNit(unit, lamp);
  if (!share || value <= 0 || white <= 0) return {};
  return std::log2(value / (*share * white));
}

}  // namespace dusk
