#pragma once
#include <span>
#include <string_view>

#include "core/project/blend.h"

namespace dusk {

/// One number of a correction.
struct CorrectionField {
  const char* name;   ///< in files
  const char* title;  ///< on screen
  const char* unit;
  double low, high, step, usual;  ///< `usual` is what a new one has
  int decimals;
  const char* tip;
};

/// All there is to know of a kind of correction but how it is worked out, which is in core/blend. The table
/// of these is the one place that names a kind: files, checks and desk are fed from it.
struct CorrectionKindInfo {
  CorrectionKind kind;
  const char* name;   ///< in files
  const char* title;  ///< on screen
  const char* tip;
  std::span<const CorrectionField> fields;
  unsigned rows;  ///< a bit for each BlendRole it makes sense on
  bool hasCurve = false, hasFile = false;
};

std::span<const CorrectionKindInfo> correctionKinds();
const CorrectionKindInfo& infoOf(CorrectionKind kind);
/// nullptr when no kind has that name in files.
const CorrectionKindInfo* correctionKindNamed(std::string_view name);
inline bool fits(const CorrectionKindInfo& info, BlendRole role) { return info.rows >> unsigned(role) & 1; }

/// A number of a correction: its own, or what is usual. Requires the kind to have such a field.
double valueOf(const Correction& correction, std::string_view field);

/// What a role is called in files and on screen, in the order of the stack.
struct BlendRoleInfo {
  BlendRole role;
  const char* name;
  const char* title;
  const char* tip;
};
std::span<const BlendRoleInfo> blendRoles();
const BlendRoleInfo& infoOf(BlendRole role);

/// The row of a role, or of one light; one that does nothing where there is none.
const BlendRow& rowOf(const BlendSettings& blend, const std::string& name);
inline const BlendRow& rowOf(const BlendSettings& blend, BlendRole role) {
  return rowOf(blend, infoOf(role).name);
}
/// What is before a light group's name in the name of its row.
inline constexpr std::string_view lightRow = "light:";

}  // namespace dusk
