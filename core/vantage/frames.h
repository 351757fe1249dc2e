#pragma once
#include "core/picture/picture.h"
#include "core/project/project.h"

namespace dusk {

/// A crop of a picture, as it is delivered.
struct FramedArea {
  std::string id, name;       ///< empty: the whole picture
  PixelArea area;             ///< of the picture; without a photo it may lie beyond its border
  int width = 0, height = 0;  ///< of the file
  double dpi = 0;
  bool isMoved = false;  ///< it reached beyond what there is, and was moved or made smaller to lie in it
  double enlarged() const { return double(width) / std::max(1, area.width()); }
  bool operator==(const FramedArea&) const = default;
};

/// Where a frame lies: left, top, right, bottom in shares of the picture's width and height. May reach
/// beyond.
std::array<double, 4> placeOf(const Shot& shot, const PictureFrame& frame, int width, int height);
/// Where a placed product stands, in shares of the picture; nothing where it cannot be told.
std::optional<Vec2d> spotOf(const Shot& shot, const Placement& placement);
/// The same of the first one; the picture's middle where there is none, or no camera.
Vec2d productSpot(const Shot& shot);

/// What frames may show of a picture of that size. A photo ends at its border; what is made goes on beyond,
/// on each side for as much again.
PixelArea reachable(const Shot& shot, int width, int height);
/// The frame in a picture of that size, inside what is reachable. `scale`: size of the file over what the
/// frame asks for (a draft is smaller). Where frame and file have about the same pixels, exactly the same.
FramedArea framed(const Shot& shot, const PictureFrame& frame, int width, int height, double scale = 1);
/// What a deliverable shows.
FramedArea framed(const Shot& shot, const Deliverable& deliverable, int width, int height, double scale = 1);
/// What is traced of a picture of that size: all of it, and beyond it what frames of the files that are asked
/// for show. Films are made of pictures of their own.
PixelArea tracedArea(const Shot& shot, int width, int height, double scale = 1);

}  // namespace dusk
