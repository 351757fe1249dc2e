#include "core/trace/cutout.h"

#include <bit>

#include "core/trace/texel.h"

namespace dusk {
namespace {

/// Even in 0 to 1, by the point alone, so that every thread meets the same.
float evenly(unsigned triangle, float u, float v) {
  uint32_t h = triangle * 0x9e3779b9u ^ std::bit_cast<uint32_t>(u) * 0x85ebca6bu ^
               std::bit_cast<uint32_t>(v) * 0xc2b2ae35u;
  h = (h ^ h >> 16) * 0x7feb352du;
  h = (h ^ h >> 15) * 0x846ca68bu;
  return float((h ^ h >> 16) >> 8) * 0x1p-24f;
}

void pass(const RTCFilterFunctionNArguments* a) {
  const auto& cutout = *static_cast<const Cutout*>(a->geometryUserPtr);
  for (unsigned i = 0; i < a->N; ++i)
    if (a->valid[i] && !cutout.solid(RTCHitN_primID(a->hit, a->N, i), RTCHitN_u(a->hit, a->N, i),
                                     RTCHitN_v(a->hit, a->N, i)))
      a->valid[i] = 0;
}

}  // namespace

std::unique_ptr<Cutout> Cutout::of(const Model& model, const Part& part) {
  const FileMaterial& material = model.materialOf(part);
  const Mesh& mesh = model.meshOf(part);
  const bool textured = material.colourTexture >= 0 && !mesh.uvs.empty();
  if (material.cutAt == 0 || (!textured && material.alpha >= 1)) return nullptr;
  auto cutout = std::make_unique<Cutout>();
  cutout->mesh_ = &mesh, cutout->alpha_ = material.alpha, cutout->cutAt_ = material.cutAt;
  if (textured) cutout->texture_ = &model.textures[size_t(material.colourTexture)];
  return cutout;
}

void Cutout::cut(RTCGeometry geometry) const {
  rtcSetGeometryUserData(geometry, const_cast<Cutout*>(this));
  rtcSetGeometryIntersectFilterFunction(geometry, pass);
  rtcSetGeometryOccludedFilterFunction(geometry, pass);
}

bool Cutout::solid(unsigned triangle, float u, float v) const {
  float alpha = alpha_;
  if (texture_) {
    const uint32_t* t = &mesh_->indices[size_t(triangle) * 3];
    const Vec2f uv = mesh_->uvs[t[0]] * (1 - u - v) + mesh_->uvs[t[1]] * u + mesh_->uvs[t[2]] * v;
    if (!std::isfinite(uv.x) || !std::isfinite(uv.y)) return true;
    alpha *= sampled(*texture_, uv, [](const uint8_t* texel) { return float(texel[3]) / 255; });
  }
  return alpha >= (cutAt_ > 0 ? cutAt_ : evenly(triangle, u, v) + 1e-7f);
}

}  // namespace dusk
