// Wood, stone, cloth, paper, glass, and what use and weather do.
#include "core/base/words.h"
#include "core/surface/builder.h"

namespace dusk {
namespace {
using C = Vec3d;
using enum FeedKind;
using enum SurfaceValue;

Built woodOf(const char* id, const char* name, const C& early, const C& late, double roughness, double ring) {
  return Built(id, name, early, roughness)
      .colours(wood, ring, early, late)
      .axis(MappingAxis::x)
      .scatter(400)
      .bump(wood, ring, 0.03)
      .axis(MappingAxis::x)
      .scatter(400);
}
Built stoneOf(const char* id, const char* name, const C& ground, const C& vein, double roughness,
              double size) {
  return Built(id, name, ground, roughness).colours(stone, size, ground, vein).scatter(300);
}
Built wovenOf(const char* id, const char* name, FeedKind kind, double size, const C& low, const C& high,
              double heightMm) {
  return Built(id, name, high, 0.95)
      .specular(0.4)
      .colours(kind, size, low, high)
      .bump(kind, size, heightMm)
      .cloth(0.3, high * 1.2, 0.5);
}
}  // namespace

std::vector<Surface> woodSurfaces() {
  return {
      woodOf("oiled-ash", marked("Oiled ash"), {0.5, 0.34, 0.19}, {0.36, 0.21, 0.1}, 0.5, 4)
          .lacquer(0.25, 0.3),
      woodOf("raw-pine", marked("Raw pine"), {0.66, 0.48, 0.28}, {0.5, 0.29, 0.12}, 0.75, 6),
      woodOf("dark-oak", marked("Dark oak"), {0.17, 0.1, 0.055}, {0.08, 0.045, 0.025}, 0.5, 3),
      woodOf("red-cedar", marked("Red cedar"), {0.42, 0.2, 0.11}, {0.25, 0.1, 0.055}, 0.65, 4),
      woodOf("varnished-teak", marked("Varnished teak"), {0.38, 0.2, 0.085}, {0.22, 0.1, 0.04}, 0.4, 3.5)
          .lacquer(1, 0.06),
      woodOf("pale-birch", marked("Pale birch"), {0.7, 0.57, 0.4}, {0.6, 0.45, 0.29}, 0.55, 5),
      woodOf("weathered-larch", marked("Weathered larch"), {0.36, 0.35, 0.33}, {0.2, 0.19, 0.18}, 0.9, 4)
          .bump(wood, 4, 0.25)
          .axis(MappingAxis::x)
          .scatter(400),
      Built("deck-boards", marked("Deck boards"), C(0.35, 0.25, 0.16), 0.7)
          .colours(boards, 120, {0.02, 0.016, 0.012}, {0.46, 0.32, 0.19})
          .bump(boards, 120, 2)
          .range(0, 0.12),
      Built("bench-boards", marked("Bench boards"), C(0.5, 0.36, 0.21), 0.55)
          .colours(boards, 90, {0.08, 0.05, 0.03}, {0.62, 0.45, 0.26})
          .share(0.008)
          .bump(boards, 90, 0.8)
          .share(0.008)
          .range(0, 0.12),
      Built("painted-boards", marked("Painted boards"), C(0.62, 0.64, 0.62), 0.5)
          .bump(boards, 110, 1.2)
          .range(0, 0.12)
          .colours(boards, 110, {0.12, 0.12, 0.11}, {0.66, 0.68, 0.66})
          .range(0, 0.14),
  };
}

std::vector<Surface> stoneSurfaces() {
  return {
      stoneOf("white-marble", marked("White marble"), {0.76, 0.75, 0.73}, {0.3, 0.3, 0.31}, 0.18, 90)
          .lacquer(0.4, 0.05),
      stoneOf("black-marble", marked("Black marble"), {0.018, 0.018, 0.02}, {0.55, 0.53, 0.5}, 0.14, 110)
          .lacquer(0.4, 0.05),
      stoneOf("green-serpentine", marked("Green serpentine"), {0.05, 0.12, 0.085}, {0.3, 0.42, 0.34}, 0.2,
              70),
      Built("slate", marked("Slate"), C(0.09, 0.1, 0.11), 0.75)
          .colours(cloud, 60, {0.06, 0.065, 0.075}, {0.14, 0.15, 0.16})
          .bump(cloud, 22, 0.5),
      Built("granite", marked("Granite"), C(0.4, 0.38, 0.37), 0.3)
          .colours(terrazzo, 5, {0.12, 0.11, 0.11}, {0.66, 0.6, 0.57})
          .share(0.75),
      Built("sandstone", marked("Sandstone"), C(0.56, 0.43, 0.28), 0.95)
          .colours(cloud, 40, {0.46, 0.34, 0.22}, {0.64, 0.51, 0.35})
          .bump(cast, 1, 0.15),
      Built("smooth-concrete", marked("Smooth concrete"), C(0.42, 0.41, 0.4), 0.7)
          .colours(concrete, 120, {0.2, 0.195, 0.19}, {0.52, 0.51, 0.49})
          .bump(concrete, 120, 0.4)
          .range(0, 0.5),
      Built("rough-concrete", marked("Rough concrete"), C(0.36, 0.35, 0.34), 0.92)
          .colours(concrete, 60, {0.16, 0.155, 0.15}, {0.46, 0.45, 0.43})
          .share(0.7)
          .bump(concrete, 60, 1.6)
          .share(0.7),
      Built("terrazzo", marked("Terrazzo"), C(0.6, 0.58, 0.55), 0.25)
          .colours(terrazzo, 16, {0.62, 0.6, 0.57}, {0.24, 0.2, 0.18})
          .lacquer(0.5, 0.06),
      Built("plaster", marked("Plaster"), C(0.72, 0.69, 0.64), 0.95).bump(cloud, 40, 0.4).detail(5),
      Built("wet-sand", marked("Wet sand"), C(0.25, 0.19, 0.12), 0.5)
          .colours(specks, 1, {0.22, 0.165, 0.105}, {0.36, 0.29, 0.2})
          .bump(cast, 1, 0.3)
          .lacquer(0.35, 0.15),
  };
}

std::vector<Surface> clothSurfaces() {
  return {
      wovenOf("sailcloth", marked("Sailcloth"), weave, 0.9, {0.46, 0.43, 0.37}, {0.72, 0.69, 0.61}, 0.12),
      wovenOf("linen", marked("Linen"), weave, 1.3, {0.32, 0.27, 0.2}, {0.58, 0.51, 0.4}, 0.2),
      wovenOf("navy-twill", marked("Navy twill"), twill, 0.8, {0.008, 0.012, 0.03}, {0.03, 0.045, 0.1}, 0.12),
      wovenOf("oilskin", marked("Oilskin"), twill, 0.6, {0.4, 0.24, 0.03}, {0.62, 0.38, 0.05}, 0.05)
          .rough(smudges, 60, 0.35, 0.6),
      wovenOf("wool-knit", marked("Wool knit"), knit, 4, {0.12, 0.13, 0.14}, {0.42, 0.43, 0.43}, 0.8),
      wovenOf("net", marked("Coarse net"), weave, 6, {0.02, 0.03, 0.025}, {0.1, 0.26, 0.2}, 1.2),
      Built("felt", marked("Felt"), C(0.2, 0.07, 0.06), 1)
          .specular(0.2)
          .bump(paper, 3, 0.12)
          .cloth(0.6, C(0.4, 0.18, 0.16), 0.6),
      Built("brown-hide", marked("Brown hide"), C(0.19, 0.085, 0.04), 0.5)
          .colours(leather, 2.2, {0.09, 0.04, 0.02}, {0.22, 0.1, 0.048})
          .bump(leather, 2.2, 0.12),
      Built("black-hide", marked("Black hide"), C(0.02, 0.019, 0.018), 0.42).bump(leather, 1.8, 0.1),
      Built("velvet", marked("Velvet"), C(0.09, 0.02, 0.05), 1)
          .specular(0.2)
          .cloth(1, C(0.5, 0.16, 0.3), 0.3),
  };
}

std::vector<Surface> paperSurfaces() {
  return {
      Built("chart-paper", marked("Chart paper"), C(0.76, 0.73, 0.65), 0.9)
          .bump(paper, 5, 0.02)
          .colours(paper, 12, {0.72, 0.69, 0.61}, {0.79, 0.76, 0.68}),
      Built("grey-board", marked("Grey board"), C(0.4, 0.38, 0.35), 0.95)
          .colours(paper, 6, {0.33, 0.31, 0.28}, {0.47, 0.45, 0.42}),
      Built("coated-card", marked("Coated card"), C(0.78, 0.78, 0.77), 0.4).lacquer(0.3, 0.2),
      Built("kraft", marked("Brown wrapping"), C(0.4, 0.26, 0.15), 0.85)
          .colours(paper, 8, {0.34, 0.21, 0.12}, {0.46, 0.31, 0.18})
          .bump(ribs, 1.2, 0.02),
      Built("fluted-board", marked("Fluted board"), C(0.44, 0.3, 0.18), 0.85)
          .bump(ribs, 7, 0.25)
          .colours(paper, 9, {0.38, 0.25, 0.15}, {0.5, 0.35, 0.21}),
      Built("cork-sheet", marked("Cork"), C(0.42, 0.24, 0.11), 0.85)
          .colours(cork, 4, {0.1, 0.05, 0.025}, {0.6, 0.37, 0.18})
          .bump(cork, 4, 0.3),
  };
}

std::vector<Surface> glassSurfaces() {
  return {
      Built("window-glass", marked("Window glass"), C(0.97, 0.985, 0.975), 0.02).glass(),
      Built("jar-glass", marked("Moulded glass"), C(0.985, 0.99, 0.985), 0.01).glass().bump(waves, 22, 0.06),
      Built("frosted-glass", marked("Frosted glass"), C(0.95, 0.97, 0.965), 0.45).glass(1.5),
      Built("bottle-glass", marked("Green glass"), C(0.99, 0.99, 0.99), 0.02)
          .glass()
          .dye({0.2, 0.55, 0.3}, 8)
          .bump(waves, 30, 0.08),
      Built("brown-glass", marked("Brown glass"), C(0.99, 0.99, 0.99), 0.02)
          .glass()
          .dye({0.45, 0.2, 0.05}, 6),
      Built("smoked-glass", marked("Smoked glass"), C(0.99, 0.99, 0.99), 0.02)
          .glass()
          .dye({0.25, 0.25, 0.27}, 5),
      Built("ribbed-glass", marked("Ribbed glass"), C(0.985, 0.99, 0.985), 0.02).glass().bump(ribs, 6, 1.1),
      Built("hammered-glass", marked("Hammered glass"), C(0.985, 0.99, 0.985), 0.02)
          .glass()
          .bump(hammered, 7, 0.6),
      Built("red-lens", marked("Red lens"), C(0.99, 0.99, 0.99), 0.03)
          .glass(1.49)
          .dye({0.75, 0.02, 0.012}, 3),
      Built("amber-lens", marked("Amber lens"), C(0.99, 0.99, 0.99), 0.03)
          .glass(1.49)
          .dye({0.9, 0.35, 0.02}, 3),
      Built("acrylic", marked("Clear acrylic"), C(0.99, 0.99, 0.99), 0.02).glass(1.49),
      Built("sea-water", marked("Sea water"), C(1, 1, 1), 0).liquid(1.34).dye({0.62, 0.84, 0.82}, 160),
      Built("harbour-water", marked("Harbour water"), C(1, 1, 1), 0)
          .liquid(1.34)
          .dye({0.55, 0.75, 0.6}, 220)
          .cloudy(180, {0.97, 0.98, 0.95}, 0.8),
      Built("lamp-oil", marked("Lamp oil"), C(1, 1, 1), 0).liquid(1.47).dye({0.95, 0.7, 0.25}, 60),
      Built("cut-crystal", marked("Cut crystal"), C(1, 1, 1), 0.005).glass(1.62).parts(36),
      Built("opal-glass", marked("Opal glass"), C(0.99, 0.99, 0.99), 0.02)
          .glass(1.52)
          .cloudy(4, {0.995, 0.995, 0.99}, 0.2),
      Built("thin-pane", marked("Thin pane"), C(0.98, 0.985, 0.98), 0.01).glass().thin(),
      Built("soap-film", marked("Soap film"), C(1, 1, 1), 0.01).glass(1.33).thin().film(420, 1.33),
  };
}

namespace {
std::vector<Feed> bareEdges(double sizeMm) { return {maskOf(edges, sizeMm, 0.15, 0.5)}; }
std::vector<Feed> fromNothing(std::vector<Feed> rows) {
  rows.push_back(nowhere());
  return rows;
}
}  // namespace

std::vector<Surface> wornSurfaces() {
  const Built steel =
      Built("", "Bare steel", C(0.5, 0.49, 0.48), 0.36).metal().rough(scratches, 12, 0.32, 0.5);
  const Built rust = Built("", "Rust", C(0.2, 0.07, 0.025), 0.95)
                         .colours(cloud, 6, {0.09, 0.03, 0.015}, {0.34, 0.13, 0.04})
                         .bump(cloud, 3, 0.15);
  const Built dust = Built("", "Dust", C(0.46, 0.42, 0.36), 1).specular(0.3);
  const Built salt = Built("", "Salt", C(0.8, 0.8, 0.78), 0.95).bump(specks, 1, 0.05);
  Feed up = maskOf(facingUp, 10, 0.2, 0.95);
  Feed uneven = maskOf(cloud, 35, 0.2, 0.75);
  uneven.indent = 1;
  return {
      Built("worn-enamel", marked("Worn enamel"), C(0.055, 0.19, 0.235), 0.38)
          .lacquer(0.7, 0.12)
          .rough(smudges, 50, 0.34, 0.5)
          .coat("Worn edges", steel, fromNothing(bareEdges(2.5))),
      Built("worn-red", marked("Worn signal red"), C(0.5, 0.08, 0.03), 0.45)
          .lacquer(0.5, 0.2)
          .coat("Rust", rust, fromNothing({maskOf(edges, 5, 0.1, 0.5, 0.7)})),
      Built("dusty-black", marked("Dusty black"), C(0.03, 0.03, 0.032), 0.45)
          .coat("Dust", dust, fromNothing({up, uneven}), 0.8),
      Built("rusted-steel", marked("Rusted steel"), C(0.3, 0.29, 0.28), 0.45)
          .metal()
          .coat("Rust", rust, fromNothing({maskOf(cloud, 28, 0.35, 0.62)})),
      Built("verdigris", marked("Verdigris"), C(0.6, 0.36, 0.24), 0.4)
          .metal()
          .coat("Verdigris", Built("", marked("Verdigris"), C(0.16, 0.4, 0.33), 0.95).bump(cloud, 3, 0.1),
                fromNothing({maskOf(cloud, 22, 0.4, 0.68)})),
      Built("fingered-steel", marked("Fingered steel"), C(0.56, 0.55, 0.54), 0.16)
          .metal()
          .rough(fingerprints, 16, 0.16, 0.42),
      Built("fingered-black", marked("Fingered black"), C(0.008, 0.008, 0.009), 0.3)
          .lacquer(1, 0.02)
          .feed(clearcoatRoughness, fingerprints, 16, C(0.02), C(0.24)),
      Built("salted-paint", marked("Salted paint"), C(0.1, 0.16, 0.2), 0.5)
          .coat("Salt", salt, fromNothing({maskOf(specks, 1.6, 0.1, 0.6, 0.4)})),
      Built("wet-paint", marked("Wet paint"), C(0.055, 0.14, 0.17), 0.45)
          .lacquer(1, 0.02)
          .bump(droplets, 6, 0.7),
      Built("wet-stone", marked("Wet stone"), C(0.1, 0.1, 0.1), 0.5)
          .colours(cloud, 50, {0.06, 0.06, 0.062}, {0.16, 0.155, 0.15})
          .bump(cloud, 20, 0.4)
          .lacquer(0.9, 0.03),
      Built("greasy-steel", marked("Greasy steel"), C(0.3, 0.29, 0.27), 0.3)
          .metal()
          .rough(smudges, 30, 0.2, 0.6)
          .lacquer(0.5, 0.25),
      Built("lime-scale", marked("Scaled glass"), C(0.97, 0.98, 0.975), 0.03)
          .glass()
          .rough(droplets, 5, 0.02, 0.5)
          .share(0.7),
  };
}

}  // namespace dusk
