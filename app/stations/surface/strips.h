#pragma once
#include <QImage>
#include <map>

#include "core/trace/scene.h"

namespace dusk {

/// What each value of a part's surface comes to across it, from side to side as the camera sees it: a strip
/// of the part itself, cut level through its middle. Empty where the part is not in the scene.
std::map<SurfaceValue, QImage> stripsOf(const Scene& scene, const std::string& placement,
                                        const std::string& part, int width, int height);

}  // namespace dusk
