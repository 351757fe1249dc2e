#include "core/trace/cutout.h"

#include <bit>

#include "core/surface/noise.h"
#include "core/surface/texel.h"

namespace dusk {
namespace {

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
    alpha *= bilinearAt(texture_->width, texture_->height, uv,
                        [&](int x, int y) { return float(texelOf(*texture_, x, y)[3]) / 255; });
  }
  return alpha >= (cutAt_ > 0
                       ? cutAt_
                       : evenBy(triangle, std::bit_cast<uint32_t>(u), std::bit_cast<uint32_t>(v)) + 1e-7f);
}

}  // namespace dusk
