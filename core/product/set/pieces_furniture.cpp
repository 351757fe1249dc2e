// Furniture at true size: table, bench, stool, shelf, crate, cushion.
#include "core/base/words.h"
#include "core/product/set/piece_parts.h"

namespace dusk::set {
namespace {

constexpr PieceMeasure width(double usual) { return {"width", marked("Width"), usual, 0.05, 6}; }
constexpr PieceMeasure depth(double usual) { return {"depth", marked("Depth"), usual, 0.05, 6}; }
constexpr PieceMeasure height(double usual) { return {"height", marked("Height"), usual, 0.02, 4}; }

/// Boards side by side along x, between two heights.
Shape boarded(double x0, double x1, double y0, double y1, double z0, double z1, int boards, int seed) {
  Shape all;
  for (int i = 0; i < boards; ++i) {
    const double a = y0 + (y1 - y0) * i / boards, b = y0 + (y1 - y0) * (i + 1) / boards;
    const double end = between(-0.002, 0.002, seed, i), up = between(-0.0006, 0.0006, seed, i, 1);
    all.add(block({x0 + end, a + 0.0007, z0 + up}, {x1 + end, b - 0.0007, z1 + up}, 0.002));
  }
  return all;
}
void table(Model& to, const Measures& m) {
  const double x = m["width"] / 2, y = m["depth"] / 2, h = m["height"], top = m["top"], leg = m["leg"] / 2;
  add(to, "Top", Stuff::wood, boarded(-x, x, -y, y, h - top, h, std::max(1, m.count("boards")), m.seed()));
  Shape frame;
  const double inset = 0.04 + leg, apron = 0.09;
  for (const double i : {-1.0, 1.0})
    for (const double k : {-1.0, 1.0}) {
      const double px = i * (x - inset), py = k * (y - inset);
      frame.add(block({px - leg, py - leg, 0}, {px + leg, py + leg, h - top}, 0.003));
    }
  for (const double k : {-1.0, 1.0}) {
    const double py = k * (y - inset), px = k * (x - inset);
    frame.add(block({-x + inset, py - 0.011, h - top - apron}, {x - inset, py + 0.011, h - top}, 0.0015));
    frame.add(block({px - 0.011, -y + inset, h - top - apron}, {px + 0.011, y - inset, h - top}, 0.0015));
  }
  add(to, "Frame", Stuff::wood, frame);
}
void bench(Model& to, const Measures& m) {
  const double x = m["width"] / 2, y = m["depth"] / 2, h = m["height"], t = 0.035;
  add(to, "Seat", Stuff::wood, boarded(-x, x, -y, y, h - t, h, std::max(1, m.count("boards")), m.seed()));
  Shape sides;
  for (const double k : {-1.0, 1.0}) {
    const double px = k * (x - 0.12);
    sides.add(block({px - 0.018, -y + 0.015, 0}, {px + 0.018, y - 0.015, h - t}, 0.003));
  }
  sides.add(block({-x + 0.12, -0.015, h * 0.35}, {x - 0.12, 0.015, h * 0.35 + 0.06}, 0.002));
  add(to, "Sides", Stuff::wood, sides);
}
void stool(Model& to, const Measures& m) {
  const double r = m["width"] / 2, h = m["height"];
  add(to, "Seat", Stuff::wood, drum(r, 0.03, 0.008).moved({0, 0, h - 0.03}));
  Shape legs;
  std::vector<Vec3d> ring;
  for (int i = 0; i < 3; ++i) {
    const double a = 2 * pi * i / 3 + 0.4;
    const Vec3d d(std::cos(a), std::sin(a), 0), foot = d * (r - 0.018),
                                                top = d * (r * 0.62) + Vec3d(0, 0, h - 0.028);
    legs.add(rod({foot, top}, 0.014, false, 20));
  }
  add(to, "Legs", Stuff::wood, legs);
  for (int i = 0; i < 48; ++i) {
    const double a = 2 * pi * i / 48;
    ring.push_back({std::cos(a) * r * 0.86, std::sin(a) * r * 0.86, h * 0.36});
  }
  add(to, "Ring", Stuff::metal, rod(ring, 0.006, true));
}
void shelf(Model& to, const Measures& m) {
  const double x = m["width"] / 2, y = m["depth"] / 2, h = m["height"], t = m["board"];
  const int shelves = m.count("shelves");
  Shape all;
  for (int i = 0; i < shelves; ++i) {
    const double z = shelves == 1 ? h - t : (h - t) * i / (shelves - 1);
    all.add(block({-x, -y, z}, {x, y, z + t}, 0.0015));
  }
  for (const double k : {-1.0, 1.0}) {
    const double px = k * (x + t / 2);
    all.add(block({px - t / 2, -y, 0}, {px + t / 2, y, h}, 0.0015));
  }
  add(to, "Boards", Stuff::wood, all);
  if (m["back"] > 0.5) add(to, "Back", Stuff::wood, block({-x, y, 0}, {x, y + 0.006, h}, 0.001));
}
void crate(Model& to, const Measures& m) {
  const double x = m["width"] / 2, y = m["depth"] / 2, h = m["height"], t = 0.012;
  const int slats = std::max(1, m.count("slats")), seed = m.seed();
  Shape all;
  const double each = h / slats;
  for (int i = 0; i < slats; ++i)
    for (const double k : {-1.0, 1.0}) {
      const double z0 = i * each + 0.006, z1 = (i + 1) * each - 0.006,
                   off = between(-0.002, 0.002, seed, i, int(k) + 2);
      const double sy = k * (y - t / 2), sx = k * (x - t / 2);
      all.add(
          block({-x + std::max(off, 0.0), sy - t / 2, z0}, {x + std::min(off, 0.0), sy + t / 2, z1}, 0.0015));
      all.add(block({sx - t / 2, -y + t, z0}, {sx + t / 2, y - t, z1}, 0.0015));
    }
  for (const double i : {-1.0, 1.0})
    for (const double k : {-1.0, 1.0}) {
      const double px = i * (x - 0.024), py = k * (y - 0.024);
      all.add(block({px - 0.015, py - 0.015, 0}, {px + 0.015, py + 0.015, h}, 0.0015));
    }
  all.add(boarded(-x + t, x - t, -y + t, y - t, 0.004, 0.014, 4, seed + 5));
  add(to, "Slats", Stuff::wood, all);
}
void cushion(Model& to, const Measures& m) {
  const double w = m["width"] / 2, d = m["depth"] / 2, h = m["height"] / 2;
  const int seed = m.seed();
  const auto half = [&](double side) {
    return skin(
        40, 40,
        [=](double u, double v) {
          const double x = 2 * u - 1, y = 2 * v - 1;
          const double full = std::pow(std::max(0.0, (1 - x * x * x * x) * (1 - y * y * y * y)), 0.42);
          const double pull = 1 - 0.07 * (x * x * y * y),
                       crease = 1 + 0.1 * noiseAt({x * 3, y * 3, side}, seed) * full;
          return Vec3d(x * w * pull, side * y * d * pull, h + side * h * full * crease);
        },
        0);
  };
  Shape all = half(1);
  all.add(half(-1));
  add(to, "Cushion", Stuff::cloth, all, 80);
}

}  // namespace

const std::vector<PieceKind>& furnitureKinds() {
  constexpr PieceMeasure boards{"boards", marked("Boards"), 5, 1, 30, ""};
  static const std::vector<PieceKind> all = {
      {"table",
       marked("Table"),
       marked("Furniture"),
       {width(1.4),
        depth(0.75),
        height(0.74),
        {"top", marked("Top"), 0.028, 0.005, 0.2},
        {"leg", marked("Leg"), 0.06, 0.01, 0.3},
        boards},
       {{marked("Top"), "oiled-ash"}, {marked("Frame"), "oiled-ash"}},
       table},
      {"bench",
       marked("Bench"),
       marked("Furniture"),
       {width(1.2), depth(0.34), height(0.45), {"boards", marked("Boards"), 2, 1, 30, ""}},
       {{marked("Seat"), "raw-pine"}, {marked("Sides"), "raw-pine"}},
       bench},
      {"stool",
       marked("Stool"),
       marked("Furniture"),
       {width(0.34), height(0.46)},
       {{marked("Seat"), "dark-oak"}, {marked("Legs"), "dark-oak"}},
       stool},
      {"shelf",
       marked("Shelf"),
       marked("Furniture"),
       {width(0.9),
        depth(0.28),
        height(1.1),
        {"shelves", marked("Shelves"), 4, 1, 20, ""},
        {"board", marked("Board"), 0.02, 0.003, 0.2},
        {"back", marked("With a back"), 1, 0, 1, ""}},
       {{marked("Boards"), "pale-birch"}, {marked("Back"), "pale-birch"}},
       shelf},
      {"crate",
       marked("Crate"),
       marked("Furniture"),
       {width(0.5), depth(0.36), height(0.3), {"slats", marked("Slats"), 3, 1, 12, ""}},
       {{marked("Slats"), "raw-pine"}},
       crate},
      {"cushion",
       marked("Cushion"),
       marked("Furniture"),
       {width(0.45), depth(0.45), height(0.14)},
       {{marked("Cushion"), "linen"}},
       cushion}};
  return all;
}

}  // namespace dusk::set
