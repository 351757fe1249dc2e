#include "docs/maker/page.h"

#include <cstdio>

#include "core/base/json_text.h"
#include "core/base/lower.h"
#include "core/project/correction_kinds.h"

namespace dusk::reference {
namespace {

using nlohmann::json;

std::string number(double value) {
  char text[32];
  std::snprintf(text, sizeof text, "%g", value);
  return text;
}

std::string kindOf(const json& shape) {
  if (shape.contains("$ref")) {
    const std::string ref = shape["$ref"], name = ref.substr(ref.rfind('/') + 1);
    return "[" + name + "](#" + lower(name) + ")";
  }
  if (shape.contains("anyOf")) return kindOf(shape["anyOf"][0]) + " or `null`";
  if (shape.contains("enum")) {
    std::string words;
    for (const json& word : shape["enum"])
      words += (words.empty() ? "`" : ", `") + word.get<std::string>() + "`";
    return words;
  }
  if (!shape.contains("type")) return "any JSON";
  const std::string type = shape["type"];
  if (type == "array")
    return shape.contains("minItems")
               ? std::to_string(shape["minItems"].get<int>()) + " x " + kindOf(shape["items"])
               : "list of " + kindOf(shape["items"]);
  if (type == "object") return "by name: " + kindOf(shape["additionalProperties"]);
  return type == "boolean"   ? "`true` or `false`"
         : type == "string"  ? "text"
         : type == "integer" ? "whole number"
                             : type;
}

/// Of the number itself, or of those in it.
std::string limitsOf(const json& shape) {
  if (shape.contains("anyOf")) return limitsOf(shape["anyOf"][0]);
  for (const char* in : {"items", "additionalProperties"})
    if (shape.contains(in) && shape[in].is_object()) return limitsOf(shape[in]);
  const bool low = shape.contains("minimum"), high = shape.contains("maximum");
  const std::string from = low ? number(shape["minimum"]) : "", to = high ? number(shape["maximum"]) : "";
  return low && high ? from + " to " + to : low ? "from " + from : high ? "to " + to : "";
}

std::string freshOf(const json& shape) {
  if (!shape.contains("default") || shape["default"] == "") return "";
  return "`" + jsonText(shape["default"]) + "`";
}

std::string tableOf(const json& type) {
  std::string text = "| | | new | limits | |\n|---|---|---|---|---|\n";
  for (const auto& [key, shape] : type["properties"].items())
    text += "| `" + key + "` | " + kindOf(shape) + " | " + freshOf(shape) + " | " + limitsOf(shape) + " | " +
            shape.value("description", "") + " |\n";
  return text + "\n";
}

std::string corrections() {
  std::string text =
      "## Values of a correction\n\n"
      "| `kind` | value | unit | new | limits | |\n|---|---|---|---|---|---|\n";
  for (const CorrectionKindInfo& kind : correctionKinds())
    for (const CorrectionField& field : kind.fields)
      text += std::string("| `") + kind.name + "` | `" + field.name + "` | " + field.unit + " | " +
              number(field.usual) + " | " + number(field.low) + " to " + number(field.high) + " | " +
              field.tip + " |\n";
  return text + "\n";
}

}  // namespace

std::string pageOf(const json& schema) {
  std::string text =
      "# Reference of the project file\n\n"
      "Made by `./dusk reference` from the tables that files are read and written by; "
      "[File formats](format.md) tells how it hangs together, and [project.schema.json](project.schema.json) "
      "says the same to programs. What a file leaves out is as `new`.\n\n## The document\n\n" +
      tableOf(schema);
  for (const auto& [name, type] : schema["$defs"].items())
    text += "## " + name + "\n\n" +
            (type.contains("description") ? type["description"].get<std::string>() + "\n\n" : "") +
            tableOf(type);
  return text + corrections();
}

}  // namespace dusk::reference
