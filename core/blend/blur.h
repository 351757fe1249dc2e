#pragma once
#include "core/blend/node.h"

namespace dusk {

/// An even blur by a Gaussian of that deviation, in pixels of the node, of any number of channels; beyond
/// the border its pixels go on. Small ones by the discrete Gaussian (Lindeberg 1990, "Scale-Space for
/// Discrete Signals"), which has just that variance; wide ones on a smaller picture of a pyramid whose own
/// blur is part of it (Burt & Adelson 1983, "The Laplacian Pyramid as a Compact Image Code"). The same pixels
/// whatever piece is asked for.
NodePtr blurred(const NodePtr& of, double sigma);
/// The same with a deviation for each channel, all below about 4.
NodePtr blurredApart(const NodePtr& of, const std::vector<double>& sigmas);

/// Several even blurs of one picture, weighed and added.
NodePtr blurredSum(const NodePtr& of, const std::vector<double>& sigmas, const std::vector<float>& weights);

/// What a blur of that deviation takes away, so many times on top: an unsharp mask.
NodePtr unsharp(const NodePtr& of, double sigma, float amount);

/// Weights of the discrete Gaussian from the middle outwards; they sum to 1 over both sides.
std::vector<float> gaussianWeights(double sigma);
/// What the blur leaves of the variance of white noise.
double whiteNoiseLeft(double sigma);

}  // namespace dusk
