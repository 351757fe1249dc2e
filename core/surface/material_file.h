#pragma once
#include <filesystem>

#include "core/base/result.h"
#include "core/project/surface.h"

/// Surfaces in the open XML material format (.mtlx, version 1.38): its Standard Surface, images and tiled
/// images.
namespace dusk {

/// What a file held, or what of a surface it could not hold, as sentences.
struct MaterialNotes {
  std::vector<std::string> lost;
};

/// The text of a file with these surfaces, each a material of its own. Pictures on the mesh's coordinates
/// become images, those of a size in mm tiled images of that real size; paths as the links have them.
/// Patterns, masks and what the shape knows have no place there: the value below them is written.
std::string materialFileOf(const std::vector<Surface>& surfaces, MaterialNotes& notes);

/// The materials of a file. Links to pictures are as the file has them, without a hash. Errors: not such a
/// file, nothing of use in it.
Result<std::vector<Surface>> surfacesFromMaterialFile(const std::string& text, const std::string& name,
                                                      MaterialNotes& notes);

}  // namespace dusk
