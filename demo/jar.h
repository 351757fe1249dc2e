#pragma once
#include <filesystem>
#include <string>

#include "core/base/result.h"

namespace dusk::demo {

/// Millimetres; heights from the foot.
struct JarMeasures {
  double wall = 3, outer = 42, floor = 5, shoulder = 104, level = 84;
};
inline constexpr JarMeasures jarMeasures;

/// The same works' *Brackwater sampling jar*, 142 mm tall: glass, sea water, what settled in it, rubber seal
/// and screw cap.
Outcome writeJar(const std::filesystem::path& file);
/// What is printed round it in one colour: 150 x 78 mm, with a scale that holds for its bore.
std::string jarLabelSvg();
/// Writes `jar.dusk` into demo/jar: the jar on the boathouse bench and on the white table, as new, and used.
Outcome writeJarCampaign(const std::filesystem::path& demo);

}  // namespace dusk::demo
