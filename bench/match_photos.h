#pragma once
#include <string>
#include <vector>

namespace dusk::study {

/// Grain of known strength put on real photographs, measured there. Each photo is reduced until its own is
/// gone, so that what a real place has of edges, leaves and gravel stays and the truth is known.
void grainOnPhotos(const std::vector<std::string>& files);

}  // namespace dusk::study
