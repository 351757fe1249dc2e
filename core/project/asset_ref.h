#pragma once
#include <string>

namespace dusk {

/// A file outside the document: its path relative to the project's folder, and the hash of its content.
struct AssetRef {
  std::string path, hash;
  bool operator==(const AssetRef&) const = default;
  bool empty() const { return path.empty(); }
};

}  // namespace dusk
