#pragma once
#include <filesystem>

#include "core/trace/passes.h"

namespace dusk::bench {

/// Relative mean squares on the product, and where it changes the place.
struct Errors {
  double product = 0, place = 0;
};
Errors errors(const Picture& is, const Picture& truth, const Passes& passes);

/// Prints the window's pictures of a project for so long after a surface was changed, against `many` samples.
void lookInWindow(const std::filesystem::path& file, int many, int width, double longest);

}  // namespace dusk::bench
