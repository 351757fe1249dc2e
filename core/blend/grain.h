#pragma once
#include "core/blend/operation.h"

namespace dusk {

/// Noise of unit variance with R, G and B, the same at a pixel whatever piece is asked for: white noise drawn
/// by a hash of pixel and seed, filtered so that neighbours and channels correlate as given (see GrainLook;
/// Galerne, Gousseau & Morel 2011, "Random Phase Textures: Theory and Synthesis", for why that is all there
/// is to know of it). `whole` in pixels of the plate.
NodePtr noiseField(const PixelArea& whole, const std::vector<double>& correlation, const Vec3d& channels,
                   int seed);

/// The power of such noise at a frequency of (u, v) turns in n pixels.
double grainPower(const std::vector<double>& correlation, int u, int v, int n);

/// The kernel of that filter, (2 reach + 1) squared, of unit energy.
std::vector<float> grainKernel(const std::vector<double>& correlation);

/// Its deviation at middle grey, R, G, B in code values; 0 without any.
Vec3d greyGrain(const GrainLook& grain);

/// By how much averaging over 1 / scale pixels each way lowers the deviation of such noise; 1 for scale >= 1.
double grainLeft(const std::vector<double>& correlation, double scale);

/// The photo's grain put on `picture` where it lacks: where the product covers it (`cover`, 3 channels), and
/// where its shadow darkened the plate (`before`) and the plate's grain with it.
NodePtr grained(const NodePtr& picture, const NodePtr& before, const NodePtr& cover, const GrainLook& grain,
                double amount, const BlendFrame& frame);

}  // namespace dusk
