#pragma once
#include "core/trace/film.h"

/// A film is judged in pieces that know nothing of one another, so that each can be traced for itself, on any
/// machine and in any order, and comes out as all together would.
namespace dusk {

inline constexpr int slabSize = 128;
static_assert(slabSize % Film::tileSize == 0);

/// The pieces of a part of the picture, row by row: cut where both coordinates are multiples of their size.
std::vector<Film::Window> slabsOf(const Film::Window& window);
/// How many of its pixels are worth going on with: all, while nothing is known.
size_t activeIn(const Film& film, const Film::Window& window);

/// Pixels and sampling mask of a piece, as bytes for this machine's kind. Requires tiles' corners.
std::string packed(const Film& film, const Film::Window& window);
/// Puts them into a film of the same size and groups. False when that is not what they are.
bool unpack(const std::string& bytes, const Film::Window& window, Film& film);

}  // namespace dusk
