#include "core/set/furnish.h"

#include <algorithm>

#include "core/base/words.h"
#include "core/light/backdrop.h"
#include "core/product/set/piece_kinds.h"
#include "core/project/shots.h"
#include "core/set/furnisher.h"
#include "core/surface/edit.h"
#include "core/surface/library.h"

namespace dusk {
namespace {

struct Maker {
  SetKind kind;
  void (*make)(Furnisher&);
};
const std::vector<Maker>& makers() {
  constexpr SetSlider palette{"palette", marked("Palette"), marked("cool and pale"), marked("warm and deep")},
      clutter{"clutter", marked("Clutter"), marked("bare"), marked("lived in")},
      time{"time", marked("Time of day"), marked("noon"), marked("evening")},
      wear{"wear", marked("Wear"), marked("new"), marked("long used"), 0},
      near{"near", marked("Camera"), marked("near"), marked("far")},
      size{"size", marked("Size"), marked("for a ring"), marked("for a boat")};
  static const std::vector<Maker> all = {
      {{"plinths",
        marked("Plinths, a thrown pattern"),
        marked("Plinths and discs against a wall, light through leaves or a window"),
        "north-window.exr",
        {palette, clutter, wear, time, size, near, {"pattern", marked("Pattern"), "window", "leaves"}}},
       plinthsSet},
      {{"sweep",
        marked("Studio sweep"),
        marked("Paper that runs from the floor up into the wall, soft boxes at its sides"),
        "two-soft-boxes.exr",
        {palette,
         size,
         near,
         {"key", marked("Key light"), marked("from the left"), marked("from the right")},
         {"soft", "Light", "hard", "soft"}}},
       sweepSet},
      {{"corner",
        marked("Corner by a window"),
        marked("Two walls, boards, a curtain drawn aside"),
        "overcast.exr",
        {palette, clutter, wear, time, near}},
       cornerSet},
      {{"shelf",
        marked("Shop shelf"),
        marked("A shelf with neighbours, evenly lit"),
        "strip-lights.exr",
        {palette, clutter, wear, near}},
       shelfSet},
      {{"workshop",
        marked("Instrument maker's bench"),
        marked("A worn bench before a window, crates and tools of the trade"),
        "north-window.exr",
        {palette, clutter, wear, time, near}},
       workshopSet},
      {{"garden",
        marked("Garden table"),
        marked("A table of boards under a branch"),
        "low-sun.exr",
        {clutter, wear, time, near}},
       gardenSet},
      {{"net-loft",
        marked("Net loft with a view"),
        marked("Under the roof of a shed by the water: nets over a beam, the sea beyond the window"),
        "overcast.exr",
        {palette, clutter, wear, time, near}},
       netLoftSet}};
  return all;
}

}  // namespace

const std::vector<SetKind>& setKinds() {
  static const std::vector<SetKind> all = [] {
    std::vector<SetKind> kinds;
    for (const Maker& m : makers()) kinds.push_back(m.kind);
    return kinds;
  }();
  return all;
}
const SetKind* setKindNamed(const std::string& name) {
  for (const SetKind& kind : setKinds())
    if (name == kind.name) return &kind;
  return nullptr;
}

std::optional<double> sliderOf(const SetRecipe& recipe, const std::string& name) {
  const SetKind* kind = setKindNamed(recipe.kind);
  if (!kind) return {};
  for (const SetSlider& slider : kind->sliders)
    if (name == slider.name) {
      const auto at = recipe.sliders.find(name);
      return at == recipe.sliders.end() ? slider.usual : std::clamp(at->second, 0.0, 1.0);
    }
  return {};
}

namespace {

/// What hands and years do to furniture: edges are rubbed, dust lies on what faces up. Glass and cloth have
/// no edges that rub.
Surface aged(const Surface& fresh, double wear) {
  const bool rubs = fresh.transmission < 0.5 && fresh.sheen < 0.3 && fresh.subsurface < 0.5;
  Surface beneath;
  beneath.name = "Rubbed", beneath.roughness = std::min(1.0, fresh.roughness + 0.15);
  // Dark paint is rubbed pale, pale paint down to what is darker below.
  const double light = luminance(toFloat(fresh.baseColour));
  beneath.baseColour =
      light < 0.4 ? fresh.baseColour * 0.6 + Vec3d(0.2, 0.18, 0.15) : fresh.baseColour * 0.62;
  const std::optional<Surface> below = fresh.metalness > 0.5 ? std::nullopt : std::optional(beneath);
  return withUse(fresh, {rubs ? wear : 0, 0.7 * wear, 0.6 * wear, 0}, below);
}

}  // namespace

std::string Furnisher::worn(const std::string& surface) {
  const Surface* there = byId(project_.surfaces, surface);
  const Surface* preset = there ? nullptr : librarySurface("preset-" + surface);
  if (!there && !preset) return {};
  const Surface fresh = there ? *there : *preset;
  if (const double wear = sliderOf(recipe_, "wear").value_or(0); wear > 0) {
    std::string& id = aged_[fresh.id];
    if (!id.empty()) return id;
    Surface used = aged(fresh, wear);
    id = used.id = freshId(project_.surfaces, std::string(setMark) + "worn");
    project_.surfaces.push_back(std::move(used));
    return id;
  }
  if (!byId(project_.surfaces, fresh.id)) project_.surfaces.push_back(fresh);
  return fresh.id;
}

void Furnisher::piece(const char* kindName, const Measures& measures, const Place& at,
                      const std::map<std::string, std::string>& dress) {
  const PieceKind* kind = pieceKindNamed(kindName);
  if (!kind) return;
  Product product;
  product.id = freshId(project_.products, std::string(setMark) + kind->name);
  product.name = kind->title, product.metresPerUnit = 1;
  product.piece = {kind->name, measures, recipe_.seed * 131 + ++count_};
  std::map<std::string, std::string> all(kind->dress.begin(), kind->dress.end());
  for (const auto& [part, surface] : dress) all[part] = surface;
  for (const auto& [path, part] : partsOf(product.piece))
    if (const auto surface = all.find(part); surface != all.end())
      if (const std::string id = worn(surface->second); !id.empty()) product.surfaceOfPart[path] = id;
  Placement placement;
  placement.id = freshId(shot_.placements, std::string(setMark) + "placement"),
  placement.productId = product.id;
  placement.xM = at.x, placement.yM = at.y, placement.turnDegrees = at.turn, placement.liftM = at.z;
  placement.leanXDegrees = at.leanX, placement.leanYDegrees = at.leanY;
  project_.products.push_back(std::move(product));
  shot_.placements.push_back(std::move(placement));
}

void Furnisher::before(const char* kind, const Measures& measures, const Place& at) {
  piece(kind, measures, at);
  Product& product = project_.products.back();
  for (const auto& [path, part] : partsOf(product.piece))
    product.roles[path].seen = product.roles[path].mirrored = false;
}

std::string Furnisher::colour(const char* name, const Vec3d& linear, double roughness) {
  Surface s;
  s.id = freshId(project_.surfaces, std::string(setMark) + "colour"), s.name = name;
  for (int i = 0; i < 3; ++i) s.baseColour[i] = std::clamp(linear[i], 0.0, 1.0);
  s.roughness = roughness;
  project_.surfaces.push_back(s);
  return s.id;
}

Lamp& Furnisher::lamp(const char* name, LampKind kind, const Vec3d& at, const Vec3d& to, double kelvin,
                      double powerEv) {
  Lamp lamp;
  lamp.id = freshId(shot_.lamps, std::string(setMark) + "lamp"), lamp.name = name, lamp.kind = kind;
  lamp.positionM = at, lamp.targetM = to, lamp.kelvin = kelvin, lamp.powerEv = powerEv;
  if (kind == LampKind::sun) {
    const Vec3d d = (at - to).normalized();
    lamp.azimuthDegrees = degrees(std::atan2(d.x, d.y)), lamp.elevationDegrees = degrees(std::asin(d.z));
  }
  shot_.lamps.push_back(std::move(lamp));
  return shot_.lamps.back();
}

void Furnisher::stage(double x, double y, double z) {
  stage_ = Vec3d(x, y, z);
  StandIn top;  // what it stands on, said without being there twice
  top.id = setStage, top.name = "The set's stage", top.on = false;
  top.positionM = Vec3d(x, y, 0), top.sizeM = Vec3d(0.1, 0.1, z);
  shot_.standIns.push_back(top);
  for (Placement& p : shot_.placements)
    if (!isOfSet(p.id)) standOnStage(shot_, p);
}

size_t ownOnStage(const Shot& shot) {
  return size_t(std::count_if(shot.placements.begin(), shot.placements.end(),
                              [](const Placement& p) { return !isOfSet(p.id) && p.levelId == setStage; }));
}

bool standOnStage(const Shot& shot, Placement& placement) {
  const StandIn* stage = byId(shot.standIns, setStage);
  if (shot.set.kind.empty() || !stage) return false;
  const double besideM = 0.22 * timesAsLarge(shot.set);  // from one to the next
  placement.xM = stage->positionM.x + besideM * double(ownOnStage(shot)), placement.yM = stage->positionM.y;
  placement.levelId = setStage, placement.liftM = 0;
  return true;
}

void Furnisher::behind(const char* colour) {
  Backdrop& b = shot_.backdrop;
  b.kind = BackdropKind::plain, b.colour = colour, b.sweepRadiusM = 0;
}

void Furnisher::beyond(const Vec3d& lower, const Vec3d& upper) {
  const auto hex = [](const Vec3d& codes) {
    char text[8];
    std::snprintf(text, sizeof text, "#%02x%02x%02x", unsigned(std::lround(codes.x * 255)),
                  unsigned(std::lround(codes.y * 255)), unsigned(std::lround(codes.z * 255)));
    return std::string(text);
  };
  shot_.backdrop.kind = BackdropKind::gradient;
  shot_.backdrop.colour = hex(lower), shot_.backdrop.upper = hex(upper);
}

void unfurnish(Project& project, size_t index) {
  Shot& shot = project.shots[index];
  std::erase_if(shot.placements, [](const Placement& p) { return isOfSet(p.id); });
  std::erase_if(shot.lamps, [](const Lamp& l) { return isOfSet(l.id); });
  std::erase_if(shot.standIns, [](const StandIn& s) { return s.id == setStage; });
  for (Placement& p : shot.placements)
    if (p.levelId == setStage) p.levelId.clear();
  const auto isPlaced = [&](const Product& product) {
    return std::any_of(project.shots.begin(), project.shots.end(), [&](const Shot& s) {
      return std::any_of(s.placements.begin(), s.placements.end(),
                         [&](const Placement& p) { return p.productId == product.id; });
    });
  };
  std::erase_if(project.products, [&](const Product& p) { return isOfSet(p.id) && !isPlaced(p); });
  const auto isWorn = [&](const Surface& surface) {
    return std::any_of(project.products.begin(), project.products.end(), [&](const Product& product) {
      return std::any_of(product.surfaceOfPart.begin(), product.surfaceOfPart.end(),
                         [&](const auto& worn) { return worn.second == surface.id; });
    });
  };
  std::erase_if(project.surfaces, [&](const Surface& s) { return isOfSet(s.id) && !isWorn(s); });
  shot.set = {};
}

bool furnish(Project& project, size_t index, const SetRecipe& recipe, const AssetRef& light) {
  const auto maker = std::find_if(makers().begin(), makers().end(),
                                  [&](const Maker& m) { return recipe.kind == m.kind.name; });
  if (maker == makers().end()) return false;
  unfurnish(project, index);
  Shot& shot = project.shots[index];
  shot.set = recipe;
  // What was said of a photo is not true of this.
  shot.gnomon.reset(), shot.otherGnomon.reset();
  for (StandIn& s : shot.standIns) s.on = false;
  for (CutOut& c : shot.blend.cutOuts) c.on = false;
  Furnisher furnisher(project, index, recipe);
  furnisher.behind("#d8d5d0");
  maker->make(furnisher);
  enlarge(project, shot, timesAsLarge(recipe));
  const Backdrop& b = shot.backdrop;
  shot.vantage = {};
  shot.vantage.solved = shot.vantage.locked = true;
  shot.vantage.camera = handCamera(b, b.width, b.height);
  if (!light.empty()) {
    shot.surroundings.panorama = light, shot.surroundings.gainEv = furnisher.domeEv();
    shot.surroundings.captureM.reset();
  }
  return true;
}

std::string addPiece(Project& project, size_t index, const std::string& kindName, double xM, double yM) {
  const PieceKind* kind = pieceKindNamed(kindName);
  if (!kind) return {};
  const SetRecipe plain;
  Furnisher furnisher(project, index, plain);
  Shot& shot = project.shots[index];
  furnisher.piece(kind->name, {}, {xM, yM});
  // It is the person's own: a new set leaves it alone.
  Product& product = project.products.back();
  Placement& placement = shot.placements.back();
  product.id = freshId(project.products, "piece"), placement.id = freshId(shot.placements, "placement");
  placement.productId = product.id;
  return placement.id;
}

std::vector<OfDelivery> asDelivered(const Project& project, size_t index) {
  const Shot& shot = project.shots[index];
  std::vector<OfDelivery> still;
  if (!setKindNamed(shot.set.kind)) return still;
  Project fresh = project;
  furnish(fresh, index, shot.set);
  const Shot& made = fresh.shots[index];
  if (shot.set.seed == 1) still.push_back(OfDelivery::seed);
  if (std::none_of(shot.set.sliders.begin(), shot.set.sliders.end(),
                   [](const auto& slider) { return slider.first != "near" && slider.first != "size"; }))
    still.push_back(OfDelivery::sliders);
  const auto pieces = [](const Shot& s, const Project& p) {
    std::vector<std::pair<Piece, std::array<double, 4>>> all;
    for (const Placement& at : s.placements)
      if (isOfSet(at.id))
        if (const Product* product = byId(p.products, at.productId))
          all.push_back({product->piece, {at.xM, at.yM, at.liftM, at.turnDegrees}});
    return all;
  };
  if (pieces(shot, project) == pieces(made, fresh)) still.push_back(OfDelivery::pieces);
  const auto lamps = [](const Shot& s) {
    std::vector<Lamp> all;
    for (const Lamp& l : s.lamps)
      if (isOfSet(l.id)) all.push_back(l);
    return all;
  };
  if (lamps(shot) == lamps(made)) still.push_back(OfDelivery::lamps);
  if (shot.backdrop == made.backdrop) still.push_back(OfDelivery::camera);
  return still;
}

}  // namespace dusk
