#pragma once
#include <filesystem>

#include "core/base/result.h"
#include "core/project/project.h"

/// A vantage as a file of its own.
namespace dusk {

/// glTF 2.0 with one perspective camera (Y up, looking along its -Z, as the standard says). What glTF has no
/// words for - the optical axis off the middle, lens distortion, the size in pixels - goes into the camera's
/// `extras`.
std::string cameraGltf(const Camera& camera, const std::string& name);
/// The camera's fields and margins as JSON: the answer of `gentle-dusk-batch vantage`.
std::string vantageJson(const Vantage& vantage);

/// A camera from a .gltf, .glb or .json written by this program, or the first perspective camera of any other
/// glTF 2.0 scene, for a photo of `width` x `height` pixels: of another size it is scaled, of another shape
/// refused. Error (unreadable): not such a file, or no perspective camera in it.
Result<Vantage> readVantage(const std::filesystem::path& file, int width, int height);

}  // namespace dusk
