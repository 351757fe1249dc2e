#pragma once
#include <QImage>

#include "core/surface/edit.h"

namespace dusk {

/// A small drawing of what a feed is: its own pattern, or a sign for what the shape tells.
QImage feedDrawing(const Feed& feed, int size);

}  // namespace dusk
