// What lies about: vessels, pebbles, driftwood, rope.
#include "core/base/words.h"
#include "core/product/set/piece_parts.h"

namespace dusk::set {
namespace {

/// Thrown on a wheel: a wall of even thickness, its outline by belly and neck.
void vessel(Model& to, const Measures& m) {
  const double r = m["width"] / 2, h = m["height"], neck = m["neck"], wall = std::min(m["wall"], r * 0.4);
  const auto outline = [&](double t) {
    const double belly = std::sin(pi * std::pow(t, 0.85) * 0.92 + 0.18);
    const double base = 0.62 + 0.38 * belly;
    const double lip = t > 0.86 ? 1 + 0.35 * std::pow((t - 0.86) / 0.14, 2) : 1;
    const double narrow = 1 - (1 - neck) * std::pow(std::clamp((t - 0.45) / 0.45, 0.0, 1.0), 1.6);
    return r * base * narrow * (t > 0.86 ? lip : 1);
  };
  std::vector<Vec2d> profile{{0, 0}};
  constexpr int steps = 60;
  profile.push_back({outline(0) - 0.003, 0});
  for (int i = 0; i <= steps; ++i)
    profile.push_back({outline(double(i) / steps), 0.003 + (h - 0.003) * i / steps});
  const double rim = outline(1);
  for (int i = 1; i <= 5; ++i) {
    const double a = pi * i / 6;
    profile.push_back({rim - wall / 2 + wall / 2 * std::cos(a), h + wall / 2 * std::sin(a)});
  }
  for (int i = steps; i >= 3; --i)
    profile.push_back({std::max(0.001, outline(double(i) / steps) - wall), h * i / steps});
  profile.push_back({0, h * 3 / steps});
  add(to, "Vessel", Stuff::stone, lathed(profile, 128), 50);
}
void pebbles(Model& to, const Measures& m) {
  const int count = m.count("count"), seed = m.seed();
  const double spread = m["spread"], size = m["size"] / 2;
  std::vector<std::pair<Vec2d, double>> lying;
  for (int i = 0; i < count; ++i) {
    const double s = size * between(0.45, 1.3, seed, i, 1);
    Vec2d at(0, 0);
    for (int k = 0; k < 40; ++k) {  // side by side, not in each other
      const double a = 2 * pi * chance(seed, i, 10 + k), d = spread * std::sqrt(chance(seed, i, 60 + k));
      at = Vec2d(std::cos(a), std::sin(a)) * d;
      const bool free = std::all_of(lying.begin(), lying.end(), [&](const auto& other) {
        return (other.first - at).length() > other.second + s;
      });
      if (free) break;
    }
    lying.emplace_back(at, s);
    const double flat = between(0.45, 0.75, seed, i, 2), longer = between(1, 1.35, seed, i, 3);
    const Shape stone =
        ball([&](const Vec3d& d) { return 1 + 0.12 * noiseAt(d * 1.3 + Vec3d(i * 7.0, 0, 0), seed); }, 20)
            .scaled({s * longer * 0.8, s * 0.8, s * flat * 0.8})
            .turned(between(0, 360, seed, i, 4));
    double low = 0;
    for (const Vec3d& p : stone.corners()) low = std::min(low, p.z);
    add(to, "Pebble", Stuff::stone, stone.moved({at.x, at.y, -low}), 80);
  }
}
void driftwood(Model& to, const Measures& m) {
  const double length = m["length"], thick = m["thickness"] / 2;
  const int seed = m.seed();
  const auto spine = [&](double t) {
    return Vec3d(length * (t - 0.5), 0.14 * length * noiseAt({t * 2.2, 1, 0}, seed),
                 0.05 * length * noiseAt({t * 2, 5, 0}, seed));
  };
  const auto at = [&](double u, double v) {
    const double a = u < 1 ? 2 * pi * u : 0,
                 taper = std::pow(std::sin(pi * std::clamp(v, 0.004, 0.996)), 0.4);
    const double grain = 1 + 0.16 * noiseAt({std::cos(a) * 2.2, std::sin(a) * 2.2, v * 3}, seed + 1) +
                         0.05 * noiseAt({std::cos(a) * 9, std::sin(a) * 9, v * 3}, seed + 2);
    const double r = thick * taper * grain * between(0.9, 1.1, seed, 0, 2);
    return spine(v) + Vec3d(0, std::cos(a) * r, std::sin(a) * r);
  };
  Shape wood = skin(56, 120, at, 0);
  double low = 1e9;
  for (const Vec3d& p : wood.corners()) low = std::min(low, p.z);
  add(to, "Driftwood", Stuff::wood, wood.moved({0, 0, -low}), 60);
}
/// A coil of laid rope: three strands round each other.
void rope(Model& to, const Measures& m) {
  const double r = m["width"] / 2, thick = m["thickness"] / 2, strand = thick * 0.56, lay = thick * 7;
  const int turns = m.count("turns"), seed = m.seed();
  for (int s = 0; s < 3; ++s) {
    std::vector<Vec3d> path;
    const int steps = std::clamp(int(turns * 2 * pi * r / (lay / 10)), 60, 6000);
    for (int i = 0; i <= steps; ++i) {
      const double t = double(i) / steps, a = 2 * pi * turns * t, round = std::fmod(t * turns, 1.0);
      const int layer = int(t * turns) / 3, ring = int(t * turns) % 3;
      // Each turn lies inside the last; after three the next layer begins on top.
      const double next = ring + round,
                   radius = r - thick * (1 + 2 * next) + 0.25 * thick * noiseAt({a, 0, 1}, seed);
      const double z = thick + layer * thick * 1.8 + 0.1 * thick * noiseAt({a * 2, 3, 0}, seed);
      const double along = turns * 2 * pi * r * t, phase = 2 * pi * along / lay + 2 * pi * s / 3;
      const Vec3d out(std::cos(a), std::sin(a), 0);
      path.push_back(out * (std::max(radius, thick * 2) + std::cos(phase) * strand) +
                     Vec3d(0, 0, z + std::sin(phase) * strand));
    }
    add(to, "Strand", Stuff::rope, rod(path, strand, false, 9), 80);
  }
}

}  // namespace

const std::vector<PieceKind>& looseKinds() {
  static const std::vector<PieceKind> all = {
      {"vessel",
       marked("Vessel"),
       marked("Loose"),
       {{"width", marked("Width"), 0.16, 0.01, 1},
        {"height", marked("Height"), 0.24, 0.01, 2},
        {"neck", marked("Neck"), 0.45, 0.1, 1, ""},
        {"wall", marked("Wall"), 0.005, 0.001, 0.05}},
       {{marked("Vessel"), "smooth-concrete"}},
       vessel},
      {"pebbles",
       marked("Pebbles"),
       marked("Loose"),
       {{"count", marked("How many"), 7, 1, 120, ""},
        {"size", marked("Size"), 0.05, 0.005, 0.6},
        {"spread", marked("Spread"), 0.14, 0.01, 3}},
       {{marked("Pebble"), "granite"}},
       pebbles},
      {"driftwood",
       marked("Driftwood"),
       marked("Loose"),
       {{"length", marked("Length"), 0.6, 0.05, 4}, {"thickness", marked("Thickness"), 0.06, 0.004, 0.6}},
       {{marked("Driftwood"), "weathered-larch"}},
       driftwood},
      {"rope",
       marked("Coiled rope"),
       marked("Loose"),
       {{"width", marked("Width"), 0.4, 0.06, 2},
        {"thickness", marked("Thickness"), 0.022, 0.003, 0.1},
        {"turns", marked("Turns"), 6, 1, 24, ""}},
       {},
       rope}};
  return all;
}

}  // namespace dusk::set
