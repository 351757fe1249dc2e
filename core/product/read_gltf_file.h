#pragma once
#include <filesystem>
#include <map>
#include <nlohmann/json.hpp>
#include <optional>

#include "core/base/result.h"
#include "core/product/side_files.h"

namespace dusk {

/// A member of an object; null where it has none, or is no object.
const nlohmann::json& member(const nlohmann::json& of, const char* key);

/// A glTF 2.0 file, .gltf or .glb: its text, and the data that this speaks of.
class GltfFile {
 public:
  /// One that cannot be read has a null text. `sides` must outlive it.
  GltfFile(std::filesystem::path file, SideFiles& sides);

  const std::filesystem::path& path() const { return file_; }
  const nlohmann::json& text() const { return json_; }
  /// The data of a view, unpacked where it is by the extension EXT_meshopt_compression; nothing where it is
  /// not there or damaged. Throws nlohmann::json::exception where the text makes no sense.
  std::string view(size_t index) const;
  /// The file that a picture is, wherever it lies; nothing and throws likewise.
  std::string image(const nlohmann::json& image) const;
  /// Keeps in mind that the picture there is none that can be read.
  void noteUnread(const std::string& uri) const { sides_.noteUnread(uriDecoded(uri)); }

 private:
  std::string inBuffer(const nlohmann::json& where) const;
  std::optional<std::filesystem::path> fileOf(const std::string& uri) const;

  std::filesystem::path file_;
  SideFiles& sides_;
  nlohmann::json json_;
  uint64_t binaryAt_ = 0;                          // where a .glb's data begins; 0: it has none
  mutable std::map<size_t, std::string> ownData_;  // of buffers that hold it in their URI
};

/// The same file with all its shapes as plain floats in one .glb, for readers that know no other: by the
/// extensions KHR_draco_mesh_compression, EXT_meshopt_compression and KHR_mesh_quantization; what is there
/// several times by EXT_mesh_gpu_instancing has nodes of its own. Nothing where it has none of them. Error: a
/// part that cannot be unpacked.
Result<std::optional<std::string>> plainGltf(const GltfFile& file);

}  // namespace dusk
