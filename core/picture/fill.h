#pragma once
#include <optional>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/picture/picture.h"

/// Holes in a photograph, filled with what lies round them.
namespace dusk {

/// From one spot to where it is copied from, in pixels.
struct Shift {
  int x = 0, y = 0;
  bool operator==(const Shift&) const = default;
};

struct FillHow {
  std::optional<Shift> from{};  ///< where it is taken from; nothing: that is found
  int seed = 1;                 ///< another one may find other spots to take from
  /// [pixel] logarithm of how large a thing looks there (pixels per metre), NaN where nobody knows: what is
  /// taken comes from where things look about as large. Empty: they look alike everywhere.
  std::vector<float> size{};
};

/// R, G, B code values of a piece of a photograph, with the pixels of the hole (`hole` not 0) made of others
/// of it; all others stay as they are. What is filled is put together of large pieces, each as it lies
/// elsewhere, so that it has the photo's own lines, texture and grain; their brightness is brought together
/// without a seam. The same for the same seed. He, Sun 2012, "Statistics of Patch Offsets for Image
/// Completion"; Pérez, Gangnet, Blake 2003, "Poisson Image Editing". Error: cancelled, or there is nothing to
/// take.
Result<Picture> filled(Picture codes, const std::vector<unsigned char>& hole, const FillHow& how,
                       Progress& progress);

}  // namespace dusk
