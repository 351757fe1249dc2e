#include "core/deliver/film.h"

#include "core/base/files.h"
#include "core/base/hash.h"
#include "core/base/words.h"
#include "core/deliver/film_file.h"
#include "core/deliver/names.h"
#include "core/deliver/order.h"
#include "core/deliver/output_plan.h"
#include "core/deliver/pace.h"
#include "core/deliver/recipe.h"
#include "core/deliver/tracing.h"
#include "core/motion/sequence.h"
#include "core/project/deliverable_kinds.h"

namespace dusk {
namespace {
namespace fs = std::filesystem;

/// All that a picture's pixels depend on, as a name for the folder they lie in.
std::string fingerprintOf(const Project& project, const Shot& shot, const AssetStore& assets,
                          const DeliverOptions& o) {
  std::string text = textOfContents(onlyShot(project, shot, assets));
  if (o.size) text += std::to_string(o.size->first) + "x" + std::to_string(o.size->second);
  text += "|" + std::to_string(o.samples.value_or(0)) + "|" + std::to_string(o.noise.value_or(0)) + "|" +
          std::to_string(o.wholePixels);
  return hashBytes(text.data(), text.size());
}

/// One film or sequence that is asked for, and where its pictures lie meanwhile.
struct Reel {
  OutputPlan plan;  ///< of the film; of a sequence that of its first picture
  int index = 0;    ///< among all
  bool isFilm() const { return infoOf(plan.what.kind).isFilm; }
  std::string nameOf(int picture) const {
    return "reel-" + std::to_string(index) + "-" + pictureNumber(picture) +
           (isFilm() ? ".png" : infoOf(plan.what.kind).ending);
  }
  /// How a picture of it is asked for.
  Deliverable pictureOf(int picture) const {
    Deliverable d = plan.what;
    if (isFilm()) d.kind = DeliverableKind::png, d.bits = 8;
    d.fileName = nameOf(picture);
    return d;
  }
};

class Filming {
 public:
  Filming(const Project& project, size_t index, AssetStore& assets, GeometryCache& cache,
          const FilmOptions& options)
      : project_(project),
        index_(index),
        assets_(assets),
        cache_(cache),
        options_(options),
        shot_(project.shots[index]),
        count_(picturesOf(shot_.motion)) {}

  Result<FilmReport> run(Progress& progress) {
    const auto begun = std::chrono::steady_clock::now();
    if (const Outcome planned = plan(); !planned) return planned.error();
    std::error_code code;
    for (const fs::path& made : {options_.each.folder, folder_})
      if (fs::create_directories(made, code); code)
        return Error{words("The folder ") + made.string() + words(" could not be made: ") + code.message() +
                     "."};
    report_.pictures = count_;
    if (const Outcome traced = trace(progress); !traced) return traced.error();
    report_.seconds = secondsSince(begun);
    if (options_.onlyPictures) return report_;
    if (missing() > 0) {
      report_.notes.push_back(
          std::to_string(missing()) +
          words(" pictures of other parts are missing yet; the last part puts the film together."));
      return report_;
    }
    for (const Reel& reel : reels_)
      if (const Outcome made = reel.isFilm() ? putTogether(reel, progress) : handOver(reel); !made)
        return made.error();
    if (const Outcome told = tell(); !told) return told.error();
    fs::remove_all(folder_, code);
    return std::move(report_);
  }

 private:
  /// The document as a picture is traced of it: what it asks for is that picture's files alone.
  Project projectOf(int picture) const {
    Project p = project_;
    Shot& shot = p.shots[index_];
    shot.deliverables.clear();
    for (const Reel& reel : reels_) shot.deliverables.push_back(reel.pictureOf(picture));
    shot.blend.grain.seed += picture;
    return p;
  }

  /// What the files will be called, and how large; before anything is traced.
  Outcome plan() {
    if (!wantsFilm(shot_))
      return Error{
          words("No film is asked for: add one, or a picture with {picture} in its name, at the Hand over "
                "station.")};
    const auto native = nativeSize(shot_, assets_);
    if (!native) return native.error();
    native_ = native->first;
    std::tie(report_.width, report_.height) = options_.each.size.value_or(*native);
    auto plans = planned(0, options_.each.ifThere);
    if (!plans) return plans.error();
    for (OutputPlan& plan : *plans) reels_.push_back({std::move(plan), int(reels_.size())});
    const std::string hash = fingerprintOf(project_, shot_, assets_, options_.each).substr(0, 16);
    const fs::path beside = options_.each.folder / (".film-" + shot_.id + "-" + hash);
    folder_ = options_.pictures.empty() ? beside : options_.pictures / hash;
    return done();
  }
  Result<std::vector<OutputPlan>> planned(int picture, IfThere ifThere) const {
    DeliverOptions own = options_.each;
    own.native = native_, own.picture = picture, own.ifThere = ifThere;
    return planOutputs(project_, shot_, assets_, own, report_.width, report_.height);
  }

  bool isThere(int picture) const {
    std::error_code code;
    return std::all_of(reels_.begin(), reels_.end(),
                       [&](const Reel& reel) { return fs::exists(folder_ / reel.nameOf(picture), code); });
  }
  int missing() const {
    int count = 0;
    for (int i = 0; i < count_; ++i) count += !isThere(i);
    return count;
  }

  Outcome trace(Progress& progress) {
    std::vector<int> own;
    for (int i = 0; i < count_; ++i)
      if (i % options_.parts == options_.part - 1 && !isThere(i)) own.push_back(i);
    const Progress::Part whole = progress.part();
    // Where nothing but footage moves, one trace is all pictures'.
    const fs::path log = own.size() > 1 && onlyPlateMoves(shot_)
                             ? folder_ / ("trace-" + std::to_string(options_.part))
                             : fs::path();
    for (size_t n = 0; n < own.size(); ++n) {
      const double share = 0.98 / double(own.size());
      progress.reportWithin(whole.within(share * double(n), share * double(n + 1)));
      DeliverOptions each = options_.each;
      each.folder = folder_, each.ifThere = IfThere::replace, each.recipes = false;
      each.momentSeconds = momentOf(shot_.motion, own[n]), each.opensShutter = true;
      each.log = log, each.keepsLog = true;
      const auto made = deliver(projectOf(own[n]), index_, assets_, cache_, each, progress);
      if (!made) return made.error();
      report_.samples = made->samples, ++report_.traced;
      for (const std::string& note : made->notes)
        if (std::find(report_.notes.begin(), report_.notes.end(), note) == report_.notes.end())
          report_.notes.push_back(note);
    }
    std::error_code code;
    if (!log.empty() && !progress.cancelled()) fs::remove(log, code);
    progress.reportWithin(whole.within(0.98, 1));
    return progress.cancelled() ? cancelledError() : done();
  }

  Outcome putTogether(const Reel& reel, Progress& progress) {
    FilmFormat format{reel.plan.what.kind,    reel.plan.frame.width,
                      reel.plan.frame.height, shot_.motion.picturesPerSecond,
                      reel.plan.what.quality, reel.plan.what.alpha != DeliveredAlpha::none,
                      shot_.motion.loops};
    auto film = FilmWriter::open(reel.plan.file, format);
    if (!film) return film.error();
    for (int i = 0; i < count_; ++i) {
      if (progress.cancelled()) return cancelledError();
      if (const Outcome added = (*film)->add(folder_ / reel.nameOf(i)); !added) return added;
    }
    if (const Outcome closed = (*film)->close(); !closed) return closed;
    const auto [w, h] = (*film)->size();
    if (w != format.width || h != format.height)
      report_.notes.push_back(reel.plan.file.filename().string() + words(" is ") + std::to_string(w) + " × " +
                              std::to_string(h) +
                              words(": its kind takes even sizes alone, so its last row or column of "
                                    "pixels is left out."));
    report_.files.push_back(reel.plan.file);
    return done();
  }

  /// A sequence's pictures get their names.
  Outcome handOver(const Reel& reel) {
    for (int i = 0; i < count_; ++i) {
      // That the first may be written over was found at the beginning: the others are of the same making.
      const bool keeps = options_.each.ifThere == IfThere::keepBoth;
      const auto plans = planned(i, keeps ? IfThere::keepBoth : IfThere::replace);
      if (!plans) return plans.error();
      const fs::path &from = folder_ / reel.nameOf(i), &to = (*plans)[size_t(reel.index)].file;
      std::error_code code;
      fs::rename(from, to, code);
      if (code) fs::copy_file(from, to, fs::copy_options::overwrite_existing, code);  // on another disk
      if (code) return Error{to.string() + words(" could not be written: ") + code.message() + "."};
      report_.files.push_back(to);
    }
    return done();
  }

  /// How the films, and the first picture of sequences, were made.
  Outcome tell() {
    DeliverReport told;
    told.width = report_.width, told.height = report_.height, told.samples = report_.samples;
    told.samplesAsked = options_.each.samples.value_or(shot_.render.samples);
    told.noiseTarget = options_.each.noise.value_or(shot_.render.noiseTarget), told.seconds = report_.seconds;
    std::vector<OutputPlan> plans;
    for (const Reel& reel : reels_) plans.push_back(reel.plan);
    return writeRecipes(project_, shot_, assets_, plans, told);
  }

  const Project& project_;
  size_t index_;
  AssetStore& assets_;
  GeometryCache& cache_;
  const FilmOptions& options_;
  const Shot& shot_;
  int count_, native_ = 0;
  std::vector<Reel> reels_;
  fs::path folder_;
  FilmReport report_;
};

}  // namespace

Result<FilmReport> deliverFilm(const Project& project, size_t shot, AssetStore& assets, GeometryCache& cache,
                               const FilmOptions& options, Progress& progress) {
  if (shot >= project.shots.size())
    return Error{words("The project has no such shot."), ErrorKind::unreadable};
  return Filming(project, shot, assets, cache, options).run(progress);
}

Result<DeliverReport> handOver(const Project& project, size_t index, AssetStore& assets, GeometryCache& cache,
                               const FilmOptions& options, Progress& progress) {
  if (index >= project.shots.size())
    return Error{words("The project has no such shot."), ErrorKind::unreadable};
  const Shot& shot = project.shots[index];
  DeliverReport all;
  const bool films = wantsFilm(shot), stills = wantsStill(shot);
  const double share = !films ? 1 : stills ? 1.0 / (1 + picturesOf(shot.motion)) : 0;
  const Progress::Part whole = progress.part();
  if (stills || !films) {
    progress.reportWithin(whole.within(0, share));
    auto made = deliver(project, index, assets, cache, options.each, progress);
    if (!made) return made;
    all = std::move(*made);
  }
  if (films) {
    progress.reportWithin(whole.within(share, 1));
    const auto film = deliverFilm(project, index, assets, cache, options, progress);
    if (!film) return film.error();
    all.files.insert(all.files.end(), film->files.begin(), film->files.end());
    all.notes.insert(all.notes.end(), film->notes.begin(), film->notes.end());
    all.width = film->width, all.height = film->height, all.seconds += film->seconds;
    if (!stills) all.samples = film->samples;
  }
  progress.reportWithin(whole);
  return all;
}

}  // namespace dusk
