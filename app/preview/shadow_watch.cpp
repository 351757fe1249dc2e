#include "app/preview/shadow_watch.h"

#include "core/project/blend_edit.h"

namespace dusk {

std::shared_ptr<const ShadowLook> ShadowWatch::look(const Shot& shot,
                                                    const std::shared_ptr<AssetStore>& assets) {
  Shot of;
  of.gnomon = shot.gnomon, of.vantage = shot.vantage, of.plate = shot.plate, of.backdrop = shot.backdrop;
  of.cleanUps = shot.cleanUps, of.surroundings = shot.surroundings, of.lamps = shot.lamps;
  // Near lamps throw the shadow of what stands there, on whatever that stands.
  of.placements = shot.placements, of.levels = shot.levels, of.standIns = shot.standIns;
  of.blend = viewOnly(shot.blend);  // the photo came in by it
  const std::lock_guard lock(mutex_);
  if (of_ && from_ == assets && *of_ == of) return look_;
  auto look = compareShadowLooks(of, *assets);
  of_ = std::make_unique<const Shot>(std::move(of)), from_ = assets;
  look_ = look ? std::make_shared<const ShadowLook>(std::move(*look)) : nullptr;
  return look_;
}

}  // namespace dusk
