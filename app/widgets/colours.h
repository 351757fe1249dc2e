#pragma once
#include <QColor>

#include "core/base/maths.h"

namespace dusk {

/// Scene-linear Rec.709 as the screen shows it (sRGB code values), clipped to what that can.
QColor shownColour(const Vec3d& linear);
Vec3d linearColour(const QColor& colour);

}  // namespace dusk
