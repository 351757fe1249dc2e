#pragma once
#include "core/project/project.h"

namespace dusk {

/// What a lamp looks at, and from where: as a camera in its place would see it.
struct LampLook {
  Vec3d eye{0, 0, 0}, target{0, 0, 0};
};
/// Of a lamp that shines from afar: as from three metres off `spot`.
LampLook lookOf(const Lamp& lamp, const Shot& shot, const Vec3d& spot);

/// Puts the lamp where that look is from, and aims it at its target; one that shines from afar shines from
/// that side. A lamp that goes along with a product still does. Nothing where eye and target are one.
void setLook(Lamp& lamp, const Shot& shot, const LampLook& look);

}  // namespace dusk
