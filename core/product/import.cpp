#include "core/product/import.h"

#include <unistd.h>

#include <cstdlib>

#include "core/base/cache_folder.h"
#include "core/base/files.h"
#include "core/base/hash.h"
#include "core/base/installed.h"
#include "core/base/run_program.h"
#include "core/base/words.h"
#include "core/product/model_file.h"
#include "core/product/reading_pace.h"
#include "core/product/side_files.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

/// Raise it when a reader's result for the same file changes.
constexpr int cacheGeneration = 5;

// Only what matters for the kind of file: a mesh is not read again for another chord. In whole nanometres and
// hundredths of a degree; "-": as the file says.
std::string chordText(const fs::path& file, const ReadOptions& options) {
  return isCadFile(file) ? std::to_string(std::llround(options.chordM * 1e9)) : "-";
}
std::string creaseText(const fs::path& file, const ReadOptions& options) {
  return options.creaseDegrees && !isCadFile(file)
             ? std::to_string(std::llround(*options.creaseDegrees * 100))
             : "-";
}

/// Takes the lines "@PHASE FRACTION" that are whole out of what was said.
void followPhases(std::string& said, ReadingClock& clock) {
  for (size_t end; !said.empty() && said[0] == '@' && (end = said.find('\n')) != std::string::npos;) {
    char* rest = nullptr;
    const long phase = std::strtol(said.c_str() + 1, &rest, 10);
    const double done = std::strtod(rest, nullptr);
    if (phase >= 0 && phase < long(readPhases))
      clock.tell(ReadPhase(phase), done, ReadingClock::Clock::now());
    said.erase(0, end + 1);
  }
}

/// Runs the worker, collects what it says, and ends it at the time limit or on cancel.
std::optional<ProgramEnd> runWorker(const fs::path& file, const fs::path& out, Progress& progress,
                                    const ReadOptions& options, const ImportLimits& limits,
                                    ReadingClock& clock) {
  return runProgram(
      importWorkerProgram(),
      {file, out, std::to_string(limits.memoryBytes), chordText(file, options), creaseText(file, options)},
      limits.seconds, progress, [&](std::string& said) {
        followPhases(said, clock);
        progress.report(clock.fraction(ReadingClock::Clock::now()));
      });
}

Result<Model> modelFromFile(const fs::path& file) {
  auto bytes = readFile(file, size_t{16} << 30);
  if (!bytes) return bytes.error();
  return modelFromBytes(*bytes);
}

}  // namespace

fs::path importWorkerProgram() {
  if (const char* said = std::getenv("DUSK_IMPORT_WORKER"); said && *said) return said;
  return helperProgram("dusk-import-worker");
}

Result<Model> importModel(const fs::path& file, Progress& progress, const ReadOptions& options,
                          const ImportLimits& limits) {
  const auto hash = hashFile(file);
  if (!hash) return hash.error();
  const fs::path folder = cacheFolder();
  const std::string key = *hash + "-" + std::to_string(cacheGeneration) + "-" + chordText(file, options) +
                          "-" + creaseText(file, options);
  const fs::path cached = folder / (key + ".model");
  std::error_code ignored;
  if (fs::exists(cached, ignored))
    if (auto model = modelFromFile(cached); model && SideFiles::areAsBefore(model->sideFiles, file))
      return model;
  fs::create_directories(folder, ignored);
  const fs::path half = folder / ("half-" + std::to_string(::getpid()) + "-" + key);
  const std::string kind = endingOf(file);
  const auto size = fs::file_size(file, ignored);
  progress.begin();
  ReadingClock clock(paceOf(folder, kind), ignored ? 0 : double(size) / 1e6, ReadingClock::Clock::now());
  const auto end = runWorker(file, half, progress, options, limits, clock);
  const auto give = [&](Result<Model> result) {
    fs::remove(half, ignored);
    return result;
  };
  const std::string name = file.filename().string();
  if (!end)
    return give(Error{
        words("The installation is incomplete: the import program could not be started. Install Gentle Dusk "
              "again.")});
  if (end->cancelled) return give(cancelledError());
  if (end->tooLong)
    return give(Error{words("Reading ") + name + words(" took longer than ") +
                          std::to_string(int(limits.seconds)) +
                          words(" s and was ended. Export it simpler, or as another format."),
                      ErrorKind::unreadable});
  if (end->broke())
    return give(Error{words("The reader broke on ") + name +
                          words(". Nothing else is harmed; export the file again, or as another format."),
                      ErrorKind::unreadable});
  if (end->exitCode() != 0)
    return give(
        Error{end->said.empty() ? words("Cannot read ") + name + "." : end->said, ErrorKind::unreadable});
  auto model = modelFromFile(half);
  if (model) {
    fs::rename(half, cached, ignored);
    // What is over in an instant says little of what grows with the file.
    if (clock.seconds(ReadingClock::Clock::now()) > 0.3)
      learnPace(folder, kind, clock.measured(ReadingClock::Clock::now()));
  }
  progress.report(1);
  return give(std::move(model));
}

}  // namespace dusk
