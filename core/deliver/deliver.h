#pragma once
#include <filesystem>

#include "core/base/progress.h"
#include "core/deliver/trace_call.h"
#include "core/trace/compile.h"

namespace dusk {

/// What becomes of files that have the names of those to be written.
enum class IfThere {
  refuse,    ///< nothing is written, but over what was made of this shot before
  replace,   ///< they are replaced
  keepBoth,  ///< the new ones get a number
};

struct DeliverOptions {
  std::filesystem::path folder;
  std::optional<std::pair<int, int>> size;  ///< else the plate's
  std::optional<int> samples;               ///< else the shot's
  std::optional<double> seconds{};          ///< stop adding samples after that long
  std::optional<double> noise{};            ///< noise target in place of the shot's
  std::filesystem::path log{};  ///< what is traced is kept in it while it is under way; not with `seconds`
  bool keepsLog = false;        ///< for what is delivered next of the same trace
  std::vector<std::filesystem::path> parts{};  ///< nothing is traced: the samples are taken from these
  IfThere ifThere = IfThere::refuse;
  std::optional<double> momentSeconds{};  ///< of what moves; else that which stills show
  std::optional<int> picture{};  ///< of a film: what is planned is what asks for films, and this one's number
  bool opensShutter = false;     ///< what moves is blurred as the shot's shutter has it; with a moment
  bool recipes = true;           ///< beside each file, how it was made
  int native = 0;      ///< width at which frames have the size they ask for; 0: that which is traced
  std::string date{};  ///< for names; empty: today
  /// A larger picture is made in bands: the same pixels but for where the product hardly matters.
  long long wholePixels = 3'000'000;
  TraceFilmOf trace{};  ///< in place of render()
};

struct DeliverReport {
  std::vector<std::filesystem::path> files;
  std::vector<std::string> notes;          ///< assets that were missing, passes that are empty
  std::vector<std::string> empty;          ///< names of passes with nothing in them
  int width = 0, height = 0, samples = 0;  ///< as traced
  int samplesAsked = 0;                    ///< with a noise target fewer may have done
  double noiseTarget = 0;
  double noise = 0;    ///< root mean square error of a pixel over its brightness, before it is denoised
  double seconds = 0;  ///< how long it took
  Passes passes;  ///< as blended; of a large picture smaller (see `reduction`), without groups and covers
};

/// Renders a shot, by the options it chose, at full size and writes its deliverables into `options.folder`
/// (made when missing). One function for the window and the headless program: the same project, size and
/// samples give the same pixels to the last bit. Error: unsolved vantage with products placed, no
/// deliverables, a missing plate, nothing writable, a name that is taken, more memory or disk than is free,
/// cancelled. Beside each file lies another with ".json" at its end that says how it was made (see recipe.h).
Result<DeliverReport> deliver(const Project& project, size_t shot, AssetStore& assets, GeometryCache& cache,
                              const DeliverOptions& options, Progress& progress);

/// Which part of a trace is made, of how many.
struct TracePart {
  int part = 1, parts = 1;
};
/// Traces one part of a shot's samples into `file` (see TraceLog), as large and as fine as deliver() with the
/// same options would: with all parts it then writes the files, to the bit as one machine alone. What is in
/// the file already is not traced again. Gives the passes it holds. Error: as deliver(), or a file of another
/// trace.
Result<int> tracePart(const Project& project, size_t shot, AssetStore& assets, GeometryCache& cache,
                      const DeliverOptions& options, const TracePart& part, const std::filesystem::path& file,
                      Progress& progress);

/// About the most that a delivery of that size holds at a time, photo and passes, in bytes; models and
/// panoramas come on top.
size_t deliveryBytes(const Shot& shot, int width, int height);

/// Limits tbb to `threads` for the object's life; 0 leaves all cores.
class ThreadLimit {
 public:
  explicit ThreadLimit(int threads);
  ~ThreadLimit();

 private:
  struct Control;
  std::unique_ptr<Control> control_;
};

}  // namespace dusk
