#pragma once
#include "core/base/progress.h"
#include "core/trace/film.h"

namespace dusk {

/// How far about each pixel is looked for what is alike: near takes a third of the time.
enum class Care { thorough, quick };

/// The film's passes with the noise taken out: each component by joint non-local means, guided by normal,
/// position and albedo, by the albedo of what shows through glass or in the ground, and by the measured
/// variance (Buades, Coll & Morel 2005, "A Non-Local Algorithm for Image Denoising"; Rousselle, Manzi &
/// Zwicker 2013, "Robust Denoising using Feature and Color Information"). Diffuse, mirrored and transmitted
/// light have their colour divided out before and put back after; the ground is filtered as light with and
/// without the product, so that a ratio of one stays one. Components and groups are filtered with the same
/// weights: the beauty is still their sum. `strength` 0 leaves the film as it is, 1 takes all noise.
/// Cancelled: what is there so far. Some `rows` come out as they do with all the others, to the bit, where
/// they begin at a multiple of `denoiserBlock` and the film holds as many rows around them as the filter
/// reaches (`denoiserReach`).
Passes denoised(const Film& film, double strength, const Progress& progress, bool all, const Rows& rows,
                Care care = Care::thorough);
inline Passes denoised(const Film& film, double strength, const Progress& progress, bool all = false,
                       Care care = Care::thorough) {
  return denoised(film, strength, progress, all, {0, film.height()}, care);
}
inline constexpr int denoiserBlock = 128, denoiserReach = 10;

/// Per pixel, the expected squared error of what `denoised` would give now, over what the pixel shows
/// squared: Stein's unbiased estimate, which may be below zero at single pixels and wants to be averaged
/// (Stein 1981, "Estimation of the Mean of a Multivariate Normal Distribution"; for rendering Li, Wu & Chuang
/// 2012, "SURE-based Optimization for Adaptive Sampling and Reconstruction"). For a part of the picture,
/// `part`, of which neighbours outside are not looked at. 0 where nothing is kept; neighbourhoods without a
/// pixel of the sampling mask may be left out.
std::vector<float> expectedErrors(const Film& film, double strength, const Film::Window& part);

}  // namespace dusk
