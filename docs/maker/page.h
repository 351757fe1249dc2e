#pragma once
#include <nlohmann/json.hpp>
#include <string>

namespace dusk::reference {

/// The schema as a page for people, in Markdown: a table for each type, and one of the corrections.
std::string pageOf(const nlohmann::json& schema);

/// What the headless verbs answer, as such a page.
std::string answersPage();

}  // namespace dusk::reference
