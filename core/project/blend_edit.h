#pragma once
#include "core/project/correction_kinds.h"

namespace dusk {

/// A row of the stack by its name: a role's, "light:" with a group, or "layer:" with an extra layer's id.
inline constexpr std::string_view layerRow = "layer:";
/// nullptr when there is no such layer; a role's or light's row is made where it is not there.
BlendRow* rowNamed(BlendSettings& blend, const std::string& name);
/// As it is; one that does nothing where there is none.
const BlendRow& rowNamed(const BlendSettings& blend, const std::string& name);
ExtraLayer* layerOf(BlendSettings& blend, const std::string& row);
const ExtraLayer* layerOf(const BlendSettings& blend, const std::string& row);
/// The role whose corrections fit a row: a layer's are those of things in front.
BlendRole roleOfRow(const std::string& name);

/// The masks of a row's correction, by its index; of the row itself where it has no such.
const std::vector<Mask>& masksAt(const BlendRow& row, int correction);
std::vector<Mask>& masksAt(BlendRow& row, int correction);

/// One line of the stack as it is shown, from the place to the view.
struct StackLine {
  std::string row, title;
  int indent = 0;
};
/// `lights`: group and title of each light that shines.
std::vector<StackLine> stackLines(const BlendSettings& blend,
                                  const std::vector<std::pair<std::string, std::string>>& lights);

/// A blend that does nothing but show by the view of `blend`, by which the plate comes in, too.
BlendSettings viewOnly(const BlendSettings& blend);

/// Rows that ask for nothing need not be kept.
void dropIdleRows(BlendSettings& blend);

/// Where a picture shows the product.
struct ProductSeen {
  Vec2d from{0.35, 0.35}, to{0.65, 0.65};  ///< its box, shares of the picture
  double nearM = 0.5, farM = 2;            ///< its surface, metres along the optical axis
};
/// A mask as it is begun: about the product, in a frame of that size.
Mask newMask(MaskKind kind, int width, int height, const ProductSeen& seen = {});
}  // namespace dusk
