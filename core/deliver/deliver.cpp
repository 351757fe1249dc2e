#include "core/deliver/deliver.h"

#include <tbb/global_control.h>

#include "core/blend/blend.h"
#include "core/deliver/pass_list.h"
#include "core/picture/write.h"
#include "core/trace/denoise.h"
#include "core/trace/render.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

/// What goes into the files, made once for all deliverables.
struct Finished {
  const Shot& shot;
  const Passes& passes;
  std::shared_ptr<const Photo> photo;
  Picture plate, shownPlate;  ///< at the output's size; empty without a plate
  std::shared_ptr<const ColourView> view;
  std::vector<NamedPass> named{};
  const Picture* linear() const { return plate.empty() ? nullptr : &plate; }
};

Outcome writeOne(const Finished& f, DeliverableKind kind, const std::filesystem::path& file) {
  if (kind == DeliverableKind::png)
    return writePng8(
        file, blendForDisplay(f.shot, f.passes, f.linear(), f.linear() ? &f.shownPlate : nullptr, *f.view));
  const Picture composite = blend(f.shot, f.passes, f.linear());
  std::vector<ExrPart> parts{{"composite", &composite}};
  for (const NamedPass& pass : f.named)
    if (!pass.empty || f.shot.render.emptyPasses)
      parts.push_back({pass.name, &pass.picture, pass.needsFullFloat(), pass.metadata});
  return writeExr(file, parts);
}

}  // namespace

Result<DeliverReport> deliver(const Project& project, size_t index, AssetStore& assets, GeometryCache& cache,
                              const DeliverOptions& options, Progress& progress) {
  if (index >= project.shots.size()) return Error{"The project has no such shot.", ErrorKind::unreadable};
  const Shot& shot = project.shots[index];
  if (shot.deliverables.empty())
    return Error{"Nothing is asked for: add a deliverable at the Hand over station first."};
  auto compiled = compile(project, index, assets, cache, progress, Models::fine);
  if (!compiled) return compiled.error();
  Scene& scene = compiled->scene;
  DeliverReport report;
  report.notes = compiled->notes;
  if (hasPlate(shot) && !scene.plate) return Error{report.notes.front(), ErrorKind::unreadable};
  if (!scene.geometry->empty() && !shot.vantage.solved)
    return Error{
        "The vantage is not solved yet, so products cannot be seen. Draw evidence at the Vantage station."};

  const auto view = assets.view(shot.blend.view);
  if (!view) return view.error();
  Finished finished{shot, report.passes, nullptr, {}, {}, *view, {}};
  int width = scene.camera.width, height = scene.camera.height;
  if (scene.plate) width = scene.plate->width, height = scene.plate->height;
  if (options.size) std::tie(width, height) = *options.size;
  if (width < 1 || height < 1)
    return Error{"There is neither a plate nor a vantage to take the picture's size from."};
  if (shot.vantage.solved) scene.camera = resized(scene.camera, width, height);
  if (scene.plate) {
    const auto photo = assets.photo(shot);
    if (!photo) return photo.error();
    finished.plate = resized(*scene.plate, width, height);
    // At the photo's own size the code values go through untouched; at another, the resized light is shown.
    finished.shownPlate =
        width == scene.plate->width && height == scene.plate->height && !(*photo)->sceneLinear
            ? (*photo)->picture
            : displayed(finished.plate, **view);
  }

  const bool wantsPasses = std::any_of(shot.deliverables.begin(), shot.deliverables.end(),
                                       [](const Deliverable& d) { return d.kind == DeliverableKind::exr; });
  const auto overrides = wantsPasses && !scene.geometry->empty() ? overridePasses(project, shot.render)
                                                                 : std::vector<OverridePass>{};
  Film film(width, height, scene.lights->groups());
  const int samples = options.samples.value_or(shot.render.samples);
  scene.samples = samples;
  if (options.noise) scene.noiseTarget = float(*options.noise);
  const auto begun = std::chrono::steady_clock::now();
  const bool whole = render(scene, film, samples, progress, [&] {
    const std::chrono::duration<double> spent = std::chrono::steady_clock::now() - begun;
    return !options.seconds || spent.count() < *options.seconds;
  });
  if (!whole || progress.cancelled()) return cancelledError();
  report.passes = denoised(film, shot.render.denoise, progress, wantsPasses || isMixed(shot.blend));
  if (progress.cancelled()) return cancelledError();  // the noise was not taken out to the end
  if (wantsPasses) finished.named = namedPasses(report.passes, scene);
  for (const NamedPass& pass : finished.named)
    if (pass.empty) report.empty.push_back(pass.name);
  for (const OverridePass& pass : overrides) {
    const Scene same = overridden(scene, pass.surface);
    Film again(width, height, same.lights->groups());
    if (!render(same, again, film.passesDone, progress)) return cancelledError();
    finished.named.push_back({pass.name,
                              pass.about,
                              denoised(again, shot.render.denoise, progress).beauty,
                              PassKind::light,
                              false,
                              {}});
  }
  // The files hold each light as traced, the picture as mixed.
  if (isMixed(shot.blend)) {
    Passes mix = mixed(report.passes, shot.blend);
    report.passes.beauty = std::move(mix.beauty), report.passes.ratio = std::move(mix.ratio);
    report.passes.reflection = std::move(mix.reflection);
  }
  report.width = width, report.height = height, report.samples = film.passesDone;

  std::error_code code;
  std::filesystem::create_directories(options.folder, code);
  if (code) return Error{"Cannot make the folder " + options.folder.string() + ": " + code.message() + "."};
  for (const Deliverable& d : shot.deliverables) {
    if (progress.cancelled()) return cancelledError();
    const auto file = options.folder / d.fileName;
    if (const auto written = writeOne(finished, d.kind, file); !written) return written.error();
    report.files.push_back(file);
  }
  if (!scene.geometry->empty() &&
      std::all_of(report.passes.alpha.pixels.begin(), report.passes.alpha.pixels.end(),
                  [](float a) { return a == 0; }))
    report.notes.push_back("The product is not in the picture: beauty, albedo, normal and depth are empty.");
  else if (!report.empty.empty() && !shot.render.emptyPasses)
    report.notes.push_back(std::to_string(report.empty.size()) +
                           " passes have nothing in them and were not written.");
  return report;
}

struct ThreadLimit::Control {
  tbb::global_control limit;
};
ThreadLimit::ThreadLimit(int threads)
    : control_(threads > 0 ? std::unique_ptr<Control>(
                                 new Control{{tbb::global_control::max_allowed_parallelism, size_t(threads)}})
                           : nullptr) {}
ThreadLimit::~ThreadLimit() = default;

}  // namespace dusk
