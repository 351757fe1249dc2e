// What grew, was poured or cast, and what is woven.
#include "core/surface/noise.h"
#include "core/surface/patterns.h"

namespace dusk::patterns {
namespace {

float fraction(float x) { return x - std::floor(x); }

/// Rings of a trunk along z: early wood 0, late wood 1, with fibres; `p` in rings.
float trunk(const Vec3f& p, float uneven, float stretch, uint32_t seed) {
  const Vec3f slow(p.x * 0.25f, p.y * 0.25f, p.z / (stretch * 4));
  const float bent =
      gradientNoise(slow, seed) * 2.2f * uneven + gradientNoise(slow * 3, seed + 1) * 0.5f * uneven;
  const float r = std::sqrt(p.x * p.x + p.y * p.y) + bent, t = fraction(r);
  const float ring = smoothStep(0.1f, 0.85f, t) * (1 - smoothStep(0.93f, 1, t));
  const float broad = 0.75f + 0.25f * evenAt(int(std::floor(r)), 0, 0, seed);
  const float fibre = gradientNoise(Vec3f(p.x * 9, p.y * 9, p.z * 9 / (stretch * 5)), seed + 2);
  return std::clamp(ring * broad * 0.8f + 0.1f + 0.12f * fibre, 0.0f, 1.0f);
}

}  // namespace

float wood(const PatternPoint& at, const Feed& f) {
  // The pith lies outside of most pieces that are cut from a trunk.
  const Vec3f p = scaled(at, f) + Vec3f(14, 5, 0);
  return trunk(p, float(f.share), float(f.stretch), seedOf(f));
}

float boards(const PatternPoint& at, const Feed& f) {
  const float width = float(f.sizeMm), length = width * float(f.stretch), joint = float(f.share) * width;
  const int row = int(std::floor(at.mm.y / width));
  const float x = at.mm.x / length + evenAt(row, 1, 0, seedOf(f));
  const int along = int(std::floor(x));
  const float in = pulse(x - joint / length / 2, at.width.x / length, 1 - joint / length) *
                   pulse((at.mm.y - joint / 2) / width, at.width.y / width, 1 - joint / width);
  const uint32_t board = scrambled(row, along, 0, seedOf(f));
  const float ring = width / 14;  // some fourteen rings across a board
  const Vec3f p((at.mm.y - float(row) * width) / ring + float(board & 63) - 31, 6 + float(board >> 6 & 15),
                at.mm.x / ring + float(board >> 10 & 255));
  const float tone = float(board >> 20) / 4095;
  return in * (0.12f + 0.88f * std::clamp(0.6f * trunk(p, 0.5f, 10, board) + 0.4f * tone, 0.0f, 1.0f));
}

float stone(const PatternPoint& at, const Feed& f) {
  const Vec3f p = scaled(at, f);
  const uint32_t seed = seedOf(f);
  const float look = widest(at, f);
  const Vec3f bent =
      p + Vec3f(octaves(p, 3, 0.5f, look, seed), octaves(p, 3, 0.5f, look, seed + 50), 0) * 0.6f;
  const float vein = 1 - std::abs(gradientNoise(bent, seed + 9)) * 2.2f;
  const float fine = 1 - std::abs(gradientNoise(bent * 2.6f, seed + 10)) * 3.5f;
  const float veins =
      std::max(std::pow(std::max(0.0f, vein), 9.0f), 0.5f * std::pow(std::max(0.0f, fine), 9.0f));
  const float cloudy = unit(octaves(p * 0.8f, f.detail, 0.55f, look, seed + 20));
  return std::clamp(0.35f * cloudy + float(f.share) * 1.3f * veins, 0.0f, 1.0f);
}

float concrete(const PatternPoint& at, const Feed& f) {
  const Vec3f p = scaled(at, f);
  const float look = widest(at, f);
  const float clouds = 0.62f + 0.28f * octaves(p, f.detail + 2, 0.55f, look, seedOf(f));
  const CellPoint pore = cellPoint(p * 14, seedOf(f) + 5);
  const float radius = 0.1f + 0.3f * float(pore.id & 255) / 255;
  const float hole =
      pore.tone() < float(f.share) * 0.6f ? 1 - smoothStep(radius - 0.08f, radius, pore.nearest) : 0.0f;
  return std::clamp(clouds * (1 - 0.75f * hole), 0.0f, 1.0f);
}

float cast(const PatternPoint& at, const Feed& f) {
  const Vec3f p = scaled(at, f);
  const float rough = octaves(p, f.detail, 0.4f + 0.4f * float(f.share), widest(at, f), seedOf(f));
  const CellPoint grain = cellPoint(p * 1.3f, seedOf(f) + 3);
  return std::clamp(0.45f + 0.4f * rough + 0.25f * (0.5f - grain.nearest), 0.0f, 1.0f);
}

float hammered(const PatternPoint& at, const Feed& f) {
  const CellPoint c = cellPoint(scaled(at, f), seedOf(f));
  return std::clamp(c.nearest * c.nearest * 1.3f, 0.0f, 1.0f);
}

float leather(const PatternPoint& at, const Feed& f) {
  const Vec3f p = scaled(at, f);
  const Vec3f bent =
      p + Vec3f(gradientNoise(p * 0.8f, seedOf(f)), gradientNoise(p * 0.8f, seedOf(f) + 1), 0) * 0.35f;
  const CellPoint c = cellPoint(bent, seedOf(f) + 2);
  const float grain = smoothStep(0, 0.35f, c.next - c.nearest) * (0.75f + 0.25f * c.tone());
  const float crease = std::pow(
      std::max(0.0f, 1 - std::abs(octaves(p * 0.13f, 4, 0.5f, widest(at, f) * 0.13f, seedOf(f) + 3)) * 2.4f),
      6.0f);
  return std::clamp(grain - float(f.share) * crease, 0.0f, 1.0f);
}

float paper(const PatternPoint& at, const Feed& f) {
  const Vec3f p = scaled(at, f);
  const float clouds = octaves(p, f.detail, 0.5f, widest(at, f), seedOf(f));
  const float fibre = gradientNoise(Vec3f(p.x * 2, p.y * 9, p.z * 9), seedOf(f) + 1) +
                      gradientNoise(Vec3f(p.x * 9, p.y * 2, p.z * 9), seedOf(f) + 2);
  return unit(clouds * 0.8f + 0.5f * float(f.share) * fibre);
}

float cork(const PatternPoint& at, const Feed& f) {
  const Vec3f p = scaled(at, f);
  const CellPoint c = cellPoint(p, seedOf(f));
  const float seam = smoothStep(0, 0.1f, c.next - c.nearest);
  const CellPoint pore = cellPoint(p * 2.3f, seedOf(f) + 4);
  const float hole = pore.tone() < float(f.share) * 0.5f && pore.nearest < 0.22f ? 0.35f : 1.0f;
  return std::clamp(
      (0.3f + 0.6f * c.tone() + 0.12f * gradientNoise(p * 5, seedOf(f) + 5)) * (0.5f + 0.5f * seam) * hole,
      0.0f, 1.0f);
}

float terrazzo(const PatternPoint& at, const Feed& f) {
  const Vec3f p = scaled(at, f);
  float value = 0;
  for (int i = 1; i >= 0; --i) {  // small chips lie between the large ones
    const float by = i ? 2.6f : 1.0f;
    const CellPoint c = cellPoint(p * by, seedOf(f) + uint32_t(i) * 13);
    const float soft = std::max(0.03f, widest(at, f) * by);
    if (c.tone() < float(f.share)) {
      const float in = std::clamp((c.next - c.nearest - 0.16f) / soft + 0.5f, 0.0f, 1.0f);
      value = value * (1 - in) + in * (0.35f + 0.65f * float(c.id & 255) / 255);
    }
  }
  return value;
}

namespace {

/// A thread's height across it, -1 to 1 from edge to edge.
float thread(float across) { return std::sqrt(std::max(0.0f, 1 - across * across)); }

/// Cloth of threads at right angles; `warpOver` says which lies on top where they cross.
float cloth(const PatternPoint& at, const Feed& f, bool (*warpOver)(int, int)) {
  const float x = at.mm.x / float(f.sizeMm), y = at.mm.y / float(f.sizeMm);
  const int i = int(std::floor(x)), j = int(std::floor(y));
  const float u = 2 * (x - float(i)) - 1, v = 2 * (y - float(j)) - 1;
  const bool warp = warpOver(i, j);
  const float over = warp ? thread(u) * (0.72f + 0.28f * thread(v)) : thread(v) * (0.72f + 0.28f * thread(u));
  const float yarn = evenAt(warp ? i : 0, warp ? 0 : j, warp ? 1 : 2, seedOf(f));
  return over * (0.85f + 0.15f * yarn);
}

}  // namespace

float weave(const PatternPoint& at, const Feed& f) {
  return cloth(at, f, [](int i, int j) { return ((i + j) & 1) == 0; });
}

float twill(const PatternPoint& at, const Feed& f) {
  return cloth(at, f, [](int i, int j) { return ((i + j) & 3) < 2; });
}

float knit(const PatternPoint& at, const Feed& f) {
  const float x = fraction(at.mm.x / float(f.sizeMm)), y = at.mm.y / float(f.sizeMm) * 1.3f;
  const float side = std::abs(x - 0.5f) * 2;  // the two legs of a loop lean to its column's middle
  const float t = fraction(y + side * 0.55f);
  const float leg = thread(std::clamp((side - 0.5f) * 2.1f, -1.0f, 1.0f)), loop = thread(2 * t - 1);
  return std::clamp(0.15f + 0.85f * std::min(leg, 0.35f + 0.65f * loop), 0.0f, 1.0f);
}

}  // namespace dusk::patterns
