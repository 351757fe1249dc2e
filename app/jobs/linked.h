#pragma once
#include <memory>

#include "core/assets/asset_store.h"

namespace dusk {

/// A file that was linked and read: what a reading job comes to.
template <typename T>
struct Linked {
  AssetRef ref;
  std::shared_ptr<const T> asset;
};

/// Refers to `file` and loads it through the store, so that whoever asks next finds it there.
template <typename T, typename Load>
Result<Linked<T>> linked(AssetStore& assets, const std::filesystem::path& file, const Load& load) {
  const auto ref = assets.refer(file);
  if (!ref) return ref.error();
  auto asset = load(*ref);
  if (!asset) return asset.error();
  return Linked<T>{*ref, std::move(*asset)};
}

}  // namespace dusk
