#pragma once
#include <span>
#include <string_view>

#include "core/project/light.h"

namespace dusk {

/// What gives a lamp's light off.
enum class LampBody { distant, rectangle, disc, ball };

/// All there is to know of a kind of lamp. The table of these is the one place that names a kind: files,
/// schema, desk, plan, units, tracer and proofs are fed from it.
struct LampKindInfo {
  LampKind kind;
  const char* name;   ///< in files
  const char* title;  ///< of a new one, and in menus
  const char* shape;  ///< in the desk's list of shapes
  LampBody body;
  bool hasCone = false;     ///< shines into a cone only
  bool hasPicture = false;  ///< shines with a picture in place of an even colour
  bool lights = true;       ///< false: it is seen in reflections only, by its shade
  double powerEv = 2;       ///< of a new one
  double radiusM = 0.2;     ///< of a new one
};

std::span<const LampKindInfo> lampKinds();
const LampKindInfo& infoOf(LampKind kind);
/// nullptr when no kind has that name in files.
const LampKindInfo* lampKindNamed(std::string_view name);

inline bool isDistant(const Lamp& lamp) { return infoOf(lamp.kind).body == LampBody::distant; }

}  // namespace dusk
