#pragma once
#include "core/surface/material.h"
#include "core/trace/geometry.h"

namespace dusk {

/// Looks around on what is placed, by a few rays whose turn is a matter of the spot, so that every thread
/// sees the same.
class GeometryProbe : public ShapeProbe {
 public:
  explicit GeometryProbe(std::shared_ptr<const PlacedGeometry> geometry) : geometry_(std::move(geometry)) {}
  float covered(const Vec3f& position, const Vec3f& normal, float metres) const override;
  float exposed(const Vec3f& position, const Vec3f& normal, float metres) const override;
  float thickness(const Vec3f& position, const Vec3f& normal, float metres) const override;

 private:
  std::shared_ptr<const PlacedGeometry> geometry_;
};

}  // namespace dusk
