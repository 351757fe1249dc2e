#pragma once
#include <optional>
#include <string>
#include <vector>

#include "core/project/asset_ref.h"
#include "core/project/backdrop.h"
#include "core/project/blend.h"
#include "core/project/by_id.h"
#include "core/project/clean_up.h"
#include "core/project/contact.h"
#include "core/project/deliverable.h"
#include "core/project/evidence.h"
#include "core/project/light.h"
#include "core/project/motion.h"
#include "core/project/product.h"
#include "core/project/render.h"
#include "core/project/surface.h"
#include "core/project/vantage.h"
#include "core/project/variant.h"

/// The document: plain values and ids, nothing else. Lengths in metres, angles in degrees, pixel positions in
/// pixels of the plate, colours scene-linear Rec.709. An edit is a function Project -> Project.
namespace dusk {

struct Shot {
  Shot();
  Shot(const Shot&);
  Shot(Shot&&) noexcept;
  Shot& operator=(const Shot&);
  Shot& operator=(Shot&&) noexcept;
  ~Shot();
  std::string id, name;
  AssetRef plate;
  Backdrop backdrop{};
  std::vector<CleanUp> cleanUps{};    ///< in the order they act
  std::optional<double> whiteNits{};  ///< luminance that is photo white; else by the plate's EXIF
  Evidence evidence;
  Vantage vantage;
  std::vector<KeptVantage> keptVantages;
  std::vector<KeptCamera> cameras;
  std::vector<LevelPlane> levels;
  std::vector<Placement> placements;
  Surroundings surroundings;
  std::vector<Lamp> lamps;
  std::optional<Gnomon> gnomon, otherGnomon;
  std::vector<HeightReference> heightReferences;
  Contact contact;
  std::vector<StandIn> standIns{};
  Focus focus;
  RenderSettings render;
  BlendSettings blend;
  std::vector<BlendSnapshot> snapshots{};
  std::vector<Deliverable> deliverables;
  std::vector<PictureFrame> frames{};
  HandOver handOver{};
  SetRecipe set{};
  VariantChoice choice{};  ///< which of the project's variants it shows
  Motion motion{};
  bool operator==(const Shot&) const;
};

struct Project {
  Project();
  Project(const Project&);
  Project(Project&&) noexcept;
  Project& operator=(const Project&);
  Project& operator=(Project&&) noexcept;
  ~Project();
  std::string name;
  std::vector<Product> products;
  std::vector<Surface> surfaces;
  std::vector<Rig> rigs{};
  std::vector<Shot> shots;
  std::vector<VariantAxis> axes{};
  std::vector<ExcludedPair> excluded{};
  bool operator==(const Project&) const;
};

/// Height above the ground of the plane a placement stands on.
inline double planeHeightM(const Shot& shot, const Placement& placement) {
  if (const StandIn* under = byId(shot.standIns, placement.levelId)) return under->topM();
  const LevelPlane* level = byId(shot.levels, placement.levelId);
  return level ? level->heightM : 0;
}

/// Whether there is a picture behind the products: a photo, or what is made in its place.
inline bool hasPlate(const Shot& shot) {
  return shot.backdrop.kind != BackdropKind::photo || !shot.plate.empty();
}

/// Where a lamp points.
inline Vec3d targetOf(const Shot& shot, const Lamp& lamp) {
  const Placement* at = byId(shot.placements, lamp.aimedAt);
  return at ? lamp.targetM + Vec3d(at->xM, at->yM, planeHeightM(shot, *at) + at->liftM) : lamp.targetM;
}

}  // namespace dusk
