#pragma once
#include <optional>
#include <string>

#include "core/base/progress.h"

namespace dusk::batch {

/// What was typed.
struct Request {
  std::string file, shot, out, size;
  std::optional<int> samples, threads;
  std::optional<double> seconds, noise;
  bool json = false;
};

/// Each prints its answer and returns the exit code.
int info(const Request& request);
int vantage(const Request& request, Progress& progress);
int render(const Request& request, Progress& progress);
int prove(const Request& request, Progress& progress);

}  // namespace dusk::batch
