#pragma once
#include <filesystem>
#include <nlohmann/json.hpp>

namespace dusk::reference {

/// Adds to the schema's types and fields, as `description`, what the headers in `folder` say of them: the
/// comment before or behind each. What a header does not explain goes without.
void addComments(nlohmann::json& schema, const std::filesystem::path& folder);

}  // namespace dusk::reference
