#pragma once
#include "core/picture/packed.h"
#include "core/project/project.h"

/// Taking the lens's bend out of the plate, for those who rather work on a straight one.
namespace dusk {

/// The camera the picture is made with: the solved one, or without its distortion where the plate is
/// straightened.
Camera workingCamera(const Vantage& vantage);

/// From a pixel of the photo to the pixel of the picture that shows the same thing, and back.
Vec2d workingPixel(const Vantage& vantage, const Vec2d& photo);
Vec2d photoPixel(const Vantage& vantage, const Vec2d& working);

/// The photo as the camera would have taken it without its k1 and k2: same size, focal length and axis; what
/// lies outside the photo repeats its border. Cubic convolution (Keys 1981, "Cubic convolution interpolation
/// for digital image processing"). Codes come out in 16 bits, floats as floats.
PackedPicture straightened(const PackedPicture& photo, const Camera& camera);

}  // namespace dusk
