#pragma once
#include <embree3/rtcore.h>

#include <memory>

#include "core/product/model.h"

namespace dusk {

/// The holes that a material's alpha leaves in a mesh (glTF 2.0, section 3.9.4 Alpha Coverage). They belong
/// to the shape: a part keeps them whatever surface it is given.
class Cutout {
 public:
  /// nullptr for a part without holes.
  static std::unique_ptr<Cutout> of(const Model& model, const Part& part);
  /// Makes rays pass through the holes of `geometry`; the cut-out must outlive it.
  void cut(RTCGeometry geometry) const;
  /// Whether the triangle is there at a point of it. A share of alpha is met by that share of all points.
  bool solid(unsigned triangle, float u, float v) const;

 private:
  const Mesh* mesh_ = nullptr;
  const FileTexture* texture_ = nullptr;
  float alpha_ = 1, cutAt_ = 0;
};

}  // namespace dusk
