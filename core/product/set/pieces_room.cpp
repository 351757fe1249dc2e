// What stands round a product: walls, niches, sweeps, curtains, floors.
#include "core/base/words.h"
#include "core/product/set/piece_parts.h"

namespace dusk::set {
namespace {

void wall(Model& to, const Measures& m) {
  const double x = m["width"] / 2, y = m["thickness"] / 2;
  add(to, "Wall", Stuff::plaster, block({-x, -y, 0}, {x, y, m["height"]}, 0.003));
  if (m["skirting"] > 0)
    add(to, "Skirting", Stuff::wood, block({-x, -y - 0.016, 0}, {x, -y, m["skirting"]}, 0.004));
}
/// A wall with a hollow that a product stands in, round at its top.
void niche(Model& to, const Measures& m) {
  const double w = m["width"] / 2, h = m["height"], n = std::min(m["opening"] / 2, w * 0.95),
               depth = m["depth"];
  const double spring = std::max(0.02, m["rise"]), foot = m["sill"];
  constexpr int bends = 48;
  std::vector<Vec2d> inner, outer;
  const auto onRim = [&](const Vec2d& p) {  // where a ray from the opening's middle leaves the wall
    const Vec2d middle(0, foot + spring / 2), d = p - middle;
    double t = 1e9;
    if (std::abs(d.x) > 1e-9) t = std::min(t, (w - std::copysign(middle.x, d.x)) / std::abs(d.x));
    if (d.y > 1e-9) t = std::min(t, (h - middle.y) / d.y);
    if (d.y < -1e-9) t = std::min(t, middle.y / -d.y);
    return middle + d * t;
  };
  inner.push_back({-n, foot});
  for (int i = 1; i <= 6; ++i) inner.push_back({-n, foot + spring * i / 6});
  for (int i = 1; i < bends; ++i)
    inner.push_back({-n * std::cos(pi * i / bends), foot + spring + n * std::sin(pi * i / bends)});
  for (int i = 6; i >= 0; --i) inner.push_back({n, foot + spring * i / 6});
  for (int i = 1; i < 8; ++i) inner.push_back({n - 2 * n * i / 8, foot});
  for (const Vec2d& p : inner) outer.push_back(onRim(p));
  add(to, "Wall", Stuff::plaster, plate(outer, inner, depth, true));
  add(to, "Back", Stuff::plaster, block({-w, depth / 2, 0}, {w, depth / 2 + 0.05, h}, 0.002));
}
/// Paper or plaster that runs from the floor up into a wall.
void sweep(Model& to, const Measures& m) {
  const double r = m["bend"], floor = m["floor"], wall = m["wall"], w = m["width"] / 2;
  const double flat = std::max(0.01, floor - r), bend = r * pi / 2, up = std::max(0.01, wall - r),
               all = flat + bend + up;
  const auto at = [=](double u, double v) {
    const double x = -w + 2 * w * u, s = v * all;
    if (s < flat) return Vec3d(x, s - flat, 0);
    if (s < flat + bend) {
      const double a = (s - flat) / r;
      return Vec3d(x, r * std::sin(a), r - r * std::cos(a));
    }
    return Vec3d(x, r, r + s - flat - bend);
  };
  add(to, "Sweep", Stuff::paper, skin(1, 160, at, 0), 60);
}
void curtain(Model& to, const Measures& m) {
  const double w = m["width"], h = m["height"], fold = m["folds"], deep = m["depth"] / 2;
  const int seed = m.seed();
  const auto at = [=](double u, double v) {
    // Folds fall from the top and wander a little on their way down.
    const double wander = 0.35 * noiseAt({u * fold * 0.6, v * 1.7, 0.5}, seed);
    const double phase = 2 * pi * fold * (u + 0.02 * wander) + wander,
                 y = deep * (std::sin(phase) + 0.35 * std::sin(2.3 * phase + 1)) * (0.75 + 0.25 * v);
    return Vec3d(w * (u - 0.5) + 0.3 * deep * std::cos(phase), y, h * (1 - v));
  };
  add(to, "Curtain", Stuff::cloth, skin(int(fold) * 24, 40, at, 0.0008), 80);
}
/// Boards, each a little off, with gaps.
void boards(Model& to, const Measures& m) {
  const double w = m["width"], d = m["depth"], board = m["board"], gap = m["gap"], t = 0.022;
  const int seed = m.seed(), rows = std::max(1, int(std::ceil(w / board)));
  Shape all;
  for (int i = 0; i < rows; ++i) {
    double y = -between(0, 0.9, seed, i);
    for (int k = 0; y < d; ++k) {
      const double length = between(0.9, 1.9, seed, i, k + 10), low = std::max(0.0, y),
                   high = std::min(d, y + length);
      if (high - low > 0.02) {
        const double x = i * board - w / 2, z = between(-1, 1, seed, i, k + 50) * m["off"];
        all.add(block({x + gap / 2, low - d / 2 + gap / 2, -t + z},
                      {x + board - gap / 2, high - d / 2 - gap / 2, z}, 0.0015)
                    .turned(between(-1, 1, seed, i, k + 90) * m["off"] * 20));
      }
      y += length;
    }
  }
  add(to, "Boards", Stuff::wood, all);
  add(to, "Below", Stuff::stone, block({-w / 2, -d / 2, -t - 0.02}, {w / 2, d / 2, -t * 0.8}, 0.001));
}
void tiles(Model& to, const Measures& m) {
  const double w = m["width"], d = m["depth"], tile = m["tile"], gap = m["gap"], t = 0.01;
  const int across = std::max(1, int(w / tile)), along = std::max(1, int(d / tile)), seed = m.seed();
  Shape all;
  for (int i = 0; i < across; ++i)
    for (int k = 0; k < along; ++k) {
      const double x = (i - across / 2.0) * tile, y = (k - along / 2.0) * tile,
                   z = between(-1, 1, seed, i, k) * m["off"];
      all.add(block({x + gap / 2, y + gap / 2, -t}, {x + tile - gap / 2, y + tile - gap / 2, z}, 0.0012));
    }
  add(to, "Tiles", Stuff::stone, all);
  add(to, "Joints", Stuff::plaster,
      block({-across * tile / 2, -along * tile / 2, -t - 0.01},
            {across * tile / 2, along * tile / 2, -0.0025}, 0.0005));
}

}  // namespace

const std::vector<PieceKind>& roomKinds() {
  constexpr PieceMeasure off{"off", marked("Off by"), 0.0006, 0, 0.01},
      gap{"gap", marked("Gap"), 0.003, 0.0005, 0.03};
  static const std::vector<PieceKind> all = {
      {"wall",
       marked("Wall"),
       marked("Room"),
       {{"width", marked("Width"), 3, 0.1, 30},
        {"height", marked("Height"), 2.6, 0.1, 12},
        {"thickness", marked("Thickness"), 0.12, 0.01, 1},
        {"skirting", marked("Skirting"), 0.08, 0, 0.4}},
       {{marked("Wall"), "plaster"}, {marked("Skirting"), "painted-boards"}},
       wall},
      {"niche",
       marked("Niche"),
       marked("Room"),
       {{"width", marked("Width"), 1.6, 0.2, 10},
        {"height", marked("Height"), 1.6, 0.2, 8},
        {"opening", marked("Opening"), 0.6, 0.05, 5},
        {"rise", marked("Straight up to"), 0.5, 0.02, 5},
        {"sill", marked("Sill"), 0.2, 0.005, 3},
        {"depth", marked("Depth"), 0.3, 0.02, 3}},
       {{marked("Wall"), "plaster"}, {marked("Back"), "plaster"}},
       niche},
      {"sweep",
       marked("Sweep"),
       marked("Room"),
       {{"width", marked("Width"), 3, 0.1, 30},
        {"floor", marked("Floor"), 2.2, 0.1, 20},
        {"wall", marked("Wall"), 2, 0.1, 12},
        {"bend", marked("Bend"), 0.6, 0.01, 5}},
       {{marked("Sweep"), "coated-card"}},
       sweep},
      {"curtain",
       marked("Curtain"),
       marked("Room"),
       {{"width", marked("Width"), 1.4, 0.1, 12},
        {"height", marked("Height"), 2.3, 0.1, 10},
        {"folds", marked("Folds"), 9, 1, 80, ""},
        {"depth", marked("Depth"), 0.1, 0.005, 0.6}},
       {{marked("Curtain"), "linen"}},
       curtain},
      {"boards",
       marked("Floor boards"),
       marked("Room"),
       {{"width", marked("Width"), 2.4, 0.2, 20},
        {"depth", marked("Depth"), 2.4, 0.2, 20},
        {"board", marked("Board"), 0.14, 0.02, 0.5},
        gap,
        off},
       {{marked("Boards"), "oiled-ash"}, {marked("Below"), "rough-concrete"}},
       boards},
      {"tiles",
       marked("Tiles"),
       marked("Room"),
       {{"width", marked("Width"), 2, 0.1, 20},
        {"depth", marked("Depth"), 2, 0.1, 20},
        {"tile", marked("Tile"), 0.15, 0.02, 1.2},
        gap,
        off},
       {{marked("Tiles"), "terrazzo"}, {marked("Joints"), "smooth-concrete"}},
       tiles}};
  return all;
}

}  // namespace dusk::set
