#pragma once
#include <optional>
#include <string>
#include <vector>

#include "core/base/maths.h"

namespace dusk {

/// A spot of the photo that must go: it is filled with what lies round it, or elsewhere. The file stays as it
/// is.
struct CleanUp {
  std::string id, name;
  bool on = true;
  std::vector<Vec2d> loop{};    ///< round the spot, pixels of the photo as it was taken
  double marginPx = 4;          ///< how far it reaches beyond the loop
  std::optional<Vec2d> from{};  ///< how far aside it is taken from, pixels; nothing: it is found
  int choice = 1;               ///< another number finds otherwise
  /// The ground's horizon when the loop was drawn: below it, a x + b y + c is above 0, and grows as things
  /// do. All 0: not known.
  Vec3d horizon{0, 0, 0};
  bool operator==(const CleanUp&) const = default;
};

}  // namespace dusk
