#pragma once
#include <filesystem>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/product/formats.h"
#include "core/product/model.h"

namespace dusk {

struct ImportLimits {
  double seconds = 300;
  size_t memoryBytes = size_t{8} << 30;
};

/// Reads a model file in a process of its own, so that a reader that crashes, loops or eats memory ends as
/// one sentence here. Finished imports are kept in the user's cache by content hash and options and used
/// again. Error: unreadable (with the reader's words), the reader crashed, took too long or too much memory,
/// or cancelled.
Result<Model> importModel(const std::filesystem::path& file, Progress& progress,
                          const ReadOptions& options = {}, const ImportLimits& limits = {});

/// Where the worker program is: $DUSK_IMPORT_WORKER, or beside this program, or in the build tree next to it.
std::filesystem::path importWorkerProgram();

}  // namespace dusk
