#pragma once
#include <random>

#include "core/vantage/camera.h"

/// Cameras and evidence with a known truth, for measuring the vantage solver against it.
namespace dusk::study {

inline constexpr int width = 1920, height = 1280;

/// 18 to 135 mm equivalent, tilt -35 to +10 degrees, roll +/-5, k1 -0.15 to +0.05, run b anywhere from ahead
/// to the side; 0.5 to 3 m up.
Camera someCamera(std::mt19937& random);

struct Drawing {
  Evidence exact, drawn;  ///< without and with noise; gross outliers only in `drawn`
  std::string outlier;    ///< id of the stroke that is one; empty when none
};

/// `perRun` strokes of five points along random edges of each run asked for, each over 20 to 60 % of the
/// frame's chord along it, drawn with `noise` px.
Drawing strokes(const Camera& camera, std::mt19937& random, const std::vector<Run>& runs, int perRun,
                double noise, bool outlier);

/// The four corners of a rectangle on the ground of known size, seen over about a third of the frame; nothing
/// when the camera sees too little ground.
std::optional<Drawing> footprint(const Camera& camera, std::mt19937& random, double noise);

/// Pins on six points of a box-shaped volume before the camera.
Drawing pins(const Camera& camera, std::mt19937& random, int count, double noise);

}  // namespace dusk::study
