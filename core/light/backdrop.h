#pragma once
#include <array>
#include <optional>

#include "core/light/hand_camera.h"
#include "core/light/lights.h"
#include "core/picture/photo.h"
#include "core/project/project.h"

/// Pictures that are made on no photo: plain, graded, or on a view of the panorama itself.
namespace dusk {

/// Code values 0 to 1 of "#rrggbb"; nothing where it is not that.
std::optional<std::array<float, 3>> codesOf(const std::string& hex);

/// Whether it is of colours alone, which are delivered to the code.
inline bool isEven(const Backdrop& backdrop) {
  return backdrop.kind == BackdropKind::plain || backdrop.kind == BackdropKind::gradient;
}

/// Whether it has a round floor.
inline bool hasFloor(const Backdrop& backdrop) { return isEven(backdrop) && backdrop.floorRadiusM > 0; }

/// Share of the round floor's own colour at a point of the ground: 1 about its middle, 0 beyond its radius,
/// smooth between.
float floorShare(const Backdrop& backdrop, const Vec2d& at);

/// Whether the camera of a picture without a photo may go where it likes.
inline bool isCameraFree(const Shot& shot) { return isEven(shot.backdrop) || walksInPanorama(shot); }

/// What lies behind the products where there is no photo. A plain or graded one holds the exact code values,
/// and those of its round floor where that does not fade;
/// one made of the panorama (`lights`) is scene-linear: what is above the ground on its walls, which may be
/// far away, and the ground as it is seen from where the panorama was taken. The area may lie beyond the
/// camera's picture: there, grades keep the colour of the border.
Photo backdropPhoto(const Backdrop& backdrop, const Camera& camera, const Lights& lights,
                    const PixelArea& area);

}  // namespace dusk
