#include "core/surface/edit.h"

#include "core/surface/builder.h"
#include "core/surface/made_surface.h"
#include "core/surface/values.h"

namespace dusk {
namespace {

template <typename S>
auto layerOf(S& surface, int coat) -> decltype(&surface) {
  if (coat < 0) return &surface;
  return size_t(coat) < surface.coats.size() ? &surface.coats[size_t(coat)].surface : nullptr;
}

}  // namespace

const Surface* layerAt(const Surface& surface, int coat) { return layerOf(surface, coat); }
Surface* layerAt(Surface& surface, int coat) { return layerOf(surface, coat); }

const std::vector<Feed>* feedsAt(const Surface& surface, const FeedPlace& place) {
  static const std::vector<Feed> none;
  const Surface* layer = layerAt(surface, place.coat);
  if (!layer) return nullptr;
  if (place.ofMask) return place.coat < 0 ? &none : &surface.coats[size_t(place.coat)].mask;
  const auto found = layer->feeds.find(place.value);
  return found == layer->feeds.end() ? &none : &found->second;
}

std::vector<Feed>* feedsAt(Surface& surface, const FeedPlace& place) {
  Surface* layer = layerAt(surface, place.coat);
  if (!layer || (place.ofMask && place.coat < 0)) return nullptr;
  return place.ofMask ? &surface.coats[size_t(place.coat)].mask : &layer->feeds[place.value];
}

const Feed* feedAt(const Surface& surface, const FeedPlace& place) {
  const auto* feeds = feedsAt(surface, place);
  return feeds && place.row >= 0 && size_t(place.row) < feeds->size() ? &(*feeds)[size_t(place.row)]
                                                                      : nullptr;
}

Feed* feedAt(Surface& surface, const FeedPlace& place) {
  return const_cast<Feed*>(feedAt(std::as_const(surface), place));
}

Feed begunFeed(FeedKind kind, const FeedPlace& place, const Surface& layer) {
  Feed feed = newFeed(kind);
  if (place.ofMask) return feed;
  const Vec3d ground = groundOf(layer, place.value);
  switch (place.value) {
    case SurfaceValue::baseColour:
      feed.low = ground * 0.55, feed.high = ground + (Vec3d(1) - ground) * 0.25;
      if (kind == FeedKind::picture) feed.low = Vec3d(0), feed.high = Vec3d(1);
      break;
    case SurfaceValue::bump:
      feed.join = FeedJoin::add;
      feed.low = Vec3d(0), feed.high = Vec3d(std::round(feed.sizeMm * 4) / 100);
      break;
    case SurfaceValue::emission:
      feed.high = ground.length() > 0 ? ground : Vec3d(1);
      break;
    case SurfaceValue::roughness:
    case SurfaceValue::clearcoatRoughness:
      feed.low = Vec3d(std::max(0.0, ground.x - 0.1)), feed.high = Vec3d(std::min(1.0, ground.x + 0.2));
      break;
    default:
      break;
  }
  if (place.value == SurfaceValue::film) feed.low = Vec3d(200), feed.high = Vec3d(600);
  if (place.value == SurfaceValue::normal || place.value == SurfaceValue::coatNormal)
    feed.channel = PictureChannel::data, feed.mapping.kind = MappingKind::coordinates;
  return feed;
}

void tidy(Surface& surface) {
  std::erase_if(surface.feeds, [](const auto& f) { return f.second.empty(); });
  for (Coat& coat : surface.coats) tidy(coat.surface);
}

double shineOf(const Surface& s) {
  const double below = (1 - s.roughness) * (s.metalness + (1 - s.metalness) * (0.35 + 0.65 * s.specular));
  return s.clearcoat * std::max(below, 1 - s.clearcoatRoughness) + (1 - s.clearcoat) * below;
}

namespace {

/// Towards matte (-1) or mirror (1).
Surface moved(Surface s, double by) {
  const auto towards = [&](double& value, double end, double share) { value += (end - value) * share; };
  if (by < 0) {
    towards(s.roughness, 1, -by), towards(s.clearcoatRoughness, 1, -by);
    towards(s.clearcoat, 0, by * by * 0.7), towards(s.specular, 0.4, -by);
  } else {
    towards(s.roughness, 0, by), towards(s.clearcoatRoughness, 0, by), towards(s.specular, 1, by);
  }
  return s;
}

}  // namespace

Surface withShine(Surface surface, double shine) {
  double low = -1, high = 1;
  for (int i = 0; i < 40; ++i) {
    const double middle = (low + high) / 2;
    (shineOf(moved(surface, middle)) < shine ? low : high) = middle;
  }
  return moved(std::move(surface), (low + high) / 2);
}

namespace {

constexpr const char* edgesCoat = "Worn edges";
constexpr const char* dustCoat = "Settled dust";
constexpr const char* smudgeCoat = "Smudges";
constexpr const char* waveCoat = "Slow waves";

Surface bareMetal() {
  Surface s;
  s.name = "Bare metal", s.baseColour = Vec3d(0.5, 0.49, 0.48);
  s.metalness = 1, s.roughness = 0.38;
  return s;
}

/// The same without what is on it.
Surface bare(Surface s) {
  s.id.clear(), s.coats.clear();
  return s;
}

Coat coatOf(const char* name, const Surface& on, double much, const std::optional<Surface>& beneath) {
  Coat coat{name, true, 1, bare(on), {}};
  if (name == edgesCoat) {
    coat.surface = beneath ? bare(*beneath) : bareMetal();
    coat.mask = {maskOf(FeedKind::edges, 1 + 3 * much, 0.1, 0.6), nowhere()};
  } else if (name == dustCoat) {
    Feed inner = maskOf(FeedKind::cloud, 35, 0.25, 0.75);
    inner.indent = 1;
    coat.surface = Surface{};
    coat.surface.name = "Dust", coat.surface.baseColour = Vec3d(0.46, 0.42, 0.36);
    coat.surface.roughness = 1, coat.surface.specular = 0.3;
    coat.mask = {maskOf(FeedKind::facingUp, 10, 0.1, 1), inner, nowhere()};
  } else if (name == smudgeCoat) {
    coat.surface.roughness = std::min(1.0, on.roughness + 0.2);
    coat.surface.clearcoatRoughness = std::min(1.0, on.clearcoatRoughness + 0.18);
    coat.mask = {maskOf(FeedKind::smudges, 35, 0, 1), nowhere()};
  } else {
    Feed waves = maskOf(FeedKind::waves, 40, 0, 1);
    waves.join = FeedJoin::add;
    coat.surface.feeds[SurfaceValue::bump].insert(coat.surface.feeds[SurfaceValue::bump].begin(), waves);
  }
  return coat;
}

/// What in a coat grows with use.
double amountIn(const Coat& coat) {
  if (coat.name != waveCoat) return coat.strength;
  const auto found = coat.surface.feeds.find(SurfaceValue::bump);
  return found == coat.surface.feeds.end() || found->second.empty()
             ? 0
             : std::clamp(found->second[0].high.x / 0.25, 0.0, 1.0);
}

}  // namespace

Use useOf(const Surface& surface) {
  const auto much = [&](const char* name) {
    for (const Coat& coat : surface.coats)
      if (coat.name == name && coat.on) return amountIn(coat);
    return 0.0;
  };
  return {much(edgesCoat), much(dustCoat), much(smudgeCoat), much(waveCoat)};
}

Surface withUse(Surface surface, const Use& use, const std::optional<Surface>& beneath) {
  const auto set = [&](const char* name, double much, bool below) {
    const auto found = std::find_if(surface.coats.begin(), surface.coats.end(),
                                    [&](const Coat& c) { return c.name == name; });
    if (much <= 0) {
      if (found != surface.coats.end()) surface.coats.erase(found);
      return;
    }
    auto coat = found;
    if (found == surface.coats.end())
      coat = surface.coats.insert(below ? surface.coats.end() : surface.coats.begin(),
                                  coatOf(name, surface, much, beneath));
    coat->on = true, coat->strength = name == waveCoat ? 1.0 : much;
    if (name == waveCoat) {
      auto& bump = coat->surface.feeds[SurfaceValue::bump];
      if (bump.empty()) bump.push_back(maskOf(FeedKind::waves, 40, 0, 1));
      bump[0].low = Vec3d(0), bump[0].high = Vec3d(0.25 * much);
    }
  };
  // From below: the form, what hands did, what wore off, what fell on it.
  set(waveCoat, use.waves, true), set(smudgeCoat, use.smudges, false);
  set(edgesCoat, use.edges, false), set(dustCoat, use.dust, false);
  return surface;
}

Project shownAlone(Project project, const std::string& surfaceId, const FeedPlace& place) {
  Surface dark;
  dark.baseColour = Vec3d(0.02), dark.roughness = 1, dark.specular = 0;
  for (Surface& s : project.surfaces) {
    const Surface was = std::move(s);
    s = dark;
    s.id = was.id, s.name = was.name;
    if (was.id != surfaceId) continue;
    s.baseColour = Vec3d(0);
    const Surface* layer = layerAt(was, place.coat);
    const auto* feeds = feedsAt(was, place);
    if (!layer || !feeds) continue;
    s.emission = place.ofMask ? Vec3d(1) : groundOf(*layer, place.value);
    std::vector<Feed> shown = *feeds;
    if (const Feed* one = feedAt(was, place)) {
      // That row with its own masks, over nothing, from 0 to 1.
      const auto first = shown.begin() + place.row;
      shown = {first,
               std::find_if(first + 1, shown.end(), [&](const Feed& f) { return f.indent <= one->indent; })};
      shown[0].low = Vec3d(0), shown[0].high = Vec3d(1), shown[0].join = FeedJoin::mix, shown[0].on = true;
      s.emission = Vec3d(0);
    } else if (place.value == SurfaceValue::bump && !place.ofMask) {
      // Heights as greys, the highest white.
      double most = 1e-6;
      for (const Feed& f : shown) most = std::max({most, std::abs(f.low.x), std::abs(f.high.x)});
      for (Feed& f : shown) f.low /= most, f.high /= most;
    }
    s.feeds[SurfaceValue::emission] = std::move(shown);
  }
  for (Product& p : project.products) p.decals.clear();
  for (Shot& shot : project.shots) shot.render.denoise = 0;
  return project;
}

}  // namespace dusk
