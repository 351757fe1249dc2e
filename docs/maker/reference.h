#pragma once
#include <filesystem>
#include <map>
#include <string>

#include "core/base/result.h"

namespace dusk::reference {

/// What is written about the document by its own tables: texts by the files they are in, as seen from
/// `source`, the project's folder.
Result<std::map<std::string, std::string>> pagesOf(const std::filesystem::path& source);

}  // namespace dusk::reference
