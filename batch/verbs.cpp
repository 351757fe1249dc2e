#include "batch/verbs.h"

#include "batch/answer.h"

#include <cstdio>
#include <filesystem>
#include <nlohmann/json.hpp>
#include <thread>

#include "core/base/files.h"
#include "core/base/hash.h"
#include "core/deliver/dressed.h"
#include "core/deliver/film_read.h"
#include "core/deliver/gather.h"
#include "core/picture/read.h"
#include "core/product/formats.h"
#include "core/product/import.h"
#include "core/product/side_files.h"
#include "core/project/file.h"
#include "core/surface/drawn.h"
#include "core/vantage/camera.h"
#include "core/vantage/camera_file.h"
#include "core/vantage/evidence_file.h"
#include "core/vantage/find_edges.h"

namespace dusk::batch {
namespace {

using nlohmann::json;
namespace fs = std::filesystem;

json describe(const Project& project) {
  json shots = json::array();
  for (const Shot& s : project.shots)
    shots.push_back({{"id", s.id},
                     {"name", s.name},
                     {"solved", s.vantage.solved},
                     {"plate", s.plate.path},
                     {"placements", s.placements.size()},
                     {"deliverables", s.deliverables.size()}});
  return {{"kind", "project"},
          {"name", project.name},
          {"products", project.products.size()},
          {"surfaces", project.surfaces.size()},
          {"shots", shots}};
}

/// Every part by the path that surfaces are given by, with its size as it lies in the model.
json partsOf(const Model& model) {
  json parts = json::array();
  for (const Part& part : model.parts) {
    Box box;
    for (const Vec3f& p : model.meshOf(part).positions) box.add(part.place.point(toDouble(p)));
    const Vec3d size = box.size() * model.metresPerUnit;
    parts.push_back({{"path", part.path},
                     {"name", part.name},
                     {"material", model.materialOf(part).name},
                     {"triangles", model.meshOf(part).triangles()},
                     {"size_m", {size.x, size.y, size.z}}});
  }
  return parts;
}

json describe(const Model& model) {
  Product product;
  product.metresPerUnit = model.metresPerUnit, product.up = model.up;
  const Vec3d size = trueSize(product, model.box());
  return {{"kind", "model"},
          {"parts", model.parts.size()},
          {"triangles", model.triangles()},
          {"true_size_m", {size.x, size.y, size.z}},
          {"metres_per_unit", model.metresPerUnit},
          {"unit", model.unitReason},
          {"missing", SideFiles::missing(model.sideFiles)},
          {"part_list", partsOf(model)}};
}

json describe(const PictureHeader& h, const fs::path& file, Progress& progress) {
  json answer = {{"kind", "picture"},
                 {"format", h.format},
                 {"width", h.width},
                 {"height", h.height},
                 {"channels", h.channels}};
  if (h.info.focalMm > 0) answer["focal_mm"] = h.info.focalMm;
  if (h.info.focalMm35 > 0) answer["focal_mm_35"] = h.info.focalMm35;
  if (h.info.exposureSeconds > 0) answer["exposure_s"] = h.info.exposureSeconds;
  if (h.info.fNumber > 0) answer["f_number"] = h.info.fNumber;
  if (h.info.iso > 0) answer["iso"] = h.info.iso;
  if (!h.info.camera.empty()) answer["camera"] = h.info.camera;
  const bool allRound = h.width == 2 * h.height;
  if (allRound || h.format == "openexr" || h.format == "hdr")
    if (auto light = readLight(file, &progress)) {
      const auto panorama = Panorama::make(std::move(*light));
      answer["range_ev"] = panorama->rangeEv();
      if (allRound) {
        answer["clipped_share"] = panorama->clippedShare();
        answer["low_range"] = panorama->isLowRange();
        answer["brightest_over_mean"] = panorama->brightest().timesMean;
      }
    }
  return answer;
}

json describe(const FilmFacts& film) {
  return {{"kind", "film"},
          {"codec", film.codec},
          {"width", film.width},
          {"height", film.height},
          {"pictures", film.pictures},
          {"pictures_per_second", film.picturesPerSecond},
          {"primaries", film.primaries},
          {"transfer", film.transfer},
          {"matrix", film.matrix}};
}

}  // namespace

int info(const Request& request, Progress& progress) {
  const fs::path file = request.file;
  if (endingOf(file) == ".dusk") {
    const auto project = loadProject(file);
    if (!project) return fail(project.error());
    print(describe(*project), request.json);
    return 0;
  }
  if (isModelFile(file)) {
    const auto read = importModel(file, progress);
    if (!read) return fail(read.error());
    print(describe(*read), request.json);
    return 0;
  }
  if (isDrawing(file)) {
    const auto hash = hashFile(file);
    if (!hash) return fail(hash.error());
    const auto page = drawn(file, *hash, 1, progress);
    if (!page) return fail(page.error());
    print({{"kind", "drawing"}, {"size_mm", {page->sizeMm.x, page->sizeMm.y}}}, request.json);
    return 0;
  }
  if (isFilmFile(file)) {
    const auto film = readFilm(file);
    if (!film) return fail(film.error());
    print(describe(*film), request.json);
    return 0;
  }
  const auto header = readPictureHeader(file);
  if (!header) return fail(header.error());
  print(describe(*header, file, progress), request.json);
  return 0;
}

namespace {

Result<EvidenceFile> evidenceFrom(const fs::path& file) {
  const auto text = readFile(file, size_t{64} << 20);
  return text ? parseEvidence(*text) : Result<EvidenceFile>(text.error());
}

/// Evidence that a photo gives by itself: its edges, and EXIF's focal length.
Result<EvidenceFile> evidenceSeen(const fs::path& file, Progress& progress, std::string& doubt) {
  const auto photo = readPhoto(file);
  if (!photo) return photo.error();
  EvidenceFile seen;
  seen.width = photo->picture.width, seen.height = photo->picture.height, seen.imageFile = file.string();
  if (photo->info.focalMm35 > 0) seen.evidence.focalMm35 = photo->info.focalMm35;
  const auto found = findEdges(*photo, seen.evidence.focalMm35, progress);
  if (!found) return found.error();
  seen.evidence.strokes = found->strokes, doubt = found->doubt();
  seen.evidence.solveK1 = found->bent || bendsMatter(seen.evidence, seen.width, seen.height);
  return seen;
}

}  // namespace

int vantage(const Request& request, Progress& progress) {
  std::string doubt;
  const auto evidence = endingOf(request.file) == ".json" ? evidenceFrom(request.file)
                                                          : evidenceSeen(request.file, progress, doubt);
  if (!evidence) return fail(evidence.error());
  VantageAnswer answer = solve(evidence->evidence, evidence->width, evidence->height);
  if (!doubt.empty()) answer.advice.push_back(doubt);
  if (answer.vantage.solved && !request.out.empty()) {
    const std::string name = fs::path(request.file).stem().string();
    const bool gltf = endingOf(request.out) == ".gltf";
    const auto written =
        writeFileAtomically(request.out, gltf ? cameraGltf(answer.vantage.camera, name) : answerJson(answer));
    if (!written) return fail(written.error());
  }
  if (request.json) {
    std::fputs(answerJson(answer).c_str(), stdout);
  } else if (answer.vantage.solved) {
    const Camera& c = answer.vantage.camera;
    std::printf(
        "focal length %.1f px, %.1f mm (35 mm equivalent) +/- %.1f\ntilt %.2f deg, roll %.2f deg, height "
        "%.3f m\nfit %.2f px\n",
        c.focalPx, focalMm35(c), answer.vantage.sigma.focalPx / c.focalPx * focalMm35(c), degrees(tilt(c)),
        degrees(roll(c)), c.position.z, answer.vantage.rmsPx);
  }
  for (const std::string& line : answer.advice) std::fprintf(stderr, "%s\n", line.c_str());
  return answer.vantage.solved ? 0 : 1;
}

int gather(const Request& request, Progress& progress) {
  const auto project = loadProject(request.file);
  if (!project) return fail(project.error());
  const AssetStore assets(fs::absolute(request.file).parent_path());
  const auto report = [&] {
    const Ticker ticker(progress);
    return dusk::gather(*project, assets, request.out, progress);
  }();
  if (!report) return fail(report.error());
  for (const std::string& note : report->notes) std::fprintf(stderr, "%s\n", note.c_str());
  print({{"files", report->files}, {"project", report->project.string()}, {"notes", report->notes}},
        request.json);
  return 0;
}

int dress(const Request& request, Progress& progress) {
  const auto project = loadProject(request.file);
  if (!project) return fail(project.error());
  const auto product =
      std::find_if(project->products.begin(), project->products.end(), [&](const Product& p) {
        return request.product.empty() || p.id == request.product || p.name == request.product;
      });
  if (product == project->products.end())
    return fail({"The project has no product called " + request.product + ".", ErrorKind::unreadable});
  AssetStore assets(fs::absolute(request.file).parent_path());
  const auto notes = [&] {
    const Ticker ticker(progress);
    return writeDressed(*project, product->id, assets, request.out, dressedSide, progress);
  }();
  if (!notes) return fail(notes.error());
  warnOfChanges(assets);
  for (const std::string& note : notes->lost) std::fprintf(stderr, "%s\n", note.c_str());
  print(
      {{"file", request.out}, {"parts", notes->parts}, {"pictures", notes->pictures}, {"notes", notes->lost}},
      request.json);
  return 0;
}

}  // namespace dusk::batch
