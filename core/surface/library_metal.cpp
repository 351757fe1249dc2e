// Metals, as drawn and as worked. Reflectances after published measurements of clean metal.
#include "core/base/words.h"
#include "core/surface/builder.h"

namespace dusk {
namespace {
using C = Vec3d;
using enum FeedKind;
using enum SurfaceValue;

Built metalOf(const char* id, const char* name, const C& colour, double roughness) {
  return Built(id, name, colour, roughness).metal();
}
constexpr double steelGrey = 0.56;
const C aluminium(0.80, 0.81, 0.82), steel(steelGrey, 0.55, 0.54), brass(0.78, 0.53, 0.22),
    copper(0.84, 0.46, 0.33), bronze(0.55, 0.36, 0.2), gold(1.0, 0.71, 0.29), silver(0.93, 0.91, 0.86),
    zinc(0.62, 0.63, 0.64);
}  // namespace

std::vector<Surface> metalSurfaces() {
  return {
      metalOf("bare-aluminium", marked("Bare aluminium"), aluminium, 0.34),
      metalOf("bright-steel", marked("Bright steel"), {0.62, 0.61, 0.60}, 0.12),
      metalOf("blued-steel", marked("Blued steel"), {0.14, 0.16, 0.21}, 0.30),
      metalOf("tide-brass", marked("Tide brass"), brass, 0.24).rough(smudges, 40, 0.2, 0.34),
      metalOf("polished-brass", marked("Polished brass"), {0.86, 0.61, 0.27}, 0.06),
      metalOf("raw-copper", marked("Raw copper"), copper, 0.22).rough(cloud, 25, 0.16, 0.32),
      metalOf("old-bronze", marked("Old bronze"), bronze, 0.38)
          .colours(cloud, 18, {0.3, 0.2, 0.11}, {0.58, 0.38, 0.21}),
      metalOf("gilt", marked("Gilt"), gold, 0.16),
      metalOf("dull-silver", marked("Dull silver"), silver, 0.28),
      metalOf("chrome", marked("Bright plating"), {0.69, 0.7, 0.71}, 0.03),
      metalOf("nickel", marked("Nickel plating"), {0.66, 0.61, 0.54}, 0.14),
      metalOf("galvanised", marked("Galvanised"), zinc, 0.38)
          .rough(cells, 14, 0.28, 0.5)
          .share(1)
          .colours(cells, 14, {0.5, 0.51, 0.53}, {0.7, 0.71, 0.72})
          .share(1),
      metalOf("heat-tint", marked("Heat tint"), steel, 0.18).film(260, 2.2),
      metalOf("pewter", marked("Pewter"), {0.42, 0.42, 0.41}, 0.42),
  };
}

std::vector<Surface> workedMetalSurfaces() {
  return {
      metalOf("brushed-steel", marked("Brushed steel"), steel, 0.3)
          .brushed(0.75)
          .bump(brushing, 0.3, 0.006)
          .rough(brushing, 0.3, 0.22, 0.4),
      metalOf("brushed-aluminium", marked("Brushed aluminium"), aluminium, 0.34)
          .brushed(0.7)
          .bump(brushing, 0.35, 0.008),
      metalOf("turned-brass", marked("Turned brass"), brass, 0.22).brushed(0.6).bump(turning, 0.6, 0.015),
      metalOf("turned-steel", marked("Turned steel"), steel, 0.2).brushed(0.6).bump(turning, 0.8, 0.02),
      metalOf("cast-iron", marked("Cast iron"), {0.2, 0.195, 0.19}, 0.6).bump(cast, 2, 0.25),
      metalOf("cast-aluminium", marked("Cast aluminium"), {0.6, 0.61, 0.62}, 0.5).bump(cast, 1.2, 0.12),
      metalOf("hammered-copper", marked("Hammered copper"), copper, 0.2).bump(hammered, 9, 0.7),
      metalOf("knurled-steel", marked("Knurled steel"), steel, 0.28).bump(knurl, 1.2, 0.35),
      metalOf("blasted-aluminium", marked("Blasted aluminium"), aluminium, 0.52).bump(noise, 0.18, 0.012),
      metalOf("anodised-black", marked("Anodised, black"), {0.03, 0.031, 0.033}, 0.4),
      metalOf("anodised-tide", marked("Anodised, tide"), {0.08, 0.3, 0.36}, 0.36),
      metalOf("anodised-ember", marked("Anodised, ember"), {0.75, 0.28, 0.06}, 0.36),
      metalOf("scratched-steel", marked("Scratched steel"), steel, 0.26)
          .rough(scratches, 30, 0.24, 0.55)
          .bump(scratches, 30, -0.02),
      metalOf("mill-scale", marked("Mill scale"), {0.11, 0.115, 0.125}, 0.45)
          .colours(cloud, 30, {0.06, 0.062, 0.07}, {0.2, 0.19, 0.19})
          .bump(cloud, 10, 0.05),
      metalOf("tread-plate", marked("Ribbed plate"), {0.55, 0.55, 0.55}, 0.36).bump(ribs, 6, 0.6),
      metalOf("foil", marked("Crumpled foil"), {0.88, 0.88, 0.88}, 0.14).bump(cells, 12, 0.8).share(1),
  };
}

}  // namespace dusk
