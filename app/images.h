#pragma once
#include <QImage>

#include "core/picture/picture.h"

namespace dusk {

/// Code values 0..1, three channels, as a 32-bit image (8 bit per channel, rounded to nearest).
QImage toImage(const Picture& codes);
/// The neighbourhood of `at`, `radius` pixels either way, enlarged `times` without smoothing.
QImage enlarged(const Picture& codes, const Vec2d& at, int radius, int times);

}  // namespace dusk
