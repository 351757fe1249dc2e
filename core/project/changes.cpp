#include "core/project/changes.h"

#include <set>

namespace dusk {
namespace {

const Shot* shotAt(const Project& project, size_t index) {
  return index < project.shots.size() ? &project.shots[index] : nullptr;
}

/// The settings without those that are for what is done with the samples.
RenderSettings traced(RenderSettings r) {
  r.emptyPasses = false;
  if (r.noiseTarget <= 0) r.denoise = 0;  // else it says how far the samples must go
  std::erase_if(r.extraPasses, [](const std::string& p) { return p != "occlusion"; });
  return r;
}

/// The stand-ins that are there as far as a thing of the photo shows, and where that is.
std::vector<CutOut> standing(const Shot& shot) {
  std::vector<CutOut> all;
  for (const CutOut& c : shot.blend.cutOuts)
    if (c.on && !c.standInId.empty()) all.push_back(c), all.back().name.clear(), all.back().standsAtM = 0;
  return all;
}

/// The surfaces that something in the shot wears, in the order they have in the project.
std::vector<Surface> worn(const Project& project, const Shot& shot) {
  std::set<std::string> ids;
  for (const Placement& at : shot.placements)
    if (const Product* product = byId(project.products, at.productId))
      for (const auto& [part, id] : product->surfaceOfPart) ids.insert(id);
  std::vector<Surface> all;
  for (const Surface& s : project.surfaces)
    if (ids.contains(s.id)) all.push_back(s);
  return all;
}

}  // namespace

Changes changes(const Project& before, size_t shotBefore, const Project& after, size_t shotAfter) {
  const Shot *a = shotAt(before, shotBefore), *b = shotAt(after, shotAfter);
  if (!a || !b) return {true, true, true, true, true};
  Changes c;
  c.plate = a->plate != b->plate || a->backdrop != b->backdrop || a->cleanUps != b->cleanUps ||
            a->blend.view != b->blend.view || a->blend.config != b->blend.config ||
            a->vantage.straightened != b->vantage.straightened ||
            // A piece of the panorama as the picture is that camera's, and that light's.
            (b->backdrop.kind == BackdropKind::panorama &&
             (a->surroundings != b->surroundings || a->vantage.camera != b->vantage.camera));
  const auto shape = [](const Product& p) {
    return std::tie(p.id, p.model, p.hiddenParts, p.moves, p.creaseDegrees, p.piece);
  };
  c.geometry = before.products.size() != after.products.size();
  for (size_t i = 0; !c.geometry && i < before.products.size(); ++i)
    c.geometry = shape(before.products[i]) != shape(after.products[i]);
  // Names and groups are for the cast alone.
  const auto looks = [](const Product& p) {
    return std::tie(p.metresPerUnit, p.up, p.surfaceOfPart, p.decals, p.roles);
  };
  bool dressed = false;
  for (size_t i = 0; !c.geometry && !dressed && i < before.products.size(); ++i)
    dressed = looks(before.products[i]) != looks(after.products[i]);
  // A locked or re-measured vantage with the same camera shows the same picture.
  c.trace = c.plate || c.geometry || dressed || a->levels != b->levels ||
            (before.surfaces != after.surfaces && worn(before, *a) != worn(after, *b)) ||
            a->vantage.solved != b->vantage.solved || a->vantage.camera != b->vantage.camera ||
            a->placements != b->placements || a->surroundings != b->surroundings || a->lamps != b->lamps ||
            a->contact != b->contact || a->standIns != b->standIns || standing(*a) != standing(*b) ||
            a->focus != b->focus || traced(a->render) != traced(b->render);
  c.blend = c.trace || a->blend != b->blend || a->render != b->render;
  c.proofs = c.blend || a->evidence != b->evidence || a->vantage != b->vantage || a->gnomon != b->gnomon ||
             a->otherGnomon != b->otherGnomon || a->heightReferences != b->heightReferences;
  return c;
}

}  // namespace dusk
