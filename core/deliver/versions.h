#pragma once
#include <string>
#include <utility>
#include <vector>

namespace dusk {

/// The libraries that the picture depends on, and which version of each is at work now.
std::vector<std::pair<std::string, std::string>> libraries();

/// What `--version` prints: program, commit, one line for each library.
std::string versions();

}  // namespace dusk
