#pragma once
#include <filesystem>
#include <functional>
#include <random>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/trace/integrator.h"

/// How made-up places are photographed.
namespace dusk::demo {

/// The ray of a place in continuous pixels; what it needs at random comes from the sampler.
using RayOf = std::function<Ray(const Vec2f& at, Sampler&)>;

/// Averages `samples` rays per pixel.
Picture photographed(const Scene& scene, int width, int height, int samples, Progress& progress,
                     const RayOf& rayOf);

/// The same through the scene's camera and its aperture.
Picture photographed(const Scene& scene, int samples, Progress& progress);

/// All round from a point, equirectangular, `width` by half of that.
Picture photographedAllRound(const Scene& scene, const Vec3f& from, int width, int samples,
                             Progress& progress);

/// What a real camera adds: vignette, and, as strong as `noise`, sensor noise that grows with the light and
/// is smeared a little by demosaicing.
void developed(Picture& picture, const Camera& camera, float noise = 1);

/// Linear to sRGB code values 0 to 1, clipped.
void encodeSrgb(Picture& picture);

/// What the made-up camera writes into the file.
struct Exif {
  std::string lens;
  float focalMm;
  int focalMm35;
  float fNumber;
  double seconds;
};
/// As an 8-bit JPEG with EXIF.
Outcome writePhotograph(const std::filesystem::path& file, const Picture& codes, const Exif& exif);
/// The scene through its camera, developed, written as that.
Outcome takePhotograph(const Scene& scene, int samples, const std::filesystem::path& file, const Exif& exif,
                       Progress& progress);

/// The pixel of a world point as a person would mark it: half a pixel off.
Vec2d drawn(const Camera& camera, const Vec3d& world, std::mt19937& random);
/// Adds a stroke along an edge of the place, drawn so at `points` points.
void addDrawnStroke(std::vector<Stroke>& strokes, const Camera& camera, Run run, const Vec3d& from,
                    const Vec3d& to, int points, std::mt19937& random);

}  // namespace dusk::demo
