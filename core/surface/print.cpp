#include "core/surface/print.h"

namespace dusk {
namespace {

Vec3f unitOr(const Vec3f& v, const Vec3f& otherwise) {
  return v.length() > 1e-9f ? v.normalized() : otherwise;
}

/// The share of `v` at right angles to the unit vector `n`.
Vec3f acrossFrom(const Vec3f& v, const Vec3f& n) { return v - n * n.dot(v); }

Vec2f turnedInPlane(const Vec2f& v, double degreesTurn) {
  const float a = float(radians(degreesTurn)), c = std::cos(a), s = std::sin(a);
  return {v.x * c + v.y * s, v.y * c - v.x * s};
}

}  // namespace

DecalFrame frameOf(const Decal& d, double unitMm, float proportion) {
  DecalFrame f;
  f.at = toFloat(d.at * unitMm), f.pivot = toFloat(d.pivot * unitMm);
  f.axis = unitOr(toFloat(d.axis), {0, 0, 1});
  f.size = Vec2f(float(d.widthMm), float(d.heightMm > 0 ? d.heightMm : d.widthMm * double(proportion)));
  f.normal = unitOr(toFloat(d.normal), {0, -1, 0});
  if (d.lay == DecalLay::wrapped) {
    const Vec3f out = acrossFrom(f.at - f.pivot, f.axis);
    f.radius = out.length(), f.normal = unitOr(out, triadAround(f.axis).x);
  }
  Vec3f up = acrossFrom(f.axis, f.normal);
  if (up.length() < 1e-3f) up = triadAround(f.normal).y;
  up = up.normalized();
  const Vec3f right = up.cross(f.normal);
  const float a = float(radians(d.turnDegrees)), c = std::cos(a), s = std::sin(a);
  f.right = right * c + up * s, f.up = up * c - right * s;
  return f;
}

std::optional<Vec2f> onDecal(const Decal& d, const DecalFrame& f, const Vec3f& mm, const Vec3f& outward) {
  Vec2f on;
  Vec3f out = f.normal;
  if (d.lay == DecalLay::wrapped) {
    const Vec3f away = acrossFrom(mm - f.pivot, f.axis);
    const float r = away.length();
    if (r < 1e-6f || std::abs(r - f.radius) > float(d.reachMm)) return {};
    out = away / r;
    const float turn = std::atan2(f.axis.dot(f.normal.cross(out)), f.normal.dot(out));
    on = turnedInPlane({turn * f.radius, f.axis.dot(mm - f.at)}, d.turnDegrees);
  } else {
    const Vec3f to = mm - f.at;
    if (std::abs(to.dot(f.normal)) > float(d.reachMm)) return {};
    on = {to.dot(f.right), to.dot(f.up)};
  }
  if (std::abs(on.x) > f.size.x / 2 || std::abs(on.y) > f.size.y / 2) return {};
  const float facing = out.dot(outward), least = float(std::cos(radians(d.steepDegrees)));
  const bool shows = d.side == DecalSide::outside  ? facing >= least
                     : d.side == DecalSide::inside ? -facing >= least
                                                   : std::abs(facing) >= least;
  return shows ? std::optional(on) : std::nullopt;
}

Vec3f pointOf(const Decal& d, const DecalFrame& f, const Vec2f& on, Vec3f* outward) {
  if (outward) *outward = f.normal;
  if (d.lay != DecalLay::wrapped || f.radius <= 0) return f.at + f.right * on.x + f.up * on.y;
  const Vec2f level = turnedInPlane(on, -d.turnDegrees);
  const Vec3f out = turned(f.normal, f.axis, level.x / f.radius);
  if (outward) *outward = out;
  return f.at - f.normal * f.radius + out * f.radius + f.axis * level.y;
}

MadePrint::MadePrint(const Decal& decal, double unitMm, std::shared_ptr<const Texture> texture)
    : decal_(decal),
      frame_(frameOf(decal, unitMm, float(texture->height) / float(std::max(1, texture->width)))),
      texture_(std::move(texture)) {}

Texture::Texel MadePrint::texelAt(const Look& look) const {
  const Site& s = look.site;
  const float flip = decal_.mirrored ? -1.0f : 1.0f;
  if (decal_.lay == DecalLay::coordinates) {
    if (!s.hasUv) return {Rgb(0), 0};
    const Vec2f uv = decal_.mirrored ? Vec2f(1 - s.uv.x, s.uv.y) : s.uv;
    return texture_->at(uv, s.uvAcross, s.uvAlong, false);
  }
  const Vec3f outward = look.point.inside ? -s.normal : s.normal;
  const auto on = onDecal(decal_, frame_, s.mm, outward);
  if (!on) return {Rgb(0), 0};
  Vec3f right = frame_.right, up = frame_.up;
  if (decal_.lay == DecalLay::wrapped) {
    const Vec3f away = acrossFrom(s.mm - frame_.pivot, frame_.axis).normalized();
    const Vec3f along = frame_.axis.cross(away);
    const float a = float(radians(decal_.turnDegrees)), c = std::cos(a), n = std::sin(a);
    right = along * c + frame_.axis * n, up = frame_.axis * c - along * n;
  }
  const auto inPlane = [&](const Vec3f& v) {
    return Vec2f(flip * v.dot(right) / frame_.size.x, v.dot(up) / frame_.size.y);
  };
  return texture_->at(Vec2f(flip * on->x / frame_.size.x + 0.5f, on->y / frame_.size.y + 0.5f),
                      inPlane(s.across), inPlane(s.along), false);
}

void MadePrint::over(const Look& look, BsdfParameters& p) const {
  const Texture::Texel t = texelAt(look);
  const float cover = t.alpha * float(decal_.opacity);
  if (cover <= 0) return;
  const auto towards = [&](float& value, float to) { value += (to - value) * cover; };
  p.base = p.base * (1 - cover) + t.colour * float(decal_.opacity);
  towards(p.metalness, float(decal_.metalness.value_or(0)));
  towards(p.transmission, 0), towards(p.sheen, 0), towards(p.filmNm, 0);
  if (decal_.roughness) towards(p.roughness, float(*decal_.roughness));
  if (decal_.clearcoat) towards(p.clearcoat, float(*decal_.clearcoat));
  p.emission *= 1 - cover;
}

float MadePrint::heightMm(const Look& look) const { return float(decal_.reliefMm) * texelAt(look).alpha; }

}  // namespace dusk
