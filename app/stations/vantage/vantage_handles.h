#pragma once
#include <vector>

#include "core/project/project.h"

namespace dusk {

/// One point of the evidence that can be grabbed.
struct Handle {
  enum Kind { none, stroke, corner, pin, length, horizon, origin, box } kind = none;
  size_t item = 0, point = 0;
  bool operator==(const Handle&) const = default;
};

/// All of them, in the order a keyboard walks through. Of a snapped stroke only the ends are held by hand.
std::vector<Handle> handlesOf(const Evidence& evidence);

/// The value a handle moves; nullptr when it is gone.
Vec2d* handleValue(Evidence& evidence, const Handle& handle);

}  // namespace dusk
