#pragma once
#include <filesystem>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/project/project.h"
#include "core/trace/scene.h"

namespace dusk::demo {

/// A made-up place beside the quay, with its truth.
struct MadeSet {
  Camera camera;
  Evidence evidence;  ///< as a person would draw it, half a pixel off
  std::vector<StandIn> standIns;
  Vec3d captureM{0, 0, 0.4};  ///< where its panorama is taken
};

/// A window of a made-up room: a bright rectangle that shines towards `to`.
Lamp windowLamp(const char* id, const Vec3d& at, const Vec3d& to, double width, double height, double kelvin,
                double ev);

/// *Boathouse bench*: a bench under two windows with a chart sheet of 594 x 420 mm on it. The bench top is
/// Z = 0, the chart's near left corner the origin.
MadeSet boathouse();
/// The place itself, without any product.
Scene builtBoathouse(GeometryCache& cache);
/// Photo, nine exposures of the panorama as JPEGs, and the panorama merged from those.
Outcome writeBoathouse(const std::filesystem::path& folder, int samples, Progress& progress);

/// *Wet slipway*: the level apron of a slipway after rain, under an even grey sky, 24 mm.
MadeSet slipway();
Scene builtSlipway(GeometryCache& cache);
Outcome writeSlipway(const std::filesystem::path& folder, int samples, Progress& progress);

/// The projects of both and of *White table*, a packshot without a photo; the folder above holds the
/// products.
Outcome writeMoreCampaigns(const std::filesystem::path& demo);

/// Eight made-up panoramas to light with, as EXR.
Outcome writeLightSets(const std::filesystem::path& folder);

}  // namespace dusk::demo
