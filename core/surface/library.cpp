#include "core/surface/library.h"

#include "core/surface/builder.h"

namespace dusk {

const std::vector<LibrarySurface>& surfaceLibrary() {
  static const std::vector<LibrarySurface> all = [] {
    std::vector<LibrarySurface> list;
    const std::pair<const char*, std::vector<Surface>> families[] = {
        {"Paint and enamel", paintSurfaces()},   {"Bare metal", metalSurfaces()},
        {"Worked metal", workedMetalSurfaces()}, {"Plastic and rubber", plasticSurfaces()},
        {"Glass and clear", glassSurfaces()},    {"Wood", woodSurfaces()},
        {"Stone and ground", stoneSurfaces()},   {"Cloth and hide", clothSurfaces()},
        {"Paper and cork", paperSurfaces()},     {"Ceramic", ceramicSurfaces()},
        {"Used and wet", wornSurfaces()},        {"Soft and lit through", softSurfaces()},
        {"Flakes and pearl", flakedSurfaces()},  {"Glowing", lightSurfaces()}};
    for (const auto& [family, surfaces] : families)
      for (const Surface& surface : surfaces) list.push_back({family, surface});
    return list;
  }();
  return all;
}

const Surface* librarySurface(const std::string& id) {
  for (const LibrarySurface& entry : surfaceLibrary())
    if (entry.surface.id == id) return &entry.surface;
  return nullptr;
}

}  // namespace dusk
