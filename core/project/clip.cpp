#include "core/project/clip.h"

#include "core/base/json_text.h"
#include "core/base/words.h"
#include "core/project/file.h"
#include "core/project/json.h"
#include "core/project/links.h"

namespace dusk {

NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(Clip, lamps, standIns, products, placements, surfaces,
                                                evidence, shots)

namespace {

std::string counted(size_t n, const char* one, const char* many) {
  return n == 0 ? "" : n == 1 ? std::string("a ") + one : std::to_string(n) + " " + many;
}

/// The clip as a project, for the promises that files are held to.
Project asProject(const Clip& clip) {
  Project p;
  p.products = clip.products, p.surfaces = clip.surfaces, p.shots = clip.shots;
  Shot loose;
  loose.id = "loose", loose.placements = clip.placements, loose.standIns = clip.standIns;
  loose.lamps = clip.lamps;
  p.shots.push_back(loose);
  // A shot's products may have stayed behind.
  for (Shot& s : p.shots)
    std::erase_if(s.placements, [&](const Placement& pl) { return !byId(p.products, pl.productId); });
  return p;
}

using Renamed = std::map<std::string, std::string>;

/// Adds items under fresh ids; old id to new.
template <typename T>
Renamed added(const std::vector<T>& items, std::vector<T>& to, const char* stem) {
  Renamed ids;
  for (T item : items) {
    const std::string old = item.id;
    item.id = ids[old] = freshId(to, stem);
    to.push_back(std::move(item));
  }
  return ids;
}

std::string nowCalled(const Renamed& ids, const std::string& old) {
  const auto found = ids.find(old);
  return found == ids.end() ? std::string() : found->second;
}

/// What a lamp says of placements, said of those that came along.
void follow(Lamp& lamp, const Renamed& placements) {
  lamp.aimedAt = nowCalled(placements, lamp.aimedAt);
  std::set<std::string> kept;
  for (const std::string& key : lamp.leavesOut) {
    const size_t end = key.find('/');
    const std::string now = nowCalled(placements, key.substr(0, end));
    if (!now.empty()) kept.insert(end == std::string::npos ? now : now + key.substr(end));
  }
  lamp.leavesOut = kept;
}

}  // namespace

std::string Clip::words() const {
  std::string all;
  for (const std::string& part :
       {counted(lamps.size(), "lamp", "lamps"), counted(standIns.size(), "stand-in", "stand-ins"),
        counted(products.size(), "product", "products"),
        products.empty() ? counted(surfaces.size(), "surface", "surfaces") : std::string(),
        std::string(evidence ? "evidence" : ""), counted(shots.size(), "shot", "shots")})
    if (!part.empty()) all += (all.empty() ? "" : ", ") + part;
  return all;
}

std::string toText(const Clip& clip) {
  nlohmann::json all = clip;
  nlohmann::json kept;
  for (const auto& [key, value] : all.items())
    if (!value.is_null() && !value.empty()) kept[key] = value;
  kept["gentleDusk"] = projectSchema;
  return jsonText(kept, 2) + "\n";
}

Result<Clip> clipFromText(const std::string& text) {
  const Error notOurs{words("What was copied is nothing of Gentle Dusk."), ErrorKind::unreadable};
  try {
    const auto document = parsedJson(text);
    if (!document.is_object() || !document.contains("gentleDusk")) return notOurs;
    if (document.at("gentleDusk").get<int>() > projectSchema)
      return Error{words("It was copied in a newer Gentle Dusk."), ErrorKind::unreadable};
    Clip clip = document.get<Clip>();
    if (const auto sound = fromText(toText(asProject(clip))); !sound)
      return Error{words("What was copied cannot be used: ") + sound.error().message, ErrorKind::unreadable};
    return clip;
  } catch (const nlohmann::json::parse_error&) {
    return notOurs;
  } catch (const nlohmann::json::exception& error) {
    return Error{words("What was copied is damaged (") + whatOf(error) + ").", ErrorKind::unreadable};
  }
}

void eachLink(Clip& clip, const std::function<void(AssetRef&)>& change) {
  const OnLink each = [&](AssetRef& ref, LinkKind) { change(ref); };
  eachLink(clip.lamps, each);
  for (Product& p : clip.products) eachLink(p, each);
  for (Surface& s : clip.surfaces) eachLink(s, each);
  for (Shot& s : clip.shots) eachLink(s, each);
}

std::vector<std::string> paste(const Clip& clip, Project& project, size_t index) {
  const Renamed surfaces = added(clip.surfaces, project.surfaces, "surface");
  const size_t firstProduct = project.products.size();
  const Renamed products = added(clip.products, project.products, "product");
  for (size_t i = firstProduct; i < project.products.size(); ++i)
    for (auto& [part, surface] : project.products[i].surfaceOfPart)
      if (surfaces.contains(surface)) surface = surfaces.at(surface);
  const auto placeable = [&](std::vector<Placement> all) {
    for (Placement& p : all)
      p.productId = products.contains(p.productId) ? products.at(p.productId) : p.productId;
    std::erase_if(all, [&](const Placement& p) { return !byId(project.products, p.productId); });
    return all;
  };
  std::vector<std::string> fresh;
  const auto note = [&](const Renamed& ids) {
    for (const auto& [old, now] : ids) fresh.push_back(now);
  };
  Shot& shot = project.shots[index];
  const Renamed standIns = added(clip.standIns, shot.standIns, "stand-in");
  const size_t firstPlacement = shot.placements.size(), firstLamp = shot.lamps.size();
  const Renamed placements = added(placeable(clip.placements), shot.placements, "placement");
  for (size_t i = firstPlacement; i < shot.placements.size(); ++i)
    if (const auto now = nowCalled(standIns, shot.placements[i].levelId); !now.empty())
      shot.placements[i].levelId = now;
    else if (!byId(shot.levels, shot.placements[i].levelId))
      shot.placements[i].levelId.clear();
  const Renamed lamps = added(clip.lamps, shot.lamps, "lamp");
  for (size_t i = firstLamp; i < shot.lamps.size(); ++i) follow(shot.lamps[i], placements);
  if (clip.evidence) shot.evidence = *clip.evidence;
  note(lamps), note(standIns), note(placements);
  std::vector<Shot> shots = clip.shots;
  for (Shot& s : shots) s.placements = placeable(s.placements);
  note(added(shots, project.shots, "shot"));
  return fresh;
}

}  // namespace dusk
