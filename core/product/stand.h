#pragma once
#include "core/product/model.h"

namespace dusk {

/// A line on the plane a product stands on.
struct StandLine {
  Vec2d point, direction;  ///< metres; unit length
};

/// Where a product comes to stand when it is pulled onto lines.
struct StandSnap {
  double xM = 0, yM = 0;
  std::vector<StandLine> lines;  ///< it now touches: none, one or two that cross
};

/// Lines along the runs that a product may be stood against: along +X at these y, along +Y at these x,
/// metres.
struct StandLines {
  std::vector<double> alongA{0}, alongB{0};
};

/// Pulls a placement onto the lines nearer than `reachM`. A product that is turned along a line brings its
/// near side onto it, or its middle where that is nearer; any other its middle.
StandSnap snappedToLines(const StandLines& lines, const Product& product, const Placement& placement,
                         const Model& model, double reachM);

/// Whether a spot lies on the top of a stand-in that has one.
bool isOnTop(const StandIn& standIn, const Vec2d& spot);
/// The highest stand-in top under a spot, no higher than `belowM`; nullptr where that is the ground.
const StandIn* topUnder(const Shot& shot, const Vec2d& spot, double belowM = 1e9);

/// `degrees` brought onto the nearest run when it is within `reach`.
double snappedTurn(double degrees, double reach);

}  // namespace dusk
