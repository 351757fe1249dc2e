#include "core/surface/made_surface.h"

#include "core/surface/flakes.h"
#include "core/surface/mesh_triangle.h"
#include "core/surface/noise.h"
#include "core/surface/print.h"
#include "core/surface/values.h"

namespace dusk {
namespace {

constexpr size_t valueCount = size_t(SurfaceValue::coatNormal) + 1;

bool isColour(SurfaceValue value) {
  const ValuePlace* place = placeOf(value);
  return place && place->colour;
}

template <typename T>
T between(const T& a, const T& b, float t) {
  return a + (b - a) * t;
}

/// All values on the way from one surface to another.
BsdfParameters between(const BsdfParameters& a, const BsdfParameters& b, float t) {
  if (t >= 1) return b;
  BsdfParameters p = a;
  p.base = between(a.base, b.base, t), p.emission = between(a.emission, b.emission, t);
  p.sheenColour = between(a.sheenColour, b.sheenColour, t),
  p.absorption = between(a.absorption, b.absorption, t);
  p.scattering = between(a.scattering, b.scattering, t);
  p.coatColour = between(a.coatColour, b.coatColour, t);
  p.subsurfaceM = between(a.subsurfaceM, b.subsurfaceM, t);
  for (float BsdfParameters::*share :
       {&BsdfParameters::metalness, &BsdfParameters::roughness, &BsdfParameters::ior,
        &BsdfParameters::transmission, &BsdfParameters::clearcoat, &BsdfParameters::clearcoatRoughness,
        &BsdfParameters::anisotropy, &BsdfParameters::sheen, &BsdfParameters::sheenRoughness,
        &BsdfParameters::specular, &BsdfParameters::filmNm, &BsdfParameters::filmIor,
        &BsdfParameters::opacity, &BsdfParameters::subsurface, &BsdfParameters::forward,
        &BsdfParameters::abbe})
    p.*share = between(a.*share, b.*share, t);
  if (t > 0.5f) p.priority = b.priority;
  if (t > 0.5f) p.anisotropyTurn = b.anisotropyTurn, p.thinWalled = b.thinWalled;
  return p;
}

}  // namespace

BsdfParameters parametersOf(const Surface& s) {
  BsdfParameters p;
  p.base = toFloat(s.baseColour), p.emission = toFloat(s.emission);
  p.metalness = float(s.metalness), p.roughness = float(s.roughness), p.ior = float(s.ior);
  p.transmission = float(s.transmission);
  p.clearcoat = float(s.clearcoat), p.clearcoatRoughness = float(s.clearcoatRoughness);
  p.anisotropy = float(s.anisotropy), p.anisotropyTurn = float(radians(s.anisotropyTurnDegrees));
  p.sheen = float(s.sheen), p.sheenRoughness = float(s.sheenRoughness),
  p.sheenColour = toFloat(s.sheenColour);
  p.specular = float(s.specular), p.filmNm = float(s.filmNm), p.filmIor = float(s.filmIor);
  p.thinWalled = s.thinWalled;
  p.coatColour = toFloat(s.coatColour), p.opacity = float(s.opacity);
  p.subsurface = float(s.subsurface), p.subsurfaceM = toFloat(s.subsurfaceMm) * 1e-3f;
  p.forward = float(s.scatterForward), p.abbe = float(s.abbe), p.priority = s.priority;
  // Beer and Lambert: so much per metre that the colour is left after the depth.
  if (s.absorptionDepthM > 0)
    for (int c = 0; c < 3; ++c)
      p.absorption[c] = float(-std::log(std::clamp(s.absorptionColour[c], 1e-4, 1.0)) / s.absorptionDepthM);
  // What a scattering does not send on is taken.
  if (s.scatterDepthM > 0)
    for (int c = 0; c < 3; ++c) {
      p.scattering[c] = float(s.scatterColour[c] / s.scatterDepthM);
      p.absorption[c] += float((1 - s.scatterColour[c]) / s.scatterDepthM);
    }
  return p;
}

bool isEven(const Surface& s) {
  return s.coats.empty() && s.flakes <= 0 &&
         std::all_of(s.feeds.begin(), s.feeds.end(), [](const auto& f) { return f.second.empty(); });
}

struct SurfaceLayer {
  BsdfParameters plain;
  Flakes flakes;
  std::array<FeedStack, valueCount> feeds;
  std::vector<const ValuePlace*> fed;  // those of numbers and colours
  struct Over {
    float strength;
    FeedStack mask;
    std::unique_ptr<SurfaceLayer> layer;
  };
  std::vector<Over> coats;  // the lowest first

  SurfaceLayer(const Surface& surface, const FindTexture& find, bool withCoats = true)
      : plain(parametersOf(surface)), flakes(surface) {
    for (const auto& [value, feeds] : surface.feeds)
      this->feeds[size_t(value)] = {feeds, isColour(value), find};
    for (const ValuePlace& place : valuePlaces())
      if (!of(place.value).empty()) fed.push_back(&place);
    if (!withCoats) return;
    for (auto coat = surface.coats.rbegin(); coat != surface.coats.rend(); ++coat)
      if (coat->on && coat->strength > 0)
        coats.push_back({float(coat->strength),
                         {coat->mask, false, find},
                         std::make_unique<SurfaceLayer>(coat->surface, find, false)});
  }
  const FeedStack& of(SurfaceValue value) const { return feeds[size_t(value)]; }

  BsdfParameters own(const Look& look) const {
    BsdfParameters p = plain;
    for (const ValuePlace* place : fed) {
      const FeedStack& feeds = of(place->value);
      if (place->share) {
        p.*place->share = std::clamp(feeds.over(p.*place->share, look), 0.0f, place->most);
        continue;
      }
      Rgb& colour = p.*place->light;
      colour = feeds.over(colour, look);
      for (int c = 0; c < 3; ++c) colour[c] = std::clamp(colour[c], 0.0f, place->most);
    }
    return p;
  }
  static float weight(const Over& coat, const Look& look) {
    return coat.strength * std::clamp(coat.mask.over(1.0f, look), 0.0f, 1.0f);
  }
  BsdfParameters at(const Look& look) const {
    BsdfParameters p = own(look);
    for (const Over& coat : coats)
      if (const float w = weight(coat, look); w > 0) p = between(p, coat.layer->own(look), w);
    return p;
  }
  /// A coat follows what is below it, and adds its own.
  float height(const Look& look) const {
    float h = of(SurfaceValue::bump).empty() ? 0.0f : of(SurfaceValue::bump).over(0.0f, look);
    for (const Over& coat : coats)
      if (!coat.layer->of(SurfaceValue::bump).empty())
        if (const float w = weight(coat, look); w > 0)
          h += w * coat.layer->of(SurfaceValue::bump).over(0.0f, look);
    return h;
  }
  bool isOpaque() const {
    return plain.transmission <= 0 && of(SurfaceValue::transmission).empty() && !hasGaps() &&
           std::all_of(coats.begin(), coats.end(), [](const Over& c) { return c.layer->isOpaque(); });
  }
  bool hasGaps() const {
    return plain.opacity < 1 || !of(SurfaceValue::opacity).empty() ||
           std::any_of(coats.begin(), coats.end(), [](const Over& c) { return c.layer->hasGaps(); });
  }
  bool bumps() const {
    return !of(SurfaceValue::bump).empty() ||
           std::any_of(coats.begin(), coats.end(), [](const Over& c) { return c.layer->bumps(); });
  }
  float finestBump() const {
    float finest = of(SurfaceValue::bump).finestMm();
    for (const Over& c : coats) finest = std::min(finest, c.layer->finestBump());
    return finest;
  }
  bool glowsUnevenly() const {
    const auto differs = [&](const Over& c) {
      return c.layer->plain.emission != plain.emission || c.layer->glowsUnevenly();
    };
    return !of(SurfaceValue::emission).empty() || std::any_of(coats.begin(), coats.end(), differs);
  }
};

struct MadeSurface::Print : MadePrint {
  using MadePrint::MadePrint;
};

std::shared_ptr<const SurfaceLayer> layerOf(const Surface& surface, const FindTexture& find) {
  return std::make_shared<SurfaceLayer>(surface, find);
}

MadeSurface::MadeSurface(std::shared_ptr<const SurfaceLayer> layer, const std::vector<Decal>& decals,
                         const Mesh& mesh, PartFacts facts, double unitMm, const FindTexture& find)
    : facts_(std::move(facts)), layer_(std::move(layer)) {
  const Similarity& s = facts_.mmFromMesh;
  turn_ = {toFloat(s.rotation.x), toFloat(s.rotation.y), toFloat(s.rotation.z)};
  scale_ = float(s.scale), shift_ = toFloat(s.shift);
  for (const Decal& decal : decals) {
    if (!decal.on || decal.picture.empty()) continue;
    if (auto texture = find(decal.picture, true, decal.page, -1))
      prints_.emplace_back(decal, unitMm, std::move(texture));
  }
  bumps_ = layer_->bumps() ||
           std::any_of(prints_.begin(), prints_.end(), [](const Print& p) { return p.isRaised(); });
  opaque_ = layer_->isOpaque(), gaps_ = layer_->hasGaps();
  meanEmission_ = layer_->plain.emission;
  unevenly_ = layer_->glowsUnevenly() || (maxComponent(meanEmission_) > 0 && !prints_.empty());
  if (unevenly_) measureEmission(mesh);
}

MadeSurface::~MadeSurface() = default;

/// By triangles drawn by their area: what light sampling takes the whole part for.
void MadeSurface::measureEmission(const Mesh& mesh) {
  constexpr int looks = 256;
  const TrianglesByArea triangles(mesh);
  Rgb all(0);
  for (int i = 0; i < looks && triangles.area() > 0; ++i) {
    const float r = std::sqrt(evenAt(i, 0, 0, 1)), v = evenAt(i, 1, 0, 1);
    // It has no place in the world yet.
    const SurfacePoint p = triangles.at((float(i) + 0.5f) / looks).spot({1 - r, r * (1 - v), r * v}, 0);
    BsdfParameters out;
    Vec3f normal = p.geometricNormal;
    at(p, out, normal);
    all += out.emission / float(looks);
  }
  meanEmission_ = all;
}

Site MadeSurface::siteOf(const SurfacePoint& p) const {
  const auto local = [&](const Vec3f& v) { return toOwn(p, v); };
  Site s;
  s.mm = turn_.toWorld(p.onMesh * scale_) + shift_;
  s.normal = local(p.geometricNormal);
  if (p.width > 0 && p.view.length2() > 0) {
    // The cone's cut with the surface: as wide as the cone across, longer along the way it leans.
    const Vec3f n = s.normal, to = local(p.view);
    Vec3f side = n.cross(to);
    side = side.length2() > 1e-8f ? side.normalized() : triadAround(n).x;
    const float half = 500 * p.width, lean = std::max(1.0f / 16, std::abs(n.dot(to)));
    s.across = side * half, s.along = n.cross(side) * (half / lean);
  }
  s.uv = p.uv;
  s.hasUv = p.perUv.x > 0 && p.perUv.y > 0 && std::isfinite(p.uv.x) && std::isfinite(p.uv.y);
  if (!s.hasUv) return s;
  // The texture coordinates' directions need not be at right angles.
  const Vec3f u = local(p.alongU) * (p.perUv.x * scale_), v = local(p.alongV) * (p.perUv.y * scale_);
  const float uu = u.dot(u), uv = u.dot(v), vv = v.dot(v), whole = uu * vv - uv * uv;
  if (whole <= 1e-12f * uu * vv) return s;
  const auto change = [&](const Vec3f& d) {
    const float a = d.dot(u), b = d.dot(v);
    return Vec2f((a * vv - b * uv) / whole, (b * uu - a * uv) / whole);
  };
  s.uvAcross = change(s.across), s.uvAlong = change(s.along);
  return s;
}

float MadeSurface::heightAt(const SurfacePoint& point, const Site& site) const {
  const Look look{point, site, facts_};
  float h = layer_->height(look);
  for (const Print& print : prints_)
    if (print.isRaised()) h += print.heightMm(look);
  return h;
}

/// The normal of the surface moved outwards by its height: from the slope of that, by differences. Mikkelsen
/// 2010, "Bump Mapping Unparametrized Surfaces on the GPU".
void MadeSurface::bend(const SurfacePoint& point, const Site& site, Vec3f& normal) const {
  const Triadf around = triadAround(site.normal);
  const float step = std::clamp(std::max(500 * point.width, layer_->finestBump()), 1e-3f, 5.0f);
  const Vec3f u = site.hasUv ? toOwn(point, point.alongU) : Vec3f(0),
              v = site.hasUv ? toOwn(point, point.alongV) : Vec3f(0);
  const auto at = [&](const Vec3f& by) {
    const Vec2f uvBy = site.hasUv
                           ? Vec2f(by.dot(u) / (point.perUv.x * scale_), by.dot(v) / (point.perUv.y * scale_))
                           : Vec2f(0);
    return heightAt(point, site.moved(by, uvBy));
  };
  const float here = heightAt(point, site);
  const float a = (at(around.x * step) - here) / step, b = (at(around.y * step) - here) / step;
  const float out = point.inside ? -1.0f : 1.0f;  // heights are outwards, the normal is the viewer's
  const Vec3f bent = normal - toWorld(point, around.x * a + around.y * b) * out;
  if (bent.length2() > 0 && std::isfinite(bent.length2())) normal = bent.normalized();
}

void MadeSurface::at(const SurfacePoint& point, BsdfParameters& out, Vec3f& normal) const {
  const Site site = siteOf(point);
  const Look look{point, site, facts_};
  out = layer_->at(look);
  for (const Print& print : prints_) print.over(look, out);
  const FeedStack &map = layer_->of(SurfaceValue::normal), &coatMap = layer_->of(SurfaceValue::coatNormal);
  if (out.clearcoat > 0 && !coatMap.empty()) out.coatNormal = mapped(coatMap, look, normal);
  if (!map.empty()) normal = mapped(map, look, normal);
  // What is far finer than a look is not followed: its slopes would be one number for many.
  if (bumps_ && 1000 * point.width < 40 * layer_->finestBump()) bend(point, site, normal);
  if (const Vec3f lean = layer_->flakes.over(site, normal, out); lean != Vec3f(0))
    normal = (normal + toWorld(point, lean)).normalized();
}

/// The normal as a map bends it.
Vec3f MadeSurface::mapped(const FeedStack& map, const Look& look, const Vec3f& normal) {
  const SurfacePoint& point = look.point;
  if (point.alongU.length2() <= 0) return normal;
  const Vec3f bend = map.bentNormal(look);
  const Vec3f u = (point.alongU - normal * normal.dot(point.alongU)).normalized();
  Vec3f v = normal.cross(u);
  if (v.dot(point.alongV) < 0) v = -v;
  const Vec3f bent = u * bend.x + v * bend.y + normal * std::max(bend.z, 0.05f);
  return bent.length2() > 0 ? bent.normalized() : normal;
}

Vec3f MadeSurface::toOwn(const SurfacePoint& point, const Vec3f& world) const {
  return turn_.toWorld(point.worldFromMesh ? point.worldFromMesh->toLocal(world) : world);
}

Vec3f MadeSurface::toWorld(const SurfacePoint& point, const Vec3f& own) const {
  const Vec3f onMesh = turn_.toLocal(own);
  return point.worldFromMesh ? point.worldFromMesh->toWorld(onMesh) : onMesh;
}

Vec3f MadeSurface::valueAt(SurfaceValue value, const SurfacePoint& point) const {
  const Site site = siteOf(point);
  if (value == SurfaceValue::bump) return Vec3f(heightAt(point, site));
  BsdfParameters p;
  Vec3f normal = point.geometricNormal;
  at(point, p, normal);
  if (const ValuePlace* place = placeOf(value))
    return place->share ? Vec3f(p.*place->share) : p.*place->light;
  if (value == SurfaceValue::coatNormal && p.coatNormal != Vec3f(0)) normal = p.coatNormal;
  return normal * 0.5f + Vec3f(0.5f);
}

}  // namespace dusk
