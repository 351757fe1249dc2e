#pragma once
#include <cstdio>
#include <optional>
#include <string>
#include <vector>

#include "core/project/project.h"

/// How numbers of a document are looked at, before anyone computes with them.
namespace dusk {

inline constexpr double far = 1e6;       ///< metres from the origin, and as large as anything gets
inline constexpr double farPx = 1e7;     ///< pixels from the picture's corner
inline constexpr double turns = 360000;  ///< degrees: a thousand times round
inline constexpr double tiny = 1e-9;     ///< what must be above nothing

/// Looks at numbers of one thing after the other, and keeps the first that is off.
class Check {
 public:
  /// What the next numbers belong to: "lamp 'Key'".
  void of(const char* kind, const std::string& name = {}) {
    owner_ = name.empty() ? kind : kind + (" '" + name + "'");
  }
  void in(const char* what, double value, double low, double high) {
    if (!flaw_.empty() || (value >= low && value <= high)) return;  // a NaN is in no range
    char text[160];
    std::snprintf(text, sizeof text, " has a %s of %g; it may be %g to %g", what, value, low, high);
    flaw_ = owner_ + text;
  }
  void in(const char* what, const std::optional<double>& value, double low, double high) {
    if (value) in(what, *value, low, high);
  }
  void in(const char* what, const Vec2d& v, double low, double high) {
    in(what, v.x, low, high), in(what, v.y, low, high);
  }
  void in(const char* what, const Vec3d& v, double low, double high) {
    in(what, v.x, low, high), in(what, v.y, low, high), in(what, v.z, low, high);
  }
  void holds(bool promise, const std::string& otherwise) {
    if (flaw_.empty() && !promise) flaw_ = owner_ + " " + otherwise;
  }
  const std::string& flaw() const { return flaw_; }

 private:
  std::string owner_, flaw_;
};

void look(Check& c, const BlendSettings& b);
void lookCleanUps(Check& c, const Shot& shot);

}  // namespace dusk
