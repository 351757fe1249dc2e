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

/// One picture: what it is made on, what stands there, its light, and what is handed over.
struct Shot {
  Shot();
  Shot(const Shot&);
  Shot(Shot&&) noexcept;
  Shot& operator=(const Shot&);
  Shot& operator=(Shot&&) noexcept;
  ~Shot();
  std::string id, name;
  AssetRef plate;                     ///< the photo
  Backdrop backdrop{};                ///< what lies behind without one
  std::vector<CleanUp> cleanUps{};    ///< in the order they act
  std::optional<double> whiteNits{};  ///< luminance that is photo white; else by the plate's EXIF
  Evidence evidence;                  ///< what the vantage is found from
  Vantage vantage;
  std::vector<KeptVantage> keptVantages;  ///< put aside
  std::vector<KeptCamera> cameras;        ///< by hand, put aside
  std::vector<LevelPlane> levels;         ///< planes besides the ground
  std::vector<Placement> placements;      ///< of products, the first the main one
  Surroundings surroundings;
  std::vector<Lamp> lamps;
  std::optional<Gnomon> gnomon, otherGnomon;
  std::vector<HeightReference> heightReferences;  ///< checked by the camera, not used to find it
  Contact contact;
  std::vector<StandIn> standIns{};  ///< shapes where things of the photo are
  Focus focus;
  RenderSettings render;
  BlendSettings blend;
  std::vector<BlendSnapshot> snapshots{};  ///< states of the blend put aside
  std::vector<Deliverable> deliverables;
  std::vector<PictureFrame> frames{};  ///< crops that are delivered
  HandOver handOver{};                 ///< what is said in the files
  SetRecipe set{};                     ///< the furnished set it was given
  VariantChoice choice{};              ///< which of the project's variants it shows
  Motion motion{};
  bool operator==(const Shot&) const;
};

/// A campaign: shots, and what they share.
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
  std::vector<Rig> rigs{};  ///< light kept under a name
  std::vector<Shot> shots;
  std::vector<VariantAxis> axes{};       ///< variants, later ones have the last word
  std::vector<ExcludedPair> excluded{};  ///< options that are never together
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

/// What marks a shadow in the photo; nullptr where none is marked, or the picture is not of the photo.
inline const Gnomon* gnomonOf(const Shot& shot) {
  return shot.gnomon && shot.backdrop.kind == BackdropKind::photo ? &*shot.gnomon : nullptr;
}

/// Where a lamp points.
inline Vec3d targetOf(const Shot& shot, const Lamp& lamp) {
  const Placement* at = byId(shot.placements, lamp.aimedAt);
  return at ? lamp.targetM + Vec3d(at->xM, at->yM, planeHeightM(shot, *at) + at->liftM) : lamp.targetM;
}

}  // namespace dusk
