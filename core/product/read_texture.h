#pragma once
#include <filesystem>
#include <span>

#include "core/base/result.h"
#include "core/product/model.h"

namespace dusk {

/// Reads a PNG, JPEG, TGA, BMP or PSD without any change of its code values (16 bits become 8). Error
/// (unreadable): not such a picture, damaged, or larger than 16384 pixels a side.
Result<FileTexture> readTexture(const std::filesystem::path& file);
/// The same from a file's bytes; `name` is for the message and the result.
Result<FileTexture> readTexture(std::span<const char> bytes, const std::string& name);

}  // namespace dusk
