#pragma once
#include "core/base/progress.h"
#include "core/trace/film.h"
#include "core/trace/scene.h"

/// Where samples are worth their time.
namespace dusk {

/// Takes pixels out of `film.samplingMask`, and lets go of them, where the product does not matter: all but
/// blocks in which it shows, with a margin, or changes the ground's light by more than the share `least`,
/// over five blocks each way: so little takes some ten thousand samples to tell. `gapPx`: how far the product
/// went between two of the moments seen so far; what lies in between matters, too. Where a product shows
/// everywhere, as in a set, nothing will ever be taken out: the mask counts as given from then on.
void leaveOutUntouched(Film& film, double least, double gapPx = 0);

/// How far the products go in the picture while the shutter is open, at most, in pixels.
double wayPx(const Scene& scene);

/// Takes pixels that are good enough out of `film.samplingMask`: those whose error, as it will be once the
/// noise is taken out, is below the scene's noise target, and with them those around. A pixel's own error is
/// but roughly known, so it is the mean over its neighbourhood that counts; looking further around keeps a
/// lucky one from ending early.
void retirePixels(Film& film, const Scene& scene, const Progress& progress);

/// Judging costs about as much as two passes: a few times while the samples double is enough.
bool isTimeToJudge(int passes);
inline constexpr int firstJudging = 16;

}  // namespace dusk
