#pragma once
#include <filesystem>
#include <span>

#include "core/base/result.h"
#include "core/product/model.h"

namespace dusk {

/// The worker's way of handing a model over, and the cache's: a flat binary file. Not an exchange format; a
/// file of another version is refused and made anew.
std::string modelBytes(const Model& model);
/// Error (unreadable): truncated, another version, or indices that point outside.
Result<Model> modelFromBytes(std::span<const char> bytes);

}  // namespace dusk
