#pragma once
#include <functional>
#include <optional>

#include "core/blend/operation.h"
#include "core/project/blend_edit.h"
#include "core/project/project.h"
#include "core/trace/passes.h"

namespace dusk {

/// What masks are measured by; pictures may be nullptr where they are not known yet.
struct MaskWorld {
  BlendFrame frame;
  Camera camera;                         ///< of a picture of the frame's size
  bool solved = false;                   ///< it is known
  std::optional<Vec3d> product;          ///< the spot of the first placed product, world
  NodePtr facing;                        ///< 1 channel
  std::shared_ptr<const Passes> passes;  ///< with covers, for mattes
  std::vector<std::string> partOfId;     ///< [id - 1]: path of the part that a cover's id stands for
  /// What an extra layer or a cut-out of that id covers, 1 channel; nullptr: there is no such, or nothing of
  /// it.
  std::function<NodePtr(const std::string& id)> alphaOf{};
  /// Told of what each list of masks takes, as maskNode() makes it.
  std::function<void(const std::vector<Mask>& masks, const NodePtr& taken)> tell{};
};

/// Where those passes, of a piece of the picture, show the product; nothing when they do not.
std::optional<ProductSeen> productSeen(const Passes& passes, const BlendFrame& frame);

/// That of a shot's plate at its own size, for who moves points about.
MaskWorld plateWorld(const Shot& shot);

/// How much all masks together take, 0 to 1, one channel: each joins those before it; the first begins from
/// nothing, or from everything where it subtracts or intersects. `light` (3 channels, or 4 premultiplied) is
/// what brightness and hue are told of. nullptr: everything, as there is no mask that is on and can be told.
NodePtr maskNode(const std::vector<Mask>& masks, const NodePtr& light, const MaskWorld& world);

/// A drawn line in pixels of the picture, with its feathers: curves as short straight pieces.
struct MaskLine {
  std::vector<Vec2f> at;
  std::vector<float> feather;
};
/// Of a drawn mask; nothing when it cannot be seen from where the camera is.
std::optional<MaskLine> maskLine(const Mask& mask, const MaskWorld& world);
/// The same for one point, and back: from a pixel of the picture to what the mask's points are held by.
std::optional<Vec2d> maskPointInPicture(const Vec2d& point, MaskHold hold, const MaskWorld& world);
std::optional<Vec2d> maskPointHeld(const Vec2d& pixel, MaskHold hold, const MaskWorld& world);

/// The inside of a closed line, or what lies within `halfWidth` of an open one, with soft borders.
NodePtr shapeNode(const PixelArea& whole, MaskLine line, bool closed, double halfWidth);

}  // namespace dusk
