#include "core/deliver/output_plan.h"
#include "core/base/words.h"
#include "core/variant/apply.h"

#include <set>

#include "core/deliver/names.h"
#include "core/deliver/recipe.h"
#include "core/project/deliverable_kinds.h"

namespace dusk {

namespace fs = std::filesystem;

namespace {

/// Before anything is said of files that are there.
Result<std::vector<OutputPlan>> named(const Project& project, const Shot& shot, const AssetStore& assets,
                                      const DeliverOptions& options, int width, int height) {
  std::vector<OutputPlan> plans;
  NameWords meant;
  meant.project = project.name, meant.shot = shot.name, meant.variant = variantName(project, shot.choice);
  meant.date = options.date.empty() ? today() : options.date, meant.version = shot.handOver.version;
  if (options.picture) meant.picture = pictureNumber(*options.picture);
  const double scale = options.native > 0 ? double(width) / options.native : 1;
  std::set<std::string> taken;
  for (const Deliverable& d : shot.deliverables) {
    if (!d.on || isOfFilm(d) != options.picture.has_value()) continue;
    OutputPlan plan{d, framed(shot, d, width, height, scale), {}, {}};
    meant.frame = plan.frame.name, meant.width = plan.frame.width, meant.height = plan.frame.height;
    const auto name = fileNameOf(d, meant);
    if (!name) return name.error();
    if (!taken.insert(*name).second)
      return Error{words("Two of the files would be called ") + *name +
                   words(". Give one of them another name, or put {frame} or {size} into both.")};
    plan.file = options.folder / *name;
    plan.tags = {shot.handOver.title, shot.handOver.creator, shot.handOver.rights, {}};
    if (shot.handOver.keepsExif && shot.backdrop.kind == BackdropKind::photo && !shot.plate.empty())
      plan.tags.exifOf = assets.pathOf(shot.plate);
    plans.push_back(std::move(plan));
  }
  return plans;
}

bool isOthers(const fs::path& file, const Project& project, const Shot& shot) {
  std::error_code code;
  return fs::exists(file, code) && !isMadeOf(file, project, shot);
}

}  // namespace

Result<std::vector<OutputPlan>> planOutputs(const Project& project, const Shot& shot,
                                            const AssetStore& assets, const DeliverOptions& options,
                                            int width, int height) {
  auto plans = named(project, shot, assets, options, width, height);
  if (!plans) return plans;
  for (OutputPlan& plan : *plans) {
    std::error_code code;
    if (fs::is_directory(plan.file, code))
      return Error{plan.file.string() +
                   words(" is a folder. Give the file another name, or hand over elsewhere.")};
    if (options.ifThere == IfThere::keepBoth && fs::exists(plan.file, code))
      plan.file = options.folder / freeName(options.folder, plan.file.filename().string());
    if (options.ifThere == IfThere::refuse && isOthers(plan.file, project, shot))
      return Error{
          plan.file.string() +
          words(" is there already, and was not made of this shot. Replace it, keep both, or give the new "
                "one another name.")};
  }
  return plans;
}

std::vector<fs::path> takenNames(const Project& project, const Shot& shot, const AssetStore& assets,
                                 const DeliverOptions& options, int width, int height) {
  std::vector<fs::path> taken;
  const auto plans = named(project, shot, assets, options, width, height);
  if (!plans) return taken;
  for (const OutputPlan& plan : *plans)
    if (isOthers(plan.file, project, shot)) taken.push_back(plan.file);
  return taken;
}

bool wantsStill(const Shot& shot) {
  return std::any_of(shot.deliverables.begin(), shot.deliverables.end(),
                     [](const Deliverable& d) { return d.on && !isOfFilm(d); });
}

bool wantsFilm(const Shot& shot) {
  return std::any_of(shot.deliverables.begin(), shot.deliverables.end(),
                     [](const Deliverable& d) { return d.on && isOfFilm(d); });
}

Result<std::pair<int, int>> nativeSize(const Shot& shot, AssetStore& assets) {
  if (!hasPlate(shot)) return std::pair(shot.vantage.camera.width, shot.vantage.camera.height);
  const auto photo = assets.photo(shot);
  if (!photo) return photo.error();
  return std::pair((*photo)->picture.width, (*photo)->picture.height);
}

std::string describe(const Deliverable& d, const FramedArea& frame) {
  const DeliverableKindInfo& info = infoOf(d.kind);
  std::string text = words(info.title);
  if (d.kind == DeliverableKind::exr)
    text += d.bits == 32 ? words(", full floats") : words(", half floats");
  else if (isScene(d.kind))
    return text + words(": products, camera and lamps");
  else if (!isProof(d.kind) && !info.isFilm)
    text += d.bits == 32 ? words(", scene light in floats") : ", " + std::to_string(d.bits) + " bit";
  if (d.kind == DeliverableKind::exr && !d.passes.empty())
    text += ", " + std::to_string(d.passes.size()) + words(" pass", " passes", long(d.passes.size()));
  if (d.alpha == DeliveredAlpha::straight) text += words(", on nothing");
  if (d.alpha == DeliveredAlpha::premultiplied) text += words(", on nothing, premultiplied");
  if (d.mostKb > 0) text += words(", at most ") + std::to_string(d.mostKb) + " kB";
  const bool isTraced = d.kind == DeliverableKind::exr;
  text += ", " + std::to_string(isTraced ? frame.area.width() : frame.width) + " × " +
          std::to_string(isTraced ? frame.area.height() : frame.height);
  if (frame.dpi > 0) {
    char print[64];
    std::snprintf(print, sizeof print, " (%.0f × %.0f mm at %.0f dpi)", frame.width / frame.dpi * 25.4,
                  frame.height / frame.dpi * 25.4, frame.dpi);
    text += print;
  }
  if (!frame.name.empty()) text += words(" of ") + frame.name;
  return text;
}

size_t bytesOnDisk(const std::vector<OutputPlan>& plans, size_t passes) {
  size_t bytes = 0;
  for (const OutputPlan& plan : plans) {
    const size_t pixels = size_t(plan.frame.width) * size_t(plan.frame.height);
    if (plan.what.kind == DeliverableKind::exr)
      // Most of each pass is nothing, which packs well.
      bytes += size_t(plan.frame.area.width()) * size_t(plan.frame.area.height()) * (6 + passes);
    else if (plan.what.kind == DeliverableKind::openRaster)
      bytes += pixels * 16;
    else
      bytes += pixels * (plan.what.alpha == DeliveredAlpha::none ? 3 : 4) * size_t(plan.what.bits) / 8;
  }
  return bytes;
}

}  // namespace dusk
