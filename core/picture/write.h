#pragma once
#include <filesystem>
#include <map>
#include <memory>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/picture/picture.h"

namespace dusk {

/// Writes display code values (0..1, rounded to the nearest of 256) as an 8-bit PNG, tagged sRGB. One to four
/// channels; a fourth is alpha. Atomic.
Outcome writePng8(const std::filesystem::path& file, const Picture& picture);

/// One part of a multi-part EXR: its name, and a picture whose channel names become the file's.
struct ExrPart {
  std::string name;
  const Picture* picture = nullptr;
  bool fullFloat = false;  ///< 32-bit channels (depth, position); else 16-bit half.
  std::map<std::string, std::string> metadata{};
};
/// All parts must have one size. Compression: ZIP. Atomic.
Outcome writeExr(const std::filesystem::path& file, const std::vector<ExrPart>& parts);

}  // namespace dusk
