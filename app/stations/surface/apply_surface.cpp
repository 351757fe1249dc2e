#include "app/stations/surface/apply_surface.h"

#include "app/document/clipboard.h"
#include "app/document/session.h"
#include "app/stations/surface/own_surfaces.h"
#include "core/base/words.h"
#include "core/surface/library.h"
#include "core/surface/made_surface.h"

namespace dusk {

namespace {

QString nameOf(const std::string& part) { return QString::fromStdString(part.substr(part.rfind('/') + 1)); }

/// One step: `surface` gives the id of the surface, which it may add first.
void give(Session& session, const std::string& part, const std::string& placement,
          const std::function<std::string(Project&)>& surface, int gesture = 0) {
  if (part.empty())
    return session.refuse(words("Choose a part first: click it in the picture or in the cast."));
  const auto parts = session.partsInHand(part);
  session.selectPart(part, placement);
  session.edit(
      words("give a surface to ") + nameOf(part),
      [&](Project& p) {
        const std::string id = surface(p);
        if (Product* product = session.productIn(p))
          for (const std::string& each : parts) product->surfaceOfPart[each] = id;
      },
      gesture);
}

std::string added(Project& p, const Session& session, const std::string& id) {
  if (!byId(p.surfaces, id))
    if (const auto found = surfaceNamed(session, id)) {
      p.surfaces.push_back(*found);
      // What comes off the shelf is called as it is called there.
      p.surfaces.back().name = words(found->name);
    }
  return id;
}

}  // namespace

std::optional<Surface> surfaceNamed(const Session& session, const std::string& id) {
  if (const Surface* s = byId(session.project().surfaces, id)) return *s;
  if (const Surface* s = librarySurface(id)) return *s;
  return ownSurface(id);
}

void applySurface(Session& session, const std::string& surface, const std::string& part,
                  const std::string& placement, int gesture) {
  give(
      session, part, placement, [&](Project& p) { return added(p, session, surface); }, gesture);
}

void pasteSurface(Session& session, const std::string& part) {
  const auto clip = clipOnClipboard(session);
  if (!clip) return;
  if (clip->surfaces.empty()) return session.refuse(words("What was copied holds no surface."));
  give(session, part, {}, [&](Project& p) {
    Surface copied = clip->surfaces.front();
    const auto same = std::find(p.surfaces.begin(), p.surfaces.end(), copied);
    if (same != p.surfaces.end()) return copied.id;
    copied.id = freshId(p.surfaces, "surface");
    p.surfaces.push_back(copied);
    return copied.id;
  });
}

void giveOwnSurface(Session& session) {
  const std::string path = session.selectedPart();
  const Product* product = session.product();
  if (path.empty() || !product)
    return session.refuse(words("Choose a part first: click it in the picture or in the cast."));
  Surface own;
  if (const Surface* s = session.surfaceInHand(session.project())) {
    own = *s;
  } else if (const auto model = session.assets()->loadedModel(*product)) {
    for (const Part& part : model->parts)
      if (part.path == path) own = surfaceFromFile(model->materialOf(part), product->model);
  }
  give(session, path, {}, [&](Project& p) {
    own.id = freshId(p.surfaces, "surface"), own.name = words("of ") + nameOf(path).toStdString();
    p.surfaces.push_back(own);
    return own.id;
  });
}

void replaceSurface(Session& session, const std::string& surface) {
  const Surface* now = session.surfaceInHand(session.project());
  if (!now) return session.refuse(words("Choose a part that was given a surface first."));
  const std::string before = now->id;
  session.edit(words("replace a surface everywhere"), [&](Project& p) {
    const std::string id = added(p, session, surface);
    for (Product& product : p.products)
      for (auto& [part, worn] : product.surfaceOfPart)
        if (worn == before) worn = id;
  });
}

void selectBySurface(Session& session) {
  const Surface* worn = session.surfaceInHand(session.project());
  const Product* product = session.product();
  if (!worn || !product) return session.refuse(words("Choose a part that was given a surface first."));
  std::vector<std::string> parts;
  for (const auto& [part, surface] : product->surfaceOfPart)
    if (surface == worn->id) parts.push_back(part);
  const auto count = parts.size();
  session.takePartsTogether(std::move(parts));
  session.say(count == 1 ? QString(words("No other part wears it."))
                         : QString(words("%1 parts are in hand together.")).arg(count));
}

void SurfaceTrial::hold(const std::string& surface, const std::string& part, const std::string& placement) {
  if (std::exchange(gesture_, 0)) session_.revertGesture(), session_.endGesture();
  if (part.empty() || session_.inGesture()) return;
  gesture_ = session_.beginGesture();
  applySurface(session_, surface, part, placement, gesture_);
}

void SurfaceTrial::keep() {
  if (gesture_) session_.endGesture();
  gesture_ = 0;
}

}  // namespace dusk
