#include "core/surface/library.h"

#include "core/base/words.h"
#include "core/surface/builder.h"

namespace dusk {

const std::vector<LibrarySurface>& surfaceLibrary() {
  static const std::vector<LibrarySurface> all = [] {
    std::vector<LibrarySurface> list;
    const std::pair<const char*, std::vector<Surface>> families[] = {
        {marked("Paint and enamel"), paintSurfaces()},   {marked("Bare metal"), metalSurfaces()},
        {marked("Worked metal"), workedMetalSurfaces()}, {marked("Plastic and rubber"), plasticSurfaces()},
        {marked("Glass and clear"), glassSurfaces()},    {marked("Wood"), woodSurfaces()},
        {marked("Stone and ground"), stoneSurfaces()},   {marked("Cloth and hide"), clothSurfaces()},
        {marked("Paper and cork"), paperSurfaces()},     {marked("Ceramic"), ceramicSurfaces()},
        {marked("Used and wet"), wornSurfaces()},        {marked("Soft and lit through"), softSurfaces()},
        {marked("Flakes and pearl"), flakedSurfaces()},  {marked("Glowing"), lightSurfaces()}};
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
