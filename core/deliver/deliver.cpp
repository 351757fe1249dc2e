#include "core/deliver/deliver.h"

#include <tbb/global_control.h>

#include "core/base/memory.h"
#include "core/base/words.h"
#include "core/deliver/band_blend.h"
#include "core/deliver/names.h"
#include "core/deliver/output_plan.h"
#include "core/deliver/outputs.h"
#include "core/deliver/pace.h"
#include "core/deliver/recipe.h"
#include "core/deliver/scene_file.h"
#include "core/deliver/tracing.h"
#include "core/trace/denoise.h"
#include "core/trace/render.h"

namespace dusk {
namespace {

/// How noisy the film was where the product matters.
class Noise {
 public:
  void add(const Film& film, const Rows& rows) {
    for (int y = rows.first; y < rows.end; ++y)
      for (int x = 0; x < film.width(); ++x)
        if (const float e = film.error(x, y); e > 0) sum_ += double(e) * e, ++count_;
  }
  double mean() const { return count_ ? std::sqrt(sum_ / double(count_)) : 0; }

 private:
  double sum_ = 0;
  long long count_ = 0;
};

/// One delivery on its way: what is the same for all its bands.
class Delivery {
 public:
  Delivery(const Project& project, const Shot& shot, Scene& scene, AssetStore& assets,
           const DeliverOptions& options, std::vector<OutputPlan> plans, const Prepared& prepared)
      : project_(project),
        shot_(shot),
        scene_(scene),
        assets_(assets),
        options_(options),
        plans_(std::move(plans)),
        width_(prepared.width),
        height_(prepared.height),
        area_(prepared.area) {
    wantsPasses_ = wantsPasses(shot);
  }

  /// `log`: see FilmExposure; nullptr: none.
  Outcome run(DeliverReport& report, TraceLog* log, Progress& progress) {
    const auto view = assets_.view(shot_.blend);
    if (!view) return view.error();
    if (scene_.plate) {
      const auto photo = assets_.photo(shot_);
      if (!photo) return photo.error();
      photo_ = *photo;
    }
    if (const size_t need = deliveryBytes(shot_, width_, height_), has = freeMemory(); need > has)
      return Error{words("A picture of this size takes about ") + bytesText(need) +
                   words(" of memory while it is made, and ") + bytesText(has) +
                   words(" are free. Close other programs, or hand it over smaller.")};
    if (const Outcome room = hasRoom(); !room) return room;
    const auto begun = std::chrono::steady_clock::now();
    const auto now = [&] { return secondsSince(begun); };
    const double planned = plannedShare();
    const Progress::Part all = progress.part();
    const auto next = [&](const Progress::Part& part) {
      progress.reportWithin(all.within(part.from, part.to));
    };
    next({0, planned});
    FilmExposure how{scene_.samples, {}, log, 0, false};
    if (options_.trace) how.trace = [this](const TraceCall& call) { return options_.trace(project_, call); };
    auto tracing = Tracing::plan(project_, shot_, scene_, area_.width(), area_.height(), options_.wholePixels,
                                 wantsPasses_, how, progress);
    if (!tracing) return tracing.error();
    tracing_ = std::move(*tracing);
    const BandPlan& plan = tracing_->bands();
    for (OutputPlan& output : plans_)
      if (isScene(output.what.kind)) output.make = sceneMaker(progress);
    Outputs outputs(shot_, plans_, *view, area_, possible());
    CutOutStore cutOuts(assets_);
    BandBlend blend(shot_, blendSources(cutOuts), *view, outputs.looks());
    ReducedPasses held(area_.width(), area_.height());
    report.width = width_, report.height = height_;
    const bool whole = plan.bands.size() == 1;
    Pace pace = paceOf(plan, outputs.hasProofs(), planned, now());
    for (size_t i = 0; i < plan.bands.size(); ++i) {
      next(pace.trace(i, now()));
      const double until = options_.seconds.value_or(0) * plan.done[i];
      if (options_.seconds) how.afterPass = [&] { return now() < until; };
      const Outcome traced = tracing_->expose(i, how, progress);
      if (!traced) return traced;
      if (progress.cancelled()) return cancelledError();
      next(pace.finish(i, now()));
      const Film& film = tracing_->film();
      if (film.passesDone > 0 || i == 0)
        report.samples = i ? std::min(report.samples, film.passesDone) : film.passesDone;
      const auto passes = addBand(film, plan.bands[i], **view, blend, outputs, progress);
      if (!passes) return passes.error();
      for (const float a : (*passes)->alpha.pixels) shows_ |= a > 0;
      noise_.add(film, plan.bands[i]);
      if (whole)
        report.passes = **passes;
      else
        held.add(**passes);
    }
    if (!whole) report.passes = held.take();
    tellOfBorder(report.passes);
    report.notes.insert(report.notes.end(), blend.notes().begin(), blend.notes().end());
    report.empty = outputs.empty();
    report.noise = noise_.mean();
    report.seconds = now();
    if (progress.cancelled()) return cancelledError();
    next(pace.end(now()));
    if (outputs.hasProofs()) outputs.tell(toldOf(report, progress));
    if (progress.cancelled()) return cancelledError();
    tellOfEmpty(report);
    const Outcome closed = close(outputs, report);
    progress.report(1);
    return closed;
  }

  /// Writes files of which none shows the picture: nothing is traced for them.
  Outcome make(DeliverReport& report, Progress& progress) {
    const auto view = assets_.view(shot_.blend);
    if (!view) return view.error();
    if (const Outcome room = hasRoom(); !room) return room;
    const auto begun = std::chrono::steady_clock::now();
    for (OutputPlan& output : plans_) output.make = sceneMaker(progress);
    Outputs outputs(shot_, plans_, *view, area_, {});
    if (const Outcome opened = outputs.add({}, area_.height()); !opened) return opened;
    report.width = width_, report.height = height_;
    const Outcome closed = close(outputs, report);
    report.seconds = secondsSince(begun);
    return closed;
  }

 private:
  double pixels() const { return double(area_.width()) * double(area_.height()); }
  /// What a pixel takes after it is traced, with that many files, in samples: a first guess.
  double perPixel() const { return 2 + double(plans_.size()); }
  /// What finding where the product matters takes, about: some of its passes are of a part of the picture.
  double planSamples() const {
    return 0.6 * thinPasses * double(plannedPixels(area_.width(), area_.height()));
  }
  /// What that is of all, before it is known where.
  double plannedShare() const {
    return planSamples() / (planSamples() + pixels() * (0.3 * scene_.samples + perPixel()));
  }
  /// `seconds`: that the plan took.
  Pace paceOf(const BandPlan& plan, bool proves, double planned, double seconds) const {
    const double films = 1 + double(tracing_->overrides().size());
    const std::vector<size_t> matter = mattering(plan, area_.width());
    std::vector<BandWork> bands;
    for (size_t i = 0; i < plan.bands.size(); ++i) {
      const double pixels = double(area_.width()) * plan.bands[i].count(), matters = double(matter[i]);
      bands.push_back({matters * scene_.samples * films, pixels});
    }
    return Pace(std::move(bands), perPixel(), (proves ? 2 : 0.1) * pixels(), planSamples(), seconds, planned);
  }

  /// Puts the files in their places, each with its recipe.
  Outcome close(Outputs& outputs, DeliverReport& report) {
    // First: who is cut off between the two knows the files for its own.
    if (options_.recipes)
      if (const auto written = writeRecipes(project_, shot_, assets_, plans_, report); !written)
        return written;
    auto files = outputs.close();
    if (!files) {
      std::error_code code;
      for (const OutputPlan& plan : plans_)
        if (!std::filesystem::exists(plan.file, code)) std::filesystem::remove(recipeOf(plan.file), code);
      return files.error();
    }
    report.files = std::move(*files);
    for (const std::string& note : outputs.notes())
      if (std::find(report.notes.begin(), report.notes.end(), note) == report.notes.end())
        report.notes.push_back(note);
    return done();
  }

  std::function<Result<std::vector<std::string>>(const std::filesystem::path&)> sceneMaker(
      Progress& progress) {
    return [this, &progress](const std::filesystem::path& file) -> Result<std::vector<std::string>> {
      const auto written = writeScene(project_, shot_, assets_, file, dressedSide, progress);
      if (!written) return written.error();
      return written->lost;
    };
  }
  /// Error: the disk has too little left.
  Outcome hasRoom() const {
    const size_t need = bytesOnDisk(plans_, wantsPasses_ ? possiblePasses(scene_).size() : 0),
                 has = freeDisk(options_.folder);
    if (has >= need) return done();
    return Error{words("The files may take about ") + bytesText(need) + words(", and ") + bytesText(has) +
                 words(" are free on the disk of ") + options_.folder.string() +
                 words(". Free some, or hand over elsewhere.")};
  }
  /// Every pass that the files may hold, in their order.
  std::vector<NamedPass> possible() const {
    if (!wantsPasses_) return {};
    std::vector<NamedPass> all = possiblePasses(scene_);
    for (const Tracing::Override& o : tracing_->overrides()) all.push_back(named(o, Picture::rgb(1, 1)));
    return all;
  }
  static NamedPass named(const Tracing::Override& o, Picture light) {
    return {o.pass.name, o.pass.about, std::move(light), PassKind::light, false, {}};
  }

  /// All that bands are blended from but themselves.
  BlendSources blendSources(CutOutStore& cutOuts) const {
    BlendSources sources;
    sources.width = width_, sources.height = height_, sources.area = area_;
    sources.plateWidth = photo_ ? photo_->picture.width : width_;
    sources.assets = &assets_, sources.cutOuts = &cutOuts;
    tellOfScene(sources, scene_, shot_);
    return sources;
  }

  /// Writes what the film has come to in some rows, and gives their passes.
  Result<std::shared_ptr<const Passes>> addBand(const Film& film, const Rows& rows, const ColourView& view,
                                                BandBlend& blend, Outputs& outputs, Progress& progress) {
    const bool all = wantsPasses_ || needsAllPasses(shot_.blend);
    const auto passes =
        std::make_shared<const Passes>(denoised(film, shot_.render.denoise, progress, all, rows));
    if (progress.cancelled()) return cancelledError();  // the noise was not taken out to the end
    std::vector<NamedPass> listed;
    if (wantsPasses_) listed = namedPasses(*passes, scene_);
    for (const Tracing::Override& o : tracing_->overrides())
      listed.push_back(
          named(o, denoised(o.film->film(), shot_.render.denoise, progress, false, rows).beauty));
    // The files hold each light as traced, the picture as mixed.
    if (const Outcome added = outputs.add(listed, rows.count()); !added) return added.error();
    Picture plate, shown;
    if (photo_) {
      const PixelArea area{area_.x0, area_.y0 + rows.first, area_.x1, area_.y0 + rows.end};
      auto light = assets_.plateArea(shot_, width_, height_, area);
      if (!light) return light.error();
      // At the photo's own size the code values go through untouched; at another, the resized light is shown.
      const PackedPicture& photo = photo_->picture;
      const bool isOwnSize = width_ == photo.width && height_ == photo.height;
      shown = isOwnSize && !photo_->sceneLinear && PixelArea{0, 0, width_, height_}.contains(area)
                  ? photo.area(area)
                  : displayed(*light, view);
      plate = std::move(*light);
    }
    const auto finished = blend.add(passes, std::move(plate), std::move(shown));
    if (const Outcome added = outputs.add(finished, blend.stageNames()); !added) return added.error();
    return passes;
  }

  /// Says where the picture lies in what was traced beyond it.
  void tellOfBorder(Passes& passes) const {
    const PixelArea all{0, 0, width_, height_};
    if (area_ == all) return;
    const double by = double(passes.reduction);
    const auto at = [by](int v) { return int(std::lround(v / by)); };
    passes.picture = {at(-area_.x0), at(-area_.y0), std::min(passes.width(), at(width_ - area_.x0)),
                      std::min(passes.height(), at(height_ - area_.y0))};
  }

  /// What proof sheets say.
  Told toldOf(const DeliverReport& report, Progress& progress) const {
    Told told;
    told.findings = prove(project_, size_t(&shot_ - project_.shots.data()), assets_, &report.passes,
                          Models::wait, progress);
    const auto say = [&](const std::string& name, const std::string& value) {
      told.settings.push_back({name, value});
    };
    say(words("Project"), project_.name), say(words("Shot"), shot_.name);
    say(words("Version"), std::to_string(shot_.handOver.version));
    say(words("Date"), options_.date.empty() ? today() : options_.date);
    say(words("Traced"), std::to_string(report.width) + " × " + std::to_string(report.height) + ", " +
                             std::to_string(report.samples) + words(" samples, seed ") +
                             std::to_string(shot_.render.seed));
    const std::string& config = shot_.blend.config.file.path;
    say(words("View"),
        (shot_.blend.view.empty() ? words("the usual one") : shot_.blend.view) +
            (config.empty() ? "" : words(" of ") + std::filesystem::path(config).filename().string()));
    if (!shot_.handOver.creator.empty()) say(words("By"), shot_.handOver.creator);
    if (!shot_.handOver.rights.empty()) say(words("Rights"), shot_.handOver.rights);
    for (const OutputPlan& plan : plans_)
      told.files.push_back(plan.file.filename().string() + ": " + describe(plan.what, plan.frame));
    return told;
  }

  void tellOfEmpty(DeliverReport& report) const {
    if (!scene_.geometry->empty() && !shows_)
      report.notes.push_back(
          words("The product is not in the picture: beauty, albedo, normal and depth are empty."));
    else if (!report.empty.empty() && !shot_.render.emptyPasses)
      report.notes.push_back(std::to_string(report.empty.size()) +
                             words(" passes have nothing in them and were not written."));
  }

  const Project& project_;
  const Shot& shot_;
  Scene& scene_;
  AssetStore& assets_;
  const DeliverOptions& options_;
  std::vector<OutputPlan> plans_;
  Noise noise_;
  int width_, height_;
  PixelArea area_;  ///< of that, and around it, that is traced
  bool wantsPasses_ = false, shows_ = false;
  std::shared_ptr<const Photo> photo_;
  std::unique_ptr<Tracing> tracing_;
};

}  // namespace

size_t deliveryBytes(const Shot& shot, int width, int height) {
  const PixelArea area = tracedArea(shot, width, height);
  width = area.width(), height = area.height();
  const size_t pixels = size_t(width) * size_t(height);
  const DeliverOptions usual;
  const bool whole = (long long)pixels <= usual.wholePixels;
  const auto on = std::count_if(shot.lamps.begin(), shot.lamps.end(), [](const Lamp& l) { return l.on; });
  const size_t lights = 1 + shot.surroundings.sunApart + size_t(on);
  const bool every = wantsPasses(shot) || needsAllPasses(shot.blend);
  const size_t banded = whole ? pixels : size_t(width) * size_t(bandRows(width, lights, every));
  const size_t plate =
      hasPlate(shot) ? std::min<size_t>(pixels, AssetStore::mostPlatePixels) * 3 * sizeof(float) : 0;
  constexpr size_t photo = 6, mask = 3, held = 60, mostHeld = 8'000'000;
  // Of a whole picture the product matters in about half; a band may be all product.
  const size_t traced = whole ? banded / 2 : banded;
  return traced * bytesPerBandPixel(lights, every) + plate + pixels * (photo + mask) +
         std::min(pixels, mostHeld) * held;
}

namespace {

/// Where the samples are kept, or come from; nothing: they are only held.
Result<std::unique_ptr<TraceLog>> logOf(const Project& project, const Shot& shot, const Prepared& prepared,
                                        const DeliverOptions& options) {
  const std::string fingerprint = traceFingerprint(project, shot, prepared, options);
  if (!options.parts.empty()) return TraceLog::gather(options.parts, fingerprint);
  if (options.log.empty() || options.seconds) return std::unique_ptr<TraceLog>();
  return TraceLog::open(options.log, {fingerprint, 1, 1});
}

}  // namespace

Result<DeliverReport> deliver(const Project& kept, size_t index, AssetStore& assets, GeometryCache& cache,
                              const DeliverOptions& options, Progress& progress) {
  const Project project = shownFor(kept, index, options);
  auto prepared = prepare(kept, project, index, assets, cache, options, progress);
  if (!prepared) return prepared.error();
  const Shot& shot = project.shots[index];
  DeliverReport report;
  report.notes = prepared->notes;
  report.samplesAsked = prepared->scene.samples, report.noiseTarget = prepared->scene.noiseTarget;
  DeliverOptions own = options;
  own.native = prepared->nativeWidth;
  auto plans = planOutputs(project, shot, assets, own, prepared->width, prepared->height);
  if (!plans) return plans.error();
  for (const OutputPlan& plan : *plans)
    if (plan.frame.isMoved)
      report.notes.push_back(
          words("The frame \"") + plan.frame.name +
          words("\" reached beyond what there is to show, and was moved or made smaller to lie in it."));
  auto log = logOf(project, shot, *prepared, options);
  if (!log) return log.error();
  const bool traces =
      std::any_of(plans->begin(), plans->end(), [](const OutputPlan& p) { return !isScene(p.what.kind); });
  Delivery delivery(project, shot, prepared->scene, assets, own, std::move(*plans), *prepared);
  const Outcome delivered =
      traces ? delivery.run(report, log->get(), progress) : delivery.make(report, progress);
  if (!delivered) return delivered.error();
  if (*log && !options.keepsLog) (*log)->remove();
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
