#include "batch/render.h"

#include <cstdio>
#include <filesystem>

#include "batch/answer.h"
#include "batch/variants.h"
#include "core/deliver/recipe.h"
#include "core/deliver/together.h"
#include "core/deliver/trace_log.h"
#include "core/picture/read.h"
#include "core/project/file.h"

namespace dusk::batch {

namespace fs = std::filesystem;

Result<std::optional<std::pair<int, int>>> sizeFrom(const std::string& text) {
  if (text.empty()) return std::optional<std::pair<int, int>>();
  int w = 0, h = 0, end = 0;
  if (std::sscanf(text.c_str(), "%dx%d%n", &w, &h, &end) != 2 || size_t(end) != text.size() || w < 1 ||
      h < 1 || (long long)w * h > dusk::maxPixels)
    return Error{"--size takes WxH, as in 1920x1280.", ErrorKind::unreadable};
  return std::optional(std::pair(w, h));
}

IfThere ifThereFrom(const std::string& word) {
  return word == "replace" ? IfThere::replace : word == "keep-both" ? IfThere::keepBoth : IfThere::refuse;
}

Result<Order> orderFor(const Request& request, const Project& project, const Shot& shot,
                       const AssetStore& assets, const fs::path& folder) {
  const auto size = sizeFrom(request.size);
  if (!size) return size.error();
  Order order;
  order.project = onlyShot(project, shot, assets);
  order.folder = folder, order.size = *size, order.samples = request.samples, order.noise = request.noise;
  order.ifThere = ifThereFrom(request.ifThere), order.threads = request.threads.value_or(0);
  return order;
}

Result<TracePart> partFrom(const std::string& text) {
  TracePart part;
  int end = 0;
  if (std::sscanf(text.c_str(), "%d/%d%n", &part.part, &part.parts, &end) != 2 ||
      size_t(end) != text.size() || part.part < 1 || part.part > part.parts || part.parts > 100'000)
    return Error{"--part takes I/N, as in 2/8.", ErrorKind::unreadable};
  return part;
}

namespace {

json describe(const DeliverReport& report, const Shot& shot) {
  json files = json::array();
  for (const auto& file : report.files) files.push_back(file.string());
  for (const std::string& note : report.notes) std::fprintf(stderr, "%s\n", note.c_str());
  return {{"shot", shot.id},           {"files", files},
          {"width", report.width},     {"height", report.height},
          {"samples", report.samples}, {"noise", report.noise},
          {"seconds", report.seconds}, {"emptyPasses", report.empty},
          {"notes", report.notes}};
}

}  // namespace

Result<Source> sourceOf(const Request& request) {
  Source source;
  if (fs::path(request.file).extension() == ".json") {
    auto recipe = readRecipe(request.file);
    if (!recipe) return recipe.error();
    source.project = std::move(recipe->project);
    source.options.size = std::pair(recipe->width, recipe->height), source.options.samples = recipe->samples;
  } else {
    auto project = loadProject(request.file);
    if (!project) return project.error();
    source.project = std::move(*project);
  }
  DeliverOptions& o = source.options;
  o.folder = request.out, o.ifThere = ifThereFrom(request.ifThere);
  if (request.samples) o.samples = request.samples;
  o.seconds = request.seconds, o.noise = request.noise, o.log = request.trace;
  o.momentSeconds = request.moment;
  const auto size = sizeFrom(request.size);
  if (!size) return size.error();
  if (*size) o.size = *size;
  return source;
}

namespace {

int renderPart(const Request& request, const Source& source, size_t shot, AssetStore& assets,
               GeometryCache& cache, Progress& progress) {
  const auto part = partFrom(request.part);
  if (!part) return fail(part.error());
  if (request.seconds || request.allShots)
    return fail({"--part goes with neither --seconds nor --all-shots: parts must be of one size.",
                 ErrorKind::unreadable});
  const fs::path file =
      fs::path(request.out) / (source.project.shots[shot].id + "." + std::to_string(part->part) + "-of-" +
                               std::to_string(part->parts) + ".part");
  // It has its name once it is whole: until then, what is there of it is gone on from.
  const fs::path going = file.string() + ".going";
  std::error_code code;
  fs::rename(file, going, code);
  const auto passes = [&] {
    const Ticker ticker(progress);
    return tracePart(source.project, shot, assets, cache, source.options, *part, going, progress);
  }();
  if (!passes) return fail(passes.error());
  fs::rename(going, file, code);
  if (code) return fail({"The part could not get its name " + file.string() + ": " + code.message() + "."});
  warnOfChanges(assets);
  print({{"part", file.string()}, {"samples", *passes}}, request.json);
  return 0;
}

}  // namespace

int render(const Request& request, Progress& progress) {
  const auto source = sourceOf(request);
  if (!source) return fail(source.error());
  if (request.allShots && !request.shot.empty())
    return fail({"--shot and --all-shots cannot be asked for together.", ErrorKind::unreadable});
  const Project& project = source->project;
  const auto shot = shotIndex(project, request.shot);
  if (!shot) return fail(shot.error());
  const ThreadLimit limit(request.threads.value_or(0));
  AssetStore assets(fs::absolute(request.file).parent_path());
  GeometryCache cache;
  if (!request.part.empty()) {
    const auto one = chosenOne(project, *shot, request.variant);
    if (!one) return fail(one.error());
    return renderPart(request, {*one, source->options}, *shot, assets, cache, progress);
  }
  DeliverOptions options = source->options;
  json all = json::array();
  for (size_t i = 0; i < project.shots.size(); ++i) {
    if (!request.allShots && i != *shot) continue;
    const Shot& each = project.shots[i];
    // File names are a shot's own: two shots may both have a picture.png.
    options.folder = request.allShots ? fs::path(request.out) / each.id : fs::path(request.out);
    const auto variants = chosen(project, i, request.variant);
    if (!variants) return fail(variants.error());
    const auto reports = [&] {
      const Ticker ticker(progress);
      return deliverTogether(*variants, i, assets, cache, options, progress,
                             [](DeliverReport& report) { report.passes = {}; });
    }();
    for (size_t v = 0; v < reports.size(); ++v) {
      if (!reports[v]) return fail(reports[v].error());
      all.push_back(describe(*reports[v], each));
      all.back()["variant"] = variantName((*variants)[v], (*variants)[v].shots[i].choice);
    }
  }
  warnOfChanges(assets);
  print(request.allShots || all.size() != 1 ? json{{"shots", all}} : all[0], request.json);
  return 0;
}

int merge(const Request& request, Progress& progress) {
  const auto text = TraceLog::orderIn(request.files.front());
  if (!text) return fail(text.error());
  auto order = orderFrom(*text);
  if (!order) return fail(order.error());
  AssetStore assets;
  if (!request.file.empty()) {
    const auto project = loadProject(request.file);
    if (!project) return fail(project.error());
    const auto shot = shotIndex(*project, order->shot().id);
    if (!shot) return fail(shot.error());
    const AssetStore beside(fs::absolute(request.file).parent_path());
    order->project = onlyShot(*project, project->shots[*shot], beside);
  }
  DeliverOptions options = order->options();
  options.parts.assign(request.files.begin(), request.files.end());
  options.ifThere = ifThereFrom(request.ifThere);
  if (!request.out.empty()) options.folder = request.out;
  GeometryCache cache;
  const auto report = [&] {
    const Ticker ticker(progress);
    return deliver(order->project, 0, assets, cache, options, progress);
  }();
  if (!report) return fail(report.error());
  warnOfChanges(assets);
  print(describe(*report, order->shot()), request.json);
  return 0;
}

}  // namespace dusk::batch
