#include "core/trace/detail.h"

#include "core/product/formats.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

constexpr double pixelsOff = 0.25;
// From a thread's flank to a crane: beyond these the facets or their number make no sense.
constexpr double finestM = 4e-6, coarsestM = 2e-3;

double nearestM(const Vec3d& eye, const Similarity& world, const Box& box) {
  const Vec3d at = world.inverse().point(eye);
  Vec3d inside;
  for (int i = 0; i < 3; ++i) inside[i] = std::clamp(at[i], box.low[i], box.high[i]);
  return (at - inside).length() * world.scale;
}

/// As readers are told it, and say what they kept to: else what was read would never be fine enough.
double inNanometres(double metres) { return double(std::llround(metres * 1e9)) * 1e-9; }

}  // namespace

double wantedChordM(const Project& project, const Product& product, const AssetStore& assets) {
  if (product.chordMm) return inNanometres(*product.chordMm / 1000);
  const auto model = assets.loadedModel(product);
  double wanted = 1e300;
  for (const Shot& shot : project.shots) {
    if (!shot.vantage.solved || !model) continue;
    const Camera camera = workingCamera(shot.vantage);
    for (const Placement& placement : shot.placements) {
      if (placement.productId != product.id) continue;
      const Similarity world = worldFromModel(product, placement, *model, planeHeightM(shot, placement));
      const double away = nearestM(camera.position, world, model->box());
      if (away > 0) wanted = std::min(wanted, pixelsOff * away / camera.focalPx);
    }
  }
  if (wanted > 1e200) return ReadOptions{}.chordM;
  // What one unit of the file is believed to be scales the tessellation, which is told in millimetres.
  wanted *= 0.001 / product.metresPerUnit;
  return inNanometres(std::exp2(std::floor(std::log2(std::clamp(wanted, finestM, coarsestM)))));
}

}  // namespace dusk
