#pragma once
#include "core/picture/file_writer.h"

namespace dusk {

// Pictures whose libraries take all of them at once: 8-bit codes, row by row from the top, R, G, B and A
// where the kind has that. Error, in a sentence: the disk, or what the library says.

/// AVIF (AV1 Image File Format), with the profile and what is said of the picture. At full quality no code is
/// lost.
Outcome writeAvif(const std::filesystem::path& file, const PictureFileKind& kind,
                  const std::vector<char>& rows);
/// WebP of which no code is lost, without what is said of it.
Outcome writeLosslessWebp(const std::filesystem::path& file, const PictureFileKind& kind,
                          const std::vector<char>& rows);

}  // namespace dusk
