#pragma once
#include "core/trace/scene.h"

namespace dusk {

/// A part in the material of its own file, with that file's textures (glTF 2.0, section 3.9 Materials):
/// colour, metalness and roughness, and the tangent-space normal map.
class TexturedMaterial : public Material {
 public:
  TexturedMaterial(std::shared_ptr<const Model> model, int material);
  void at(const SurfacePoint& point, BsdfParameters& out, Vec3f& normal) const override;
  Rgb emission() const override { return plain_.emission; }

 private:
  const FileTexture* texture(int index) const;
  std::shared_ptr<const Model> model_;
  BsdfParameters plain_;
  const FileTexture *colour_, *metalRough_, *normal_;
};

}  // namespace dusk
