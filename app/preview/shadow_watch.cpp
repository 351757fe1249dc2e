#include "app/preview/shadow_watch.h"

namespace dusk {

std::shared_ptr<const ShadowLook> ShadowWatch::look(const Shot& shot, AssetStore& assets) {
  Shot of;
  of.gnomon = shot.gnomon, of.vantage = shot.vantage, of.plate = shot.plate, of.backdrop = shot.backdrop;
  of.cleanUps = shot.cleanUps, of.surroundings = shot.surroundings, of.lamps = shot.lamps;
  of.placements = shot.placements;  // near lamps throw the shadow of what stands there
  const std::lock_guard lock(mutex_);
  if (of_ && from_ == &assets && *of_ == of) return look_;
  auto look = compareShadowLooks(of, assets);
  of_ = std::make_unique<const Shot>(std::move(of)), from_ = &assets;
  look_ = look ? std::make_shared<const ShadowLook>(std::move(*look)) : nullptr;
  return look_;
}

}  // namespace dusk
