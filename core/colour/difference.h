#pragma once
#include "core/base/maths.h"

namespace dusk {

/// CIE L*a*b* under D65 of sRGB code values 0 to 1.
Vec3d labOfSrgb(const Vec3d& code);
/// The same of scene-linear Rec.709, cut off at black and at white.
Vec3d labOfLinear(const Vec3d& linear);
/// The other way; codes out of 0 to 1 where sRGB has no such colour.
Vec3d srgbOfLab(const Vec3d& lab);

/// CIEDE2000 colour difference of two L*a*b* colours: about 1 is just noticeable. Sharma, Wu & Dalal 2005,
/// "The CIEDE2000 Color-Difference Formula: Implementation Notes, Supplementary Test Data, and Mathematical
/// Observations".
double ciede2000(const Vec3d& lab1, const Vec3d& lab2);

}  // namespace dusk
