#pragma once
#include <array>
#include <filesystem>
#include <optional>

namespace dusk {

/// How coarsely a JPEG rounds the frequencies of its blocks (ITU-T T.81, sections A.3.4 and B.2.4.1), as the
/// picture lies in the file.
struct JpegBlocks {
  std::array<int, 64> brightness{}, colour{};  ///< steps, rows from the top; colour all 0 in a grey picture
  std::array<int, 2> colourStep{1, 1};         ///< pixels across and down to one value of colour
};

/// By the file's own tables, before its first scan. Nothing where it is no JPEG of brightness and colour
/// differences (JFIF), or one that is damaged.
std::optional<JpegBlocks> readJpegBlocks(const std::filesystem::path& file);

}  // namespace dusk
