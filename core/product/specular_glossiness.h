#pragma once
#include "core/product/model.h"

namespace dusk {

/// A material by its diffuse and specular colours, as older files state it (the glTF extension
/// KHR_materials_pbrSpecularGlossiness). Colours scene-linear.
struct SpecularGlossiness {
  Vec3f diffuse{1, 1, 1}, specular{1, 1, 1};
  float glossiness = 1;
  int diffuseTexture = -1;   ///< sRGB; times `diffuse`
  int specularTexture = -1;  ///< sRGB, with the glossiness in alpha; times both
};

/// Base colour and metalness that mirror and scatter as much as a diffuse and a specular colour do.
struct BaseAndMetalness {
  Vec3f base;
  float metalness;
};
/// As the extension's own notes convert it (Khronos 2017, "Conversion between workflows").
BaseAndMetalness baseAndMetalness(const Vec3f& diffuse, const Vec3f& specular);

/// Puts it into a material in terms of metalness and roughness; where it has textures, new ones are made of
/// them and added to the model.
void convert(const SpecularGlossiness& from, FileMaterial& to, Model& model);

}  // namespace dusk
