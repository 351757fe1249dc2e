#pragma once
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/project/project.h"

namespace dusk {

/// Things of a project taken along as text: the file format's own keys, so that they can be read, mailed and
/// kept.
struct Clip {
  std::vector<Lamp> lamps;
  std::vector<StandIn> standIns;
  std::vector<Product> products;
  std::vector<Placement> placements;  ///< of the products
  std::vector<Surface> surfaces;      ///< also those that the products are dressed in
  std::optional<Evidence> evidence;
  std::vector<Shot> shots;
  bool operator==(const Clip&) const = default;
  bool empty() const { return *this == Clip{}; }
  /// What there is, in words: "2 lamps, a shot"; empty when nothing.
  std::string words() const;
};

std::string toText(const Clip& clip);
/// Error: not such a text, or a value of the wrong kind or out of its range.
Result<Clip> clipFromText(const std::string& text);

/// Every link to a file in it.
void eachLink(Clip& clip, const std::function<void(AssetRef&)>& change);

/// Adds everything to a project, with ids of its own, and what belongs to a shot to `shot`. Lamps keep what
/// they leave out and aim at only where that came along. The ids of what is new: lamps, stand-ins,
/// placements, shots.
std::vector<std::string> paste(const Clip& clip, Project& project, size_t shot);

}  // namespace dusk
