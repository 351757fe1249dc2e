#include "core/surface/patterns.h"

#include "core/project/feed_kinds.h"
#include "core/surface/noise.h"

namespace dusk {
namespace {

/// Whether the pattern averages by itself, exactly.
bool filtersItself(FeedKind kind) {
  using enum FeedKind;
  return kind == checker || kind == stripes || kind == brick || kind == tile || kind == cloud ||
         kind == gradient || kind == noise || kind == brushing;
}

}  // namespace

Pattern patternOf(FeedKind kind) {
  namespace p = patterns;
  switch (kind) {
    case FeedKind::noise:
      return p::noise;
    case FeedKind::cloud:
      return p::cloud;
    case FeedKind::waves:
      return p::waves;
    case FeedKind::speckle:
      return p::speckle;
    case FeedKind::gradient:
      return p::gradient;
    case FeedKind::cells:
      return p::cells;
    case FeedKind::brushing:
      return p::brushing;
    case FeedKind::turning:
      return p::turning;
    case FeedKind::scratches:
      return p::scratches;
    case FeedKind::smudges:
      return p::smudges;
    case FeedKind::fingerprints:
      return p::fingerprints;
    case FeedKind::specks:
      return p::specks;
    case FeedKind::droplets:
      return p::droplets;
    case FeedKind::weave:
      return p::weave;
    case FeedKind::twill:
      return p::twill;
    case FeedKind::knit:
      return p::knit;
    case FeedKind::wood:
      return p::wood;
    case FeedKind::boards:
      return p::boards;
    case FeedKind::stone:
      return p::stone;
    case FeedKind::concrete:
      return p::concrete;
    case FeedKind::cast:
      return p::cast;
    case FeedKind::hammered:
      return p::hammered;
    case FeedKind::leather:
      return p::leather;
    case FeedKind::paper:
      return p::paper;
    case FeedKind::cork:
      return p::cork;
    case FeedKind::terrazzo:
      return p::terrazzo;
    case FeedKind::checker:
      return p::checker;
    case FeedKind::stripes:
      return p::stripes;
    case FeedKind::brick:
      return p::brick;
    case FeedKind::tile:
      return p::tile;
    case FeedKind::ribs:
      return p::ribs;
    case FeedKind::knurl:
      return p::knurl;
    default:  // plain values, pictures, and what the shape knows
      return nullptr;
  }
}

float averaged(Pattern pattern, float mean, const PatternPoint& at, const Feed& feed) {
  if (filtersItself(feed.kind)) return pattern(at, feed);
  const float gone = smoothStep(0.6f, 1.6f, patterns::widest(at, feed));
  return gone >= 1 ? mean : gone <= 0 ? pattern(at, feed) : pattern(at, feed) * (1 - gone) + mean * gone;
}

float meanOf(Pattern pattern, const Feed& feed) {
  constexpr int count = 2048;
  float sum = 0;
  const float side = float(feed.sizeMm) * 40;
  for (int i = 0; i < count; ++i)
    sum += pattern(
        {{evenAt(i, 0, 0, 5) * side, evenAt(i, 1, 0, 5) * side, evenAt(i, 2, 0, 5) * side}, Vec3f(0)}, feed);
  return sum / count;
}

}  // namespace dusk
