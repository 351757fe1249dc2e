#pragma once
#include "core/project/feed.h"

namespace dusk {

/// A place on a pattern, in millimetres (patterns that do not fill space look at x and y alone), and how
/// wide a look at it is along each axis: what is finer is averaged.
struct PatternPoint {
  Vec3f mm{0, 0, 0}, width{0, 0, 0};
};

/// A pattern's value, 0 to 1, as the feed's size, stretch, share, detail and seed make it. A pure function.
using Pattern = float (*)(const PatternPoint& at, const Feed& feed);

/// nullptr for kinds that are no patterns: plain, pictures, and what the shape tells.
Pattern patternOf(FeedKind kind);

/// The same brought to its mean, which the caller knows, where a look is wider than what repeats.
float averaged(Pattern pattern, float mean, const PatternPoint& at, const Feed& feed);
/// The mean over a large piece.
float meanOf(Pattern pattern, const Feed& feed);

namespace patterns {
float noise(const PatternPoint&, const Feed&);
float cloud(const PatternPoint&, const Feed&);
float waves(const PatternPoint&, const Feed&);
float speckle(const PatternPoint&, const Feed&);
float gradient(const PatternPoint&, const Feed&);
float cells(const PatternPoint&, const Feed&);
float brushing(const PatternPoint&, const Feed&);
float turning(const PatternPoint&, const Feed&);
float scratches(const PatternPoint&, const Feed&);
float smudges(const PatternPoint&, const Feed&);
float fingerprints(const PatternPoint&, const Feed&);
float specks(const PatternPoint&, const Feed&);
float droplets(const PatternPoint&, const Feed&);
float weave(const PatternPoint&, const Feed&);
float twill(const PatternPoint&, const Feed&);
float knit(const PatternPoint&, const Feed&);
float wood(const PatternPoint&, const Feed&);
float boards(const PatternPoint&, const Feed&);
float stone(const PatternPoint&, const Feed&);
float concrete(const PatternPoint&, const Feed&);
float cast(const PatternPoint&, const Feed&);
float hammered(const PatternPoint&, const Feed&);
float leather(const PatternPoint&, const Feed&);
float paper(const PatternPoint&, const Feed&);
float cork(const PatternPoint&, const Feed&);
float terrazzo(const PatternPoint&, const Feed&);
float checker(const PatternPoint&, const Feed&);
float stripes(const PatternPoint&, const Feed&);
float brick(const PatternPoint&, const Feed&);
float tile(const PatternPoint&, const Feed&);
float ribs(const PatternPoint&, const Feed&);
float knurl(const PatternPoint&, const Feed&);

/// Helpers that several of them share.
inline Vec3f scaled(const PatternPoint& at, const Feed& f) { return at.mm / float(f.sizeMm); }
inline float widest(const PatternPoint& at, const Feed& f) {
  return std::max({at.width.x, at.width.y, at.width.z}) / float(f.sizeMm);
}
inline uint32_t seedOf(const Feed& f) { return uint32_t(f.seed) * 7919u; }
inline float unit(float signedValue) { return std::clamp(0.5f + 0.5f * signedValue, 0.0f, 1.0f); }
}  // namespace patterns

}  // namespace dusk
