#pragma once
#include <cstdint>
#include <vector>

#include "core/picture/picture.h"

namespace dusk {

/// What is known of a pixel before its alpha is found.
enum class MatteKnown : uint8_t { nothing, out, in };

/// Alpha of each pixel of `light` (scene-linear, 3 channels) by the assumption that in any 3 x 3 pixels both
/// sides' colours lie on lines: Levin, Lischinski & Weiss 2008, "A Closed-Form Solution to Natural Image
/// Matting", solved by conjugate gradients, first on half the size. 0 to 1, [pixel].
std::vector<float> closedFormMatte(const Picture& light, const std::vector<MatteKnown>& known);

/// The foreground's own colour where alpha is partial: Germer, Uelwer, Conrad & Harmeling 2020, "Fast
/// Multi-Level Foreground Estimation". Straight, 3 channels.
Picture foregroundOf(const Picture& light, const std::vector<float>& alpha);

}  // namespace dusk
