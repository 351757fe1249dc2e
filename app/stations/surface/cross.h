#pragma once
#include "app/views/picture_view.h"
#include "core/surface/mapping.h"

class QPainter;

namespace dusk {

/// The measuring cross of the feed in hand, lying on the product where it was last clicked: its middle slides
/// the feed, the ends of its arms turn it, and the first tick, which is one size away, sizes it.
class Cross {
 public:
  enum class Grip { none, middle, arm, tick };
  /// Nothing where the feed lies on nothing (plain values, what the shape tells), or the part is not seen.
  static std::optional<Cross> of(PictureView& view, const Product& product, const Feed& feed,
                                 const PictureView::Spot& spot);
  void paint(QPainter& painter) const;
  Grip gripAt(const Vec2d& plate) const;
  Feed dragged(const Feed& from, Grip grip, const Vec2d& grabbed, const Vec2d& plate) const;
  /// Where the pointer is on the tangent plane, in the pattern's own millimetres from the middle.
  std::optional<Vec2d> under(const Vec2d& plate) const;

 private:
  Cross(PictureView& view, const Feed& feed) : view_(view), feed_(feed) {}
  double size() const;
  std::optional<Vec2d> seen(const Vec2d& onPattern) const;
  double armLength() const { return 2.5 * size(); }

  PictureView& view_;
  Feed feed_;
  Similarity worldFromMm_;
  Vec3d middle_, normal_, right_, up_;  ///< millimetres of the part per millimetre of the pattern
};

}  // namespace dusk
