#pragma once
#include <QImage>

#include "core/picture/picture.h"

namespace dusk {

/// Code values 0..1, three channels, as a 32-bit image (8 bit per channel, rounded to nearest).
QImage toImage(const Picture& codes);
/// The neighbourhood of `at`, `radius` pixels either way, enlarged `times` without smoothing.
QImage enlarged(const Picture& codes, const Vec2d& at, int radius, int times);

/// `side` x `side` pixels of a photo from (x0, y0) as display code values; the border repeats.
QImage cropped(const Photo& photo, int x0, int y0, int side);

/// Eight times what differs between two pictures of one size, about middle grey.
QImage differenceOf(const QImage& now, const QImage& other);

}  // namespace dusk
