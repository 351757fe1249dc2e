#include "core/project/links.h"

#include "core/base/json_text.h"
#include "core/project/json.h"

namespace dusk {
namespace {

void tell(AssetRef& ref, LinkKind kind, const OnLink& act) {
  if (!ref.empty()) act(ref, kind);
}

void eachLink(std::vector<Feed>& feeds, const OnLink& act) {
  for (Feed& feed : feeds) tell(feed.picture, LinkKind::texture, act);
}

void eachLink(Surroundings& surroundings, const OnLink& act) {
  tell(surroundings.panorama, LinkKind::panorama, act);
}

void eachLink(BlendRow& row, const OnLink& act) {
  for (Correction& c : row.corrections) tell(c.file, LinkKind::table, act);
}

void eachLink(BlendSettings& blend, const OnLink& act) {
  for (auto& [name, row] : blend.rows) eachLink(row, act);
  for (ExtraLayer& layer : blend.layers) tell(layer.file, LinkKind::layer, act), eachLink(layer.row, act);
  tell(blend.reference.file, LinkKind::layer, act), tell(blend.config.file, LinkKind::config, act);
}

/// Links within what an option puts somewhere, told by their shape.
void eachLink(nlohmann::json& value, const std::string& key, const OnLink& act) {
  if (value.is_object() && value.size() == 2 && value.contains("path") && value.contains("hash")) {
    auto ref = value.get<AssetRef>();
    tell(ref,
         key == "panorama" ? LinkKind::panorama
         : key == "model"  ? LinkKind::model
         : key == "plate"  ? LinkKind::photo
                           : LinkKind::texture,
         act);
    value = ref;
  } else if (value.is_structured()) {
    for (auto& [name, inside] : value.items()) eachLink(inside, value.is_object() ? name : key, act);
  }
}

/// Of a place of the document, as JSON.
void eachLink(std::string& text, const std::string& place, const OnLink& act) {
  if (text.find("\"path\"") == std::string::npos) return;
  auto value = jsonFrom(text);
  if (value.is_discarded()) return;
  eachLink(value, place.substr(place.rfind('/') + 1), act);
  text = jsonText(value);
}

}  // namespace

void eachLink(std::vector<Lamp>& lamps, const OnLink& act) {
  for (Lamp& lamp : lamps) tell(lamp.picture, LinkKind::photo, act);
}

void eachLink(Product& product, const OnLink& act) {
  tell(product.model, LinkKind::model, act);
  for (Decal& decal : product.decals) tell(decal.picture, LinkKind::print, act);
}

void eachLink(Surface& surface, const OnLink& act) {
  for (auto& [value, feeds] : surface.feeds) eachLink(feeds, act);
  for (Coat& coat : surface.coats) eachLink(coat.surface, act), eachLink(coat.mask, act);
}

void eachLink(Shot& shot, const OnLink& act) {
  tell(shot.plate, LinkKind::photo, act);
  eachLink(shot.surroundings, act), eachLink(shot.lamps, act), eachLink(shot.blend, act);
  for (BlendSnapshot& kept : shot.snapshots) eachLink(kept.blend, act);
  for (MotionTrack& track : shot.motion.tracks)
    for (MotionKey& key : track.keys) eachLink(key.to, track.at, act);
}

void eachLink(Project& project, const OnLink& act) {
  for (Product& product : project.products) eachLink(product, act);
  for (Surface& surface : project.surfaces) eachLink(surface, act);
  for (Shot& shot : project.shots) eachLink(shot, act);
  for (Rig& rig : project.rigs) eachLink(rig.surroundings, act), eachLink(rig.lamps, act);
  for (VariantAxis& axis : project.axes)
    for (VariantOption& option : axis.options)
      for (VariantChange& change : option.changes) eachLink(change.to, change.at, act);
}

}  // namespace dusk
