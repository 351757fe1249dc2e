#pragma once
#include <memory>
#include <mutex>

#include "core/proof/shadow_look.h"

namespace dusk {

/// A shot's shadow beside the photo's, made anew only when light, photo, camera or gnomon have changed. Safe
/// to call from several threads, which wait for each other.
class ShadowWatch {
 public:
  /// Nothing where there is none to be compared.
  std::shared_ptr<const ShadowLook> look(const Shot& shot, const std::shared_ptr<AssetStore>& assets);

 private:
  std::mutex mutex_;
  std::unique_ptr<const Shot> of_;  ///< what of the shot tells
  std::shared_ptr<AssetStore> from_;
  std::shared_ptr<const ShadowLook> look_;
};

}  // namespace dusk
