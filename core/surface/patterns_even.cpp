// Noise and its kin, and what is built of straight lines.
#include "core/surface/noise.h"
#include "core/surface/patterns.h"

namespace dusk::patterns {

float noise(const PatternPoint& at, const Feed& f) {
  return unit(octaves(scaled(at, f), 1, 0.5f, widest(at, f), seedOf(f)));
}

float cloud(const PatternPoint& at, const Feed& f) {
  return unit(octaves(scaled(at, f), f.detail, 0.3f + 0.45f * float(f.share), widest(at, f), seedOf(f)) *
              1.2f);
}

float waves(const PatternPoint& at, const Feed& f) {
  const Vec3f p = scaled(at, f);
  const uint32_t seed = seedOf(f);
  const float off = float(f.share) * gradientNoise(p * 0.7f, seed + 1);
  const float even = std::sin(2 * pif * (p.x * 0.6f + 0.4f * p.z + off)) * 0.3f +
                     std::sin(2 * pif * (p.y * 0.7f - 0.2f * p.z + off * 1.3f)) * 0.3f;
  return unit(even + 0.6f * gradientNoise(p * 0.5f + Vec3f(off), seed + 2));
}

float speckle(const PatternPoint& at, const Feed& f) {
  const CellPoint c = cellPoint(scaled(at, f), seedOf(f));
  const float radius = 0.42f * (0.6f + 0.4f * c.tone());
  return c.tone() < float(f.share) ? 1 - smoothStep(radius - 0.06f, radius + 0.06f, c.nearest) : 0.0f;
}

float gradient(const PatternPoint& at, const Feed& f) {
  return std::clamp(at.mm.z / float(f.sizeMm) + 0.5f, 0.0f, 1.0f);
}

float cells(const PatternPoint& at, const Feed& f) {
  const CellPoint c = cellPoint(scaled(at, f), seedOf(f));
  return smoothStep(0, std::max(0.02f, float(f.share)), c.next - c.nearest);
}

float checker(const PatternPoint& at, const Feed& f) {
  const float half = 0.5f / float(f.sizeMm);
  const auto wave = [&](float x, float width) { return 2 * pulse(x * half, width * half, 0.5f) - 1; };
  return 0.5f + 0.5f * wave(at.mm.x, at.width.x) * wave(at.mm.y, at.width.y);
}

float stripes(const PatternPoint& at, const Feed& f) {
  const float per = 1 / float(f.sizeMm);
  return pulse(at.mm.x * per, at.width.x * per, float(f.share));
}

namespace {

/// Rows of blocks, joint 0, blocks 0.5 to 1 by their own tone; every other row is moved by `off` of a block.
float blocks(const PatternPoint& at, const Feed& f, float length, float height, float off) {
  const float joint = float(f.share) * float(f.sizeMm);
  const float row = std::floor(at.mm.y / height);
  const float x = at.mm.x / length + (int(row) & 1 ? off : 0.0f);
  const float in = pulse(x - joint / length / 2, at.width.x / length, 1 - joint / length) *
                   pulse((at.mm.y - joint / 2) / height, at.width.y / height, 1 - joint / height);
  const float gone = smoothStep(0.5f, 1.5f, std::max(at.width.x / length, at.width.y / height));
  const float tone = evenAt(int(std::floor(x)), int(row), 0, seedOf(f));
  return in * (0.5f + 0.5f * (tone + (0.5f - tone) * gone));
}

}  // namespace

float brick(const PatternPoint& at, const Feed& f) {
  return blocks(at, f, float(f.sizeMm), float(f.sizeMm / f.stretch), 0.5f);
}

float tile(const PatternPoint& at, const Feed& f) {
  return blocks(at, f, float(f.sizeMm), float(f.sizeMm / f.stretch), 0);
}

float ribs(const PatternPoint& at, const Feed& f) {
  const float x = at.mm.x / float(f.sizeMm), t = 2 * (x - std::floor(x)) - 1;
  return std::sqrt(std::max(0.0f, 1 - t * t));
}

float knurl(const PatternPoint& at, const Feed& f) {
  const float a = (at.mm.x + at.mm.y) * float(std::sqrt(0.5) / f.sizeMm),
              b = (at.mm.x - at.mm.y) * float(std::sqrt(0.5) / f.sizeMm);
  const auto flank = [](float t) { return 1 - std::abs(2 * (t - std::floor(t)) - 1); };
  return std::min(flank(a), flank(b));
}

}  // namespace dusk::patterns
