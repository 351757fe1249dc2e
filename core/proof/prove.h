#pragma once
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <vector>

#include "core/assets/asset_store.h"
#include "core/proof/edges.h"
#include "core/trace/compile.h"
#include "core/trace/film.h"

namespace dusk {

/// One check: a number beside its threshold, and what to do when it is off.
struct Finding {
  std::string id;    ///< "line-fit", "shadow-angle", "contact-gap", "height-reference", "ground-tone",
                     ///< "edge-softness", "resolution", "in-picture",
                     ///< "catcher-cut", and those of checks.h
  std::string what;  ///< in plain words
  double value = 0, low = 0, high = 0;  ///< proved when low <= value <= high
  std::string unit;
  std::string remedy;         ///< what to do when it is off
  std::string station;        ///< where to do it
  std::string says{};         ///< what a client would say; empty where it holds
  std::optional<Vec2d> at{};  ///< where in the picture, in shares of it
  std::string subject{};      ///< id of what it is about, where that is one of several
  bool ok() const { return value >= low && value <= high; }
};

/// Shadow directions on the ground, degrees clockwise from world +Y, as seen from above.
struct ShadowComparison {
  std::optional<double> photoDegrees;    ///< by the gnomon
  std::optional<double> productDegrees;  ///< by the strongest light
  std::optional<double> productElevationDegrees;
};
ShadowComparison compareShadows(const Shot& shot, AssetStore& assets);

/// Height of something upright by the solved camera, metres: from the ground under its foot to the point over
/// it that is seen at its top. Nothing where the foot is not on the ground or the top not above it.
std::optional<double> measuredHeightM(const Vantage& vantage, const HeightReference& reference);

/// Direction towards the light that casts the product's main shadow: the strongest lamp, or the panorama's
/// brightest spot when that stands out; nothing under an even sky.
std::optional<Vec3d> mainLight(const Shot& shot, AssetStore& assets);

/// All checks that can be made. `passes` may be null (nothing rendered yet): the checks that need pixels are
/// left out; as are those of models that are not loaded, unless all are to be.
/// Cancelled: what there is so far.
std::vector<Finding> prove(const Project& project, size_t shot, AssetStore& assets, const Passes* passes,
                           Models models, Progress& progress);
inline std::vector<Finding> prove(const Project& project, size_t shot, AssetStore& assets,
                                  const Passes* passes, Models models = Models::wait) {
  Progress progress;
  return prove(project, shot, assets, passes, models, progress);
}

/// Whether the product's influence is cut off where catching ends and nothing of the place goes on; nothing
/// without a camera.
std::optional<Finding> catcherFinding(const Shot& shot, const Place& place, const Passes& passes);

/// Whether the border of a picture before an even backdrop is that backdrop's own colour to the code, as who
/// puts it on a page of that colour needs it. Both pictures hold display codes 0 to 1 and have one size;
/// nothing on other backdrops.
std::optional<Finding> borderFinding(const Shot& shot, const Picture& shown, const Picture& backdrop);

/// The softness check of an edge comparison, when both kinds of edge were found.
std::optional<Finding> edgeFinding(const EdgeComparison& edges);

/// Those that are off, a line each: what is, and what to do.
std::vector<std::string> remarksOf(const std::vector<Finding>& findings);

/// As `prove` answers them.
nlohmann::json findingsAnswer(const std::vector<Finding>& findings);

}  // namespace dusk
