#pragma once
#include <filesystem>

#include "core/base/result.h"

namespace dusk::demo {

/// A shelf (docs/shelf.md) of three made-up skies and three made-up surfaces, each with a thumbnail and a
/// small version, for demo/outside/shelf to serve.
Outcome writeShelf(const std::filesystem::path& folder, int width);

}  // namespace dusk::demo
