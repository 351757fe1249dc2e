// Paints, plastics, ceramics: what is coloured through or over.
#include "core/base/words.h"
#include "core/surface/builder.h"

namespace dusk {
namespace {
using C = Vec3d;
using enum FeedKind;
using enum SurfaceValue;

/// Enamel as it leaves the oven: thick, glossy, with a slow wobble nobody sees but in its highlights.
Built enamel(const char* id, const char* name, const C& colour) {
  return Built(id, name, colour, 0.38).lacquer(0.8, 0.08).bump(waves, 9, 0.012);
}
Built powder(const char* id, const char* name, const C& colour) {
  return Built(id, name, colour, 0.55).bump(cloud, 1.4, 0.035).share(0.3).detail(2);
}
Built moulded(const char* id, const char* name, const C& colour) {
  return Built(id, name, colour, 0.42).ior(1.49).bump(cast, 0.5, 0.012);
}
Built glazed(const char* id, const char* name, const C& colour) {
  return Built(id, name, colour, 0.3).lacquer(1, 0.04).bump(waves, 14, 0.05);
}
}  // namespace

std::vector<Surface> paintSurfaces() {
  return {
      enamel("harbour-enamel", marked("Harbour enamel"), {0.055, 0.19, 0.235}),
      enamel("signal-enamel", marked("Signal enamel"), {0.62, 0.10, 0.035}),
      enamel("gull-enamel", marked("Gull enamel"), {0.78, 0.77, 0.73}),
      enamel("tar-enamel", marked("Tar enamel"), {0.014, 0.015, 0.017}),
      enamel("lichen-enamel", marked("Lichen enamel"), {0.34, 0.36, 0.09}),
      Built("chalk-paint", marked("Chalk paint"), C(0.72, 0.70, 0.65), 0.85).ior(1.45).bump(cloud, 6, 0.03),
      Built("lime-wash", marked("Lime wash"), C(0.78, 0.75, 0.69), 0.95)
          .colours(cloud, 140, {0.66, 0.63, 0.57}, {0.82, 0.8, 0.75}),
      Built("brush-paint", marked("Paint by brush"), C(0.16, 0.25, 0.2), 0.42)
          .bump(brushing, 1.2, 0.08)
          .stretch(60),
      Built("roller-paint", marked("Paint by roller"), C(0.62, 0.6, 0.55), 0.6).bump(noise, 2.2, 0.09),
      powder("powder-slate", marked("Powder coat, slate"), {0.07, 0.08, 0.09}),
      powder("powder-shell", marked("Powder coat, shell"), {0.66, 0.63, 0.57}),
      powder("powder-rust", marked("Powder coat, rust"), {0.33, 0.09, 0.035}),
      Built("piano-black", marked("Deep lacquer, black"), C(0.006, 0.006, 0.007), 0.3).lacquer(1, 0.01),
      Built("pearl-lacquer", marked("Pearl lacquer"), C(0.55, 0.56, 0.58), 0.35)
          .metal(0.25)
          .film(330)
          .lacquer(1, 0.03),
      Built("flake-lacquer", marked("Flake lacquer, blue"), C(0.02, 0.06, 0.2), 0.32)
          .metal(0.6)
          .colours(speckle, 0.25, {0.02, 0.06, 0.2}, {0.25, 0.35, 0.6})
          .share(0.5)
          .lacquer(1, 0.02),
      Built("primer", marked("Red primer"), C(0.24, 0.07, 0.045), 0.75),
  };
}

std::vector<Surface> plasticSurfaces() {
  return {
      moulded("moulded-black", marked("Moulded black"), {0.035, 0.035, 0.037}),
      moulded("moulded-white", marked("Moulded white"), {0.74, 0.74, 0.72}),
      moulded("moulded-amber", marked("Moulded amber"), {0.62, 0.28, 0.03}),
      moulded("moulded-sea", marked("Moulded sea green"), {0.08, 0.32, 0.27}),
      Built("boot-rubber", marked("Boot rubber"), C(0.022, 0.022, 0.023), 0.72).ior(1.52),
      Built("sealing-rubber", marked("Sealing rubber"), C(0.05, 0.048, 0.046), 0.62).bump(noise, 1.5, 0.02),
      Built("soft-touch", marked("Soft-touch coating"), C(0.06, 0.06, 0.065), 0.9)
          .cloth(0.25, C(0.5, 0.5, 0.52), 0.6),
      Built("spark-texture", marked("Sparked texture"), C(0.09, 0.09, 0.095), 0.6).bump(cast, 0.9, 0.06),
      Built("high-gloss-plastic", marked("High-gloss plastic"), C(0.5, 0.49, 0.46), 0.07).ior(1.49),
      Built("bakelite", marked("Brown resin"), C(0.06, 0.022, 0.012), 0.18)
          .colours(cloud, 12, {0.035, 0.013, 0.008}, {0.11, 0.04, 0.02}),
      Built("silicone", marked("Milky rubber"), C(0.72, 0.72, 0.7), 0.5)
          .clear(0.25)
          .ior(1.41)
          .dye({0.85, 0.84, 0.8}, 6),
      Built("grip-knurl", marked("Knurled grip"), C(0.03, 0.03, 0.032), 0.6).bump(knurl, 1.6, 0.45),
      Built("hose-ribs", marked("Ribbed hose"), C(0.05, 0.05, 0.055), 0.55).bump(ribs, 4, 0.9),
  };
}

std::vector<Surface> ceramicSurfaces() {
  return {
      glazed("white-glaze", marked("White glaze"), {0.78, 0.77, 0.74}),
      glazed("tide-glaze", marked("Tide glaze"), {0.08, 0.22, 0.26}),
      Built("speckled-glaze", marked("Speckled glaze"), C(0.62, 0.57, 0.48), 0.35)
          .colours(speckle, 1.3, {0.62, 0.57, 0.48}, {0.14, 0.09, 0.06})
          .share(0.18)
          .lacquer(0.9, 0.06),
      Built("crackle-glaze", marked("Crackle glaze"), C(0.66, 0.68, 0.62), 0.3)
          .colours(cells, 7, {0.16, 0.13, 0.1}, {0.66, 0.68, 0.62})
          .share(0.03)
          .lacquer(1, 0.05),
      Built("bisque", marked("Unglazed clay"), C(0.55, 0.3, 0.19), 0.9).bump(cloud, 2, 0.06).detail(5),
      Built("porcelain", marked("Thin porcelain"), C(0.83, 0.82, 0.79), 0.22).ior(1.55).lacquer(0.6, 0.03),
      Built("wall-tile", marked("Wall tile"), C(0.7, 0.71, 0.69), 0.2)
          .colours(tile, 100, {0.34, 0.32, 0.29}, {0.74, 0.75, 0.73})
          .share(0.025)
          .range(0, 0.6)
          .bump(tile, 100, 0.8)
          .share(0.025)
          .range(0, 0.5)
          .lacquer(0.9, 0.05),
      Built("brick-wall", marked("Brickwork"), C(0.36, 0.15, 0.1), 0.9)
          .colours(brick, 240, {0.46, 0.43, 0.38}, {0.42, 0.17, 0.11})
          .range(0, 0.8)
          .feed(baseColour, cloud, 50, {0.55, 0.55, 0.55}, {1.15, 1.1, 1.05}, FeedJoin::multiply)
          .bump(brick, 240, 4)
          .range(0, 0.4),
  };
}

std::vector<Surface> lightSurfaces() {
  return {
      Built("lamp-face", marked("Lamp face"), C(0.8, 0.8, 0.8), 0.6).glow({3.0, 2.7, 2.2}),
      Built("dial-glow", marked("Dial glow"), C(0.5, 0.6, 0.4), 0.6).glow({0.5, 0.9, 0.55}),
      Built("warm-panel", marked("Warm panel"), C(0.8, 0.8, 0.8), 0.8).glow({2.4, 1.7, 0.95}),
      Built("cold-panel", marked("Cold panel"), C(0.8, 0.8, 0.8), 0.8).glow({1.7, 1.95, 2.4}),
      Built("ember", marked("Ember"), C(0.03, 0.02, 0.018), 0.9)
          .feed(emission, cloud, 14, {0, 0, 0}, {5, 0.9, 0.08})
          .range(0.45, 0.85),
      Built("screen", marked("Lit screen"), C(0.02, 0.02, 0.02), 0.15)
          .feed(emission, stripes, 1, {0.2, 0.5, 0.6}, {0.7, 1.1, 1.2}),
  };
}

}  // namespace dusk
