#pragma once
#include <QImage>

#include "core/project/project.h"

namespace dusk {

/// A ball of that surface in a small studio, traced by the same tracer as the picture. Takes some tens of
/// milliseconds: call it from a worker.
QImage tracedSwatch(const Surface& surface, int size, int samples);

}  // namespace dusk
