#pragma once
#include "core/picture/fill.h"

/// What a hole is filled from, and with which pieces: the two steps of `filled`.
namespace dusk::fill {

using Holes = std::vector<unsigned char>;  ///< [pixel]

/// A picture with a hole, at one size.
struct Sized {
  int width = 0, height = 0;
  std::vector<float> rgb;  ///< [value]
  Holes hole;
  std::vector<float> size;  ///< [pixel] as FillHow
  bool inside(int x, int y) const { return x >= 0 && y >= 0 && x < width && y < height; }
  bool known(int x, int y) const { return inside(x, y) && !hole[size_t(y) * width + x]; }
  const float* at(int x, int y) const { return &rgb[(size_t(y) * width + x) * 3]; }
};

/// The four neighbours of a pixel, in x and y.
inline constexpr int beside[4][2] = {{-1, 0}, {1, 0}, {0, -1}, {0, 1}};

/// By how much the hole's rim looks like other parts of the picture: so many at most, each of which tells
/// most of what those before it left untold. Another seed does without some.
std::vector<Shift> likelyShifts(const Sized& picture, size_t most, int seed);

/// [pixel] which of the shifts each pixel of the hole is taken by, -1 elsewhere, so that what meets fits: by
/// graph cuts (Boykov, Veksler, Zabih 2001, "Fast Approximate Energy Minimization via Graph Cuts"). Nothing
/// where no shift leads to known pixels.
std::vector<int> shiftMap(const Sized& picture, const std::vector<Shift>& shifts, const Progress& progress);

/// Moves each shift by up to so many pixels to where its own pixels in such a map fit best what lies beside
/// them, known or taken by another shift.
void refineShifts(const Sized& picture, std::vector<Shift>& shifts, const std::vector<int>& map, int by);

/// Moves the borders of such a map, pixel by pixel, to where they are seen less.
void settleBorders(const Sized& picture, const std::vector<Shift>& shifts, std::vector<int>& map, int rounds);

}  // namespace dusk::fill
