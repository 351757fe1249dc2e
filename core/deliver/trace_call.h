#pragma once
#include <array>
#include <functional>

#include "core/base/progress.h"
#include "core/project/project.h"
#include "core/trace/film.h"
#include "core/trace/scene.h"

namespace dusk {

/// What comes when while a picture is traced, in the order of its bands, films and pieces: the same for all
/// pictures of a size.
using TraceStep = std::array<int, 4>;

/// A film, or a piece of one, that is to be traced as render() does.
struct TraceCall {
  const Scene& scene;
  Film& film;
  int passes;
  Progress& progress;
  const std::function<bool()>& afterPass;
  TraceStep step{};
};
/// In place of render(), and the same of the shot of a document. False: it was cancelled.
using TraceFilm = std::function<bool(const TraceCall&)>;
using TraceFilmOf = std::function<bool(const Project&, const TraceCall&)>;

}  // namespace dusk
