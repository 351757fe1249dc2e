#include "core/product/import.h"

#include <fcntl.h>
#include <poll.h>
#include <signal.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

#include <chrono>
#include <cstdlib>

#include "core/base/files.h"
#include "core/base/hash.h"
#include "core/product/model_file.h"
#include "core/product/reading_pace.h"

extern char** environ;

namespace dusk {
namespace fs = std::filesystem;
namespace {

/// Raise it when a reader's result for the same file changes.
constexpr int cacheGeneration = 4;

fs::path cacheFolder() {
  if (const char* xdg = std::getenv("XDG_CACHE_HOME"); xdg && *xdg) return fs::path(xdg) / "gentle-dusk";
  if (const char* home = std::getenv("HOME"); home && *home) return fs::path(home) / ".cache" / "gentle-dusk";
  return fs::temp_directory_path() / "gentle-dusk";
}

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

struct WorkerEnd {
  int status = 0;
  std::string said;
  bool tooLong = false, cancelled = false;
};

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
std::optional<WorkerEnd> runWorker(const fs::path& file, const fs::path& out, Progress& progress,
                                   const ReadOptions& options, const ImportLimits& limits,
                                   ReadingClock& clock) {
  int pipeEnds[2];
  if (::pipe2(pipeEnds, O_CLOEXEC) != 0) return {};
  posix_spawn_file_actions_t actions;
  posix_spawn_file_actions_init(&actions);
  posix_spawn_file_actions_adddup2(&actions, pipeEnds[1], STDOUT_FILENO);
  posix_spawn_file_actions_addopen(&actions, STDERR_FILENO, "/dev/null", O_WRONLY, 0);
  const std::string program = importWorkerProgram(), in = file, to = out,
                    memory = std::to_string(limits.memoryBytes), chord = chordText(file, options),
                    crease = creaseText(file, options);
  char* arguments[] = {const_cast<char*>(program.c_str()),
                       const_cast<char*>(in.c_str()),
                       const_cast<char*>(to.c_str()),
                       const_cast<char*>(memory.c_str()),
                       const_cast<char*>(chord.c_str()),
                       const_cast<char*>(crease.c_str()),
                       nullptr};
  pid_t pid = 0;
  const int code = ::posix_spawn(&pid, program.c_str(), &actions, nullptr, arguments, environ);
  posix_spawn_file_actions_destroy(&actions);
  ::close(pipeEnds[1]);
  if (code != 0) {
    ::close(pipeEnds[0]);
    return {};
  }
  WorkerEnd end;
  const auto begun = std::chrono::steady_clock::now();
  for (bool open = true; open;) {
    pollfd watch{pipeEnds[0], POLLIN, 0};
    if (::poll(&watch, 1, 20) > 0) {
      char block[4096];
      const ssize_t got = ::read(pipeEnds[0], block, sizeof block);
      if (got > 0 && end.said.size() < 100'000) end.said.append(block, size_t(got));
      open = got > 0;
    }
    const std::chrono::duration<double> spent = std::chrono::steady_clock::now() - begun;
    followPhases(end.said, clock);
    progress.report(clock.fraction(ReadingClock::Clock::now()));
    end.tooLong = spent.count() > limits.seconds;
    end.cancelled = progress.cancelled();
    if (end.tooLong || end.cancelled) {
      ::kill(pid, SIGKILL);
      break;
    }
  }
  ::close(pipeEnds[0]);
  ::waitpid(pid, &end.status, 0);
  return end;
}

Result<Model> modelFromFile(const fs::path& file) {
  auto bytes = readFile(file, size_t{16} << 30);
  if (!bytes) return bytes.error();
  return modelFromBytes(*bytes);
}

}  // namespace

fs::path importWorkerProgram() {
  if (const char* said = std::getenv("DUSK_IMPORT_WORKER"); said && *said) return said;
  std::error_code code;
  const fs::path folder = fs::read_symlink("/proc/self/exe", code).parent_path();
  for (const fs::path& candidate :
       {folder / "dusk-import-worker", folder / "../import_worker/dusk-import-worker",
        folder / "../../import_worker/dusk-import-worker", folder / "../libexec/dusk-import-worker"})
    if (fs::exists(candidate, code)) return fs::weakly_canonical(candidate, code);
  return folder / "dusk-import-worker";
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
    if (auto model = modelFromFile(cached)) return model;
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
    return give(
        Error{"The installation is incomplete: the import program could not be started. Install Gentle Dusk "
              "again."});
  if (end->cancelled) return give(cancelledError());
  if (end->tooLong)
    return give(Error{"Reading " + name + " took longer than " + std::to_string(int(limits.seconds)) +
                          " s and was ended. Export it simpler, or as another format.",
                      ErrorKind::unreadable});
  if (WIFSIGNALED(end->status))
    return give(Error{"The reader broke on " + name +
                          ". Nothing else is harmed; export the file again, or as another format.",
                      ErrorKind::unreadable});
  if (WEXITSTATUS(end->status) != 0)
    return give(Error{end->said.empty() ? "Cannot read " + name + "." : end->said, ErrorKind::unreadable});
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
