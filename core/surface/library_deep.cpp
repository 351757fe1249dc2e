// Where light goes in before it comes back: soft things, and lacquers with flakes.
#include "core/base/words.h"
#include "core/surface/builder.h"

namespace dusk {
namespace {
using C = Vec3d;
using enum FeedKind;
using enum SurfaceValue;
}  // namespace

std::vector<Surface> softSurfaces() {
  return {
      Built("candle-wax", marked("Candle wax"), C(0.9, 0.83, 0.68), 0.35)
          .below(1, {4, 2.6, 1.2})
          .bump(waves, 25, 0.05),
      Built("bees-wax", marked("Bees' wax"), C(0.78, 0.5, 0.14), 0.4)
          .below(1, {3, 1.4, 0.4})
          .bump(cloud, 12, 0.03),
      Built("hard-soap", marked("Hard soap"), C(0.86, 0.84, 0.74), 0.3)
          .below(1, {2.2, 1.7, 1.2})
          .bump(waves, 30, 0.08),
      Built("milk", marked("Milk"), C(0.95, 0.93, 0.87), 0.05).ior(1.35).below(1, {1.6, 1.3, 0.8}, 0.5),
      Built("lit-marble", marked("Marble, lit through"), C(0.86, 0.84, 0.8), 0.18)
          .colours(stone, 70, {0.88, 0.86, 0.82}, {0.5, 0.5, 0.5})
          .below(0.8, {3.2, 2.8, 2.3})
          .lacquer(0.4, 0.08),
      Built("alabaster", marked("Alabaster"), C(0.9, 0.8, 0.66), 0.25)
          .below(1, {8, 5, 2.6})
          .colours(cloud, 60, {0.92, 0.84, 0.7}, {0.84, 0.68, 0.5}),
      Built("silicone-clear", marked("Milky silicone"), C(0.88, 0.89, 0.88), 0.4)
          .ior(1.41)
          .below(1, {6, 6, 5.5}),
      Built("silicone-red", marked("Red silicone"), C(0.62, 0.07, 0.04), 0.45)
          .ior(1.41)
          .below(0.7, {2, 0.4, 0.3}),
      Built("float-foam", marked("Float foam"), C(0.86, 0.84, 0.78), 0.9)
          .specular(0.4)
          .below(0.8, {1.2, 1, 0.8})
          .bump(cells, 3, 0.1),
      Built("lamp-paper", marked("Lantern paper"), C(0.86, 0.8, 0.68), 0.85)
          .thin()
          .below(0.8, {1, 1, 1})
          .bump(paper, 6, 0.05),
      Built("sail-gauze", marked("Gauze"), C(0.82, 0.8, 0.74), 0.9)
          .specular(0.3)
          .feed(opacity, weave, 1.6, C(0), C(1))
          .range(0.25, 0.4),
      Built("punched-steel", marked("Punched sheet"), C(0.5, 0.5, 0.51), 0.35)
          .metal()
          .feed(opacity, speckle, 6, C(1), C(0))
          .share(0.45),
  };
}

std::vector<Surface> flakedSurfaces() {
  const auto lacquer = [](const char* id, const char* name, const C& ground, const C& flake, double share,
                          double tilt) {
    return Built(id, name, ground, 0.5).flaked(share, 0.08, tilt, flake).lacquer(1, 0.03);
  };
  return {
      lacquer("flake-tide", marked("Tide flake lacquer"), {0.02, 0.09, 0.14}, {0.3, 0.6, 0.7}, 0.45, 9),
      lacquer("flake-ember", marked("Ember flake lacquer"), {0.2, 0.03, 0.01}, {0.95, 0.5, 0.22}, 0.4, 9),
      lacquer("flake-graphite", marked("Graphite flake lacquer"), {0.03, 0.03, 0.033}, {0.62, 0.64, 0.68},
              0.5, 8),
      lacquer("flake-silver", marked("Silver lacquer"), {0.35, 0.35, 0.36}, {0.85, 0.86, 0.87}, 0.8, 7),
      lacquer("flake-champagne", marked("Pale gold lacquer"), {0.3, 0.23, 0.14}, {0.9, 0.78, 0.55}, 0.7, 8),
      lacquer("pearl-white", marked("Pearl white"), {0.78, 0.78, 0.76}, {0.92, 0.9, 0.95}, 0.35, 6)
          .film(460, 1.6),
      lacquer("coarse-flake", marked("Coarse glitter"), {0.05, 0.05, 0.06}, {0.9, 0.9, 0.9}, 0.35, 22),
      lacquer("candy-red", marked("Tinted lacquer, red"), {0.6, 0.6, 0.6}, {0.9, 0.9, 0.9}, 0.8, 8)
          .coatTint({0.85, 0.05, 0.03}),
  };
}

}  // namespace dusk
