#include "core/base/words.h"
#include "core/light/sun.h"
#include "core/proof/checks.h"
#include "core/proof/shadow_look.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {

std::optional<double> mmPerPixel(const Shot& shot, const Placement& p) {
  if (!shot.vantage.solved) return {};
  const Camera camera = workingCamera(shot.vantage);
  const double away = (Vec3d(p.xM, p.yM, planeHeightM(shot, p)) - camera.position).dot(camera.axes.z);
  if (away <= 0 || camera.focalPx <= 0) return {};
  return 1000 * away / camera.focalPx;
}

bool hasPieces(const ProofOf& of) {
  return std::any_of(of.shot.placements.begin(), of.shot.placements.end(), [&](const Placement& p) {
    const Product* product = byId(of.project.products, p.productId);
    return product && !product->piece.kind.empty();
  });
}

std::vector<SeenProduct> seenProducts(const ProofOf& of) {
  std::vector<SeenProduct> all;
  std::set<std::string> seen;
  for (const Placement& p : of.shot.placements) {
    const Product* product = byId(of.project.products, p.productId);
    const auto perPixel = mmPerPixel(of.shot, p);
    if (product && perPixel && seen.insert(p.productId).second)
      all.push_back({*product, of.assets.loadedModel(*product), *perPixel, spotOf(of.shot, p)});
  }
  return all;
}

void checkCamera(const ProofOf& of, Findings& findings) {
  const Shot& shot = of.shot;
  if (!shot.vantage.solved || shot.backdrop.kind != BackdropKind::photo || shot.plate.empty()) return;
  const auto photo = of.assets.photo(shot.plate);
  if (!photo) return;  // said by the files' check
  const PhotoInfo& info = (*photo)->info;
  if (info.focalMm35 > 0)
    findings.push_back(
        {"focal-length", words("solved focal length against what the camera wrote"),
         100 * focalMm35(shot.vantage.camera) / info.focalMm35, 88, 112, "%",
         words("Look for a stroke on the wrong run; or the photo was cropped, which is well then."),
         "Vantage"});
  if (shot.focus.on || info.fNumber <= 0 || info.focalMm <= 0 || info.focalMm35 <= 0 ||
      shot.placements.empty())
    return;
  const Placement& p = shot.placements.front();
  const Product* product = byId(of.project.products, p.productId);
  const auto model = product ? of.assets.loadedModel(*product) : nullptr;
  const auto perPixel = mmPerPixel(shot, p);
  if (!model || !perPixel) return;
  // The lens focused on its middle: how far off its near end is (Potmesil & Chakravarty 1981, "A Lens and
  // Aperture Camera Model for Synthetic Image Generation").
  const double away = *perPixel / 1000 * shot.vantage.camera.focalPx,
               half = trueSize(*product, model->box()).length() / 2;
  if (half >= away) return;
  const double aperture = info.focalMm / info.fNumber / 1000, circle = aperture * half / (away - half);
  findings.push_back({"depth-of-field",
                      words("blur that the photo's aperture would put on the product's near end"),
                      circle / (*perPixel / 1000),
                      0,
                      4,
                      "px",
                      words("Switch depth of field on, with the photo's f-number."),
                      "Render",
                      {},
                      spotOf(shot, p)});
}

void checkLight(const ProofOf& of, Findings& findings) {
  const Shot& shot = of.shot;
  if (shot.placements.empty()) return;
  const ShadowComparison shadows = compareShadows(shot, of.assets);
  const auto at = spotOf(shot, shot.placements.front());
  if (const Gnomon* gnomon = gnomonOf(shot); gnomon && shot.vantage.solved && shadows.productElevationDegrees)
    if (const auto read = readGnomon(shot.vantage.camera, *gnomon); read && gnomon->top)
      findings.push_back({"shadow-length",
                          words("how high the light stands against the place's"),
                          std::abs(*shadows.productElevationDegrees - read->sun.elevationDegrees),
                          0,
                          4,
                          "deg",
                          words("Move the sun until the shadows are as long as the place's."),
                          "Light",
                          {},
                          at});
  if (of.models == Models::wait)
    if (const auto look = compareShadowLooks(shot, of.assets))
      for (Finding& f : shadowFindings(*look, shot)) findings.push_back(std::move(f));
  const auto lit = std::count_if(shot.lamps.begin(), shot.lamps.end(), [](const Lamp& l) { return l.on; });
  const bool hasPanorama = !shot.surroundings.panorama.empty();
  findings.push_back({"lights",
                      words("panoramas and lamps that light the product"),
                      double(lit + hasPanorama),
                      1,
                      1e6,
                      "",
                      words("Light it: a panorama of the place, or lamps."),
                      "Light",
                      {},
                      at});
  if (!hasPanorama) return;
  if (shot.backdrop.kind == BackdropKind::photo)
    findings.push_back(
        {"stock-light", words("light sets that are still as they came, on a photo"),
         shot.surroundings.panorama.path.find("light-sets/") != std::string::npos ? 1.0 : 0.0, 0, 0, "",
         words("Take a panorama of the place, or build its light with sun and lamps."), "Light"});
  const auto panorama = of.assets.panorama(shot.surroundings.panorama);
  if (!panorama) return;
  findings.push_back({"panorama-range",
                      words("panoramas that hold nothing brighter than white"),
                      (*panorama)->isLowRange() && shot.surroundings.lostRangeEv <= 0 ? 1.0 : 0.0,
                      0,
                      0,
                      "",
                      words("Merge bracketed photos, or give back the range it lost."),
                      "Light",
                      {},
                      at});
}

}  // namespace dusk
