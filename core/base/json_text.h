#pragma once
#include <nlohmann/json.hpp>
#include <string>
#include <string_view>

namespace dusk {

/// JSON as text and back, compiled here alone: the library's reader and writer are large templates that every
/// file which calls them would make anew.

/// What a text says; a text that is no JSON gives a value for which `is_discarded()`. Never throws.
nlohmann::json jsonFrom(std::string_view text);

/// A value as text; indented by so many blanks a level, or in one line. What is not UTF-8 in it is replaced
/// by U+FFFD, so that it can always be read again. Never throws.
std::string jsonText(const nlohmann::json& value, int indent = -1);

}  // namespace dusk
