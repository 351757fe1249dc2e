#pragma once
#include <QString>

namespace dusk {

class VantageWork;

/// What a press in the picture does with what is being drawn, in a line; `corners` of a footprint are set
/// already.
QString drawingHint(const VantageWork& work, size_t corners);

}  // namespace dusk
