#pragma once
#include <optional>
#include <string>
#include <vector>

#include "core/base/progress.h"

namespace dusk::batch {

/// What was typed.
struct Request {
  std::string file, shot, out, size, product;
  std::vector<std::string> files;
  std::vector<double> ev;
  std::optional<int> samples, threads;
  std::optional<double> seconds, noise;
  bool json = false, allShots = false;
};

/// Each prints its answer and returns the exit code.
int info(const Request& request, Progress& progress);
int vantage(const Request& request, Progress& progress);
int render(const Request& request, Progress& progress);
int prove(const Request& request, Progress& progress);
int panoramaMerge(const Request& request, Progress& progress);
int panoramaAlign(const Request& request, Progress& progress);
int panoramaSun(const Request& request, Progress& progress);
int gather(const Request& request, Progress& progress);
int dress(const Request& request, Progress& progress);
int match(const Request& request, Progress& progress);

}  // namespace dusk::batch
