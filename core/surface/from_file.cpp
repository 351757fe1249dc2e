#include "core/base/words.h"
#include "core/project/feed_kinds.h"
#include "core/surface/made_surface.h"

namespace dusk {

Surface surfaceFromFile(const FileMaterial& m, const AssetRef& file) {
  Surface s;
  s.name = words("as in the file");
  s.baseColour = toDouble(m.colour), s.emission = toDouble(m.emission);
  s.metalness = m.metalness, s.roughness = m.roughness, s.ior = m.ior, s.transmission = m.transmission;
  s.clearcoat = m.clearcoat, s.clearcoatRoughness = m.clearcoatRoughness, s.specular = m.specular;
  s.anisotropy = m.anisotropy, s.anisotropyTurnDegrees = degrees(double(m.anisotropyTurn));
  s.abbe = m.abbe, s.thinWalled = m.thinWalled;
  s.sheen = maxComponent(m.sheenColour) > 0 ? 1 : 0, s.sheenColour = toDouble(m.sheenColour);
  if (s.sheen > 0) s.sheenRoughness = m.sheenRoughness;
  s.absorptionColour = toDouble(m.absorptionColour), s.absorptionDepthM = m.absorptionDepthM;
  const auto feed = [&](SurfaceValue value, int texture, PictureChannel channel, FeedJoin join) -> Feed* {
    if (texture < 0) return nullptr;
    Feed f;
    f.kind = FeedKind::picture, f.join = join, f.picture = file, f.texture = texture, f.channel = channel;
    f.mapping.kind = MappingKind::coordinates;
    return &s.feeds[value].emplace_back(f);
  };
  using enum SurfaceValue;
  const FeedJoin times = FeedJoin::multiply;
  feed(baseColour, m.colourTexture, PictureChannel::colour, times);
  if (m.vertexColours) {
    Feed& f = s.feeds[baseColour].emplace_back(newFeed(FeedKind::vertexColours));
    f.join = times;
  }
  feed(roughness, m.metalRoughTexture, PictureChannel::green, times);
  feed(metalness, m.metalRoughTexture, PictureChannel::blue, times);
  if (Feed* f = feed(normal, m.normalTexture, PictureChannel::data, FeedJoin::mix))
    f->strength = m.normalStrength;
  feed(emission, m.emissionTexture, PictureChannel::colour, times);
  feed(clearcoat, m.clearcoatTexture, PictureChannel::red, times);
  feed(clearcoatRoughness, m.clearcoatRoughnessTexture, PictureChannel::green, times);
  feed(coatNormal, m.clearcoatNormalTexture, PictureChannel::data, FeedJoin::mix);
  feed(transmission, m.transmissionTexture, PictureChannel::red, times);
  feed(specular, m.specularTexture, PictureChannel::alpha, times);
  feed(sheenColour, m.sheenColourTexture, PictureChannel::colour, times);
  feed(sheenRoughness, m.sheenRoughnessTexture, PictureChannel::alpha, times);
  if (m.film <= 0) return s;
  s.filmNm = m.filmThickNm, s.filmIor = m.filmIor;
  if (Feed* f = feed(film, m.filmTexture, PictureChannel::green, FeedJoin::mix))
    f->low = Vec3d(m.filmThinNm), f->high = Vec3d(m.filmThickNm);
  if (m.film >= 1) return s;
  // A film on a share of it: as a coat that is the same but for the film.
  Coat filmed{"Film", true, m.film, s};
  s.filmNm = 0, s.feeds.erase(film);
  s.coats.push_back(std::move(filmed));
  return s;
}

}  // namespace dusk
