// Feeds that ask the shape.
#include "core/surface/noise.h"
#include "core/surface/stack.h"

namespace dusk {
namespace {

/// Made uneven by slow noise: what `share` takes away first where the noise is high.
float uneven(float value, const Feed& f, const Look& look) {
  const float share = float(f.share);
  if (share <= 0) return value;
  const float width = 2000 * look.point.width / float(f.sizeMm);
  const float n =
      0.5f + 0.5f * octaves(look.site.mm / float(f.sizeMm) * 0.8f, 5, 0.6f, width, uint32_t(f.seed));
  return smoothStep(share * n, share * n + (1 - share) * 0.8f + 0.05f, value);
}

}  // namespace

float shapeValue(const Feed& f, const Look& look) {
  const SurfacePoint& p = look.point;
  const float metres = float(f.sizeMm) / 1000;
  // Looked at from so far that nothing of this size is seen, it is left at what it mostly is.
  const bool seen = p.probe && p.width < 2 * metres;
  switch (f.kind) {
    case FeedKind::edges:
      return seen ? uneven(std::min(1.0f, 2 * p.probe->exposed(p.position, p.geometricNormal, metres)), f,
                           look)
                  : 0.0f;
    case FeedKind::creases:
      return seen ? std::min(1.0f, 1.4f * p.probe->covered(p.position, p.geometricNormal, metres)) : 0.2f;
    case FeedKind::thickness:
      return p.probe ? p.probe->thickness(p.position, p.geometricNormal, metres) / metres : 1.0f;
    case FeedKind::facingUp:
      return std::clamp(p.geometricNormal.z, 0.0f, 1.0f);
    case FeedKind::height:
      return std::clamp((look.site.mm.dot(look.part.up) - look.part.footMm) / float(f.sizeMm), 0.0f, 1.0f);
    case FeedKind::nearGround:
      return std::clamp(1 - (p.position.z - look.part.standsM) / metres, 0.0f, 1.0f);
    case FeedKind::perPart:
      return evenAt(int(look.part.number()), f.seed, 0, 3);
    case FeedKind::facing:
      return std::clamp(std::abs(p.view.dot(p.geometricNormal)), 0.0f, 1.0f);
    default:
      return 0;
  }
}

}  // namespace dusk
