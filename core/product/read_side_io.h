#pragma once
#include <assimp/DefaultIOSystem.h>

#include "core/product/formats.h"
#include "core/product/side_files.h"

namespace dusk {

/// How the reader of meshes comes to the files that a model names: through `sides`. The model itself is
/// opened as it is.
class SideIo : public Assimp::DefaultIOSystem {
 public:
  SideIo(const std::filesystem::path& model, SideFiles& sides) : model_(model), sides_(sides) {}
  bool Exists(const char* file) const override { return !placeOf(file).empty(); }
  Assimp::IOStream* Open(const char* file, const char* mode) override {
    const std::string place = placeOf(file);
    return place.empty() ? nullptr : DefaultIOSystem::Open(place.c_str(), mode);
  }

 private:
  /// Where the file is; empty: nowhere.
  std::string placeOf(const std::filesystem::path& file) const {
    if (file == model_) return file.string();
    // The reader puts the model's folder in front of what the model says.
    const std::string folder = model_.parent_path().string(), name = file.string();
    const bool within = !folder.empty() && name.starts_with(folder + "/");
    const std::string said = within ? name.substr(folder.size() + 1) : name;
    const auto found = sides_.find(endingOf(model_) == ".gltf" ? uriDecoded(said) : said);
    return found ? found->string() : std::string();
  }

  std::filesystem::path model_;
  SideFiles& sides_;
};

}  // namespace dusk
