#pragma once
#include <filesystem>
#include <functional>

#include "core/base/result.h"
#include "core/picture/picture.h"

namespace dusk {

/// Endings of films, with their dot, in lower case.
const std::vector<std::string>& filmEndings();
bool isFilmFile(const std::filesystem::path& file);

/// What a film file holds.
struct FilmFacts {
  int width = 0, height = 0, pictures = 0;  ///< as it is shown: a film taken upright is upright
  double picturesPerSecond = 0;
  std::string codec, primaries, transfer, matrix;  ///< as FFmpeg names them
};
/// Error: no film, or one that cannot be read.
Result<FilmFacts> readFilm(const std::filesystem::path& file);
/// One of its pictures, counted from 0, as display code values; the last where it has fewer. Error: as
/// readFilm().
Result<Picture> readFilmPicture(const std::filesystem::path& file, int picture);
/// All its pictures in their order, turned as they are shown, until `take` has enough. Error: as readFilm().
Outcome eachFilmPicture(const std::filesystem::path& file, const std::function<bool(Picture&&)>& take);

}  // namespace dusk
