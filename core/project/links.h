#pragma once
#include <functional>

#include "core/project/project.h"

namespace dusk {

/// What a linked file is to the project.
enum class LinkKind { model, photo, panorama, texture, print, layer, table, config };

using OnLink = std::function<void(AssetRef&, LinkKind)>;

/// Every link to a file that is not empty: the one place that knows where they are.
void eachLink(Project& project, const OnLink& act);
void eachLink(Product& product, const OnLink& act);
void eachLink(Surface& surface, const OnLink& act);
void eachLink(Shot& shot, const OnLink& act);
void eachLink(std::vector<Lamp>& lamps, const OnLink& act);

}  // namespace dusk
