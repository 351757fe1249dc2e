#include "core/trace/place.h"

#include "core/light/backdrop.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

/// Enters the slab -half..half along one axis: narrows near..far, notes the side; false when missed.
bool enterSlab(float origin, float direction, float half, int axis, float& near, float& far, int& side) {
  if (std::abs(direction) < 1e-12f) return std::abs(origin) <= half;
  const float a = (-half - origin) / direction, b = (half - origin) / direction;
  if (std::min(a, b) > near) near = std::min(a, b), side = axis;
  far = std::min(far, std::max(a, b));
  return near < far;
}

}  // namespace

bool Silhouette::shows(const Vec3f& point, float share) const {
  const auto pixel = projected(camera, toDouble(point));
  if (!pixel) return false;
  const PixelArea& a = thing->area;
  const int x = int(std::floor(pixel->x * thing->scale)) - a.x0,
            y = int(std::floor(pixel->y * thing->scale)) - a.y0;
  return x >= 0 && y >= 0 && x < a.width() && y < a.height() && thing->light.at(x, y)[3] > share;
}

void Place::add(const StandIn& s, bool cutOut, std::optional<Silhouette> silhouette) {
  if (!s.on || (!s.catches && !s.blocks)) return;
  const double turn = radians(s.turnDegrees);
  const Vec3d up(0, 0, 1);
  Triadd frame{turned(Vec3d(1, 0, 0), up, turn), turned(Vec3d(0, 1, 0), up, turn), up};
  Vec3d centre = s.positionM, half = s.sizeM / 2.0;
  if (s.kind == StandInKind::sheet) {
    frame.y = turned(frame.y, frame.x, radians(s.leanDegrees));
    frame.z = frame.x.cross(frame.y);
  } else if (s.kind == StandInKind::ball) {
    half = Vec3d(s.sizeM.x / 2);
    centre.z += half.z;
  } else {
    centre.z += half.z;
  }
  if (s.kind == StandInKind::cylinder) half.y = half.x;
  shapes_.push_back({s.kind,
                     toFloat(centre),
                     {toFloat(frame.x), toFloat(frame.y), toFloat(frame.z)},
                     toFloat(half),
                     float(half.length()) * 1.001f + 1e-4f,
                     s.catches,
                     s.blocks,
                     cutOut,
                     std::move(silhouette),
                     {float(s.gloss), float(s.glossRoughness), float(s.glossIor)}});
}

void Place::addSweep(float azimuth, float radiusM, float behindM) {
  sweep_ = Sweep{{std::sin(azimuth), std::cos(azimuth)}, radiusM, std::max(behindM, radiusM)};
}

float Place::Shape::hit(const Vec3f& o, const Vec3f& d, Vec3f& normal) const {
  if (kind == StandInKind::ball) {
    const float along = -o.dot(d), r2 = half.x * half.x, beside2 = o.length2() - along * along;
    if (o.length2() <= r2 || along <= 0 || beside2 >= r2) return -1;
    const float t = along - std::sqrt(r2 - beside2);
    normal = (o + d * t) / half.x;
    return t;
  }
  if (kind == StandInKind::sheet) {
    if (std::abs(d.z) < 1e-9f) return -1;
    const float t = -o.z / d.z;
    const Vec3f at = o + d * t;
    if (t <= 0 || std::abs(at.x) > half.x || std::abs(at.y) > half.y) return -1;
    normal = {0, 0, d.z < 0 ? 1.0f : -1.0f};
    return t;
  }
  float near = -1e30f, far = 1e30f;
  int side = -1;
  if (!enterSlab(o.z, d.z, half.z, 2, near, far, side)) return -1;
  if (kind == StandInKind::box) {
    if (!enterSlab(o.x, d.x, half.x, 0, near, far, side) || !enterSlab(o.y, d.y, half.y, 1, near, far, side))
      return -1;
  } else {
    const float a = d.x * d.x + d.y * d.y, b = o.x * d.x + o.y * d.y,
                c = o.x * o.x + o.y * o.y - half.x * half.x;
    if (a < 1e-12f) {
      if (c > 0) return -1;
    } else {
      const float root = b * b - a * c;
      if (root <= 0) return -1;
      const float enters = (-b - std::sqrt(root)) / a, leaves = (-b + std::sqrt(root)) / a;
      if (enters > near) near = enters, side = 3;
      far = std::min(far, leaves);
      if (near >= far) return -1;
    }
  }
  if (near <= 0 || side < 0) return -1;
  normal = {0, 0, 0};
  if (side == 3) {
    const Vec3f at = o + d * near;
    normal = Vec3f(at.x, at.y, 0).normalized();
  } else {
    normal[side] = d[side] > 0 ? -1.0f : 1.0f;
  }
  return near;
}

void Place::meetGround(const Ray& ray, PlaceHit& hit) const {
  const float above = ray.origin.z - groundM;
  if (!ground || ray.direction.z >= -1e-6f || above <= 0) return;
  const float t = -above / ray.direction.z;
  if (t < hit.distance) hit = {t, {0, 0, 1}, true, true, false, gloss};
}

void Place::meetSweep(const Ray& ray, PlaceHit& hit) const {
  // In the plane of the section: s away from the camera, from where the bend begins; z above the floor.
  const auto& [away, r, behind] = *sweep_;
  const Vec2f level(ray.direction.x, ray.direction.y);
  const float s = Vec2f(ray.origin.x, ray.origin.y).dot(away) - (behind - r), z = ray.origin.z - groundM,
              ds = level.dot(away), dz = ray.direction.z;
  // The bend is a quarter of the inside of a cylinder about (0, r).
  const float a = ds * ds + dz * dz, b = s * ds + (z - r) * dz, c = s * s + (z - r) * (z - r) - r * r;
  if (const float root = b * b - a * c; a > 1e-12f && root > 0 && r > 0) {
    const float t = (-b + std::sqrt(root)) / a, at = s + ds * t, height = z + dz * t;
    if (t > 0 && t < hit.distance && at > 0 && height < r) {
      const Vec2f inwards = Vec2f(-at, r - height) / r;
      hit = {t, Vec3f(away.x * inwards.x, away.y * inwards.x, inwards.y), true, true, false, gloss};
    }
  }
  if (ds > 1e-9f && s < r) {
    const float t = (r - s) / ds;
    if (t > 0 && t < hit.distance && z + dz * t >= r)
      hit = {t, Vec3f(-away.x, -away.y, 0), true, true, false, gloss};
  }
}

void Place::meetShape(const Shape& shape, const Ray& ray, float share, PlaceHit& hit) {
  // Most rays pass even the ball around it, or end before.
  const Vec3f to = shape.centre - ray.origin;
  const float along = to.dot(ray.direction), beside2 = to.length2() - along * along, r = shape.reach;
  if (beside2 > r * r || along < -r || along - r > hit.distance) return;
  Vec3f normal;
  const float t =
      shape.hit(shape.frame.toLocal(ray.origin - shape.centre), shape.frame.toLocal(ray.direction), normal);
  if (t <= 0 || t >= hit.distance) return;
  if (shape.silhouette && !shape.silhouette->shows(ray.origin + ray.direction * t, share)) return;
  hit = {t, shape.frame.toWorld(normal), shape.catches, false, shape.cutOut, shape.gloss};
}

void Place::meetCatchers(const Ray& ray, PlaceHit& hit) const {
  const Hit met = catchers_->closest(ray, hit.distance);
  if (!met.found()) return;
  Vec3f normal = catchers_->detail(met).normal;
  if (normal.dot(ray.direction) > 0) normal = -normal;
  hit = {met.distance, normal, true, false, false, {}};
}

PlaceHit Place::closest(const Ray& ray, float limit, PlaceRay of) const {
  PlaceHit hit;
  hit.distance = limit;
  meetGround(ray, hit);
  if (sweep_ && ground) meetSweep(ray, hit);
  for (const Shape& shape : shapes_) {
    if (of == PlaceRay::light ? !shape.blocks : of == PlaceRay::film && shape.cutOut) continue;
    meetShape(shape, ray, 0.5f, hit);
  }
  if (catchers_) meetCatchers(ray, hit);
  if (hit.distance >= limit) hit.distance = 1e30f;
  return hit;
}

bool Place::isGlossy() const {
  return (ground && gloss.strength > 0) ||
         std::any_of(shapes_.begin(), shapes_.end(),
                     [](const Shape& shape) { return shape.catches && shape.gloss.strength > 0; });
}

PlaceHit Place::inFront(const Ray& ray, float limit) const {
  PlaceHit hit;
  hit.distance = limit;
  for (const Shape& shape : shapes_)
    if (shape.cutOut && shape.catches) meetShape(shape, ray, 0, hit);
  if (hit.distance >= limit) hit.distance = 1e30f;
  hit.gloss = {};  // what it mirrors is in the photo, and the blend lays that over all
  return hit;
}

namespace {

/// The silhouette of what a stand-in stands for; nothing where it stands for no cut-out.
using FindSilhouette = std::function<std::optional<Silhouette>(const CutOut&)>;

Place placeWith(const Shot& shot, const FindSilhouette& find) {
  Place place;
  place.ground = shot.contact.groundCatches;
  place.gloss = {float(shot.contact.gloss), float(shot.contact.glossRoughness), float(shot.contact.glossIor)};
  // The ground is the level of the first product that stands on no stand-in.
  for (const Placement& p : shot.placements)
    if (!byId(shot.standIns, p.levelId)) {
      place.groundM = float(planeHeightM(shot, p));
      break;
    }
  const Backdrop& b = shot.backdrop;
  const auto& cuts = shot.blend.cutOuts;
  // Before a plain colour there are no things to stand in for.
  if (b.kind == BackdropKind::photo || b.kind == BackdropKind::panorama)
    for (const StandIn& s : shot.standIns) {
      const auto cut = std::find_if(cuts.begin(), cuts.end(),
                                    [&](const CutOut& c) { return c.on && c.standInId == s.id; });
      if (cut == cuts.end())
        place.add(s);
      else
        place.add(s, true, s.on ? find(*cut) : std::nullopt);
    }
  if (isEven(b) && b.sweepRadiusM > 0)
    place.addSweep(float(radians(b.azimuthDegrees)), float(b.sweepRadiusM), float(b.sweepBehindM));
  return place;
}

}  // namespace

Place placeOf(const Shot& shot) {
  return placeWith(shot, [](const CutOut&) { return std::nullopt; });
}

Place placeOf(const Shot& shot, AssetStore& assets, std::vector<std::string>* notes) {
  return placeWith(shot, [&](const CutOut& cut) -> std::optional<Silhouette> {
    auto made = assets.cutOut(shot, cut);
    if (made) return Silhouette{std::move(*made), workingCamera(shot.vantage)};
    if (notes) notes->push_back(made.error().message);
    return {};
  });
}

}  // namespace dusk
