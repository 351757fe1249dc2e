#pragma once
#include <filesystem>

#include "core/assets/asset_store.h"

namespace dusk {

struct GatherReport {
  int files = 0;  ///< copied, the project itself counted
  std::filesystem::path project;
  std::vector<std::string> notes;  ///< files that are others than when they were linked
};

/// Copies a project and everything it links to into `to`: a folder, which must not hold anything yet, or a
/// file that ends in .zip. Opened there, it looks the same to the last bit. Error: a linked file is missing,
/// `to` holds something, it cannot be written, cancelled; nothing half gathered is left.
Result<GatherReport> gather(const Project& project, const AssetStore& assets, const std::filesystem::path& to,
                            Progress& progress);

}  // namespace dusk
