#pragma once
#include <QPainter>
#include <QPolygonF>

#include "app/views/picture_view.h"
#include "core/surface/print.h"

namespace dusk {

/// A decal as it is held in the picture: its outline on the product, corners that size it, a bow above it
/// that turns it, and stops at the ends of a wrapped one.
class Slip {
 public:
  enum class Grip { none, body, corner, bow, start, end };

  /// Nothing where the decal's part is not in the picture.
  static std::optional<Slip> of(PictureView& view, const Product& product, const std::string& placement,
                                const Decal& decal);

  void paint(QPainter& painter) const;
  Grip gripAt(const Vec2d& plate) const;
  /// The decal as it is when the pointer drags a grip to `plate`, from what it was; unchanged where that is
  /// beside the product.
  Decal dragged(const Decal& from, Grip grip, const Vec2d& grabbed, const Vec2d& plate,
                const Model& model) const;

 private:
  Slip(PictureView& view, const Decal& decal, const DecalFrame& frame, const Similarity& worldFromMm,
       double unitMm)
      : view_(view), decal_(decal), frame_(frame), worldFromMm_(worldFromMm), unitMm_(unitMm) {}
  /// Where a place on the decal is seen, in plate pixels; nothing where it is turned away or behind.
  std::optional<Vec2d> seen(const Vec2f& on, bool evenBehind = false) const;
  QPolygonF outline() const;
  Vec2f bow() const { return {0, frame_.size.y / 2 + std::max(4.0f, frame_.size.y * 0.2f)}; }
  std::optional<Vec2f> onSheet(const Vec2d& plate) const;

  PictureView& view_;
  Decal decal_;
  DecalFrame frame_;
  Similarity worldFromMm_;
  double unitMm_;
};

}  // namespace dusk
