#pragma once
#include <filesystem>

#include "core/base/result.h"
#include "core/picture/picture.h"

namespace dusk {

/// What a film file holds.
struct FilmFacts {
  int width = 0, height = 0, pictures = 0;
  double picturesPerSecond = 0;
  std::string codec, primaries, transfer, matrix;  ///< as FFmpeg names them
};
/// Error: no film, or one that cannot be read.
Result<FilmFacts> readFilm(const std::filesystem::path& file);
/// One of its pictures, counted from 0, as display code values; the last where it has fewer. Error: as
/// readFilm().
Result<Picture> readFilmPicture(const std::filesystem::path& file, int picture);

}  // namespace dusk
