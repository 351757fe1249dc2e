#include "app/stations/surface/apply_surface.h"

#include "app/document/clipboard.h"
#include "app/document/session.h"
#include "core/surface/presets.h"

namespace dusk {

namespace {

/// One step: `surface` gives the id of the surface, which it may add first.
void give(Session& session, const std::string& part, const std::string& placement,
          const std::function<std::string(Project&)>& surface) {
  if (part.empty()) return session.say("Choose a part first: click it in the picture or in the cast.", true);
  const auto parts = session.partsInHand(part);
  session.selectPart(part, placement);
  session.edit("give a surface to " + QString::fromStdString(part.substr(part.rfind('/') + 1)),
               [&](Project& p) {
                 const std::string id = surface(p);
                 if (Product* product = session.productIn(p))
                   for (const std::string& each : parts) product->surfaceOfPart[each] = id;
               });
}

}  // namespace

void applySurface(Session& session, const std::string& surface, const std::string& part,
                  const std::string& placement) {
  give(session, part, placement, [&](Project& p) {
    if (!byId(p.surfaces, surface))
      if (const Surface* preset = byId(surfacePresets(), surface)) p.surfaces.push_back(*preset);
    return surface;
  });
}

void pasteSurface(Session& session, const std::string& part) {
  const auto clip = clipOnClipboard(session);
  if (!clip) return;
  if (clip->surfaces.empty()) return session.say("What was copied holds no surface.", true);
  give(session, part, {}, [&](Project& p) {
    Surface copied = clip->surfaces.front();
    const auto same = std::find(p.surfaces.begin(), p.surfaces.end(), copied);
    if (same != p.surfaces.end()) return copied.id;
    copied.id = freshId(p.surfaces, "surface");
    p.surfaces.push_back(copied);
    return copied.id;
  });
}

}  // namespace dusk
