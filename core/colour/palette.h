#pragma once
#include <string>
#include <vector>

#include "core/base/maths.h"
#include "core/base/result.h"

namespace dusk {

/// Colours with their names, sRGB code values 0 to 1.
struct Palette {
  struct Colour {
    std::string name;
    Vec3d code;
  };
  std::string name;
  std::vector<Colour> colours;
};

/// A palette in the open text format `.gpl`: a line "GIMP Palette", headings, then "red green blue name" in
/// 0 to 255. Lines that say nothing are passed over. `file` names it in errors.
Result<Palette> paletteFromText(const std::string& text, const std::string& file);

}  // namespace dusk
