#pragma once
#include <QImage>

#include "core/project/project.h"

namespace dusk {

/// Our test shape in that surface in a small studio, traced by the same tracer as the picture: a turned piece
/// of 60 mm with a round head, a groove and a foot. Takes some tens of milliseconds: call it from a worker.
QImage tracedSwatch(const Surface& surface, int size, int samples);

/// The same from the person's cache, where it is traced once.
QImage keptSwatch(const Surface& surface, int size, int samples);

}  // namespace dusk
