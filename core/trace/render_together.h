#pragma once
#include <functional>
#include <span>

#include "core/base/progress.h"
#include "core/trace/film.h"
#include "core/trace/scene.h"

namespace dusk {

/// [instance][part]: 1 for parts that may look other from scene to scene.
using DifferingParts = std::vector<std::vector<unsigned char>>;

/// Whether scenes can be rendered together: but for how those parts look they are one, as far as scenes tell.
/// What a part gives off must be the same in all, and nothing may move. That the shots are lit, seen and
/// rendered alike otherwise is the caller's to know.
bool isSameBut(const Scene& a, const Scene& b, const DifferingParts& differing);

/// One of several films that are rendered together.
struct FilmOfMany {
  const Scene* scene;
  Film* film;
  Progress* progress;
  std::function<bool()> afterPass{};  ///< may end it early
  bool isTraced = false;              ///< false: it was cancelled, and must be thrown away
};

/// Adds passes to the films of scenes that isSameBut() each other, until each holds `passes`: to the bit what
/// render() would. A sample whose path met none of the differing parts is the same in all, and traced once.
/// The films are of one size and window. One that is cancelled leaves the others be.
void renderTogether(std::span<FilmOfMany> films, const DifferingParts& differing, int passes);

}  // namespace dusk
