#pragma once
#include "core/project/feed_kinds.h"
#include "core/surface/library.h"

namespace dusk {

/// Puts a surface of the library together.
class Built {
 public:
  Built(const char* id, const char* name, const Vec3d& colour, double roughness) {
    s_.id = std::string("preset-") + id, s_.name = name, s_.baseColour = colour, s_.roughness = roughness;
  }
  Built& metal(double share = 1) { return s_.metalness = share, *this; }
  Built& ior(double ior) { return s_.ior = ior, *this; }
  Built& specular(double share) { return s_.specular = share, *this; }
  /// A solid: where a liquid overlaps it, the solid is there.
  Built& glass(double ior = 1.52) { return s_.transmission = 1, s_.ior = ior, s_.priority = 1, *this; }
  Built& liquid(double ior) { return glass(ior), s_.priority = 0, *this; }
  Built& cloudy(double mm, const Vec3d& colour, double forward) {
    return s_.scatterDepthM = mm / 1000, s_.scatterColour = colour, s_.scatterForward = forward, *this;
  }
  Built& parts(double abbe) { return s_.abbe = abbe, *this; }
  /// Light wanders below, so far per channel.
  Built& below(double share, const Vec3d& mm, double forward = 0) {
    return s_.subsurface = share, s_.subsurfaceMm = mm, s_.scatterForward = forward, *this;
  }
  Built& flaked(double share, double mm, double tilt, const Vec3d& colour) {
    return s_.flakes = share, s_.flakeMm = mm, s_.flakeTiltDegrees = tilt, s_.flakeColour = colour, *this;
  }
  Built& coatTint(const Vec3d& colour) { return s_.coatColour = colour, *this; }
  Built& clear(double share) { return s_.transmission = share, *this; }
  Built& thin() { return s_.thinWalled = true, *this; }
  Built& lacquer(double share, double roughness = 0.05) {
    return s_.clearcoat = share, s_.clearcoatRoughness = roughness, *this;
  }
  Built& brushed(double share, double turn = 0) {
    return s_.anisotropy = share, s_.anisotropyTurnDegrees = turn, *this;
  }
  Built& cloth(double sheen, const Vec3d& colour, double roughness = 0.4) {
    return s_.sheen = sheen, s_.sheenColour = colour, s_.sheenRoughness = roughness, *this;
  }
  Built& dye(const Vec3d& colour, double depthMm) {
    return s_.absorptionColour = colour, s_.absorptionDepthM = depthMm / 1000, *this;
  }
  Built& film(double nm, double ior = 1.4) { return s_.filmNm = nm, s_.filmIor = ior, *this; }
  Built& glow(const Vec3d& radiance) { return s_.emission = radiance, *this; }
  /// A feed of a number or colour, on top of those before it; sizes in mm.
  Built& feed(SurfaceValue value, FeedKind kind, double sizeMm, const Vec3d& low, const Vec3d& high,
              FeedJoin join = FeedJoin::mix) {
    Feed f = newFeed(kind);
    f.sizeMm = sizeMm, f.low = low, f.high = high, f.join = join;
    auto& list = s_.feeds[value];
    list.insert(list.begin(), f);
    return last_ = value, *this;
  }
  Built& colours(FeedKind kind, double sizeMm, const Vec3d& low, const Vec3d& high) {
    return feed(SurfaceValue::baseColour, kind, sizeMm, low, high);
  }
  Built& rough(FeedKind kind, double sizeMm, double low, double high) {
    return feed(SurfaceValue::roughness, kind, sizeMm, Vec3d(low), Vec3d(high));
  }
  Built& bump(FeedKind kind, double sizeMm, double heightMm) {
    return feed(SurfaceValue::bump, kind, sizeMm, Vec3d(0), Vec3d(heightMm), FeedJoin::add);
  }
  // Of the feed that came last.
  Built& share(double v) { return last().share = v, *this; }
  Built& stretch(double v) { return last().stretch = v, *this; }
  Built& detail(int v) { return last().detail = v, *this; }
  Built& range(double from, double to) { return last().from = from, last().to = to, *this; }
  Built& axis(MappingAxis v) { return last().mapping.axis = v, *this; }
  Built& scatter(double mm) { return last().mapping.scatterMm = mm, *this; }
  Built& strength(double v) { return last().strength = v, *this; }
  Built& seed(int v) { return last().seed = v, *this; }

  Built& coat(const char* name, const Built& over, std::vector<Feed> mask, double strength = 1) {
    return s_.coats.insert(s_.coats.begin(), Coat{name, true, strength, over.s_, std::move(mask)}), *this;
  }
  operator Surface() const { return s_; }

 private:
  Feed& last() { return s_.feeds[last_].front(); }
  Surface s_;
  SurfaceValue last_ = SurfaceValue::baseColour;
};

/// A mask's only row: 0 to 1 of a pattern between the two ends.
inline Feed maskOf(FeedKind kind, double sizeMm, double from = 0, double to = 1, double share = -1) {
  Feed f = newFeed(kind);
  f.sizeMm = sizeMm, f.from = from, f.to = to;
  if (share >= 0) f.share = share;
  return f;
}

/// Nothing anywhere: what rows that say where something is are laid over, as a mask's ground is everywhere.
inline Feed nowhere() {
  Feed feed;
  feed.high = Vec3d(0);
  return feed;
}

// The families, each in a file of its own.
std::vector<Surface> paintSurfaces();
std::vector<Surface> metalSurfaces();
std::vector<Surface> workedMetalSurfaces();
std::vector<Surface> plasticSurfaces();
std::vector<Surface> glassSurfaces();
std::vector<Surface> woodSurfaces();
std::vector<Surface> stoneSurfaces();
std::vector<Surface> clothSurfaces();
std::vector<Surface> paperSurfaces();
std::vector<Surface> ceramicSurfaces();
std::vector<Surface> wornSurfaces();
std::vector<Surface> lightSurfaces();
std::vector<Surface> softSurfaces();
std::vector<Surface> flakedSurfaces();

}  // namespace dusk
