// What moves: films and sequences, or some of their pictures.
#include "core/deliver/film.h"

#include "batch/answer.h"
#include "batch/render.h"
#include "batch/variants.h"

namespace dusk::batch {

int film(const Request& request, Progress& progress) {
  const auto source = sourceOf(request);
  if (!source) return fail(source.error());
  const auto shot = shotIndex(source->project, request.shot);
  if (!shot) return fail(shot.error());
  const auto variants = chosen(source->project, *shot, request.variant);
  if (!variants) return fail(variants.error());
  FilmOptions options{source->options, request.pictures, request.onlyPictures};
  if (!request.part.empty()) {
    const auto part = partFrom(request.part);
    if (!part) return fail(part.error());
    options.part = part->part, options.parts = part->parts;
  }
  const ThreadLimit limit(request.threads.value_or(0));
  AssetStore assets(std::filesystem::absolute(request.file).parent_path());
  GeometryCache cache;
  json all = json::array();
  for (const Project& variant : *variants) {
    const auto report = [&] {
      const Ticker ticker(progress);
      return deliverFilm(variant, *shot, assets, cache, options, progress);
    }();
    if (!report) return fail(report.error());
    json files = json::array();
    for (const auto& file : report->files) files.push_back(file.string());
    for (const std::string& note : report->notes) std::fprintf(stderr, "%s\n", note.c_str());
    all.push_back({{"shot", variant.shots[*shot].id},
                   {"variant", variantName(variant, variant.shots[*shot].choice)},
                   {"files", files},
                   {"pictures", report->pictures},
                   {"traced", report->traced},
                   {"width", report->width},
                   {"height", report->height},
                   {"samples", report->samples},
                   {"seconds", report->seconds},
                   {"notes", report->notes}});
  }
  warnOfChanges(assets);
  print(all.size() != 1 ? json{{"films", all}} : all[0], request.json);
  return 0;
}

}  // namespace dusk::batch
