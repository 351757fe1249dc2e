#include "core/project/light_edit.h"

namespace dusk {

void setPanorama(Shot& shot, const AssetRef& panorama) {
  Surroundings& s = shot.surroundings;
  const bool same = s.panorama.hash == panorama.hash;
  s.panorama = panorama;
  if (same) return;
  s.sunMovedDegrees.reset();
  if (shot.backdrop.kind != BackdropKind::photo) return;
  const Surroundings fresh;
  s.turnDegrees = fresh.turnDegrees, s.mirrored = fresh.mirrored, s.tiltDegrees = fresh.tiltDegrees;
  s.rollDegrees = fresh.rollDegrees;
  s.gainEv = fresh.gainEv, s.white = fresh.white, s.lostRangeEv = fresh.lostRangeEv;
  s.captureM = fresh.captureM, s.captureFound = fresh.captureFound, s.domeRadiusM = fresh.domeRadiusM;
}

bool isAsItCame(const Surroundings& s) {
  return s.turnDegrees == 0 && s.gainEv == 0 && !s.mirrored && !s.captureFound;
}

}  // namespace dusk
