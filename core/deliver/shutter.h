#pragma once
#include "core/trace/compile.h"

namespace dusk {

inline constexpr int mostMoments = 128;

/// Opens a scene's shutter around a moment: what moves while it is open is seen at as many moments as there
/// are samples, up to `most`, spread over that time so that the first few are spread over it, too.
/// `kept` is the document, `shown` what `scene` was made of. Nothing happens where nothing moves meanwhile,
/// or the shutter does not open. Error: cancelled.
Outcome openShutter(const Project& kept, const Project& shown, size_t shot, double momentSeconds,
                    AssetStore& assets, GeometryCache& cache, Scene& scene, Progress& progress,
                    int most = mostMoments);

/// The order in which `count` moments are seen: each once, any number of the first spread over all (van der
/// Corput 1935, "Verteilungsfunktionen").
std::vector<int> spreadOrder(int count);

}  // namespace dusk
