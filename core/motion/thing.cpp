#include "core/motion/thing.h"

#include "core/base/words.h"

#include <algorithm>

namespace dusk {
namespace {
using nlohmann::json;
}

Thing thingOf(const std::string& place) {
  std::vector<size_t> slashes;
  for (size_t i = 0; i < place.size(); ++i)
    if (place[i] == '/') slashes.push_back(i);
  slashes.push_back(place.size());
  const auto token = [&](size_t i) {
    return i + 1 < slashes.size() ? place.substr(slashes[i] + 1, slashes[i + 1] - slashes[i] - 1)
                                  : std::string();
  };
  const auto among = [&](std::initializer_list<const char*> values) {
    return slashes.size() == 4 || std::find(values.begin(), values.end(), token(3)) != values.end();
  };
  if (token(0) == "shots" && token(2) == "backdrop" &&
      among({"azimuthDegrees", "distanceM", "cameraHeightM", "aimHeightM", "focalMm35", "aimXM", "aimYM"}))
    return {place.substr(0, slashes[3]),
            {"azimuthDegrees", "distanceM", "cameraHeightM", "aimHeightM", "focalMm35", "aimXM", "aimYM"}};
  if (token(0) == "shots" && token(2) == "focus" && among({"distanceM", "fNumber"}))
    return {place.substr(0, slashes[3]), {"distanceM", "fNumber"}};
  if (slashes.size() > 4 && token(2) == "lamps")
    return {place.substr(0, slashes[4]),
            {"positionM", "targetM", "azimuthDegrees", "elevationDegrees", "powerEv", "kelvin"}};
  if (slashes.size() > 4 && token(2) == "placements")
    return {place.substr(0, slashes[4]),
            {"xM", "yM", "liftM", "turnDegrees", "leanXDegrees", "leanYDegrees"}};
  if (slashes.size() > 4 && token(0) == "products" && token(2) == "moves")
    return {place.substr(0, slashes[4]), {"turnDegrees", "shift"}};
  return {place, {}};
}

Thing thingOf(const MotionTrack& track) {
  Thing thing = thingOf(track.at);
  return thing.place == track.at ? thing : Thing{track.at, {}};
}

std::optional<json> valueOf(const Thing& thing, const Project& project) {
  PlacedEdit edit(project);
  return valueOf(thing, edit);
}

std::optional<json> valueOf(const Thing& thing, PlacedEdit& project) {
  auto value = project.at(thing.place);
  if (!value || thing.values.empty()) return value;
  json some = json::object();
  for (const std::string& name : thing.values)
    if (const auto found = value->find(name); found != value->end()) some[name] = *found;
  return some;
}

bool canMove(const Project& project, const Shot& shot, const Thing& thing) {
  const std::string own = "/shots/" + shot.id + "/";
  if (thing.place.starts_with("/shots/")) {
    if (!thing.place.starts_with(own)) return false;
    const std::string part = thing.place.substr(own.size(), thing.place.find('/', own.size()) - own.size());
    static constexpr const char* moving[] = {"backdrop", "placements", "surroundings", "lamps",  "contact",
                                             "standIns", "focus",      "blend",        "choice", "levels"};
    if (std::find(std::begin(moving), std::end(moving), part) == std::end(moving)) return false;
  } else if (!thing.place.starts_with("/products/") && !thing.place.starts_with("/surfaces/")) {
    return false;
  }
  const auto value = valueOf(thing, project);
  return value && !(value->is_object() && value->contains("id"));
}

json valueOf(const Placement& p) {
  return {{"xM", p.xM},
          {"yM", p.yM},
          {"liftM", p.liftM},
          {"turnDegrees", p.turnDegrees},
          {"leanXDegrees", p.leanXDegrees},
          {"leanYDegrees", p.leanYDegrees}};
}

json valueOf(const PartMove& move) {
  return {{"turnDegrees", move.turnDegrees}, {"shift", {move.shift.x, move.shift.y, move.shift.z}}};
}

std::string placeOfPlacement(const Shot& shot, const std::string& placementId) {
  return "/shots/" + shot.id + "/placements/" + escaped(placementId);
}

std::string placeOfMove(const std::string& productId, const std::string& part) {
  return "/products/" + productId + "/moves/" + escaped(part);
}

std::string nameOf(const Thing& thing, const Project& project, const Shot& shot) {
  const std::string own = "/shots/" + shot.id + "/";
  for (const Placement& p : shot.placements)
    if (thing.place == placeOfPlacement(shot, p.id))
      if (const Product* product = byId(project.products, p.productId)) return product->name;
  for (const Product& product : project.products)
    for (const auto& [path, move] : product.moves)
      if (thing.place == placeOfMove(product.id, path)) {
        const auto named = product.names.find(path);
        return named != product.names.end() ? named->second : path.substr(path.rfind('/') + 1);
      }
  if (thing.place == own + "backdrop") return words("Camera");
  for (const VariantAxis& axis : project.axes)
    if (thing.place == own + "choice/" + axis.id) return axis.name;
  std::string words = inWords(project, thing.place);
  // Its own shot is understood.
  if (thing.place.starts_with(own) && words.starts_with(shot.name + ": "))
    words.erase(0, shot.name.size() + 2);
  if (words.starts_with("lamps: ")) words.erase(0, 7);
  if (!words.empty()) words[0] = char(std::toupper(static_cast<unsigned char>(words[0])));
  return words;
}

}  // namespace dusk
