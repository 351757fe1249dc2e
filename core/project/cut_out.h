#pragma once
#include <string>
#include <vector>

#include "core/base/maths.h"

namespace dusk {

/// A thing of the photo that stands in front of the product. It is found inside a rough loop: what lies
/// outside is behind for certain.
struct CutOut {
  std::string id, name;
  bool on = true;
  std::vector<Vec2d> loop;                   ///< pixels of the plate
  std::vector<std::vector<Vec2d>> keeps{};   ///< lines over what belongs to it
  std::vector<std::vector<Vec2d>> leaves{};  ///< lines over what does not
  double softPx = 4;                         ///< width of the border where it may be partly there
  double standsAtM = 0;  ///< distance along the optical axis; only what is farther is hidden. 0: all is
  std::string
      standInId{};  ///< that is where it is: takes the product's shadow for it, throws its own; empty: none
  bool operator==(const CutOut&) const = default;
};

}  // namespace dusk
