#pragma once
#include <array>
#include <vector>

#include "core/picture/picture.h"
#include "core/trace/integrator.h"

namespace dusk {

/// The finished passes of a render. All have the size of the film.
struct Passes {
  Picture beauty;  ///< R, G, B: light from the product, premultiplied
  Picture alpha;   ///< A: cover by the product
  Picture ratio;   ///< R, G, B: light on the ground with the product over without; exactly 1 where it changes
                   ///< nothing
  Picture albedo;  ///< R, G, B, premultiplied
  Picture normal;  ///< N.X, N.Y, N.Z in the world, unit where covered
  Picture depth;   ///< Z along the optical axis, metres; 0 where nothing is

  int width() const { return beauty.width; }
  int height() const { return beauty.height; }
};

/// Sums of samples per pixel. A pixel's sum is made by one thread in sample order, so that the same samples
/// give the same film to the last bit.
class Film {
 public:
  Film(int width, int height);
  int width() const { return width_; }
  int height() const { return height_; }

  void add(int x, int y, const PixelSample& sample);
  /// Whether, so far, the product shows at the pixel or changes its light.
  bool touched(int x, int y) const;
  Passes resolve() const;

  /// Number of passes already in it; render() goes on from there.
  int passesDone = 0;
  /// After the thin first passes: 1 where it is worth going on. Empty before.
  std::vector<unsigned char> active;

 private:
  struct Sums {
    Rgb beauty{0, 0, 0}, with{0, 0, 0}, without{0, 0, 0}, albedo{0, 0, 0};
    Vec3f normal{0, 0, 0};
    float alpha = 0, depth = 0, count = 0;
  };
  int width_, height_;
  std::vector<Sums> sums_;
};

}  // namespace dusk
