#pragma once
#include <filesystem>
#include <optional>

#include "core/assets/asset_store.h"
#include "core/deliver/gltf_writer.h"
#include "core/trace/geometry.h"

namespace dusk {

/// What a dressed product lost on its way into a file, as sentences.
struct DressedNotes {
  std::vector<std::string> lost;
  size_t parts = 0, pictures = 0;
};

/// A product on its way into a glTF file: its shown parts in their surfaces, with prints, once; then as a
/// node wherever it stands.
class DressedProduct {
 public:
  /// What feeds, coats and prints do is baked into pictures of `side` pixels, by way of a file `scratch`.
  DressedProduct(GltfWriter& writer, const Project& project, const Product& product, AssetStore& assets,
                 const std::filesystem::path& scratch, int side);
  ~DressedProduct();
  DressedProduct(const DressedProduct&) = delete;
  DressedProduct& operator=(const DressedProduct&) = delete;
  /// Meshes and materials. Errors: the model cannot be had, all of it is hidden, the disk is full, cancelled.
  Outcome prepare(DressedNotes& notes, Progress& progress);
  /// A node of it, with all below, at a place in the file's metres and Y up. After prepare().
  size_t addNode(const std::string& name, const Similarity& place);
  const Model& model() const { return *model_; }

 private:
  GltfWriter& writer_;
  const Project& project_;
  const Product& product_;
  AssetStore& assets_;
  std::filesystem::path scratch_;
  int side_;
  std::shared_ptr<const Model> model_;
  std::vector<std::optional<size_t>> meshOf_;  ///< [part]; nothing of those that are hidden
};

/// Writes a product as glTF 2.0 (binary): its shown parts where they are moved to, in metres and Y up, in
/// their surfaces, with prints. Values are the standard's own and its ratified extensions'. What feeds, coats
/// and prints do is baked into pictures of `side` pixels where a part has texture coordinates, and else
/// becomes its mean. Atomic. Errors: the model cannot be had, the disk is full, cancelled.
inline constexpr int dressedSide = 1024;
Result<DressedNotes> writeDressed(const Project& project, const std::string& productId, AssetStore& assets,
                                  const std::filesystem::path& file, int side, Progress& progress);

}  // namespace dusk
