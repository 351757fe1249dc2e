// What a product stands on: plinths, discs, slabs, arches, stairs.
#include "core/base/words.h"
#include "core/product/set/piece_parts.h"

namespace dusk::set {
namespace {

constexpr PieceMeasure edge{"edge", marked("Edge"), 0.003, 0.0005, 0.05};

void roundPlinth(Model& to, const Measures& m) {
  add(to, "Plinth", Stuff::plaster, drum(m["width"] / 2, m["height"], m["edge"], 128));
}
void squarePlinth(Model& to, const Measures& m) {
  const double x = m["width"] / 2, y = m["depth"] / 2;
  add(to, "Plinth", Stuff::plaster, block({-x, -y, 0}, {x, y, m["height"]}, m["edge"]));
}
void stepped(Model& to, const Measures& m) {
  const int steps = m.count("steps");
  for (int i = 0; i < steps; ++i) {
    const double x = m["width"] / 2, y = m["depth"] * (steps - i) / steps, z = m["height"] / steps;
    add(to, "Step", Stuff::plaster,
        block({-x, m["depth"] / 2 - y, z * i}, {x, m["depth"] / 2, z * (i + 1)}, m["edge"]));
  }
}
/// Drums on each other, each a little narrower and off the middle.
void stack(Model& to, const Measures& m) {
  const int discs = m.count("discs");
  double z = 0;
  for (int i = 0; i < discs; ++i) {
    const double r = m["width"] / 2 * (1 - m["taper"] * i / std::max(1, discs)),
                 h = m["height"] / discs * between(0.7, 1.3, m.seed(), i), off = m["off"] * r;
    add(to, "Disc", Stuff::plaster,
        drum(r, h, m["edge"])
            .moved({between(-off, off, m.seed(), i, 1), between(-off, off, m.seed(), i, 2), z}));
    z += h;
  }
}
void slab(Model& to, const Measures& m) {
  const double x = m["width"] / 2, y = m["depth"] / 2, h = m["height"];
  Shape s = block({-x, -y, 0}, {x, y, h}, m["edge"]);
  // Riven: its sides are not quite straight.
  const double rough = m["rough"];
  if (rough > 0) {
    Shape riven;
    const auto& c = s.corners();
    const auto off = [&](Vec3d p) {
      const Vec3d q = p * 18.0;
      p.x += rough * noiseAt(q, m.seed()) * std::abs(p.x) / x,
          p.y += rough * noiseAt(q, m.seed() + 1) * std::abs(p.y) / y;
      return p;
    };
    for (size_t i = 0; i + 2 < c.size(); i += 3) riven.triangle(off(c[i]), off(c[i + 1]), off(c[i + 2]));
    s = riven;
  }
  add(to, "Slab", Stuff::stone, s);
}
void disc(Model& to, const Measures& m) {
  Shape s = drum(m["width"] / 2, m["thickness"], m["edge"], 160).turned(90, {1, 0, 0});
  add(to, "Disc", Stuff::plaster, s.moved({0, m["thickness"] / 2, m["width"] / 2}));
}
void arch(Model& to, const Measures& m) {
  const double w = m["width"] / 2, h = m["height"], t = std::min(m["band"], w * 0.9),
               spring = std::max(0.0, h - w);
  std::vector<Vec2d> outer{{-w, 0}}, inner{{-(w - t), 0}};
  constexpr int bends = 72;
  for (int i = 0; i <= bends; ++i) {
    const double a = pi - pi * i / bends, rise = std::min(w, h);
    outer.push_back({w * std::cos(a), spring + rise * std::sin(a)});
    inner.push_back({(w - t) * std::cos(a), spring + (rise - t) * std::sin(a)});
  }
  outer.push_back({w, 0}), inner.push_back({w - t, 0});
  add(to, "Arch", Stuff::plaster, plate(outer, inner, m["depth"], false));
}
void stairs(Model& to, const Measures& m) {
  const int steps = m.count("steps");
  const double x = m["width"] / 2, run = m["depth"] / steps, rise = m["height"] / steps;
  for (int i = 0; i < steps; ++i)
    add(to, "Step", Stuff::plaster,
        block({-x, -m["depth"] / 2 + run * i, 0}, {x, m["depth"] / 2, rise * (i + 1)}, m["edge"]));
}

void ballPiece(Model& to, const Measures& m) {
  const double r = m["width"] / 2;
  add(to, "Ball", Stuff::plaster, ball([&](const Vec3d&) { return r; }, 64).moved({0, 0, r}), 60);
}

}  // namespace

const std::vector<PieceKind>& plinthKinds() {
  static const std::vector<PieceKind> all = {
      {"plinth-round",
       marked("Round plinth"),
       marked("Plinths"),
       {{"width", marked("Width"), 0.3, 0.01, 5}, {"height", marked("Height"), 0.2, 0.005, 3}, edge},
       {{marked("Plinth"), "plaster"}},
       roundPlinth},
      {"plinth-square",
       marked("Square plinth"),
       marked("Plinths"),
       {{"width", marked("Width"), 0.3, 0.01, 5},
        {"depth", marked("Depth"), 0.3, 0.01, 5},
        {"height", marked("Height"), 0.35, 0.005, 3},
        edge},
       {{marked("Plinth"), "plaster"}},
       squarePlinth},
      {"plinth-stepped",
       marked("Stepped plinth"),
       marked("Plinths"),
       {{"width", marked("Width"), 0.5, 0.02, 5},
        {"depth", marked("Depth"), 0.5, 0.02, 5},
        {"height", marked("Height"), 0.24, 0.01, 3},
        {"steps", marked("Steps"), 3, 2, 8, ""},
        edge},
       {{marked("Step"), "plaster"}},
       stepped},
      {"plinth-stacked",
       marked("Stacked discs"),
       marked("Plinths"),
       {{"width", marked("Width"), 0.36, 0.02, 5},
        {"height", marked("Height"), 0.18, 0.01, 3},
        {"discs", marked("Discs"), 3, 1, 12, ""},
        {"taper", marked("Narrower by"), 0.4, 0, 0.9, ""},
        {"off", marked("Off the middle"), 0.12, 0, 0.5, ""},
        edge},
       {{marked("Disc"), "terrazzo"}},
       stack},
      {"slab",
       marked("Slab"),
       marked("Plinths"),
       {{"width", marked("Width"), 0.5, 0.02, 5},
        {"depth", marked("Depth"), 0.35, 0.02, 5},
        {"height", marked("Height"), 0.04, 0.005, 1},
        {"rough", marked("Riven by"), 0.002, 0, 0.03},
        edge},
       {{marked("Slab"), "slate"}},
       slab},
      {"disc",
       marked("Upright disc"),
       marked("Plinths"),
       {{"width", marked("Width"), 0.5, 0.02, 5}, {"thickness", marked("Thickness"), 0.05, 0.002, 1}, edge},
       {{marked("Disc"), "plaster"}},
       disc},
      {"ball",
       marked("Ball"),
       marked("Plinths"),
       {{"width", marked("Width"), 0.16, 0.005, 5}},
       {{marked("Ball"), "plaster"}},
       ballPiece},
      {"arch",
       marked("Arch"),
       marked("Plinths"),
       {{"width", marked("Width"), 0.5, 0.05, 6},
        {"height", marked("Height"), 0.7, 0.05, 6},
        {"depth", marked("Depth"), 0.16, 0.01, 3},
        {"band", marked("Band"), 0.1, 0.005, 1}},
       {{marked("Arch"), "plaster"}},
       arch},
      {"stairs",
       marked("Stairs"),
       marked("Plinths"),
       {{"width", marked("Width"), 0.5, 0.05, 6},
        {"depth", marked("Depth"), 0.6, 0.05, 6},
        {"height", marked("Height"), 0.4, 0.02, 4},
        {"steps", marked("Steps"), 4, 1, 30, ""},
        edge},
       {{marked("Step"), "plaster"}},
       stairs}};
  return all;
}

}  // namespace dusk::set
