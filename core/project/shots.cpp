#include "core/project/shots.h"

#include "core/base/words.h"

#include <algorithm>

namespace dusk {
namespace {

std::string nothingInTheWay(const Shot&, const Shot&) { return {}; }

std::string otherPhotoSize(const Shot& from, const Shot& to) {
  const Camera &a = from.vantage.camera, &b = to.vantage.camera;
  if (!from.vantage.solved) return words("That shot has no camera yet.");
  if (to.backdrop.kind == BackdropKind::photo && (a.width != b.width || a.height != b.height))
    return words("The two photos are not of one size: a camera belongs to its photo's pixels.");
  return {};
}

void bringCamera(const Shot& from, Shot& to) {
  to.evidence = from.evidence, to.vantage = from.vantage, to.levels = from.levels;
  to.keptVantages = from.keptVantages, to.cameras = from.cameras;
  to.heightReferences = from.heightReferences;
  if (to.backdrop.kind == BackdropKind::photo) return;
  const std::string colour = to.backdrop.colour, upper = to.backdrop.upper;
  const BackdropKind kind = to.backdrop.kind;
  to.backdrop = from.backdrop;
  to.backdrop.kind = kind, to.backdrop.colour = colour, to.backdrop.upper = upper;
}

/// What moves in one shot, told of another.
Motion retold(Motion motion, const std::string& from, const std::string& to) {
  const std::string before = "/shots/" + from + "/";
  for (MotionTrack& track : motion.tracks)
    if (track.at.starts_with(before)) track.at = "/shots/" + to + "/" + track.at.substr(before.size());
  return motion;
}

constexpr ShotPart parts[] = {
    {"light", marked("Panorama, lamps and gnomons"), nothingInTheWay,
     [](const Shot& from, Shot& to) {
       to.surroundings = from.surroundings, to.lamps = from.lamps, to.whiteNits = from.whiteNits;
       to.gnomon = from.gnomon, to.otherGnomon = from.otherGnomon;
     }},
    {"contact", marked("The ground and the stand-ins"), nothingInTheWay,
     [](const Shot& from, Shot& to) { to.contact = from.contact, to.standIns = from.standIns; }},
    {"camera", marked("Vantage, evidence, levels and height references"), otherPhotoSize, bringCamera},
    {"products", marked("What stands where"), nothingInTheWay,
     [](const Shot& from, Shot& to) { to.placements = from.placements; }},
    {marked("focus and render"), marked("Depth of field, samples and passes"), nothingInTheWay,
     [](const Shot& from, Shot& to) { to.focus = from.focus, to.render = from.render; }},
    {"blend", marked("Corrections, light mix and view"), nothingInTheWay,
     [](const Shot& from, Shot& to) { to.blend = from.blend; }},
    {"motion", marked("Everything that moves, and the film's length"), nothingInTheWay,
     [](const Shot& from, Shot& to) { to.motion = retold(from.motion, from.id, to.id); }},
    {"deliverables", marked("The list of files, frames and what is said in them"), nothingInTheWay,
     [](const Shot& from, Shot& to) {
       to.deliverables = from.deliverables, to.frames = from.frames, to.handOver = from.handOver;
     }},
};

}  // namespace

Project emptyProject() {
  Project p;
  p.name = "Untitled";
  p.shots.push_back(newShot(p));
  return p;
}

Shot newShot(const Project& project) {
  Shot shot;
  shot.id = freshId(project.shots, "shot");
  shot.name = "Shot " + shot.id.substr(shot.id.rfind('-') + 1);
  shot.deliverables = {{DeliverableKind::png, "picture.png"}, {DeliverableKind::exr, "picture.exr"}};
  return shot;
}

std::string addShot(Project& project, size_t after, bool copy) {
  after = std::min(after, project.shots.size() - 1);
  Shot shot = newShot(project);
  if (copy) {
    const std::string id = shot.id;
    shot = project.shots[after];
    shot.motion = retold(shot.motion, shot.id, id);
    shot.id = id, shot.name += " copy";
  }
  // Files of two shots must not take each other's place.
  for (Deliverable& d : shot.deliverables)
    for (const Shot& other : project.shots)
      if (std::find(other.deliverables.begin(), other.deliverables.end(), d) != other.deliverables.end()) {
        d.fileName = shot.id + "-" + d.fileName;
        break;
      }
  project.shots.insert(project.shots.begin() + long(after) + 1, shot);
  return shot.id;
}

void removeShot(Project& project, const std::string& id) {
  if (project.shots.size() < 2 || !byId(project.shots, id)) return;
  std::erase_if(project.shots, [&](const Shot& s) { return s.id == id; });
  dropUnplaced(project);
}

void dropUnplaced(Project& project) {
  const auto placed = [&](const Product& product) {
    for (const Shot& shot : project.shots)
      for (const Placement& p : shot.placements)
        if (p.productId == product.id) return true;
    return false;
  };
  std::erase_if(project.products, [&](const Product& p) { return !placed(p); });
}

void moveShot(Project& project, const std::string& id, size_t to) {
  const Shot* found = byId(project.shots, id);
  if (!found) return;
  const Shot shot = *found;
  std::erase_if(project.shots, [&](const Shot& s) { return s.id == id; });
  project.shots.insert(project.shots.begin() + long(std::min(to, project.shots.size())), shot);
}

std::span<const ShotPart> shotParts() { return parts; }

}  // namespace dusk
