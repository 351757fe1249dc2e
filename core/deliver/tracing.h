#pragma once
#include "core/deliver/bands.h"
#include "core/deliver/deliver.h"
#include "core/deliver/pass_list.h"

namespace dusk {

/// Films of a shot, and of those that show every part in one surface, exposed band by band.
class Tracing {
 public:
  struct Override {
    OverridePass pass;
    Scene scene;
    std::unique_ptr<BandFilm> film;
  };

  /// Requires the scene to outlive it. `how`: as for planBands(). Error: cancelled, or the log's disk.
  static Result<std::unique_ptr<Tracing>> plan(const Project& project, const Shot& shot, const Scene& scene,
                                               int width, int height, long long wholePixels, bool everyPass,
                                               const FilmExposure& how, Progress& progress);
  const BandPlan& bands() const { return plan_; }
  const Film& film() const { return film_->film(); }
  const std::vector<Override>& overrides() const { return overrides_; }
  /// Error: cancelled, or the log's disk.
  Outcome expose(size_t band, const FilmExposure& how, Progress& progress);

 private:
  const Scene* scene_ = nullptr;
  BandPlan plan_;
  std::unique_ptr<BandFilm> film_;
  std::vector<Override> overrides_;
};

/// The project as a delivery shows its shot: by its options, at the moment that is asked for.
Project shownFor(const Project& project, size_t shot, const DeliverOptions& options);

/// A scene to be traced at a size, as the options say.
struct Prepared {
  Scene scene;
  int width = 0, height = 0, nativeWidth = 0;
  PixelArea area;  ///< of that picture, and around it, that is traced: the scene's camera sees it
  std::vector<std::string> notes;
};
/// Error: see deliver().
/// `kept`: the document, of which `project` is what is shown.
Result<Prepared> prepare(const Project& kept, const Project& project, size_t shot, AssetStore& assets,
                         GeometryCache& cache, const DeliverOptions& options, Progress& progress);

/// Whether a shot's files hold passes.
bool wantsPasses(const Shot& shot);
/// A document as text, whatever the places of its files: what they hold counts.
std::string textOfContents(Project project);
/// The project with a shot alone, of which nothing is left but what its samples depend on.
Project onlyTraced(const Project& project, const Shot& shot);
/// Everything the samples of a shot depend on, as a hash: not what is done with them afterwards.
std::string traceFingerprint(const Project& project, const Shot& shot, const Prepared& prepared,
                             const DeliverOptions& options);

}  // namespace dusk
