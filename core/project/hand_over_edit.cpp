#include "core/project/hand_over_edit.h"

#include <algorithm>

#include "core/base/json_text.h"
#include "core/base/words.h"
#include "core/project/deliverable_kinds.h"
#include "core/project/file.h"
#include "core/project/json.h"

namespace dusk {

std::string addFrame(Shot& shot, const FrameShape& shape) {
  PictureFrame f;
  f.id = freshId(shot.frames, "frame"), f.name = shape.name;
  f.widthPx = shape.widthPx, f.heightPx = shape.heightPx;
  const double w = shot.vantage.camera.width, h = shot.vantage.camera.height;
  if (w > 0 && h > 0) f.width = std::min(1.0, h * f.widthPx / f.heightPx / w);
  for (int n = 2; std::any_of(shot.frames.begin(), shot.frames.end(),
                              [&](const PictureFrame& other) { return other.name == f.name; });
       ++n)
    f.name = shape.name + std::string(" ") + std::to_string(n);
  shot.frames.push_back(f);
  return f.id;
}

void removeFrame(Shot& shot, const std::string& id) {
  std::erase_if(shot.frames, [&](const PictureFrame& f) { return f.id == id; });
  for (Deliverable& d : shot.deliverables)
    if (d.frameId == id) d.frameId.clear();
}

void setFrameSize(PictureFrame& frame, int widthPx, int heightPx) {
  frame.widthPx = std::clamp(widthPx, 1, 100'000), frame.heightPx = std::clamp(heightPx, 1, 100'000);
}

void setAboutProduct(PictureFrame& frame, bool about, const Vec2d& spot) {
  if (frame.aboutProduct == about) return;
  frame.centre += about ? -spot : spot;
  frame.aboutProduct = about;
}

size_t addDeliverable(Shot& shot, DeliverableKind kind, const std::string& frameId) {
  Deliverable d = usualOf(kind, frameId.empty() ? "{shot}" : "{shot}-{frame}");
  d.frameId = frameId;
  const std::string ending = infoOf(kind).ending;
  const std::string stem = d.fileName.substr(0, d.fileName.size() - ending.size());
  for (int n = 2; std::any_of(shot.deliverables.begin(), shot.deliverables.end(),
                              [&](const Deliverable& other) {
                                return other.fileName == d.fileName && other.frameId == d.frameId;
                              });
       ++n)
    d.fileName = stem + "-" + std::to_string(n) + ending;
  shot.deliverables.push_back(d);
  return shot.deliverables.size() - 1;
}

std::string handOverText(const Shot& shot) {
  const nlohmann::json j = {{"gentleDuskHandOver", projectSchema},
                            {"deliverables", shot.deliverables},
                            {"frames", shot.frames},
                            {"handOver", shot.handOver}};
  return jsonText(j, 2) + "\n";
}

Outcome takeHandOver(Shot& shot, const std::string& text) {
  const auto refused = [](const std::string& why) {
    return Error{words("This is no list of files to hand over: ") + why + ".", ErrorKind::unreadable};
  };
  try {
    const auto j = parsedJson(text);
    if (j.at("gentleDuskHandOver").get<int>() > projectSchema)
      return refused(words("it was saved by a newer Gentle Dusk; save it with this version"));
    Shot taken = shot;
    taken.deliverables = j.at("deliverables").get<std::vector<Deliverable>>();
    taken.frames = j.at("frames").get<std::vector<PictureFrame>>();
    taken.handOver = j.at("handOver").get<HandOver>();
    // What a project file may not hold, a list may not either.
    Project probe;
    Shot bare;
    bare.id = "shot-1", bare.deliverables = taken.deliverables, bare.frames = taken.frames;
    bare.handOver = taken.handOver;
    probe.shots = {bare};
    if (const auto sound = fromText(toText(probe)); !sound) return refused(sound.error().message);
    shot = std::move(taken);
    return done();
  } catch (const nlohmann::json::exception& error) {
    return refused(whatOf(error));
  }
}

void nameByVariant(Shot& shot) {
  for (Deliverable& d : shot.deliverables) {
    if (d.fileName.find("{variant}") != std::string::npos) continue;
    const std::string ending = infoOf(d.kind).ending;
    const bool ends = d.fileName.size() > ending.size() && d.fileName.ends_with(ending);
    d.fileName.insert(ends ? d.fileName.size() - ending.size() : d.fileName.size(), "-{variant}");
  }
}

}  // namespace dusk
