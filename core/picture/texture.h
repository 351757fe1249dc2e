#pragma once
#include <filesystem>
#include <span>
#include <vector>

#include "core/base/result.h"

namespace dusk {

/// 8-bit RGBA as stored, rows from the top.
struct Texture8 {
  int width = 0, height = 0;
  std::vector<uint8_t> rgba;
};

/// Reads a PNG, JPEG, TIFF or the like without any change of its code values. Error (unreadable): not a
/// picture, damaged, or larger than 16384 pixels a side.
Result<Texture8> readTexture(const std::filesystem::path& file);
/// The same from a file's bytes; `name` is for the message and to tell the kind by its ending.
Result<Texture8> readTexture(std::span<const char> bytes, const std::string& name);

}  // namespace dusk
