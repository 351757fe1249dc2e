#pragma once
#include "core/deliver/deliver.h"

namespace dusk {

struct FilmOptions {
  DeliverOptions each;  ///< of every picture; names and folder are those of the film
  std::filesystem::path
      pictures{};             ///< where they lie until all are there; empty: in a folder beside the film
  bool onlyPictures = false;  ///< they are traced; another call puts the film together
  int part = 1, parts = 1;    ///< on several machines each traces every so-manieth picture
};

struct FilmReport {
  std::vector<std::filesystem::path> files;  ///< none while pictures of other parts are missing
  std::vector<std::string> notes;
  int pictures = 0, traced = 0, width = 0, height = 0, samples = 0;
  double seconds = 0;
};

/// Renders all pictures of what moves in a shot, with its shutter, and hands over its films and sequences
/// (see isOfFilm()). A picture is traced as deliver() traces a still at its moment; its grain is its own, its
/// samples are the same in all, so that what stands still does not shimmer. Pictures are kept until the last
/// is there: when it was broken off, those need not be traced again, and the film comes out the same to the
/// byte. Error: as deliver(), nothing that is a film, or the film library's own refusal.
Result<FilmReport> deliverFilm(const Project& project, size_t shot, AssetStore& assets, GeometryCache& cache,
                               const FilmOptions& options, Progress& progress);

/// All that a shot asks for: its stills by deliver(), then its films by deliverFilm(). What is told of the
/// samples is of the stills, where there are any.
Result<DeliverReport> handOver(const Project& project, size_t shot, AssetStore& assets, GeometryCache& cache,
                               const FilmOptions& options, Progress& progress);

}  // namespace dusk
