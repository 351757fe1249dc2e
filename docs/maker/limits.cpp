#include <cstdio>
#include <set>

#include "core/project/json.h"
#include "core/project/sound.h"
#include "docs/maker/schema.h"

namespace dusk::reference {
namespace {

using nlohmann::json;

/// Makes a value of each shape, and remembers whose every number in it is.
class Sample {
 public:
  explicit Sample(const json& schema) : schema_(schema) {}

  struct Number {
    json::json_pointer at;     ///< in the sample
    json::json_pointer shape;  ///< in the schema
  };
  std::vector<Number> numbers;

  json of(const json::json_pointer& shapeAt, const json::json_pointer& at) {
    const json& shape = schema_.at(shapeAt);
    if (shape.contains("$ref")) {
      const std::string ref = shape["$ref"];
      if (!open_.insert(ref).second) return nullptr;  // a surface's coats are surfaces
      json value = of(json::json_pointer(ref.substr(1)), at);
      open_.erase(ref);
      return value;
    }
    if (shape.contains("anyOf")) return of(shapeAt / "anyOf" / 0, at);
    if (shape.contains("enum")) return shape.value("default", shape["enum"][0]);
    if (!shape.contains("type")) return 1;  // anything
    const std::string type = shape["type"];
    if (type == "array") return listOf(shape, shapeAt, at);
    if (type == "object") return objectOf(shape, shapeAt, at);
    if (type == "string") return shape.contains("pattern") ? "/name" : "a";
    if (type == "boolean") return shape.value("default", false);
    numbers.push_back({at, shapeAt});
    return 1;
  }

 private:
  json listOf(const json& shape, const json::json_pointer& shapeAt, const json::json_pointer& at) {
    json list = json::array();
    // Tables of numbers have lengths of their own; they may as well be empty.
    const std::string item = shape["items"].value("type", "");
    if (!shape.contains("minItems") && (item == "number" || item == "integer")) return list;
    for (size_t i = 0; i < shape.value("minItems", size_t{1}); ++i)
      if (json item = of(shapeAt / "items", at / i); !item.is_null()) list.push_back(std::move(item));
    // What a new one has is sound; what each part of it may be is asked all the same.
    if (shape.contains("default") && shape["default"].size() == list.size()) list = shape["default"];
    return list;
  }
  json objectOf(const json& shape, const json::json_pointer& shapeAt, const json::json_pointer& at) {
    json object = json::object();
    if (shape.contains("properties")) {
      for (const auto& [key, its] : shape["properties"].items()) {
        json value = of(shapeAt / "properties" / key, at / key);
        if (value.is_number() && its.contains("default") && its["default"].is_number())
          value = its["default"];
        if (!value.is_null()) object[key] = std::move(value);
      }
      return object;
    }
    const std::string key =
        shape.contains("propertyNames") ? shape["propertyNames"]["enum"][0].get<std::string>() : "a";
    if (json value = of(shapeAt / "additionalProperties", at / key); !value.is_null()) object[key] = value;
    return object;
  }

  const json& schema_;
  std::set<std::string> open_;
};

}  // namespace

Outcome addLimits(json& schema) {
  const json asked = schema;
  Sample sample(asked);
  const json sound = sample.of(json::json_pointer(), json::json_pointer());
  if (const std::string flaw = unsound(sound.get<Project>()); !flaw.empty())
    return Error{"The document with one of everything is not sound: " + flaw};
  for (const auto& [at, shapeAt] : sample.numbers) {
    json& shape = schema[shapeAt];
    const bool whole = shape["type"] == "integer";
    for (const double far : {whole ? 2147483647.0 : 1e30, whole ? -2147483648.0 : -1e30}) {
      json document = sound;
      if (whole)
        document[at] = int64_t(far);
      else
        document[at] = far;
      const std::string flaw = unsound(document.get<Project>());
      const size_t said = flaw.find("it may be ");
      double low = 0, high = 0;
      if (said == std::string::npos ||
          std::sscanf(flaw.c_str() + said, "it may be %lf to %lf", &low, &high) != 2)
        continue;
      whole ? shape["minimum"] = int64_t(low) : shape["minimum"] = low;
      whole ? shape["maximum"] = int64_t(high) : shape["maximum"] = high;
    }
  }
  return done();
}

}  // namespace dusk::reference