#pragma once
#include <Eigen/Dense>
#include <vector>

#include "core/project/project.h"

/// First guesses for the vantage solver.
namespace dusk::vantage {

struct Candidate {
  Camera camera;
  Vec2d footprintSize{1, 1};
};

/// The vanishing point of the strokes of one run as a homogeneous vector in the normalised frame (origin at
/// the picture's middle, unit = half diagonal), robust to a minority of wrong strokes. Nothing with fewer
/// than two usable strokes.
std::optional<Eigen::Vector3d> vanishingPoint(const Evidence& evidence, Run run, int width, int height);

/// Every plausible start, in no particular order; empty when the evidence cannot carry one.
std::vector<Candidate> candidates(const Evidence& evidence, int width, int height);

/// Camera height taken while nothing says the scale.
inline constexpr double assumedHeightM = 1.5;

}  // namespace dusk::vantage
