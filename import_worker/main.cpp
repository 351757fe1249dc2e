// Reads one model file and writes it as modelBytes. Arguments: FILE OUT MEMORY_BYTES CHORD_NM|-
// CREASE_CENTIDEGREES|-
// ("-": as usual). On standard output it tells how far it is in lines "@PHASE FRACTION"; on failure one
// sentence follows, and it exits 1. It may crash: that is why it is a process of its own.
#include <tbb/global_control.h>

#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <fstream>
#include <mutex>
#include <new>

#include "core/product/model_file.h"
#include "core/product/read_model.h"
#include "import_worker/confine.h"
#include "import_worker/limits.h"

namespace {

/// Every phase as it begins, and then some twenty times a second. Called from any thread.
void tell(dusk::ReadPhase phase, double done) {
  static std::mutex mutex;
  static int told = -1;
  static std::chrono::steady_clock::time_point when;
  const std::lock_guard lock(mutex);
  const auto now = std::chrono::steady_clock::now();
  if (int(phase) == told && now - when < std::chrono::milliseconds(50)) return;
  told = int(phase), when = now;
  std::printf("@%d %.4f\n", told, done);
  std::fflush(stdout);
}

}  // namespace

int main(int argc, char** argv) {
  if (argc != 6) {
    std::puts("usage: dusk-import-worker FILE OUT MEMORY_BYTES CHORD_NM|- CREASE_CENTIDEGREES|-");
    return 2;
  }
  dusk::ReadOptions options;
  if (*argv[4] != '-') options.chordM = std::strtod(argv[4], nullptr) * 1e-9;
  if (*argv[5] != '-') options.creaseDegrees = std::strtod(argv[5], nullptr) / 100;
  limitMemory(argv[3]);
  std::ofstream out(argv[2], std::ios::binary);
  confine();  // from here on nothing else can be written to
#if defined(__SANITIZE_THREAD__)
  // The task library is not built for the sanitizer, which would take its hand-overs for races.
  const tbb::global_control alone(tbb::global_control::max_allowed_parallelism, 1);
#endif
  try {
    const auto model = dusk::readModel(argv[1], options, tell);
    if (!model) {
      std::fputs(model.error().message.c_str(), stdout);
      return 1;
    }
    // Nobody else knows of the file yet, and one that is cut short is told by its end: no need to wait for
    // the disk.
    tell(dusk::ReadPhase::keep, 0);
    const std::string bytes = dusk::modelBytes(*model);
    if (!out.write(bytes.data(), std::streamsize(bytes.size())).flush()) {
      std::fputs("The imported model cannot be kept: the disk is full, or the cache cannot be written to.",
                 stdout);
      return 1;
    }
  } catch (const std::bad_alloc&) {
    std::fputs("The model needs more memory than is allowed for one import. Export it simpler.", stdout);
    return 1;
  }
  return 0;
}
