#include <mutex>

#include "core/base/words.h"
#include "core/light/backdrop.h"
#include "core/product/settle.h"
#include "core/proof/checks.h"
#include "core/proof/enlarged.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

/// How much larger the steps of brightness are at every eighth column and row than between them, where the
/// photo is smooth: what a JPEG of few bits leaves (Wang, Bovik, Evans 2000, "Blind Measurement of Blocking
/// Artifacts in Images"). Nothing where too little is smooth.
std::optional<double> blocking(const PackedPicture& photo) {
  double at[2]{}, between[2]{}, countAt = 0, countBetween = 0;
  constexpr int most = 1500;  // rows and columns that are looked at
  const int step = 1 + photo.height / most;
  std::vector<float> row(size_t(photo.width) * 3), next(row.size());
  const auto look = [&](double a, double b, double c, double d, bool edge) {
    // The step between b and c beside those before and after it: a slope has all three alike.
    const double beyond = std::abs(c - b) - (std::abs(b - a) + std::abs(d - c)) / 2;
    if (std::abs(b - a) > 0.03 || std::abs(d - c) > 0.03 || std::abs(c - b) > 0.08)
      return;  // a thing's own edge
    (edge ? at : between)[0] += beyond, (edge ? at : between)[1] += std::abs(c - b);
    (edge ? countAt : countBetween) += 1;
  };
  for (int y = 0; y < photo.height; y += step) {
    photo.row(y, row.data());
    for (int x = 1; x + 2 < photo.width; ++x)
      look(double(row[size_t(x - 1) * 3 + 1]), double(row[size_t(x) * 3 + 1]),
           double(row[size_t(x + 1) * 3 + 1]), double(row[size_t(x + 2) * 3 + 1]), x % 8 == 7);
  }
  if (countAt < 2000) return {};
  // In steps as there are between: 0 where every eighth is like all others.
  const double usual = between[1] / countBetween;
  return usual > 0 ? std::optional((at[0] / countAt - between[0] / countBetween) / usual) : std::nullopt;
}

/// What was done to a photo before it came here.
struct PhotoWear {
  std::optional<double> enlarged, blocking;
};

/// Of the latest photo it is kept: proofs are made with each picture, the photo stays.
PhotoWear wearOf(const std::shared_ptr<const Photo>& photo) {
  static std::mutex mutex;
  static std::weak_ptr<const Photo> latest;
  static PhotoWear wear;
  const std::lock_guard lock(mutex);
  if (latest.lock() == photo) return wear;
  wear = {enlargedTrace(photo->picture), {}};
  if (photo->bitsPerChannel == 8) wear.blocking = blocking(photo->picture);
  latest = photo;
  return wear;
}

bool isMirrorLike(const Surface& s) {
  return (s.roughness < 0.08 && (s.metalness > 0.5 || s.transmission > 0.5)) ||
         (s.clearcoat > 0.5 && s.clearcoatRoughness < 0.03);
}

/// How deep a point of the world lies in a stand-in, metres; 0 outside.
double depthIn(const StandIn& s, const Vec3d& world) {
  const Vec3d d = world - s.positionM;
  const double a = radians(s.turnDegrees), x = d.x * std::cos(a) + d.y * std::sin(a),
               y = -d.x * std::sin(a) + d.y * std::cos(a);
  const Vec3d half = s.sizeM / 2;
  if (s.kind == StandInKind::sheet) return 0;
  if (s.kind == StandInKind::ball) {
    const Vec3d p(x / half.x, y / half.y, (d.z - half.z) / half.z);
    return std::max(0.0, (1 - p.length()) * std::min({half.x, half.y, half.z}));
  }
  const double up = std::min(d.z, s.sizeM.z - d.z);
  const double aside = s.kind == StandInKind::cylinder
                           ? (1 - Vec2d(x / half.x, y / half.y).length()) * std::min(half.x, half.y)
                           : std::min(half.x - std::abs(x), half.y - std::abs(y));
  return std::max(0.0, std::min(up, aside));
}

void checkStandIns(const ProofOf& of, Findings& findings) {
  for (const Placement& p : of.shot.placements) {
    const Product* product = byId(of.project.products, p.productId);
    const auto model = product ? of.assets.loadedModel(*product) : nullptr;
    if (!model || !product->piece.kind.empty()) continue;
    const Similarity world = worldFromModel(*product, p, *model, planeHeightM(of.shot, p));
    double deepest = 0;
    std::string in;
    for (const StandIn& s : of.shot.standIns) {
      if (!s.on) continue;
      for (const Vec3f& corner : model->rest.hull)
        if (const double deep = depthIn(s, world.point(toDouble(corner))); deep > deepest)
          deepest = deep, in = s.name;
    }
    // Stand-ins are drawn by eye.
    const double allowedMm = std::max(10.0, 2 * mmPerPixel(of.shot, p).value_or(0));
    findings.push_back(
        {"intersecting",
         product->name + (in.empty() ? words(" in nothing of the place") : words(" in \"") + in + "\""),
         1000 * deepest,
         0,
         allowedMm,
         "mm",
         words("Move it out, or make the stand-in as large as the thing is."),
         "Product",
         {},
         spotOf(of.shot, p),
         p.id});
  }
}

/// A mirror shows the panorama's own pixels.
void checkDetail(const ProofOf& of, Findings& findings) {
  const Shot& shot = of.shot;
  // Light sets hold nothing that is finer.
  if (shot.surroundings.panorama.empty() || shot.placements.empty() || isEven(shot.backdrop)) return;
  const auto panorama = of.assets.panorama(shot.surroundings.panorama);
  const Camera camera = workingCamera(shot.vantage);
  if (!panorama || camera.focalPx <= 0 || (*panorama)->picture().width <= 0) return;
  std::string worst;
  for (const Placement& p : shot.placements)
    if (const Product* product = byId(of.project.products, p.productId))
      for (const auto& [part, id] : product->surfaceOfPart)
        if (const Surface* s = byId(of.project.surfaces, id); s && isMirrorLike(*s)) worst = s->name;
  if (worst.empty()) return;
  findings.push_back({"panorama-detail",
                      words("pixels of the picture to one of the panorama, in a flat \"") + worst + "\"",
                      2 * pi / (*panorama)->picture().width * camera.focalPx,
                      0,
                      12,
                      "px",
                      words("Take a larger panorama; or make the surface a little rougher."),
                      "Light",
                      {},
                      spotOf(shot, shot.placements.front())});
}

}  // namespace

void checkWear(const ProofOf& of, Findings& findings) {
  checkStandIns(of, findings), checkDetail(of, findings);
  if (of.shot.backdrop.kind != BackdropKind::photo || of.shot.plate.empty()) return;
  const auto photo = of.assets.photo(of.shot.plate);
  if (!photo) return;
  const PhotoWear wear = wearOf(*photo);
  // The demo photos: 1.9 to 2.3; made 1.3 to 3 times as large and saved with quality 85: 7 to 110.
  if (wear.enlarged)
    findings.push_back({"photo-enlarged",
                        words("how plainly the photo shows the pixels of a smaller one that it was made of"),
                        *wear.enlarged, 0, 5, "x",
                        words("Ask for the photo at the size it was taken, and enlarge nothing before."),
                        "Plate"});
  // By the demo photos, saved again: quality 95 to 85 comes to -3 to 80 %, 70 to 78 to 160, 50 to 130 to 310.
  if (wear.blocking)
    findings.push_back(
        {"jpeg-worn", words("steps at the borders of JPEG blocks, beyond those between"),
         100 * *wear.blocking, -100, 120, "%",
         words("Ask for the photo as the camera wrote it, or one saved with a higher quality."), "Plate"});
}

}  // namespace dusk
