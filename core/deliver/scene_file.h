#pragma once
#include "core/deliver/dressed.h"

namespace dusk {

/// Writes a shot as a scene in glTF 2.0 (binary), for who goes on with it in three dimensions: its products
/// where they stand, dressed as `writeDressed` does, its camera, and sun and lamps by the ratified extension
/// KHR_lights_punctual. Metres, Y up. Strengths of lights are in the shot's own measure: a white sheet that
/// the photo shows as white has a radiance of 1. What glTF has no word for - the panorama, lens distortion,
/// lamps that are more than points - is in the notes. Atomic. Errors: as writeDressed, or no camera is known.
Result<DressedNotes> writeScene(const Project& project, const Shot& shot, AssetStore& assets,
                                const std::filesystem::path& file, int side, Progress& progress);

}  // namespace dusk
