#pragma once
#include <filesystem>
#include <optional>

#include "core/product/model.h"

struct aiScene;

namespace dusk {

/// What a file says of its unit.
struct StatedUnit {
  double metres;
  const char* reason;  ///< "FBX says inch", to be translated
};
/// By an FBX file's global settings, which are in centimetres; nothing where it has none.
std::optional<StatedUnit> unitOfFbx(const aiScene& scene);
/// The axis that an FBX file's global settings call up; y where they say nothing.
UpAxis upOfFbx(const aiScene& scene);
/// By the attribute of the model in a 3MF package (3MF Core Specification 1.3, 3.4); nothing where that says
/// nothing: it is then in millimetres.
std::optional<StatedUnit> unitOf3mf(const std::filesystem::path& file);

}  // namespace dusk
