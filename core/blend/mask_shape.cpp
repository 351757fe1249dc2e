#include "core/blend/lanes.h"
#include "core/blend/mask.h"

namespace dusk {
namespace {

struct Edge {
  Vec2f a, b;
  float featherA, featherB;
};

/// How far a place is from an edge, and how wide the border is there.
struct Near {
  float squared = 1e30f, feather = 0;
};
Near nearTo(const Edge& e, float x, float y) {
  const float dx = e.b.x - e.a.x, dy = e.b.y - e.a.y, long2 = dx * dx + dy * dy;
  const float t = long2 > 0 ? std::clamp(((x - e.a.x) * dx + (y - e.a.y) * dy) / long2, 0.0f, 1.0f) : 0;
  const float px = x - e.a.x - t * dx, py = y - e.a.y - t * dy;
  return {px * px + py * py, e.featherA + (e.featherB - e.featherA) * t};
}

class Shape : public Node {
 public:
  Shape(const PixelArea& whole, const MaskLine& line, bool closed, double halfWidth)
      : Node(whole, 1, {},
             NodeKey("shape").with(whole).with(line.at).with(line.feather).with(closed).with(halfWidth)),
        closed_(closed),
        half_(float(halfWidth)) {
    const size_t n = line.at.size();
    for (size_t i = 0; i + (closed ? 0 : 1) < n; ++i) {
      const size_t k = (i + 1) % n;
      edges_.push_back({line.at[i], line.at[k], line.feather[i], line.feather[k]});
      widest_ = std::max(widest_, line.feather[i]);
    }
    if (n == 1) edges_.push_back({line.at[0], line.at[0], line.feather[0], line.feather[0]});
  }
  bool isHeld() const override { return true; }

  void make(std::span<const Sheet>, Sheet& to) const override {
    // Each tile looks only at edges that are near enough to soften it.
    constexpr int step = 32;
    for (int x0 = to.area.x0; x0 < to.area.x1; x0 += step) {
      const PixelArea tile{x0, to.area.y0, std::min(to.area.x1, x0 + step), to.area.y1};
      const std::vector<Edge> near = nearEdges(tile);
      std::vector<float> crossings;
      for (int y = tile.y0; y < tile.y1; ++y)
        fillRow(near, tile, y, crossings, to.row(0, y) + (x0 - to.area.x0));
    }
  }

 private:
  std::vector<Edge> nearEdges(const PixelArea& tile) const {
    std::vector<Edge> near;
    const float reach = widest_ / 2 + half_ + 1.5f;
    for (const Edge& e : edges_)
      if (std::min(e.a.x, e.b.x) < float(tile.x1) + reach &&
          std::max(e.a.x, e.b.x) > float(tile.x0) - reach &&
          std::min(e.a.y, e.b.y) < float(tile.y1) + reach && std::max(e.a.y, e.b.y) > float(tile.y0) - reach)
        near.push_back(e);
    return near;
  }
  void fillRow(const std::vector<Edge>& near, const PixelArea& tile, int y, std::vector<float>& crossings,
               float* out) const {
    const float py = float(y) + 0.5f;
    crossings.clear();
    if (closed_)
      for (const Edge& e : edges_)
        if ((e.a.y <= py) != (e.b.y <= py))
          crossings.push_back(e.a.x + (py - e.a.y) / (e.b.y - e.a.y) * (e.b.x - e.a.x));
    std::sort(crossings.begin(), crossings.end());
    for (int x = tile.x0; x < tile.x1; ++x) {
      const float px = float(x) + 0.5f;
      const auto passed = std::lower_bound(crossings.begin(), crossings.end(), px) - crossings.begin();
      const bool inside = closed_ && passed % 2 == 1;
      Near best;
      for (const Edge& e : near)
        if (const Near n = nearTo(e, px, py); n.squared < best.squared) best = n;
      float value = inside ? 1.0f : 0.0f;
      if (best.squared < 1e29f) {
        const float away = std::sqrt(best.squared), into = closed_ ? (inside ? away : -away) : half_ - away;
        const float t = std::clamp(into / std::max(best.feather, 1.0f) + 0.5f, 0.0f, 1.0f);
        value = t * t * (3 - 2 * t);
      }
      out[x - tile.x0] = value;
    }
  }

  std::vector<Edge> edges_;
  bool closed_;
  float half_, widest_ = 0;
};

/// Catmull & Rom 1974, "A Class of Local Interpolating Splines".
MaskLine smooth(const MaskLine& line, bool closed) {
  const size_t n = line.at.size();
  if (n < 3) return line;
  constexpr int pieces = 8;
  MaskLine out;
  const auto index = [&](int i) {
    return closed ? size_t((i + int(n)) % int(n)) : size_t(std::clamp(i, 0, int(n) - 1));
  };
  for (size_t i = 0; i + (closed ? 0 : 1) < n; ++i) {
    const int k = int(i);
    const Vec2f p0 = line.at[index(k - 1)], p1 = line.at[i], p2 = line.at[index(k + 1)],
                p3 = line.at[index(k + 2)];
    for (int s = 0; s < pieces; ++s) {
      const float t = float(s) / pieces, t2 = t * t, t3 = t2 * t;
      out.at.push_back((p1 * 2.0f + (p2 - p0) * t + (p0 * 2.0f - p1 * 5.0f + p2 * 4.0f - p3) * t2 +
                        (p1 * 3.0f - p0 - p2 * 3.0f + p3) * t3) *
                       0.5f);
      out.feather.push_back(line.feather[i] * (1 - t) + line.feather[index(k + 1)] * t);
    }
  }
  if (!closed) out.at.push_back(line.at.back()), out.feather.push_back(line.feather.back());
  return out;
}

}  // namespace

NodePtr shapeNode(const PixelArea& whole, MaskLine line, bool closed, double halfWidth) {
  return std::make_shared<Shape>(whole, line, closed, halfWidth);
}

std::optional<MaskLine> maskLine(const Mask& mask, const MaskWorld& world) {
  MaskLine line;
  for (const MaskPoint& p : mask.points) {
    const auto at = maskPointInPicture(p.at, mask.hold, world);
    if (!at) return {};
    line.at.emplace_back(float(at->x), float(at->y));
    line.feather.push_back(float(p.feather * world.frame.scale));
  }
  return mask.curved ? smooth(line, mask.kind == MaskKind::outline) : line;
}

}  // namespace dusk
