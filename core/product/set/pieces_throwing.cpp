// What stands before a light and throws its pattern: windows, blinds, leaves, nets.
#include "core/base/words.h"
#include "core/product/set/piece_parts.h"

namespace dusk::set {
namespace {

/// A frame with bars between its panes; lintel and sill close the gap to a wall round it.
void window(Model& to, const Measures& m) {
  const double w = m["width"] / 2, h = m["height"], bar = m["bar"] / 2, t = m["thickness"] / 2,
               wall = m["wall"], z0 = wall > 0 ? m["sill"] : 0;
  const int across = m.count("across"), up = m.count("up");
  Shape frame;
  const double rim = std::min({bar * 2.2, w * 0.4, h * 0.4});
  for (const double side : {-1.0, 1.0}) {
    const double x = side * (w - rim / 2);
    frame.add(block({x - rim / 2, -t, z0}, {x + rim / 2, t, z0 + h}, 0.002));
  }
  frame.add(block({-w, -t, z0}, {w, t, z0 + rim}, 0.002));
  frame.add(block({-w, -t, z0 + h - rim}, {w, t, z0 + h}, 0.002));
  for (int i = 1; i < across; ++i) {
    const double x = -w + 2 * w * i / across;
    frame.add(block({x - bar, -t * 0.7, z0 + rim / 2}, {x + bar, t * 0.7, z0 + h - rim / 2}, 0.0015));
  }
  for (int i = 1; i < up; ++i) {
    const double z = z0 + h * i / up;
    frame.add(block({-w + rim / 2, -t * 0.7, z - bar}, {w - rim / 2, t * 0.7, z + bar}, 0.0015));
  }
  add(to, "Frame", Stuff::wood, frame);
  if (m["panes"] > 0.5)
    add(to, "Panes", Stuff::glass,
        block({-w + rim, -0.0015, z0 + rim}, {w - rim, 0.0015, z0 + h - rim}, 0.0002));
  if (wall <= 0) return;
  Shape round;
  const double x = w + wall, top = z0 + h + wall, deep = 0.06;
  round.add(block({-x, -deep, 0}, {-w, deep, top}, 0.003));
  round.add(block({w, -deep, 0}, {x, deep, top}, 0.003));
  round.add(block({-w, -deep, z0 + h}, {w, deep, top}, 0.003));
  if (z0 > 0.01) round.add(block({-w, -deep, 0}, {w, deep, z0}, 0.003));
  add(to, "Wall", Stuff::plaster, round);
}
void blind(Model& to, const Measures& m) {
  const double w = m["width"] / 2, h = m["height"], slat = m["slat"], turn = m["turn"];
  const int count = std::clamp(int(h / (slat * 0.85)), 1, 400);
  Shape slats;
  for (int i = 0; i < count; ++i) {
    const double z = h * (i + 0.5) / count, lean = turn + between(-1, 1, m.seed(), i) * m["off"];
    const auto at = [&](double u, double v) {
      const double y = slat * (v - 0.5), bow = 0.06 * slat * (1 - 4 * (v - 0.5) * (v - 0.5));
      return Vec3d(-w + 2 * w * u, y, bow);
    };
    slats.add(skin(1, 6, at, 0.0004).turned(lean, {1, 0, 0}).moved({0, 0, z}));
  }
  add(to, "Slats", Stuff::metal, slats, 60);
  Shape cords;
  for (const double x : {-0.8, 0.0, 0.8}) cords.add(rod({{x * w, 0, 0}, {x * w, 0, h}}, 0.0008, false, 6));
  add(to, "Cords", Stuff::rope, cords);
  add(to, "Rail", Stuff::metal, block({-w, -slat * 0.55, h}, {w, slat * 0.55, h + 0.03}, 0.002));
}
/// A branch whose leaves throw a dappled shade.
void leaves(Model& to, const Measures& m) {
  const double length = m["length"], size = m["leaf"];
  const int count = m.count("leaves"), seed = m.seed();
  std::vector<Vec3d> twig;
  for (int i = 0; i <= 40; ++i) {
    const double t = i / 40.0;
    twig.push_back({length * (t - 0.5), 0.12 * length * noiseAt({t * 2.5, 0.3, 0}, seed),
                    0.14 * length * std::sin(t * 2.2) + 0.05 * length * noiseAt({t * 4, 9, 0}, seed)});
  }
  add(to, "Twig", Stuff::wood, rod(twig, std::max(0.0015, size * 0.04), false, 8));
  Shape all;
  for (int i = 0; i < count; ++i) {
    const double t = between(0.08, 1, seed, i, 1);
    const Vec3d foot = twig[size_t(t * 40)];
    const double s = size * between(0.65, 1.2, seed, i, 2);
    const auto at = [&](double u, double v) {
      const double x = 2 * u - 1,
                   across = std::pow(std::sin(pi * std::min(v * 0.94 + 0.03, 1.0)), 0.8) * 0.34;
      return Vec3d(s * x * across, s * v, s * (0.14 * std::sin(v * 2.6) - 0.12 * std::abs(x) * across));
    };
    Shape leaf = skin(4, 8, at, 0.0003).turned(between(-50, 30, seed, i, 3), {1, 0, 0});
    leaf = leaf.turned(between(-40, 40, seed, i, 4), {0, 1, 0}).turned(between(0, 360, seed, i, 5));
    all.add(leaf.moved(foot));
  }
  add(to, "Leaves", Stuff::leaf, all, 70);
}

/// A net hung up to dry: its meshes are diamonds, it falls in folds and gathers at the foot.
void net(Model& to, const Measures& m) {
  const double w = m["width"], h = m["height"], mesh = m["mesh"], deep = m["depth"];
  const int seed = m.seed(), folds = m.count("folds");
  const auto at = [&](double u, double v) {  // across and down, 0 to 1
    const double gathered = 1 - 0.3 * v * v,
                 fold = std::sin(2 * pi * folds * u + 2 * noiseAt({u * 3, v, 0}, seed));
    return Vec3d((u - 0.5) * w * gathered + 0.1 * w * v * noiseAt({v * 2, 5, 0}, seed),
                 deep * (0.2 + 0.8 * v) * fold, h * (1 - v) + 0.04 * h * (1 - v) * std::sin(pi * folds * u));
  };
  // Strands run down both ways, and end where the net does.
  const int across = std::clamp(int(w / mesh), 2, 120), down = std::clamp(int(h / mesh), 2, 120);
  Shape strands;
  for (const int way : {-1, 1})
    for (int i = -down; i <= across + down; ++i) {
      std::vector<Vec3d> path;
      for (int k = 0; k <= down; ++k) {
        const double u = (i + way * 0.5 * k) / across;
        if (u >= -1e-9 && u <= 1 + 1e-9) path.push_back(at(u, double(k) / down));
      }
      if (path.size() > 1) strands.add(rod(path, m["twine"] / 2, false, 5));
    }
  add(to, "Net", Stuff::rope, strands, 80);
  std::vector<Vec3d> head;
  for (int i = 0; i <= 48; ++i) head.push_back(at(i / 48.0, 0));
  add(to, "Head line", Stuff::rope, rod(head, m["twine"] * 2.2, false, 10), 80);
}

}  // namespace

const std::vector<PieceKind>& throwingKinds() {
  static const std::vector<PieceKind> all = {
      {"window",
       marked("Window"),
       marked("Before the light"),
       {{"width", marked("Width"), 1, 0.1, 8},
        {"height", marked("Height"), 1.3, 0.1, 8},
        {"sill", marked("Sill at"), 0.8, 0, 5},
        {"across", marked("Panes across"), 2, 1, 16, ""},
        {"up", marked("Panes up"), 3, 1, 16, ""},
        {"bar", marked("Bar"), 0.028, 0.004, 0.2},
        {"thickness", marked("Thickness"), 0.05, 0.005, 0.3},
        {"panes", marked("Glazed"), 1, 0, 1, ""},
        {"wall", marked("Wall round it"), 0, 0, 6}},
       {{marked("Frame"), "painted-boards"}, {marked("Panes"), "window-glass"}, {marked("Wall"), "plaster"}},
       window},
      {"blind",
       marked("Blind"),
       marked("Before the light"),
       {{"width", marked("Width"), 1, 0.05, 8},
        {"height", marked("Height"), 1.2, 0.05, 8},
        {"slat", marked("Slat"), 0.05, 0.008, 0.3},
        {"turn", marked("Turn"), 35, -85, 85, "°"},
        {"off", marked("Off by"), 1.5, 0, 20, "°"}},
       {},
       blind},
      {"leaves",
       marked("Branch"),
       marked("Before the light"),
       {{"length", marked("Length"), 0.9, 0.1, 6},

        {"leaf", marked("Leaf"), 0.09, 0.01, 0.6},
        {"leaves", marked("Leaves"), 46, 1, 400, ""}},
       {{marked("Twig"), "weathered-larch"}},
       leaves},
      {"net",
       marked("Net"),
       marked("Before the light"),
       {{"width", marked("Width"), 1.4, 0.1, 8},
        {"height", marked("Height"), 1.2, 0.1, 6},
        {"mesh", marked("Mesh"), 0.04, 0.008, 0.5},
        {"twine", marked("Twine"), 0.002, 0.0005, 0.03},
        {"folds", marked("Folds"), 5, 1, 40, ""},
        {"depth", marked("Depth"), 0.05, 0.002, 0.5}},
       {},
       net}};
  return all;
}

}  // namespace dusk::set
