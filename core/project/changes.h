#pragma once
#include "core/project/project.h"

namespace dusk {

/// What must be made anew when a shot goes from one value to another. Each flag implies only its own work: a
/// grade never traces, a surface never rebuilds geometry.
struct Changes {
  bool plate = false;     ///< other photograph, or other view to undo on it
  bool geometry = false;  ///< other model, or other parts shown
  bool trace = false;     ///< anything the tracer sees
  bool blend = false;     ///< anything the finished picture shows
  bool proofs = false;    ///< anything that is measured on it
};

/// Of the shot that is `shotBefore` in the one and `shotAfter` in the other.
Changes changes(const Project& before, size_t shotBefore, const Project& after, size_t shotAfter);
inline Changes changes(const Project& before, const Project& after, size_t shot) {
  return changes(before, shot, after, shot);
}

}  // namespace dusk
