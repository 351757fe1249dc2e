#pragma once
#include <array>
#include <string>
#include <vector>

#include "core/picture/picture.h"
#include "core/trace/sample.h"

namespace dusk {

/// One light's share of everything.
struct GroupPasses {
  std::string name;
  std::array<Picture, componentCount> part;  ///< R, G, B, premultiplied; empty where nothing is in it
  Picture with, without;                     ///< R, G, B: irradiance of the ground
  Picture mirror;                            ///< R, G, B; empty without gloss
};

/// What shows at a pixel, largest share first. An id is the index of a part among all placed ones, plus 1.
struct Covers {
  static constexpr int most = 6;
  struct Cover {
    uint32_t id = 0;
    float share = 0;
  };
  std::array<Cover, most> list;
};

/// Rows of a picture, from the top: [first, end).
struct Rows {
  int first = 0, end = 0;
  int count() const { return end - first; }
};

/// The finished passes of a render, or of some rows of it. All have one size.
struct Passes {
  Picture beauty;      ///< R, G, B: light from the product, premultiplied
  Picture alpha;       ///< A: cover by the product
  Picture ratio;       ///< R, G, B: light on the ground with the product over without; exactly 1 where it
                       ///< changes nothing
  Picture reflection;  ///< R, G, B: change of what a glossy ground mirrors; empty without gloss
  Picture albedo;      ///< R, G, B, premultiplied
  Picture normal;      ///< N.X, N.Y, N.Z in the world, unit where covered
  Picture depth;       ///< Z along the optical axis, metres; 0 where nothing is

  // What only a delivery or the pass browser asks for.
  std::vector<GroupPasses> groups;
  Picture position;   ///< P.X, P.Y, P.Z in the world, metres
  Picture facing;     ///< Y: cosine between normal and view, premultiplied
  Picture occlusion;  ///< Y: free share of the near surroundings, premultiplied; empty when not asked for
  std::vector<Covers> covers;

  float reduction = 1;  ///< pixels of the picture, each way, to one of these
  PixelArea picture{};  ///< where that lies in these, if they go beyond its border; empty: it is all of them

  int width() const { return beauty.width; }
  int height() const { return beauty.height; }
};

}  // namespace dusk
