#pragma once
#include "core/blend/measure_edges.h"
#include "core/blend/measure_grain.h"

namespace dusk {

/// A picture as a camera of known character would have taken it.
struct MadeUpPhoto {
  Picture codes, light;       ///< display code values 0..1 rounded to 8 bits, and their scene-linear light
  double grain = 0;           ///< deviation at middle grey, code values
  double read = 0, shot = 0;  ///< variance of light: read + shot * light
  Vec3d channel{1, 1, 1};     ///< deviation of each over green's
  std::vector<double> correlation;
  std::array<double, 3> edgeSigma{};
  double halo = 0;
  Vec2d fringe{0, 0};
  double vignette = 0;  ///< share of light lost at the corner
  double sigmaAt(double code, int channel) const;
};
/// Of another kind for each seed: some soft, some sharpened, some without grain or without fringes.
/// `vignette`: share of light lost at the corner, in a shape of its own for each seed.
MadeUpPhoto madeUpPhoto(unsigned seed, int width = 1200, int height = 800, double vignette = 0);

/// The correlation of noise that was white before a blur of that sigma, pixels: see GrainLook.
std::vector<double> correlationOfBlur(double sigmaPx);

/// What is found of the grain of 8-bit code values, 0..1.
GrainFound grainOf(const Picture& codes);
/// Deviation of a grain at a code value, between those it is told at.
double sigmaAt(const GrainLook& look, double code, int channel);

}  // namespace dusk
