#pragma once
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

/// Adds passes to the films of scenes that isSameBut() each other, until each holds `passes`: to the bit what
/// render() would. A sample whose path met none of the differing parts is the same in all, and traced once.
/// The films are of one size, window and number of passes done. Cancelled by any of `progresses`, all of
/// which are told: the films must be thrown away; returns false.
bool renderTogether(std::span<const Scene* const> scenes, std::span<Film* const> films,
                    const DifferingParts& differing, int passes, std::span<Progress* const> progresses);

}  // namespace dusk
