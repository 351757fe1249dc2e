// The sets themselves. Every number that a seed moves is drawn by its own key, so that one slider does not
// shuffle what another one says.
#include "core/set/furnisher.h"

namespace dusk {
namespace {

Vec3d mix(const Vec3d& a, const Vec3d& b, double t) { return a + (b - a) * t; }

/// Three colours that go together: wall, stage, accent.
struct Palette {
  Vec3d wall, stage, accent;
};
Palette paletteOf(Furnisher& f) {
  static const Palette cool[] = {{{0.52, 0.58, 0.62}, {0.7, 0.72, 0.72}, {0.16, 0.27, 0.34}},
                                 {{0.6, 0.64, 0.58}, {0.74, 0.74, 0.7}, {0.19, 0.3, 0.2}},
                                 {{0.63, 0.6, 0.66}, {0.76, 0.74, 0.76}, {0.3, 0.2, 0.36}}};
  static const Palette warm[] = {{{0.58, 0.3, 0.18}, {0.66, 0.42, 0.26}, {0.36, 0.09, 0.05}},
                                 {{0.62, 0.44, 0.2}, {0.72, 0.58, 0.34}, {0.4, 0.19, 0.05}},
                                 {{0.5, 0.24, 0.22}, {0.64, 0.4, 0.36}, {0.2, 0.07, 0.09}}};
  const int which = int(f.by(0, 2.999, 1));
  const double t = f.slider("palette");
  const Palette &a = cool[which], &b = warm[which];
  return {mix(a.wall, b.wall, t), mix(a.stage, b.stage, t), mix(a.accent, b.accent, t)};
}

/// Of the sun above the horizon, radians.
double sunHeight(const Furnisher& f) { return radians(58 - 44 * f.slider("time")); }
/// Of its way from the camera's side of the stage, degrees against the clock.
double sunTurn(const Furnisher& f, double side) { return side * (34 + 22 * f.slider("time")); }

/// The sun by the time of day: noon high and white, evening low and warm. From the left or the right by the
/// seed.
Lamp& sunFor(Furnisher& f, double side, double powerEv) {
  const double t = f.slider("time"), height = sunHeight(f), turn = radians(sunTurn(f, side));
  const Vec3d from(std::sin(turn) * std::cos(height) * 4, -std::cos(turn) * std::cos(height) * 4,
                   std::sin(height) * 4);
  Lamp& sun = f.lamp("Sun", LampKind::sun, from, {0, 0, 0}, 5600 - 2300 * t, powerEv - 0.5 * t);
  sun.discDegrees = 0.8;
  return sun;
}

}  // namespace

void plinthsSet(Furnisher& f) {
  const Palette p = paletteOf(f);
  const std::string wall = f.colour("Wall", p.wall), stage = f.colour("Plinths", p.stage, 0.7),
                    accent = f.colour("Accent", p.accent, 0.6);
  const double side = f.by(0, 1, 2) < 0.5 ? -1 : 1, height = f.by(0.1, 0.2, 3);
  f.piece("wall", {{"width", 5}, {"height", 3}, {"skirting", 0}}, {0, 0.75}, {{"Wall", wall}});
  f.piece("slab", {{"width", 5}, {"depth", 3.4}, {"height", 0.02}, {"rough", 0}}, {0, -0.9, 0, -0.017},
          {{"Slab", wall}});
  f.piece("plinth-round", {{"width", f.by(0.34, 0.44, 4)}, {"height", height}}, {0, 0}, {{"Plinth", stage}});
  f.piece("plinth-square", {{"width", 0.2}, {"depth", 0.2}, {"height", f.by(0.26, 0.42, 5)}},
          {-side * f.by(0.38, 0.46, 6), f.by(0.12, 0.24, 7), f.by(-20, 20, 8)}, {{"Plinth", accent}});
  f.piece("disc", {{"width", f.by(0.5, 0.7, 9)}}, {side * f.by(0.22, 0.34, 10), 0.5}, {{"Disc", stage}});
  const double clutter = f.slider("clutter");
  if (clutter > 0.2)
    f.piece("plinth-stacked", {{"width", 0.22}, {"height", 0.08}, {"discs", 2}}, {side * 0.42, -0.06},
            {{"Disc", accent}});
  if (clutter > 0.45) f.piece("pebbles", {{"count", 3 + std::floor(5 * clutter)}}, {-side * 0.3, -0.2});
  if (clutter > 0.7)
    f.piece("arch", {{"width", 0.36}, {"height", 0.5}}, {-side * 0.72, 0.42, f.by(-15, 15, 11)},
            {{"Arch", stage}});
  f.stage(0, 0, height);
  sunFor(f, side, 0);
  // Between the sun and the plinths: as far along its way as throws the pattern on stage and wall. A window
  // stands square to that way, a branch about along it, so that leaves of all its length shade the stage.
  const double away = 1.5, turn = sunTurn(f, side), a = radians(turn);
  const Vec2d on(std::sin(a) * away, -std::cos(a) * away);
  // As high as the sun stands, so that it shines through on the stage at any time of the day.
  const double sill = std::max(0.05, height + away * std::tan(sunHeight(f)) - 0.9);
  if (f.slider("pattern") > 0.5)
    f.before("leaves", {{"length", 1.7}, {"leaf", 0.13}, {"leaves", 70}},
             {on.x, on.y, -turn, 0.35 + 0.5 * (1 - f.slider("time"))});
  else
    f.before("window", {{"width", 1.1}, {"height", 1.5}, {"sill", sill}, {"panes", 0}, {"wall", 1.2}},
             {on.x, on.y, turn});
  f.camera(70, 0.5, 2.1, 0.24);
}

void sweepSet(Furnisher& f) {
  const Palette p = paletteOf(f);
  const std::string paper = f.colour("Paper", mix(p.wall, {0.8, 0.8, 0.8}, 0.25), 0.95);
  f.piece("sweep", {{"width", 4}, {"floor", 4.4}, {"wall", 2.4}, {"bend", 0.7}}, {0, -1, 0, 0.003},
          {{"Sweep", paper}});
  f.stage(0, 0, 0.003);
  const double side = 2 * f.slider("key") - 1, soft = f.slider("soft"), size = 0.25 + 1.1 * soft;
  const double x = (std::abs(side) < 0.15 ? 0.3 : side) * 1.3;
  Lamp& key = f.lamp("Key", LampKind::area, {x, -0.9, 1.5}, {0, 0, 0.1}, 5400,
                     4.2 - 2.6 * std::log2(size / 0.25) / 2.4);
  key.widthM = key.heightM = size;
  Lamp& edge =
      f.lamp("Edge", LampKind::area, {-x * 0.9, 0.5, 1.2}, {0, 0, 0.15}, 6200, 1.6 + f.by(-0.4, 0.4, 2));
  edge.widthM = 0.25, edge.heightM = 1;
  f.camera(85, 0.55, 2.2, 0.14);
}

void cornerSet(Furnisher& f) {
  const Palette p = paletteOf(f);
  const std::string wall = f.colour("Wall", mix(p.wall, {0.75, 0.74, 0.72}, 0.5));
  const double side = f.by(0, 1, 2) < 0.5 ? -1 : 1, clutter = f.slider("clutter");
  f.piece("boards", {{"width", 3.2}, {"depth", 3.2}, {"board", f.by(0.11, 0.18, 3)}}, {0, -0.3, 0, -0.04});
  f.piece("wall", {{"width", 4}, {"height", 2.6}}, {0, 0.9}, {{"Wall", wall}});
  f.piece("window",
          {{"width", 1.1},
           {"height", 1.4},
           {"sill", 0.5},
           {"wall", 1.2},
           {"across", 2},
           {"up", std::floor(f.by(2, 4.9, 4))}},
          {-side * 1.3, -0.5, 90}, {{"Wall", wall}});
  f.piece("curtain", {{"width", 0.5}, {"height", 2.2}, {"folds", std::floor(f.by(4, 8, 5))}},
          {-side * 1.12, 0.35, 90});
  const double h = f.by(0.3, 0.42, 6);
  f.piece("bench", {{"width", 1}, {"height", h}}, {0, 0.15, f.by(-6, 6, 7)});
  if (clutter > 0.25) f.piece("vessel", {{"height", f.by(0.2, 0.34, 8)}}, {side * 0.36, 0.16, 0, h});
  if (clutter > 0.5) f.piece("cushion", {}, {-side * 0.33, 0.16, 12, h});
  if (clutter > 0.75) f.piece("crate", {}, {side * 0.85, 0.2, f.by(-30, 30, 9)});
  f.stage(0, 0.12, h);
  const double t = f.slider("time"), up = radians(50 - 32 * t);
  f.lamp("Sun", LampKind::sun, {-side * 3 * std::cos(up), -1.3, 3 * std::sin(up)}, {0, 0, 0}, 5600 - 2300 * t,
         1.4 - 0.6 * t)
      .discDegrees = 0.7;
  f.camera(50, 0.75, 2, 0.45);
}

void shelfSet(Furnisher& f) {
  const Palette p = paletteOf(f);
  const std::string wall = f.colour("Wall", p.wall), ware = f.colour("Ware", p.accent, 0.4),
                    other = f.colour("Other ware", p.stage, 0.5);
  f.piece("wall", {{"width", 4}, {"height", 2.6}, {"skirting", 0}}, {0, 0.32}, {{"Wall", wall}});
  const double z = 0.62;
  f.piece("shelf", {{"width", 1.5}, {"depth", 0.34}, {"height", 1.24}, {"shelves", 3}, {"board", 0.022}},
          {0, 0.05});
  const double clutter = f.slider("clutter");
  const int each = 1 + int(4 * clutter);
  for (int level = 0; level < 2; ++level)
    for (int i = 0; i < each; ++i)
      for (const double side : {-1.0, 1.0}) {
        const int key = level * 40 + i * 2 + (side > 0);
        const double x = side * (0.3 + 0.4 * (i + 0.5) / each) + f.by(-0.02, 0.02, 100 + key);
        f.piece("vessel",
                {{"width", f.by(0.07, 0.1, 200 + key)},
                 {"height", f.by(0.12, 0.3, 300 + key)},
                 {"neck", f.by(0.3, 0.8, 400 + key)}},
                {x, 0.06 + f.by(-0.04, 0.04, 500 + key), 0, level == 0 ? z : 0.022},
                {{"Vessel", f.by(0, 1, 600 + key) < 0.5 ? ware : other}});
      }
  f.stage(0, 0, z);
  Lamp& front = f.lamp("Shop light", LampKind::area, {f.by(-0.5, 0.5, 2), -1.8, 2.4}, {0, 0, 0.7}, 4200, 2.9);
  front.widthM = 1.6, front.heightM = 0.4;
  f.camera(60, 0.95, 1.8, 0.78);
}

void workshopSet(Furnisher& f) {
  const Palette p = paletteOf(f);
  const std::string wall = f.colour("Wall", mix(p.wall, {0.4, 0.38, 0.35}, 0.45));
  const double side = f.by(0, 1, 2) < 0.5 ? -1 : 1, clutter = f.slider("clutter"), h = 0.8;
  f.piece("boards", {{"width", 4}, {"depth", 3.6}, {"off", 0.002}}, {0, -0.3, 0, -0.04},
          {{"Boards", "weathered-larch"}});
  f.piece("window", {{"width", 1.2}, {"height", 1}, {"sill", 1}, {"across", 3}, {"up", 2}, {"wall", 1.6}},
          {side * 0.4, 0.75}, {{"Wall", wall}});
  f.piece("table", {{"width", 1.9}, {"depth", 0.7}, {"height", h}, {"top", 0.05}, {"leg", 0.1}}, {0, 0.2},
          {{"Top", "dark-oak"}, {"Frame", "dark-oak"}});
  f.piece("crate", {{"width", 0.34}, {"depth", 0.26}, {"height", 0.2}},
          {side * 0.62, 0.34, f.by(-20, 20, 3), h});
  if (clutter > 0.2)
    f.piece("rope", {{"width", 0.26}, {"thickness", 0.014}, {"turns", 8}}, {-side * 0.52, 0.2, 0, h});
  if (clutter > 0.4)
    f.piece("vessel", {{"height", 0.16}, {"width", 0.1}, {"neck", 0.85}}, {-side * 0.36, 0.42, 0, h});
  if (clutter > 0.55)
    f.piece("slab", {{"width", 0.26}, {"depth", 0.18}, {"height", 0.02}},
            {side * 0.3, 0.12, f.by(-25, 25, 4), h});
  if (clutter > 0.7) f.piece("crate", {}, {-side * 1.25, 0.3, f.by(-20, 20, 5)});
  if (clutter > 0.85) f.piece("stool", {}, {side * 0.7, -0.5});
  f.stage(0, 0.16, h);
  const double t = f.slider("time"), up = radians(52 - 36 * t);
  f.lamp("Sun", LampKind::sun, {side * 2.2 * std::cos(up), 3 * std::cos(up), 3.4 * std::sin(up)}, {0, 0, 0},
         5500 - 2400 * t, 0.8 - 0.5 * t)
      .discDegrees = 0.7;
  Lamp& sky = f.lamp("Sky behind the window", LampKind::area, {side * 0.4, 2.6, 1.7}, {side * 0.4, 0, 1.5},
                     6800, 1.7);
  sky.widthM = 5, sky.heightM = 3, sky.seenByCamera = true;
  Lamp& fill = f.lamp("Room", LampKind::area, {-side * 1.2, -1.8, 2.2}, {0, 0, 0.8}, 3600, 0.6);
  fill.widthM = 1.6, fill.heightM = 1.2;
  f.camera(55, 1.12, 1.7, 0.92);
}

void netLoftSet(Furnisher& f) {
  const Palette p = paletteOf(f);
  const double side = f.by(0, 1, 2) < 0.5 ? -1 : 1, clutter = f.slider("clutter"), t = f.slider("time"),
               h = 0.44;
  // Beyond the window: haze that clears upwards, and the sea, whose far border is as high as the eye.
  f.beyond(mix({0.84, 0.87, 0.88}, {0.94, 0.78, 0.62}, t), mix({0.62, 0.76, 0.88}, {0.88, 0.75, 0.64}, t));
  f.piece("wall", {{"width", 18}, {"height", 0.86}, {"skirting", 0}}, {0, 12},
          {{"Wall", f.colour("Sea", mix({0.12, 0.2, 0.23}, {0.22, 0.2, 0.2}, t), 0.6)}});
  const std::string twine = f.colour("Twine", mix(p.accent, {0.5, 0.44, 0.3}, 0.6)),
                    rope = f.colour("Head rope", {0.42, 0.34, 0.2});
  f.piece("boards", {{"width", 4.6}, {"depth", 4}, {"board", f.by(0.15, 0.2, 3)}, {"off", 0.002}},
          {0, -0.4, 0, -0.04}, {{"Boards", "weathered-larch"}});
  f.piece("window",
          {{"width", 1.3},
           {"height", 0.95},
           {"sill", 0.8},
           {"across", 3},
           {"up", 2},
           {"wall", 1.7},
           {"panes", 0}},
          {side * 0.2, 1.2}, {{"Wall", "weathered-larch"}});
  for (const double at : {-1.0, 1.0})
    f.piece("slab", {{"width", 3}, {"depth", 3.4}, {"height", 0.04}, {"rough", 0}},
            {at * 1.5, -0.3, 0, 0.9, 0, at * 46}, {{"Slab", "weathered-larch"}});
  f.piece("slab", {{"width", 3.6}, {"depth", 0.13}, {"height", 0.15}}, {0, 0.75, 0, 1.86},
          {{"Slab", "dark-oak"}});
  f.piece("net",
          {{"width", f.by(1.0, 1.3, 4)},
           {"height", 1.5},
           {"twine", 0.004},
           {"mesh", 0.055},
           {"folds", std::floor(f.by(4, 7, 5))}},
          {-side * 0.8, 0.6, f.by(-6, 6, 6), 0.4}, {{"Net", twine}, {"Head line", rope}});
  f.piece("bench", {{"width", 1.1}, {"depth", 0.42}, {"height", h}}, {0, 0.1, f.by(-6, 6, 7)});
  if (clutter > 0.2)
    f.piece("rope", {{"width", 0.3}, {"thickness", 0.018}, {"turns", 7}}, {side * 0.36, 0.13, 0, h});
  if (clutter > 0.4) f.piece("crate", {}, {side * 0.95, 0.35, f.by(-25, 25, 8)});
  if (clutter > 0.6) f.piece("driftwood", {{"length", 0.7}}, {-side * 0.7, -0.25, f.by(-30, 30, 9)});
  if (clutter > 0.8)
    f.piece("vessel", {{"height", 0.2}, {"width", 0.14}, {"neck", 0.7}}, {-side * 0.38, 0.18, 0, h});
  f.stage(0, 0.08, h);
  const double up = radians(44 - 30 * t);
  f.lamp("Sun", LampKind::sun, {side * 2 * std::cos(up), 3 * std::cos(up), 3.6 * std::sin(up)}, {0, 0, 0},
         5600 - 2500 * t, 2 - 0.5 * t)
      .discDegrees = 0.7;
  Lamp& door = f.lamp("Open door", LampKind::area, {-side * 1.4, -2.2, 1.3}, {0, 0, 0.5}, 6000, 2.2);
  door.widthM = 1, door.heightM = 2;
  f.dome(0.5);
  f.camera(40, 0.9, 1.9, 0.68);
}

void gardenSet(Furnisher& f) {
  const double side = f.by(0, 1, 2) < 0.5 ? -1 : 1, clutter = f.slider("clutter"), h = 0.72;
  const std::string hedge = f.colour("Hedge", {0.05 + f.by(0, 0.03, 3), 0.11, 0.03}),
                    ground = f.colour("Ground", {0.2, 0.17, 0.12});
  f.piece("slab", {{"width", 5}, {"depth", 5}, {"height", 0.02}, {"rough", 0}}, {0, 0, 0, -0.017},
          {{"Slab", ground}});
  for (int i = 0; i < 7; ++i)
    f.piece("leaves", {{"length", 1.5}, {"leaf", 0.11}, {"leaves", 170}},
            {(i - 3) * 0.5 + f.by(-0.1, 0.1, 20 + i), 1.35 + f.by(-0.1, 0.2, 30 + i), f.by(0, 360, 40 + i),
             0.3 + 0.4 * (i % 3)},
            {{"Leaves", hedge}});
  f.piece("wall", {{"width", 5}, {"height", 1.9}, {"skirting", 0}}, {0, 1.9}, {{"Wall", hedge}});
  f.piece("table", {{"width", 1.3}, {"depth", 0.7}, {"height", h}, {"boards", std::floor(f.by(4, 8, 5))}},
          {0, 0.1, f.by(-8, 8, 6)}, {{"Top", "weathered-larch"}, {"Frame", "weathered-larch"}});
  if (clutter > 0.2) f.piece("vessel", {{"height", f.by(0.14, 0.26, 7)}}, {side * 0.38, 0.2, 0, h});
  if (clutter > 0.45)
    f.piece("pebbles", {{"count", 5}, {"size", 0.035}, {"spread", 0.09}}, {-side * 0.32, 0.02, 0, h});
  if (clutter > 0.7)
    f.piece("driftwood", {{"length", 0.5}, {"thickness", 0.05}}, {-side * 0.3, 0.26, f.by(0, 40, 8), h});
  f.stage(0, 0.08, h);
  sunFor(f, side, 0.2);
  f.before("leaves", {{"length", 1.6}, {"leaf", 0.1}, {"leaves", 70}}, {side * 0.85, -0.7, 25, 1.3});
  f.camera(60, 1.05, 1.9, 0.83);
}

}  // namespace dusk
