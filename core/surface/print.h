#pragma once
#include "core/surface/stack.h"

namespace dusk {

/// Where a decal lies, in millimetres in the frame of the model.
struct DecalFrame {
  Vec3f at, normal, right, up;  ///< its middle; right and up in its plane, turned as it is
  Vec3f pivot, axis;            ///< wrapped
  float radius = 0;             ///< wrapped: of its middle from the axis
  Vec2f size{1, 1};             ///< width and height
};

/// `proportion`: height over width of the picture.
DecalFrame frameOf(const Decal& decal, double unitMm, float proportion);

/// Where on a decal a spot lies: from its middle to the right and up, in millimetres; nothing where it does
/// not reach. `facing`: the body's outward normal there, in the same frame.
std::optional<Vec2f> onDecal(const Decal& decal, const DecalFrame& frame, const Vec3f& mm,
                             const Vec3f& outward);
/// The spot on the decal's own sheet, flat or rolled, and the way out of it there.
Vec3f pointOf(const Decal& decal, const DecalFrame& frame, const Vec2f& on, Vec3f* outward = nullptr);

/// A decal ready to be looked at.
class MadePrint {
 public:
  MadePrint(const Decal& decal, double unitMm, std::shared_ptr<const Texture> texture);
  /// Lays it over what is there.
  void over(const Look& look, BsdfParameters& p) const;
  float heightMm(const Look& look) const;
  bool isRaised() const { return decal_.reliefMm != 0; }

 private:
  Texture::Texel texelAt(const Look& look) const;
  Decal decal_;
  DecalFrame frame_;
  std::shared_ptr<const Texture> texture_;
};

}  // namespace dusk
