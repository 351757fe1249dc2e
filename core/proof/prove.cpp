#include "core/proof/prove.h"

#include <nlohmann/json.hpp>

#include "core/base/json_text.h"
#include "core/base/median.h"
#include "core/base/words.h"
#include "core/blend/blend.h"
#include "core/light/backdrop.h"
#include "core/light/lights.h"
#include "core/light/sun.h"
#include "core/product/settle.h"
#include "core/project/lamp_kinds.h"
#include "core/proof/checks.h"
#include "core/proof/find_shadow.h"
#include "core/proof/mend.h"
#include "core/proof/tones.h"
#include "core/trace/place.h"
#include "core/trace/resized_passes.h"
#include "core/vantage/camera.h"
#include "core/vantage/levels.h"
#include "core/vantage/solve.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

double azimuthDegrees(const Vec3d& d) { return degrees(std::atan2(d.x, d.y)); }

/// How much of its light the ground near the products would have to return for the photo to be as bright as
/// it is.
std::optional<double> groundTone(const Shot& shot, AssetStore& assets) {
  if (shot.backdrop.kind != BackdropKind::photo || shot.plate.empty() || shot.placements.empty() ||
      !shot.vantage.solved)
    return {};
  const auto plate = assets.plate(shot);
  if (!plate) return {};
  const auto lights = lightsOf(shot, assets);
  const Placement& p = shot.placements.front();
  const Camera camera = workingCamera(shot.vantage);
  std::vector<double> tones;
  for (int i = -8; i <= 8; ++i)
    for (int k = -8; k <= 8; ++k) {
      const Vec3d spot(p.xM + i * 0.08, p.yM + k * 0.08, 0);
      const auto pixel = projected(camera, spot);
      if (!pixel || pixel->x < 0 || pixel->y < 0 || pixel->x >= camera.width || pixel->y >= camera.height)
        continue;
      const double light = luminance(lights->groundIrradiance(toFloat(spot)));
      if (light > 0) tones.push_back(luminance(plateAt(**plate, camera, *pixel)) * pi / light);
    }
  if (tones.size() < 20) return {};
  return medianInPlace(tones);
}

/// What else of the shot a placement stands on: another product whose top is where its lowest point is, under
/// its spot; nullptr where that is none.
const Product* standsOn(const Project& project, const Shot& shot, AssetStore& assets,
                        const Placement& placement, double lowestM, double allowedM) {
  for (const Placement& other : shot.placements) {
    const Product* product = byId(project.products, other.productId);
    const auto model = product && &other != &placement ? assets.loadedModel(*product) : nullptr;
    if (!model) continue;
    const Similarity world = worldFromModel(*product, other, *model, planeHeightM(shot, other));
    Box box;
    for (const Vec3f& corner : model->rest.hull) box.add(world.point(toDouble(corner)));
    const bool isUnder = placement.xM > box.low.x && placement.xM < box.high.x && placement.yM > box.low.y &&
                         placement.yM < box.high.y;
    if (isUnder && std::abs(box.high.z - lowestM) <= allowedM) return product;
  }
  return nullptr;
}

/// Gap or sinking of each product, with what half a pixel of the picture is there as the threshold.
std::vector<Finding> contactGaps(const Project& project, const Shot& shot, AssetStore& assets,
                                 Models models) {
  std::vector<Finding> findings;
  for (const Placement& p : shot.placements) {
    const Product* product = byId(project.products, p.productId);
    if (!product || (models == Models::loaded && !assets.loadedModel(*product))) continue;
    Progress progress;
    const auto model = assets.model(*product, progress);
    if (!model || isNowhereRendered(*product, **model)) continue;  // said where it is rendered
    const double plane = planeHeightM(shot, p);
    double allowedMm = 0.5;
    if (shot.vantage.solved) {
      const Camera& camera = shot.vantage.camera;
      const Vec3d foot(p.xM, p.yM, plane);
      const double away = (foot - camera.position).dot(camera.axes.z);
      if (away > 0) allowedMm = 500 * away / camera.focalPx;
    }
    double gap = gapM(*product, p, **model) * 1000;
    // What is cut off at the plane does not sink in.
    if (p.cutAtGround) gap = std::max(gap, 0.0);
    const Product* other =
        gap > allowedMm ? standsOn(project, shot, assets, p, plane + gap / 1000, allowedMm / 1000) : nullptr;
    if (other) gap = 0;
    // A piece may lie in another, as on a shelf's board, and a floor is let into the ground.
    if (std::abs(gap) > allowedMm && !product->piece.kind.empty()) continue;
    const LevelPlane* level = byId(shot.levels, p.levelId);
    const StandIn* under = byId(shot.standIns, p.levelId);
    const std::string on = other   ? "\"" + other->name + "\""
                           : level ? "\"" + level->name + "\""
                           : under ? "\"" + under->name + "\""
                                   : words("the ground"),
                      what = product->name +
                             (gap > allowedMm    ? words(" hovers over ")
                              : gap < -allowedMm ? words(" is sunk into ")
                                                 : words(" stands on ")) +
                             on;
    findings.push_back({"contact-gap",
                        what,
                        gap,
                        -allowedMm,
                        allowedMm,
                        "mm",
                        words("Settle it, or set the lift so that its lowest point touches."),
                        "Product",
                        {},
                        spotOf(shot, p),
                        p.id});
  }
  return findings;
}

/// Influence of the product where catching ends and nothing of the place goes on: the largest mean over a
/// piece of that rim, in percent of the light there.
double cutInfluence(const Shot& shot, const Place& place, const Passes& passes) {
  const int w = passes.width(), h = passes.height();
  const Camera camera = resized(workingCamera(shot.vantage), w, h);
  const auto caught = [&](int x, int y) {
    const PlaceHit hit = place.closest(
        {toFloat(camera.position), toFloat(rayThrough(camera, {x + 0.5, y + 0.5}))}, 1e30f, PlaceRay::photo);
    return hit.found() && hit.distance < 1e4f;
  };
  constexpr int piece = 16;
  std::map<std::pair<int, int>, std::pair<double, int>> rims;
  for (int y = 1; y + 1 < h; ++y)
    for (int x = 1; x + 1 < w; ++x) {
      const float* r = passes.ratio.at(x, y);
      const double change = luminance(Rgb(r[0], r[1], r[2])) - 1;
      if (change == 0 || passes.alpha.at(x, y)[0] > 0.5f) continue;
      bool rim = false;
      for (const auto& [dx, dy] : {std::pair(1, 0), {-1, 0}, {0, 1}, {0, -1}})
        rim = rim || (passes.alpha.at(x + dx, y + dy)[0] == 0 && !caught(x + dx, y + dy));
      if (!rim || !caught(x, y)) continue;
      auto& [sum, count] = rims[{x / piece, y / piece}];
      sum += change, ++count;
    }
  double most = 0;
  for (const auto& [at, rim] : rims)
    if (rim.second >= 3) most = std::max(most, 100 * std::abs(rim.first) / rim.second);
  return most;
}

}  // namespace

std::optional<double> measuredHeightM(const Vantage& vantage, const HeightReference& reference) {
  if (!vantage.solved) return {};
  const Camera& camera = vantage.camera;
  const auto foot = levelPoint(camera, reference.foot);
  if (!foot) return {};
  const auto metres = heightOverFoot(camera, *foot, reference.top);
  return metres && *metres > 0 ? metres : std::nullopt;
}

std::optional<Vec3d> mainLight(const Shot& shot, AssetStore& assets) {
  std::optional<Vec3d> best;
  double strongest = 0;
  for (const Lamp& lamp : shot.lamps) {
    if (!lamp.on || !infoOf(lamp.kind).lights) continue;
    Vec3d to;
    double strength = std::exp2(lamp.powerEv);
    if (isDistant(lamp)) {
      to = toDouble(sunDirection(lamp));
    } else if (!shot.placements.empty()) {
      to = lamp.positionM - Vec3d(shot.placements[0].xM, shot.placements[0].yM, 0);
      const double areaM2 = infoOf(lamp.kind).body == LampBody::rectangle ? lamp.widthM * lamp.heightM
                                                                          : pi * lamp.radiusM * lamp.radiusM;
      strength *= areaM2 / std::max(1e-6, to.length2()) / pi;
      to.normalize();
    } else {
      continue;
    }
    if (strength > strongest) strongest = strength, best = to;
  }
  if (!shot.surroundings.panorama.empty())
    if (const auto dome = assets.dome(shot.surroundings)) {
      const double gain = std::exp2(shot.surroundings.gainEv);
      if (dome->sun && double(luminance(dome->sun->irradiance)) * gain / pi > strongest) {
        strongest = double(luminance(dome->sun->irradiance)) * gain / pi;
        best = toDouble(dome->sun->direction);
      }
      const auto& panorama = dome->panorama;
      const auto peak = panorama->brightest();
      // Below some twenty times the mean no single direction makes a shadow one could point at.
      if (peak.timesMean > 20 && panorama->meanLuminance() * gain * peak.timesMean * 0.003 > strongest)
        best = toDouble(worldFromPanorama(shot.surroundings, peak.direction));
    }
  return best;
}

ShadowComparison compareShadows(const Shot& shot, AssetStore& assets) {
  ShadowComparison c;
  if (const Gnomon* gnomon = gnomonOf(shot); gnomon && shot.vantage.solved)
    if (const auto read = readGnomon(shot.vantage.camera, *gnomon))
      c.photoDegrees = wrapDegrees(read->sun.azimuthDegrees + 180);  // shadows run away from the sun
  if (const auto light = mainLight(shot, assets); light && light->z > 0.01) {
    c.productDegrees = azimuthDegrees(-*light);
    c.productElevationDegrees = degrees(std::asin(light->z));
  }
  return c;
}

namespace {

/// Several in turn, as that part of the work that progress is told of, until it is cancelled.
void eachCheck(const std::vector<void (*)(const ProofOf&, Findings&)>& checks, const ProofOf& of,
               const Progress::Part& part, Findings& findings) {
  const Progress::Part whole = of.progress.part(), own = whole.within(part.from, part.to);
  for (size_t i = 0; i < checks.size() && !of.progress.cancelled(); ++i) {
    of.progress.reportWithin(
        own.within(double(i) / double(checks.size()), double(i + 1) / double(checks.size())));
    checks[i](of, findings);
    of.progress.report(1);
  }
  of.progress.reportWithin(whole);
}

/// The checks that need no pixels.
std::vector<Finding> proveSetUp(const ProofOf& of) {
  const auto& [project, shot, assets, passes, models, progress, traced] = of;
  std::vector<Finding> findings;
  if (shot.vantage.solved && shot.backdrop.kind == BackdropKind::photo)
    findings.push_back({"line-fit", words("drawn lines against the solved camera"), shot.vantage.rmsPx, 0,
                        fitLimitPx(shot.vantage.camera), "px",
                        shot.vantage.sigma.k1 > 0
                            ? words("Look for a stroke on the wrong run, or along what is not straight.")
                            : words("Look for a stroke on the wrong run, or let the lens bend (k1)."),
                        "Vantage"});
  const ShadowComparison shadows = compareShadows(shot, assets);
  if (shadows.photoDegrees && shadows.productDegrees)
    findings.push_back({"shadow-angle", words("the product's shadow against the place's"),
                        std::abs(wrapDegrees(*shadows.productDegrees - *shadows.photoDegrees)), 0, 3, "deg",
                        words("Turn the panorama, or the sun, until the two needles meet."), "Light"});
  for (const Finding& f : contactGaps(project, shot, assets, models)) findings.push_back(f);
  for (const HeightReference& r : shot.heightReferences)
    if (const auto metres = measuredHeightM(shot.vantage, r))
      findings.push_back(
          {"height-reference", "\"" + r.name + words("\" by the camera against its known height"),
           100 * *metres / r.metres, 97, 103, "%",
           words("The camera's scale is off: check the known lengths, and where the reference's foot is."),
           "Vantage"});
  if (const auto tone = groundTone(shot, assets))
    findings.push_back(
        {"ground-tone", words("share of light the photo's ground would return"), *tone * 100, 4, 85, "%",
         words("Change the panorama's gain until the ground returns what such a ground does."), "Light"});
  eachCheck(
      {checkCamera, checkLight, checkPanorama, checkSurfaces, checkPrints, checkFaces, checkFiles, checkWear},
      of, {0, 0.6}, findings);
  return findings;
}

/// Those of a rendered picture.
std::vector<Finding> provePicture(const ProofOf& of) {
  const auto& [project, shot, assets, passes, models, progress, traced] = of;
  std::vector<Finding> findings;
  double cover = 0;
  for (const float a : passes->alpha.pixels) cover += a;
  if (!shot.placements.empty() && !hasPieces(of))
    findings.push_back({"in-picture", words("part of the picture the product covers"),
                        100 * cover / double(passes->alpha.pixels.size()), 0.05, 95, "%",
                        words("The product is not in the picture, or fills it: move it or check its unit."),
                        "Product"});
  if (const auto cut = catcherFinding(shot, placeOf(project, shot, assets), *passes))
    findings.push_back(*cut);
  eachCheck({checkCrops, checkNoise, checkCharacter}, of, {0.6, 1}, findings);
  const auto view = assets.view(shot.blend);
  const Camera camera = workingCamera(shot.vantage);
  if (!hasPlate(shot) || !view || camera.width <= 0) return findings;
  // A row of large passes stands for several of the picture.
  const double delivered = double(passes->width()) * double(passes->reduction);
  const bool whole = std::abs(delivered - camera.width) < double(passes->reduction);
  findings.push_back({"resolution", words("render size against the photo's"),
                      whole ? 100.0 : 100 * delivered / camera.width, 100, 100, "%",
                      words("Deliver at the photo's own size."), "Hand over"});
  if (!whole) return findings;
  const int w = passes->width(), h = passes->height();
  const auto plate = assets.plateArea(shot, w, h, {0, 0, w, h});
  if (!plate) return findings;
  const Picture shown = displayed(blend(shot, *passes, &*plate), **view);
  if (const auto finding = edgeFinding(compareEdges(shown, *passes))) findings.push_back(*finding);
  if (const auto finding = tonesFinding(shown, *passes, **view)) findings.push_back(*finding);
  if (const auto finding = borderFinding(shot, shown, displayed(*plate, **view)))
    findings.push_back(*finding);
  return findings;
}

}  // namespace

std::vector<Finding> prove(const Project& project, size_t index, AssetStore& assets, const Passes* passes,
                           Models models, Progress& progress) {
  if (index >= project.shots.size()) return {};
  const Shot& shot = project.shots[index];
  // Where none is marked, a shadow that is found is compared with; looking for one takes a while.
  std::optional<Shot> marked;
  if (models != Models::loaded && !shot.gnomon && shot.backdrop.kind == BackdropKind::photo)
    if (const auto found = findGnomon(shot, assets)) marked = shot, marked->gnomon = *found;
  std::optional<Passes> picture;
  if (passes && passes->picture.width() > 0) picture = cropped(*passes, passes->picture);
  const ProofOf of{project,  marked ? *marked : shot,   assets, picture ? &*picture : passes, models,
                   progress, picture ? passes : nullptr};
  std::vector<Finding> findings = proveSetUp(of);
  if (passes)
    for (Finding& f : provePicture(of)) findings.push_back(std::move(f));
  for (Finding& f : findings) f.says = clientWords(f);
  return findings;
}

std::optional<Finding> catcherFinding(const Shot& shot, const Place& place, const Passes& passes) {
  if (shot.placements.empty() || !shot.vantage.solved) return {};
  return Finding{"catcher-cut",
                 words("influence of the product where the catcher ends"),
                 cutInfluence(shot, place, passes),
                 0,
                 0.2,
                 "%",
                 words("The shadow is cut: make the stand-in larger, or let the ground catch."),
                 "Contact"};
}

std::optional<Finding> borderFinding(const Shot& shot, const Picture& shown, const Picture& backdrop) {
  if (!isEven(shot.backdrop) || shown.width != backdrop.width || shown.height != backdrop.height ||
      shot.placements.empty() || !shot.set.kind.empty())  // a set is meant to cover it
    return {};
  double most = 0;
  const auto look = [&](int x, int y) {
    for (int c = 0; c < 3; ++c)
      most = std::max(most, double(std::abs(std::round(shown.at(x, y)[c] * 255) -
                                            std::round(backdrop.at(x, y)[c] * 255))));
  };
  for (int x = 0; x < shown.width; ++x) look(x, 0), look(x, shown.height - 1);
  for (int y = 0; y < shown.height; ++y) look(0, y), look(shown.width - 1, y);
  constexpr double sameCode = 0.5;
  return Finding{"border",
                 words("the picture's border against the backdrop's own colour"),
                 most,
                 0,
                 sameCode,
                 "codes",
                 words("Let shadows end before the border, or step back with the camera."),
                 "Contact"};
}

std::optional<Finding> edgeFinding(const EdgeComparison& edges) {
  if (!edges.product || !edges.photo) return {};
  return Finding{"edge-softness",
                 words("product edge width over the photo's"),
                 edges.product->widthPx / edges.photo->widthPx,
                 0.7,
                 1.4,
                 "x",
                 words("The product's outline is sharper or softer than the photo's lens."),
                 "Blend"};
}

std::vector<std::string> remarksOf(const std::vector<Finding>& findings) {
  std::vector<std::string> remarks;
  for (const Finding& f : findings)
    if (!f.ok()) remarks.push_back(f.what + ": " + f.remedy);
  return remarks;
}

nlohmann::json findingsAnswer(const std::vector<Finding>& findings) {
  auto out = nlohmann::json::array();
  for (const Finding& f : findings) {
    out.push_back({{"id", f.id},
                   {"what", f.what},
                   {"value", f.value},
                   {"low", f.low},
                   {"high", f.high},
                   {"unit", f.unit},
                   {"ok", f.ok()},
                   {"remedy", f.remedy},
                   {"station", f.station},
                   {"canMend", canMend(f)}});
    if (!f.says.empty()) out.back()["says"] = f.says;
    if (f.at) out.back()["at"] = {f.at->x, f.at->y};
  }
  return out;
}

}  // namespace dusk
