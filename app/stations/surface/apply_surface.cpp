#include "app/stations/surface/apply_surface.h"

#include "app/document/session.h"
#include "core/surface/presets.h"

namespace dusk {

void applySurface(Session& session, const std::string& surface, const std::string& part,
                  const std::string& placement) {
  if (part.empty()) return session.say("Choose a part first: click it in the picture or in the cast.", true);
  const auto parts = session.partsInHand(part);
  session.selectPart(part, placement);
  session.edit("give a surface to " + QString::fromStdString(part.substr(part.rfind('/') + 1)),
               [&](Project& p) {
                 if (!byId(p.surfaces, surface))
                   if (const Surface* preset = byId(surfacePresets(), surface)) p.surfaces.push_back(*preset);
                 if (Product* product = session.productIn(p))
                   for (const std::string& each : parts) product->surfaceOfPart[each] = surface;
               });
}

}  // namespace dusk
