#include "core/base/json_text.h"

namespace dusk {

nlohmann::json jsonFrom(std::string_view text) { return nlohmann::json::parse(text, nullptr, false); }

std::string jsonText(const nlohmann::json& value, int indent) {
  return value.dump(indent, ' ', false, nlohmann::json::error_handler_t::replace);
}

}  // namespace dusk
