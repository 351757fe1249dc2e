#include "core/picture/file_colours.h"

#include <OpenEXR/ImfChromaticities.h>

#include "core/base/maths.h"

namespace dusk {
namespace {

using Imath::M44f, Imath::V3f;

/// White of one XYZ to white of another, by the cones' answers (Bradford; Lam 1985, "Metamerism and Colour
/// Constancy"). For row vectors.
M44f adapted(const V3f& from, const V3f& to) {
  const M44f cones(0.8951f, -0.7502f, 0.0389f, 0, 0.2664f, 1.7135f, -0.0685f, 0, -0.1614f, 0.0367f, 1.0296f,
                   0, 0, 0, 0, 1);
  const V3f a = from * cones, b = to * cones;
  M44f scale;
  scale.setScale(V3f(b.x / a.x, b.y / a.y, b.z / a.z));
  return cones * scale * cones.inverse();
}

V3f xyzOf(const Imath::V2f& white) { return {white.x / white.y, 1, (1 - white.x - white.y) / white.y}; }

/// From light in primaries of its own to Rec. 709, whose white is D65; nothing where they are nonsense.
std::optional<M44f> toRec709(const float (&c)[8]) {
  for (int i = 0; i < 8; i += 2)
    if (!(c[i + 1] > 1e-3f && c[i + 1] <= 1.5f && std::abs(c[i]) <= 1.5f)) return {};
  const Imf::Chromaticities of({c[0], c[1]}, {c[2], c[3]}, {c[4], c[5]}, {c[6], c[7]}), ours;
  const float area = (c[2] - c[0]) * (c[5] - c[1]) - (c[4] - c[0]) * (c[3] - c[1]);
  if (std::abs(area) < 1e-4f) return {};
  return Imf::RGBtoXYZ(of, 1) * adapted(xyzOf(of.white), xyzOf(ours.white)) * Imf::XYZtoRGB(ours, 1);
}

}  // namespace

std::span<const std::byte> embeddedProfile(const OIIO::ImageSpec& spec) {
  const auto* icc = spec.find_attribute("ICCProfile");
  if (!icc || spec.format.is_floating_point() || icc->type().basetype != OIIO::TypeDesc::UINT8) return {};
  return {static_cast<const std::byte*>(icc->data()), size_t(icc->type().size())};
}

FileColours::FileColours(const OIIO::ImageSpec& spec) {
  if (spec.format.is_floating_point()) {
    float c[8];
    if (!spec.getattribute("chromaticities", OIIO::TypeDesc(OIIO::TypeDesc::FLOAT, 8), c)) return;
    matrix_ = toRec709(c);
    if (matrix_ && matrix_->equalWithAbsError(M44f(), 1e-3f)) matrix_.reset();
    return;
  }
  const auto icc = embeddedProfile(spec);
  if (icc.empty()) return;
  if (auto profile = ProfileToSrgb::of(icc); profile && !profile->isSrgb()) profile_ = std::move(*profile);
}

void FileColours::toOurs(float* rgb, size_t pixels) const {
  if (profile_) profile_->convert(rgb, pixels);
  if (matrix_)
    for (size_t i = 0; i < pixels; ++i, rgb += 3) {
      const V3f out = V3f(rgb[0], rgb[1], rgb[2]) * *matrix_;
      for (int c = 0; c < 3; ++c) rgb[c] = out[c];
    }
}

}  // namespace dusk
