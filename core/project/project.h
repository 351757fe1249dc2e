#pragma once
#include <array>
#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/base/maths.h"

/// The document: plain values and ids, nothing else. Lengths in metres, angles in degrees, pixel positions in
/// pixels of the plate, colours scene-linear Rec.709. An edit is a function Project -> Project.
namespace dusk {

/// A file outside the document: its path relative to the project's folder, and the hash of its content.
struct AssetRef {
  std::string path, hash;
  bool operator==(const AssetRef&) const = default;
  bool empty() const { return path.empty(); }
};

// ---- vantage
// ---------------------------------------------------------------------------------------------------

/// Which world axis a stroke follows: a is +X, b is +Y (both level), up is +Z.
enum class Run { a, b, up };

/// Points along a straight edge of the photo, in order.
struct Stroke {
  std::string id;
  Run run = Run::a;
  std::vector<Vec2d> points;
  std::vector<Vec2d>
      drawn{};  ///< as drawn by hand, while `points` lie on the edge they snapped to; else empty
  bool operator==(const Stroke&) const = default;
};

/// Four corners of a real, level rectangle, around from the origin along +X first.
struct Footprint {
  std::array<Vec2d, 4> corners{Vec2d(0, 0), Vec2d(0, 0), Vec2d(0, 0), Vec2d(0, 0)};
  std::optional<Vec2d> sizeM;     ///< along +X, along +Y
  std::optional<double> ratio{};  ///< length along +X over length along +Y, where the size is not known
  double heightM = 0;             ///< above the ground: a sheet on a table
  bool operator==(const Footprint&) const = default;
};

/// A pixel of the photo that shows a known point.
struct Pin {
  Vec2d at{0, 0};
  Vec3d worldM{0, 0, 0};
  bool operator==(const Pin&) const = default;
};

enum class LengthOn { ground, upright };

/// A distance known on the ground, or the height of something upright from its foot on the ground.
struct KnownLength {
  Vec2d from{0, 0}, to{0, 0};
  double metres = 1.0;
  LengthOn on = LengthOn::ground;
  bool operator==(const KnownLength&) const = default;
};

/// Base and shadow tip, on the ground, of something upright in the photo: which way the place's shadows run.
/// With its top, which throws the tip, also how high the sun stands.
struct Gnomon {
  Vec2d base{0, 0}, shadowTip{0, 0};
  std::optional<Vec2d> top{};
  bool operator==(const Gnomon&) const = default;
};

/// What is known of a lens by its name: distortion as in Camera, and what the blend may need later.
struct LensProfile {
  std::string name;
  double k1 = 0, k2 = 0;
  /// Falling off of light towards the corners: 1 + v0 r^2 + v1 r^4 + v2 r^6, r = 1 at the frame's corner.
  std::array<double, 3> vignetting{};
  double redScale = 1, blueScale = 1;  ///< size of the red and blue picture against the green
  bool operator==(const LensProfile&) const = default;
};

struct Evidence {
  std::vector<Stroke> strokes;
  std::optional<Footprint> footprint;
  std::vector<Pin> pins;
  std::vector<KnownLength> lengths;
  std::vector<Vec2d> levelLine;  ///< points on the horizon: eye level, where level planes end
  std::optional<double> focalMm35, heightM;
  std::optional<LensProfile> lens;
  bool solveK1 = false, solveK2 = false;
  bool shifted = false;         ///< cropped, or a shift lens: the optical axis need not meet the middle
  std::optional<Vec2d> origin;  ///< pixel of the ground that is the world's origin; pins say it otherwise
  int quarterTurns = 0;         ///< of the world about the upright, counter-clockwise from above
  bool operator==(const Evidence&) const = default;
};

/// A pinhole camera with Brown-Conrady distortion. x right, y down, z forward; pixel centres at +0.5.
struct Camera {
  int width = 0, height = 0;
  double focalPx = 0, cx = 0, cy = 0, k1 = 0, k2 = 0;
  Triadd axes;  ///< the camera's x, y, z axes in the world
  Vec3d position{0, 0, 0};
  bool operator==(const Camera&) const = default;
};

/// One-sigma margins of the solve, in the units of the names.
struct VantageSigma {
  double focalPx = 0, tiltDegrees = 0, rollDegrees = 0, heightM = 0, k1 = 0, k2 = 0;
  bool operator==(const VantageSigma&) const = default;
};

struct Vantage {
  bool solved = false;
  Camera camera;
  VantageSigma sigma;
  double rmsPx = 0;
  bool locked = false;
  bool straightened = false;  ///< the plate's lens bend is taken out; else the render is bent to the photo
  bool operator==(const Vantage&) const = default;
};

/// A vantage put aside under a name, with what it was found from.
struct KeptVantage {
  std::string id, name;
  Evidence evidence;
  Vantage vantage;
  bool operator==(const KeptVantage&) const = default;
};

/// A level plane of the place besides the ground: a table top, a shelf.
struct LevelPlane {
  std::string id, name;
  double heightM = 0;
  bool operator==(const LevelPlane&) const = default;
};

// ---- products, surfaces
// ----------------------------------------------------------------------------------------

/// How a part looks. Energy-conserving layers from below: diffuse or metal or transmitting base, clearcoat
/// over all.
struct Surface {
  std::string id, name;
  Vec3d baseColour{0.5, 0.5, 0.5};
  double metalness = 0, roughness = 0.5, ior = 1.5, transmission = 0;
  double clearcoat = 0, clearcoatRoughness = 0.05;
  Vec3d emission{0, 0, 0};                           ///< radiance; 1 = photo white
  double anisotropy = 0, anisotropyTurnDegrees = 0;  ///< 0 even; 1 as brushed; turn of the brushing
  double sheen = 0, sheenRoughness = 0.4;            ///< the bright rim of cloth
  Vec3d sheenColour{1, 1, 1};
  bool thinWalled = false;          ///< a sheet: light goes through without being bent
  Vec3d absorptionColour{1, 1, 1};  ///< what is left of white light after the depth
  double absorptionDepthM = 0;      ///< 0: a clear body
  bool operator==(const Surface&) const = default;
};

enum class UpAxis { x, y, z };

/// How a part or group is moved within its product, in the model's own unit and axes: a turn about an axis
/// through the pivot (a hinge), then a shift.
struct PartMove {
  Vec3d pivot{0, 0, 0}, axis{0, 0, 1}, shift{0, 0, 0};
  double turnDegrees = 0;
  bool operator==(const PartMove&) const = default;
};

/// How the cast shows a product's parts.
enum class Grouping { node, material, each };

/// A model and how it is dressed; shared by all shots of a campaign.
struct Product {
  std::string id, name;
  AssetRef model;
  double metresPerUnit = 0.001;
  UpAxis up = UpAxis::z;
  std::map<std::string, std::string>
      surfaceOfPart{};  ///< part path -> surface id; others show their own colour
  std::set<std::string> hiddenParts{};
  std::map<std::string, PartMove> moves{};           ///< by path of a part or group
  std::map<std::string, std::string> names{};        ///< part path -> the name it is shown by
  std::map<std::string, std::string> groupOfPart{};  ///< part path -> a group of the person's own
  Grouping grouping = Grouping::node;
  std::optional<double> chordMm{};        ///< how far facets may be off the CAD surface; else by the picture
  std::optional<double> creaseDegrees{};  ///< edges sharper than this stay sharp; else as the file says
  bool operator==(const Product&) const = default;
};

// ---- shots
// -----------------------------------------------------------------------------------------------------

/// Where a product stands: the spot of its middle on the ground, its turn about the upright, and how high it
/// is lifted. The lean comes before the turn: a rotation about the level axis (leanX, leanY), as long as its
/// angle.
struct Placement {
  std::string id, productId;
  double xM = 0, yM = 0, liftM = 0, turnDegrees = 0;
  double leanXDegrees = 0, leanYDegrees = 0;
  std::string levelId{};     ///< the level plane or stand-in it stands on; empty: the ground
  bool cutAtGround = false;  ///< what is below that plane is left out
  bool operator==(const Placement&) const = default;
};

/// The light all round. Mirroring comes first, then the tilt (its upright leans towards +Y), then the turn,
/// clockwise from above. What is done to its colours changes the lighting alone.
struct Surroundings {
  AssetRef panorama;
  double turnDegrees = 0, gainEv = 0;
  bool mirrored = false;
  double tiltDegrees = 0;
  Vec3d white{1, 1, 1};                  ///< times its light, per channel
  double contrast = 1, saturation = 1;   ///< about its mean, in EV; about its grey
  bool sunApart = false;                 ///< its sun is a light of its own, as bright in all
  double sunDiscDegrees = 0.53;          ///< apparent size of that
  std::optional<Vec2d> sunMovedDegrees;  ///< azimuth clockwise from +Y, elevation; else where it was
  std::optional<Vec3d> captureM;         ///< where it was taken: its floor then lies where the ground is
  double domeRadiusM = 0;            ///< how far its walls are from there; 0: far away, alike from everywhere
  double reflectionBlurDegrees = 0;  ///< what mirrors show of it is smoothed over so much
  /// How many EV the brightest code values of an 8-bit panorama are taken to have been above white: a guess.
  double lostRangeEv = 0;
  bool operator==(const Surroundings&) const = default;
};

/// `area` is a rectangle; `photo` one that shines with a crop of a picture; `card` one that is seen in
/// reflections only: a reflector, or a black flag.
enum class LampKind { sun, area, disc, sphere, spot, photo, card };

struct Lamp {
  std::string id, name;
  LampKind kind = LampKind::sun;
  bool on = true;
  double kelvin = 5500;
  /// Sun: irradiance on a surface that faces it, in EV over what makes a white sheet photo white (pi).
  /// The others: radiance in EV over photo white.
  double powerEv = 0;
  double azimuthDegrees = 0, elevationDegrees = 30, discDegrees = 0.53;  // sun; azimuth clockwise from +Y
  Vec3d positionM{0, 0, 1.5};                                            // area: centre; it faces targetM
  Vec3d targetM{0, 0, 0};
  std::string aimedAt{};  ///< a placement: the target goes along with it, as far off its foot as targetM says
  std::optional<Vec3d> colour{};  ///< in place of kelvin; luminance 1
  double widthM = 0.6, heightM = 0.6;
  double radiusM = 0.2;                         ///< disc, sphere, spot
  double coneDegrees = 40, coneSoftness = 0.3;  ///< spot: full angle, and the share of it that fades
  bool seenByCamera = false, seenInReflections = true, castsShadows = true;
  double shade = 1;                        ///< card: how bright it looks; 0 a black flag
  AssetRef picture{};                      ///< photo: what it shows; empty: the plate
  std::array<double, 4> crop{0, 0, 1, 1};  ///< of that: left, top, right, bottom as shares of its size
  std::set<std::string> leavesOut{};       ///< what it does not light: "placement" or "placement/part path"
  bool operator==(const Lamp&) const = default;
};

enum class StandInKind { box, cylinder, ball, sheet };

/// A simple shape where a thing of the photo is: it catches, blocks and reflects for it, and never shows.
struct StandIn {
  std::string id, name;
  StandInKind kind = StandInKind::box;
  Vec3d positionM{0, 0, 0};    ///< of the middle of its foot; a sheet's middle
  Vec3d sizeM{0.4, 0.4, 0.4};  ///< along its own x and y, and upwards; a sheet has none of the last
  double turnDegrees = 0;      ///< about the upright
  double leanDegrees = 0;      ///< sheet: about its own x, before the turn; 90 stands upright
  bool on = true;
  bool catches = true;  ///< takes the product's shadow and bounce
  bool blocks = true;   ///< keeps light from the product, and hides what is behind it
  double gloss = 0, glossRoughness = 0.15, glossIor = 1.5;  ///< as of the ground
  bool operator==(const StandIn&) const = default;
  /// Whether something can stand on it, and how high.
  bool hasTop() const {
    return kind != StandInKind::ball && (kind != StandInKind::sheet || leanDegrees == 0);
  }
  double topM() const { return positionM.z + (kind == StandInKind::sheet ? 0 : sizeM.z); }
};

enum class BackdropKind { photo, plain, gradient, panorama };

/// What the picture is made on where that is no photo. Colours are the code values that are delivered,
/// "#rrggbb". The camera is then set by hand: it looks at a point over the origin.
struct Backdrop {
  BackdropKind kind = BackdropKind::photo;
  std::string colour = "#ffffff", upper = "#ffffff";  ///< of the gradient: at the lower and the upper border
  int width = 1920, height = 1280;
  double focalMm35 = 70, cameraHeightM = 0.6, distanceM = 1.6, aimHeightM = 0.15;
  double azimuthDegrees = 0;  ///< the way the camera looks, clockwise from +Y
  double sweepRadiusM = 0;    ///< of the bend between floor and wall; 0: the floor has no end
  double sweepBehindM = 1;    ///< how far behind the origin the wall stands
  bool operator==(const Backdrop&) const = default;
};

/// Something upright of known height in the photo (a door, a brick course), not used to find the camera: by
/// it the camera's scale, and with it the product's size, is checked.
struct HeightReference {
  std::string id, name;
  Vec2d foot{0, 0}, top{0, 0};  ///< pixels; the foot is on the ground
  double metres = 1;
  bool operator==(const HeightReference&) const = default;
};

/// The photographed ground as it takes part: `gloss` is the strength of its mirror-like side (wet stone,
/// polish), with a roughness and an index of refraction.
struct Contact {
  bool groundCatches = true;
  double gloss = 0, glossRoughness = 0.15, glossIor = 1.33;
  bool operator==(const Contact&) const = default;
};

/// The lens's depth of field, in real units: the aperture's width is the focal length over the f-number.
struct Focus {
  bool on = false;
  double fNumber = 8, distanceM = 2, sensorWidthMm = 36;
  int blades = 0;  ///< of the aperture; below 3: round
  double bladeTurnDegrees = 0;
  bool operator==(const Focus&) const = default;
};

struct RenderSettings {
  int samples = 96;  ///< at most
  int seed = 1;
  int bounces = 6;  ///< in all
  int diffuseBounces = 6, mirrorBounces = 6, glassSides = 32;
  /// A pixel is done when its error, as it will be once the noise is taken out, is below this share of its
  /// brightness; 0: never.
  double noiseTarget = 0;
  double clampIndirect = 0;  ///< brightest light that may come by way of two bounces or more; 0: any
  bool caustics = true;      ///< approximate light through and off sharp surfaces onto matte ones
  double denoise = 1;        ///< strength, 0..1
  double occlusionM = 0.3;   ///< how far the occlusion pass looks
  std::set<std::string> extraPasses{};  ///< "occlusion", "clay", "surface:ID"; others are always made
  bool emptyPasses = false;             ///< write passes with nothing in them, too
  bool operator==(const RenderSettings&) const = default;
};

/// How one light is mixed in after rendering.
struct LightMix {
  double ev = 0;
  double mired = 0;  ///< shift of its colour along the Planckian locus; above 0 warmer
  bool operator==(const LightMix&) const = default;
};

/// What is done to the product before it goes over the plate, and the view all is shown and delivered in.
struct BlendSettings {
  double exposureEv = 0;
  double warmth =
      0;  ///< -1 (bluer) to +1 (warmer): shift of the white along the Planckian locus, in 100 mired
  double shadowStrength = 1;  ///< of the catcher; 1 as traced
  Vec3d shadowTint{0, 0, 0};  ///< light put back into the shadow, per channel; 0 as traced
  double reflectionStrength = 1;
  std::map<std::string, LightMix> mix{};  ///< by light group, after rendering
  std::string view = "plain sRGB";
  Vec3d white{1, 1, 1};  ///< times the product, per channel, as balanced against a patch of the photo
  bool operator==(const BlendSettings&) const = default;
};

enum class DeliverableKind { png, exr };

struct Deliverable {
  DeliverableKind kind = DeliverableKind::png;
  std::string fileName;  ///< without folder
  bool operator==(const Deliverable&) const = default;
};

struct Shot {
  std::string id, name;
  AssetRef plate;
  Backdrop backdrop{};
  std::optional<double> whiteNits{};  ///< luminance that is photo white; else by the plate's EXIF
  Evidence evidence;
  Vantage vantage;
  std::vector<KeptVantage> keptVantages;
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
  std::vector<Deliverable> deliverables;
  bool operator==(const Shot&) const = default;
};

/// Lamps and surroundings kept under a name, for other shots.
struct Rig {
  std::string id, name;
  Surroundings surroundings;
  std::vector<Lamp> lamps;
  bool operator==(const Rig&) const = default;
};

struct Project {
  std::string name;
  std::vector<Product> products;
  std::vector<Surface> surfaces;
  std::vector<Rig> rigs{};
  std::vector<Shot> shots;
  bool operator==(const Project&) const = default;
};

/// Lookup by id; nullptr when there is none. Works on const and mutable lists.
template <typename List>
auto byId(List& list, const std::string& id) -> decltype(&list[0]) {
  for (auto& item : list)
    if (item.id == id) return &item;
  return nullptr;
}

/// An id of the form `stem-N` that no item of `list` has yet.
template <typename List>
std::string freshId(const List& list, const std::string& stem) {
  for (int n = 1;; ++n) {
    const std::string id = stem + "-" + std::to_string(n);
    if (!byId(list, id)) return id;
  }
}

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
