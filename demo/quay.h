#pragma once
#include <filesystem>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/trace/scene.h"

namespace dusk::demo {

/// The made-up set *Quay, early evening*: stone paving, a wall, bollards, crates, a coil of rope, water and
/// sky in low sun.
struct Quay {
  Camera camera;                  ///< the truth
  Lamp sun;                       ///< as it shines in the set
  Footprint slab;                 ///< where one paving slab shows in the photo
  std::vector<Stroke> edges;      ///< as a person would draw them, half a pixel off
  Gnomon post;                    ///< foot and shadow tip of the near crate's corner post
  std::vector<StandIn> standIns;  ///< for what stands about
};
Quay quay();

/// The place itself, without any product.
Scene builtQuay(GeometryCache& cache);
/// Renders the photograph: `samples` per pixel, with lens distortion, vignette, grain, EXIF, as JPEG.
Outcome writePlate(const std::filesystem::path& file, int samples, Progress& progress);
/// The panorama is stored this much darker than the photo, so that the sun's disc fits a half-float EXR.
inline constexpr double panoramaEv = -3;
/// Renders the panorama of the same spot, half a metre above the ground, as EXR.
Outcome writePanorama(const std::filesystem::path& file, int width, int samples, Progress& progress);

}  // namespace dusk::demo
