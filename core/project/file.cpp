#include "core/project/file.h"

#include <functional>

#include "core/base/files.h"
#include "core/project/json.h"

namespace dusk {
namespace {

/// Looks for numbers that JSON can say but no picture can use (1e999 reads as infinity).
bool isFinite(const nlohmann::json& value) {
  if (value.is_number_float()) return std::isfinite(value.get<double>());
  if (value.is_structured())
    for (const auto& item : value)
      if (!isFinite(item)) return false;
  return true;
}

/// The first promise of the format a project breaks, or nothing.
std::string brokenPromise(const Project& project) {
  for (const Surface& s : project.surfaces)
    for (double v : {s.metalness, s.roughness, s.transmission, s.clearcoat, s.clearcoatRoughness,
                     s.anisotropy, s.sheen, s.sheenRoughness})
      if (v < 0 || v > 1) return "surface '" + s.name + "' has a share outside 0 to 1";
  for (const Product& p : project.products) {
    if (p.metresPerUnit <= 0) return "product '" + p.name + "' has a unit that is not positive";
    if (p.chordMm.value_or(1) <= 0) return "product '" + p.name + "' has a chord that is not positive";
    for (const auto& [path, move] : p.moves)
      if (move.axis.length() < 1e-9) return "part '" + path + "' turns about an axis of no length";
  }
  for (const Shot& shot : project.shots) {
    const Camera& c = shot.vantage.camera;
    if (shot.vantage.solved && (c.width <= 0 || c.height <= 0 || c.focalPx <= 0))
      return "shot '" + shot.name + "' is marked solved but has no usable camera";
    if (shot.render.samples < 1 || shot.render.samples > 1'000'000 || shot.render.bounces < 0 ||
        shot.render.bounces > 64)
      return "shot '" + shot.name + "' asks for an impossible number of samples or bounces";
    if (shot.focus.fNumber <= 0 || shot.focus.distanceM <= 0 || shot.focus.sensorWidthMm <= 0)
      return "shot '" + shot.name + "' has a focus that no lens can have";
    const Backdrop& b = shot.backdrop;
    if (b.width < 1 || b.height < 1 || b.width > 30'000 || b.height > 30'000 || b.focalMm35 <= 0 ||
        b.distanceM <= 0)
      return "shot '" + shot.name + "' has a backdrop that no camera can see";
    for (const StandIn& s : shot.standIns)
      if (s.sizeM.x <= 0 || s.sizeM.y < 0 || s.sizeM.z < 0) return "stand-in '" + s.name + "' has no size";
    for (const Placement& p : shot.placements)
      if (!byId(project.products, p.productId))
        return "shot '" + shot.name + "' places a product that is not in the file";
    for (const Deliverable& d : shot.deliverables)
      if (d.fileName.empty() || std::filesystem::path(d.fileName).filename() != d.fileName)
        return "shot '" + shot.name + "' has a deliverable whose file name is empty or holds a folder";
  }
  return {};
}

}  // namespace

std::string toText(const Project& project) {
  nlohmann::json document = project;
  document["schema"] = projectSchema;
  // Text that is not UTF-8 (a file name from an old disk) is replaced, not a reason to lose the work.
  return document.dump(2, ' ', false, nlohmann::json::error_handler_t::replace) + "\n";
}

Result<Project> fromText(const std::string& text) {
  try {
    const auto document = nlohmann::json::parse(text);
    if (!document.is_object() || !document.contains("schema"))
      return Error{"this is JSON, but not a Gentle Dusk project.", ErrorKind::unreadable};
    if (document.at("schema").get<int>() > projectSchema)
      return Error{"it was saved by a newer Gentle Dusk. Open it with that version.", ErrorKind::unreadable};
    if (!isFinite(document)) return Error{"it holds a number that is not finite.", ErrorKind::unreadable};
    Project project = document.get<Project>();
    if (const std::string broken = brokenPromise(project); !broken.empty())
      return Error{broken + ".", ErrorKind::unreadable};
    return project;
  } catch (const nlohmann::json::exception& error) {
    return Error{std::string("its text is damaged (") + error.what() + ").", ErrorKind::unreadable};
  }
}

Outcome saveProject(const Project& project, const std::filesystem::path& file) {
  return writeFileAtomically(file, toText(project));
}

Result<Project> loadProject(const std::filesystem::path& file) {
  auto text = readFile(file, size_t{256} << 20);
  if (!text) return text.error();
  auto project = fromText(*text);
  if (!project)
    return Error{"Cannot open " + file.string() + ": " + project.error().message, ErrorKind::unreadable};
  return project;
}

}  // namespace dusk
