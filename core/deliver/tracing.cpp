#include "core/deliver/tracing.h"

#include "core/base/hash.h"
#include "core/base/words.h"
#include "core/deliver/order.h"
#include "core/deliver/output_plan.h"
#include "core/deliver/shutter.h"
#include "core/motion/at.h"
#include "core/motion/sequence.h"
#include "core/project/blend_edit.h"
#include "core/project/deliverable_kinds.h"
#include "core/project/file.h"
#include "core/project/links.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

/// What is traced goes beyond the border of the picture, and the place shows there what is delivered there.
Outcome goBeyond(Prepared& p, const Shot& shot, AssetStore& assets) {
  const PixelArea& a = p.area;
  int by = 1;
  while (int64_t(a.width() / by) * (a.height() / by) > AssetStore::mostPlatePixels) by *= 2;
  auto made =
      assets.plateArea(shot, p.width / by, p.height / by, {a.x0 / by, a.y0 / by, a.x1 / by, a.y1 / by});
  if (!made) return made.error();
  const auto plate = p.scene.plate;
  const auto mirrored = p.scene.mirrored;
  p.scene.camera = cropped(p.scene.camera, a.x0, a.y0, a.width(), a.height());
  takePlate(p.scene, std::make_shared<Picture>(std::move(*made)), shot, assets);
  for (auto& moment : p.scene.during) {
    auto own = std::make_shared<Scene>(*moment);
    own->camera = cropped(own->camera, a.x0, a.y0, a.width(), a.height());
    if (own->plate == plate && own->mirrored == mirrored)
      own->plate = p.scene.plate, own->plateCamera = own->camera, own->mirrored = p.scene.mirrored;
    moment = std::move(own);
  }
  return done();
}

}  // namespace

Result<std::unique_ptr<Tracing>> Tracing::plan(const Project& project, const Shot& shot, const Scene& scene,
                                               int width, int height, long long wholePixels, bool everyPass,
                                               const FilmExposure& how, Progress& progress) {
  auto plan = planBands(scene, width, height, wholePixels, everyPass, how, progress);
  if (!plan) return plan.error();
  auto tracing = std::make_unique<Tracing>();
  tracing->scene_ = &scene, tracing->plan_ = std::move(*plan);
  tracing->film_ = std::make_unique<BandFilm>(scene, tracing->plan_, width, height);
  if (everyPass && !scene.geometry->empty())
    for (OverridePass& pass : overridePasses(project, shot.render))
      tracing->overrides_.push_back({pass, overridden(scene, pass.surface), nullptr});
  for (Override& o : tracing->overrides_)
    o.film = std::make_unique<BandFilm>(o.scene, tracing->plan_, width, height);
  return tracing;
}

Outcome Tracing::expose(size_t band, const FilmExposure& how, Progress& progress) {
  const Rows& rows = plan_.bands[band];
  const Progress::Part all = progress.part();
  const double each = 1.0 / double(1 + overrides_.size());
  progress.reportWithin(all.within(0, each));
  FilmExposure own = how;
  Outcome exposed = film_->expose(*scene_, rows, own, progress);
  for (size_t i = 0; exposed && i < overrides_.size(); ++i) {
    progress.reportWithin(all.within(each * double(i + 1), each * double(i + 2)));
    own.layer = int(i) + 1;
    // Where time ended the picture, its passes end where that did.
    if (how.afterPass) own.passes = film().passesDone, own.afterPass = {};
    exposed = overrides_[i].film->expose(overrides_[i].scene, rows, own, progress);
  }
  progress.reportWithin(all);
  return exposed;
}

Project shownFor(const Project& project, size_t shot, const DeliverOptions& options) {
  return options.momentSeconds ? at(project, shot, *options.momentSeconds).project : asStill(project, shot);
}

bool wantsPasses(const Shot& shot) {
  return std::any_of(shot.deliverables.begin(), shot.deliverables.end(), [](const Deliverable& d) {
    return d.on && !isOfFilm(d) && d.kind == DeliverableKind::exr;
  });
}

Result<Prepared> prepare(const Project& kept, const Project& project, size_t index, AssetStore& assets,
                         GeometryCache& cache, const DeliverOptions& options, Progress& progress) {
  if (index >= project.shots.size())
    return Error{words("The project has no such shot."), ErrorKind::unreadable};
  const Shot& shot = project.shots[index];
  if (!wantsStill(shot))
    return Error{
        words("Nothing is asked for: add a deliverable at the Hand over station first. Films are handed over "
              "apart.")};
  // Footage lights as its first picture does.
  Project stillKept = kept, lit = project;
  holdPlate(stillKept.shots[index]), holdPlate(lit.shots[index]);
  auto compiled = compile(lit, index, assets, cache, progress, Models::fine);
  if (!compiled) return compiled.error();
  Prepared p{std::move(compiled->scene), 0, 0, 0, {}, std::move(compiled->notes)};
  if (hasPlate(shot) && !p.scene.plate) return Error{p.notes.front(), ErrorKind::unreadable};
  if (!p.scene.geometry->empty() && !shot.vantage.solved)
    return Error{words(
        "The vantage is not solved yet, so products cannot be seen. Draw evidence at the Vantage station.")};
  const auto native = nativeSize(shot, assets);
  if (!native) return native.error();
  p.nativeWidth = native->first;
  std::tie(p.width, p.height) = options.size.value_or(*native);
  if (p.width < 1 || p.height < 1)
    return Error{words("There is neither a plate nor a vantage to take the picture's size from.")};
  if (shot.vantage.solved) p.scene.camera = resized(p.scene.camera, p.width, p.height);
  p.scene.samples = options.samples.value_or(shot.render.samples);
  if (options.noise) p.scene.noiseTarget = float(*options.noise);
  if (options.opensShutter && options.momentSeconds)
    if (const Outcome open =
            openShutter(stillKept, lit, index, *options.momentSeconds, assets, cache, p.scene, progress);
        !open)
      return open.error();
  p.area = tracedArea(shot, p.width, p.height, double(p.width) / std::max(1, p.nativeWidth));
  if (p.area != PixelArea{0, 0, p.width, p.height} && shot.vantage.solved)
    if (const Outcome wide = goBeyond(p, lit.shots[index], assets); !wide) return wide.error();
  return p;
}

std::string textOfContents(Project project) {
  eachLink(project, [](AssetRef& ref, LinkKind) {
    if (!ref.hash.empty()) ref.path = std::filesystem::path(ref.path).extension().string();
  });
  return toText(project);
}

Project onlyTraced(const Project& project, const Shot& shot) {
  Project one = project;
  Shot traced = shot;
  holdPlate(traced);
  traced.blend = viewOnly(shot.blend);
  traced.snapshots.clear(), traced.deliverables.clear(), traced.frames.clear(), traced.handOver = {};
  traced.name.clear(), one.name.clear();
  one.shots = {traced};
  return one;
}

std::string traceFingerprint(const Project& project, const Shot& shot, const Prepared& prepared,
                             const DeliverOptions& options) {
  const std::string text =
      textOfContents(onlyTraced(project, shot)) + "|" + std::to_string(prepared.width) + "x" +
      std::to_string(prepared.height) + "|" + std::to_string(prepared.area.x0) + "," +
      std::to_string(prepared.area.y0) + "," + std::to_string(prepared.area.x1) + "," +
      std::to_string(prepared.area.y1) + "|" + std::to_string(prepared.scene.samples) + "|" +
      std::to_string(prepared.scene.noiseTarget) + "|" + std::to_string(sizeof(Film::Pixel)) + "|" +
      std::to_string(sizeof(GroupLight)) + "|" + std::to_string(wantsPasses(shot)) +
      std::to_string(options.wholePixels) + "|" + std::to_string(mostPlanned) + "/4";
  return hashBytes(text.data(), text.size());
}

Result<int> tracePart(const Project& kept, size_t index, AssetStore& assets, GeometryCache& cache,
                      const DeliverOptions& options, const TracePart& part, const std::filesystem::path& file,
                      Progress& progress) {
  const Project project = shownFor(kept, index, options);
  const auto prepared = prepare(kept, project, index, assets, cache, options, progress);
  if (!prepared) return prepared.error();
  const Shot& shot = project.shots[index];
  const bool every = wantsPasses(shot);
  Order order;
  order.project = onlyShot(project, shot, assets);
  order.size = std::pair(prepared->width, prepared->height), order.samples = prepared->scene.samples;
  order.folder = options.folder, order.noise = options.noise, order.date = options.date;
  auto log = TraceLog::open(
      file, {traceFingerprint(project, shot, *prepared, options), part.part, part.parts, toText(order)});
  if (!log) return log.error();
  const FilmExposure how{prepared->scene.samples, {}, log->get(), 0, true};
  const auto tracing = Tracing::plan(project, shot, prepared->scene, prepared->area.width(),
                                     prepared->area.height(), options.wholePixels, every, how, progress);
  if (!tracing) return tracing.error();
  const std::vector<double>& ends = (*tracing)->bands().done;
  int passes = 0;
  for (size_t i = 0; i < ends.size(); ++i) {
    progress.reportWithin(i ? ends[i - 1] : 0, ends[i]);
    if (const Outcome exposed = (*tracing)->expose(i, how, progress); !exposed) return exposed.error();
    passes = std::max(passes, (*tracing)->film().passesDone);
  }
  return passes;
}

}  // namespace dusk
