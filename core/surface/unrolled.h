#pragma once
#include "core/base/result.h"
#include "core/picture/picture.h"
#include "core/surface/print.h"

/// The outline of what can be printed on, to draw into.
namespace dusk {

/// What of a product a print on its sheet could cover, unrolled. Millimetres on the sheet, right and up, from
/// the middle of the print.
struct Unrolled {
  Vec2d low{0, 0}, high{0, 0};               ///< of all outlines
  std::vector<std::vector<Vec2d>> outlines;  ///< closed; holes go the other way round
  Vec2d printMm{0, 0};                       ///< size of the print itself
  Vec2d middle() const { return (low + high) * 0.5; }
  Vec2d size() const { return high - low; }
};

/// Of the decal's parts (those under the paths it names; all, where none), as it lies on them: flat or
/// wrapped. `proportion`: height over width of its picture. Outlines are true within `unrolledGridMm`. An
/// error where it lies by the mesh's own coordinates, which have no millimetres, or reaches nothing.
Result<Unrolled> unrolled(const Decal& decal, const Model& model, double unitMm, double proportion);
inline constexpr double unrolledGridMm = 0.2, templateBleedMm = 3;

/// A drawing of the size of the outlines and a bleed around them: the outlines, the bleed's line and the
/// print's own frame lie in a group called "guide", which is never printed; what is drawn elsewhere is.
std::string templateSvg(const Unrolled& unrolled, const std::string& name, double bleedMm);
/// The guide alone as pixels over nothing, `dpi` a true inch: straight alpha, rows from the top.
Picture templatePixels(const Unrolled& unrolled, double bleedMm, double dpi);

}  // namespace dusk
