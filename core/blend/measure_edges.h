#pragma once
#include <optional>

#include "core/base/progress.h"
#include "core/picture/picture.h"

namespace dusk {

/// A straight edge between two flat sides, fitted in a small window.
struct EdgeFit {
  Vec2d at;                        ///< on the edge, pixels
  Vec2d across;                    ///< unit, from dark to bright
  std::array<double, 3> sigma{};   ///< of the Gaussian whose integral each channel follows, pixels
  std::array<double, 3> offset{};  ///< where each channel's edge lies along `across`, pixels from `at`
  double contrast = 0;             ///< of luminance, scene-linear
  double rms = 0;                  ///< of what the fit leaves, over the contrast
};

/// Clean edges of a picture in scene-linear light (3 channels): one at most in each cell of 20 pixels.
/// `noise`: deviation of its light; what does not stand out of it is no edge.
std::vector<EdgeFit> cleanEdges(const Picture& light, double noise, const Progress& progress);

/// How a lens and a camera draw edges.
struct Softness {
  std::array<double, 3> sigma{};  ///< of each channel, pixels
  double margin = 0;              ///< one sigma, as a share
  double halo = 0, haloPx = 1.5;  ///< of sharpening: see LensLook
  int edges = 0;
};
/// Of the sharpest edges that agree among those near `near` (within `radius`, pixels; all where they are too
/// few there): others are soft by themselves. Nothing with less than six.
std::optional<Softness> softnessOf(const std::vector<EdgeFit>& edges, const Picture& light,
                                   const std::optional<Vec2d>& near, double radius);

/// The blur (sigma, pixels) that makes an edge of a render of own softness `own` measure as `wanted`: found
/// by measuring blurred edges, as a pixel's square and a few weights are no Gaussian. 0 where it is as soft
/// already.
double blurFor(double wanted, double own);
/// What a render's edge measures after such a blur.
double softnessAfter(double blur);

/// By how much red and blue are drawn larger than green about the middle, in thousandths, with the margins;
/// nothing where edges tell too little.
struct Fringes {
  Vec2d scale, margin;
};
std::optional<Fringes> fringesOf(const std::vector<EdgeFit>& edges, int width, int height);

}  // namespace dusk
