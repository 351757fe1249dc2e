#pragma once
#include <filesystem>

namespace dusk {

/// Prints how fast a tree of 5,000 parts and a product of a million triangles are in the hand.
void bigProducts(const std::filesystem::path& demo);

}  // namespace dusk
