#pragma once
#include <vector>

#include "core/product/model.h"
#include "core/project/project.h"
#include "core/trace/geometry.h"
#include "core/trace/place.h"

namespace dusk {

/// How far from the products they change the place: as traced up to `fromM` from the nearest, then ever less,
/// and not at all beyond `toM`. A real shadow has no end, but a picture has a border.
class Reach {
 public:
  /// No end.
  Reach() = default;
  Reach(std::vector<Box> products, double fromM, double toM)
      : products_(std::move(products)), fromM_(float(fromM)), toM_(float(toM)) {}

  /// Share of the change that is kept at a point of the place, in [0, 1]; smooth.
  float at(const Vec3f& point) const;
  /// From a point to the nearest product.
  float awayM(const Vec3f& point) const;
  bool hasEnd() const { return toM_ < 1e30f; }
  double fromM() const { return double(fromM_); }
  double toM() const { return double(toM_); }

 private:
  std::vector<Box> products_;
  float fromM_ = 1e30f, toM_ = 1e30f;
};

/// What a shot asks for. Where it is found by itself, the change is gone before it comes to the border of the
/// picture that `camera` takes; it has no end where a product lies across the border, or on a photo.
Reach reachOf(const Shot& shot, const PlacedGeometry& products, const Place& place, const Camera& camera);

}  // namespace dusk
