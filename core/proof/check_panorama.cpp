#include "core/light/align.h"
#include "core/proof/checks.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {

std::optional<Alignment> alignedAnew(const Shot& shot, AssetStore& assets) {
  if (shot.backdrop.kind != BackdropKind::photo || shot.plate.empty() || !shot.vantage.solved ||
      shot.surroundings.panorama.empty())
    return {};
  const auto plate = assets.plate(shot);
  const auto panorama = assets.panorama(shot.surroundings.panorama);
  if (!plate || !panorama) return {};
  Progress progress;
  auto found = align(**plate, workingCamera(shot.vantage), **panorama, captureGuess(shot), progress);
  return found ? std::optional(std::move(*found)) : std::nullopt;
}

void checkPanorama(const ProofOf& of, Findings& findings) {
  const Shot& shot = of.shot;
  if (of.models == Models::loaded || shot.placements.empty()) return;
  const auto found = alignedAnew(shot, of.assets);
  if (!found) return;
  const auto at = spotOf(shot, shot.placements.front());
  const auto tell = [&](const char* id, const char* what, double value, double high, const char* unit,
                        const char* remedy) {
    findings.push_back({id, what, value, 0, high, unit, remedy, "Light", {}, at});
  };
  tell("panorama-elsewhere", "panoramas that show nothing of the photo's place", found->isElsewhere, 0, "",
       "Take a panorama of the place; or build its light with sun and lamps.");
  if (found->ambiguous) return;
  const Alignment::Peak& best = found->best();
  const bool isMirrored = best.mirrored != shot.surroundings.mirrored;
  tell("panorama-mirrored", "panoramas that are the other way round than the place", isMirrored, 0, "",
       "Mirror the panorama: align it.");
  // Where it was taken is found, too, when nobody tells; among near things that may pass for a turn: by the
  // study of made-up places by up to eight degrees.
  if (!isMirrored)
    tell("panorama-turned", "how far the panorama is turned off what the photo shows of the place",
         std::abs(wrapDegrees(best.turnDegrees - shot.surroundings.turnDegrees)),
         (shot.surroundings.captureM ? 3 : 10) + 3 * found->turnSigma, "deg",
         "Align the panorama with the photo.");
}

}  // namespace dusk
