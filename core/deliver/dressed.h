#pragma once
#include <filesystem>

#include "core/assets/asset_store.h"
#include "core/trace/geometry.h"

namespace dusk {

/// What a dressed product lost on its way into a file, as sentences.
struct DressedNotes {
  std::vector<std::string> lost;
  size_t parts = 0, pictures = 0;
};

/// Writes a product as glTF 2.0 (binary): its shown parts where they are moved to, in metres and Y up, in
/// their surfaces, with prints. Values are the standard's own and its ratified extensions'. What feeds, coats
/// and prints do is baked into pictures of `side` pixels where a part has texture coordinates, and else
/// becomes its mean. Atomic. Errors: the model cannot be had, the disk is full, cancelled.
inline constexpr int dressedSide = 1024;
Result<DressedNotes> writeDressed(const Project& project, const std::string& productId, AssetStore& assets,
                                  const std::filesystem::path& file, int side, Progress& progress);

}  // namespace dusk
