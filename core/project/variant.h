#pragma once
#include <map>
#include <string>
#include <vector>

namespace dusk {

/// One thing that an option makes otherwise: a place in the document and what is there then.
struct VariantChange {
  /// A JSON Pointer (RFC 6901) into the document as it is saved, with ids where lists of things with ids are
  /// passed: "/surfaces/surface-2/roughness".
  std::string at;
  std::string to{};   ///< JSON
  bool gone = false;  ///< there is nothing then
  bool operator==(const VariantChange&) const = default;
};

/// One of an axis' choices; without changes it is the document as it stands.
struct VariantOption {
  std::string id;  ///< unique among all options of the project
  std::string name;
  std::vector<VariantChange> changes{};  ///< what is otherwise then
  bool operator==(const VariantOption&) const = default;
};

/// What a product or its picture comes in several of: colour, lid, label, light.
struct VariantAxis {
  std::string id, name;
  std::vector<VariantOption> options{};
  bool operator==(const VariantAxis&) const = default;
};

/// Two options that cannot be together, by their ids.
struct ExcludedPair {
  std::string one, other;
  bool operator==(const ExcludedPair&) const = default;
};

/// The option chosen of each axis, by ids. An axis that is not in it stands at its first option.
using VariantChoice = std::map<std::string, std::string>;

}  // namespace dusk
