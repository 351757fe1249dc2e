#include "core/surface/values.h"

#include <algorithm>

namespace dusk {
namespace {

using enum SurfaceValue;
using S = Surface;
using P = BsdfParameters;

constexpr ValuePlace places[] = {
    {metalness, &S::metalness, &P::metalness, nullptr, nullptr, 1},
    {roughness, &S::roughness, &P::roughness, nullptr, nullptr, 1},
    {clearcoat, &S::clearcoat, &P::clearcoat, nullptr, nullptr, 1},
    {clearcoatRoughness, &S::clearcoatRoughness, &P::clearcoatRoughness, nullptr, nullptr, 1},
    {sheen, &S::sheen, &P::sheen, nullptr, nullptr, 1},
    {transmission, &S::transmission, &P::transmission, nullptr, nullptr, 1},
    {opacity, &S::opacity, &P::opacity, nullptr, nullptr, 1},
    {subsurface, &S::subsurface, &P::subsurface, nullptr, nullptr, 1},
    {specular, &S::specular, &P::specular, nullptr, nullptr, 1},
    {anisotropy, &S::anisotropy, &P::anisotropy, nullptr, nullptr, 1},
    {sheenRoughness, &S::sheenRoughness, &P::sheenRoughness, nullptr, nullptr, 1},
    {film, &S::filmNm, &P::filmNm, nullptr, nullptr, 5000},
    {baseColour, nullptr, nullptr, &S::baseColour, &P::base, 1},
    {emission, nullptr, nullptr, &S::emission, &P::emission, 1e9f},
    {sheenColour, nullptr, nullptr, &S::sheenColour, &P::sheenColour, 1},
};

}  // namespace

std::span<const ValuePlace> valuePlaces() { return places; }

const ValuePlace* placeOf(SurfaceValue value) {
  const auto found = std::find_if(std::begin(places), std::end(places),
                                  [&](const ValuePlace& p) { return p.value == value; });
  return found == std::end(places) ? nullptr : found;
}

Vec3d groundOf(const Surface& surface, SurfaceValue value) {
  const ValuePlace* place = placeOf(value);
  if (!place) return Vec3d(0);
  return place->number ? Vec3d(surface.*place->number) : surface.*place->colour;
}

}  // namespace dusk
