#pragma once
#include <nlohmann/json.hpp>
#include <optional>

#include "core/variant/places.h"

namespace dusk {

/// What moves as one: a placed product, a part that is moved, else a value by itself.
struct Thing {
  std::string place;
  std::vector<std::string> values{};  ///< of a group, those that keys tell; empty: it is one value
};
Thing thingOf(const std::string& place);
/// What a track moves: all of such a thing, or the one value that it is of.
Thing thingOf(const MotionTrack& track);
/// What keys tell of it, as it is in a project; nothing where it is not there.
std::optional<nlohmann::json> valueOf(const Thing& thing, PlacedEdit& project);
std::optional<nlohmann::json> valueOf(const Thing& thing, const Project& project);
/// Whether something of a shot can move: it is seen, and is a value or a thing as above.
bool canMove(const Project& project, const Shot& shot, const Thing& thing);
/// What a place is called beside what moves: "Gauge", "Lid", "Camera", "Cream enamel: roughness".
std::string nameOf(const Thing& thing, const Project& project, const Shot& shot);
/// What keys tell of a placement, and of a part's move.
nlohmann::json valueOf(const Placement& placement);
nlohmann::json valueOf(const PartMove& move);
/// The place of a placed product.
std::string placeOfPlacement(const Shot& shot, const std::string& placementId);
/// The place of a part that is moved.
std::string placeOfMove(const std::string& productId, const std::string& part);

}  // namespace dusk
