#include "docs/maker/schema.h"

#include "core/project/correction_kinds.h"
#include "core/project/deliverable_kinds.h"
#include "core/project/feed_kinds.h"
#include "core/project/file.h"
#include "core/project/json_fields.h"
#include "core/project/lamp_kinds.h"

namespace dusk::reference {
namespace {

using nlohmann::json;

/// What is asked about, without having one.
template <typename T>
struct Of {};

json object() {
  return {{"type", "object"}, {"additionalProperties", false}, {"properties", json::object()}};
}
json listOf(json item) { return {{"type", "array"}, {"items", std::move(item)}}; }
json rowOf(json item, size_t n) {
  json list = listOf(std::move(item));
  list["minItems"] = list["maxItems"] = n;
  return list;
}
template <typename Infos>
json wordsOf(const Infos& infos) {
  json names = json::array();
  for (const auto& info : infos) names.push_back(info.name);
  return {{"enum", names}};
}

/// Types that have a table of their own; declared before they are used by one another.
#define DUSK_FIELDS(Type, ...) json shape(Of<Type>, json& defs);
#include "core/project/field_lists.h"
#undef DUSK_FIELDS
json shape(Of<VariantChange>, json& defs);
json shape(Of<MotionKey>, json& defs);
json shape(Of<MotionTrack>, json& defs);

json shape(Of<LampKind>, json&) { return wordsOf(lampKinds()); }
json shape(Of<FeedKind>, json&) { return wordsOf(feedKinds()); }
json shape(Of<CorrectionKind>, json&) { return wordsOf(correctionKinds()); }
json shape(Of<DeliverableKind>, json&) { return wordsOf(deliverableKinds()); }
template <Worded E>
json shape(Of<E>, json&) {
  json words = json::array();
  for (const char* word : Words<E>::all) words.push_back(word);
  return {{"enum", words}};
}

template <PlainField T>
json shape(Of<T>, json&) {
  if constexpr (std::is_same_v<T, bool>)
    return {{"type", "boolean"}};
  else if constexpr (std::is_same_v<T, std::string>)
    return {{"type", "string"}};
  else if constexpr (std::is_unsigned_v<T>)
    return {{"type", "integer"}, {"minimum", 0}};
  else
    return {{"type", std::is_integral_v<T> ? "integer" : "number"}};
}
template <VectorField T>
json shape(Of<T>, json& defs) {
  return rowOf(shape(Of<std::remove_cvref_t<decltype(T{}[0])>>{}, defs), T::dimensions());
}

template <typename T>
json shape(Of<std::optional<T>>, json& defs);
template <typename T, size_t n>
json shape(Of<std::array<T, n>>, json& defs);
template <typename T>
json shape(Of<std::vector<T>>, json& defs);
template <typename Key, typename T>
json shape(Of<std::map<Key, T>>, json& defs);

json shape(Of<std::set<std::string>>, json&) { return listOf({{"type", "string"}}); }
template <typename T>
json shape(Of<std::optional<T>>, json& defs) {
  return {{"anyOf", {shape(Of<T>{}, defs), {{"type", "null"}}}}};
}
template <typename T, size_t n>
json shape(Of<std::array<T, n>>, json& defs) {
  return rowOf(shape(Of<T>{}, defs), n);
}
template <typename T>
json shape(Of<std::vector<T>>, json& defs) {
  return listOf(shape(Of<T>{}, defs));
}
template <typename Key, typename T>
json shape(Of<std::map<Key, T>>, json& defs) {
  json map = {{"type", "object"}, {"additionalProperties", shape(Of<T>{}, defs)}};
  if constexpr (!std::is_same_v<Key, std::string>) map["propertyNames"] = shape(Of<Key>{}, defs);
  return map;
}

/// A field and what a new one has there; lists and groups tell that by themselves.
void addField(json& type, const char* name, json shape, const json& fresh) {
  const bool plain = !fresh.is_object() && !(fresh.is_array() && (fresh.empty() || !fresh[0].is_primitive()));
  if (plain) shape["default"] = fresh;
  type["properties"][name] = std::move(shape);
}
json named(const char* name) { return {{"$ref", std::string("#/$defs/") + name}}; }

#define DUSK_SHAPE(field) addField(type, #field, shape(Of<decltype(fresh.field)>{}, defs), json_.at(#field));
#define DUSK_FIELDS(Type, ...)                                           \
  json shape(Of<Type>, json& defs) {                                     \
    if (!defs.contains(#Type)) {                                         \
      defs[#Type] = nullptr;                                             \
      const Type fresh{};                                                \
      json json_;                                                        \
      to_json(json_, fresh);                                             \
      json type = object();                                              \
      NLOHMANN_JSON_EXPAND(NLOHMANN_JSON_PASTE(DUSK_SHAPE, __VA_ARGS__)) \
      defs[#Type] = std::move(type);                                     \
    }                                                                    \
    return named(#Type);                                                 \
  }
#include "core/project/field_lists.h"
#undef DUSK_FIELDS
#undef DUSK_SHAPE

// Those that are written by hand.
json shape(Of<VariantChange>, json& defs) {
  json type = object();
  type["required"] = {"at"};
  type["properties"] = {{"at", {{"type", "string"}, {"pattern", "^/"}}},
                        {"to", json::object()},
                        {"gone", {{"type", "boolean"}, {"default", false}}}};
  defs["VariantChange"] = type;
  return named("VariantChange");
}
json shape(Of<MotionKey>, json& defs) {
  json type = object();
  const MotionKey fresh;
  type["required"] = {"seconds", "to"};
  addField(type, "seconds", shape(Of<double>{}, defs), fresh.seconds);
  type["properties"]["to"] = json::object();
  addField(type, "easing", shape(Of<Easing>{}, defs), fresh.easing);
  addField(type, "handles", shape(Of<decltype(fresh.handles)>{}, defs), fresh.handles);
  defs["MotionKey"] = type;
  return named("MotionKey");
}
json shape(Of<MotionTrack>, json& defs) {
  json type = object();
  const MotionTrack fresh;
  addField(type, "id", shape(Of<std::string>{}, defs), fresh.id);
  type["properties"]["at"] = {{"type", "string"}, {"pattern", "^/"}};
  addField(type, "loop", shape(Of<MotionLoop>{}, defs), fresh.loop);
  addField(type, "keys", shape(Of<std::vector<MotionKey>>{}, defs), fresh.keys);
  defs["MotionTrack"] = type;
  return named("MotionTrack");
}

json correctionValues() {
  json names = json::array();
  for (const CorrectionKindInfo& kind : correctionKinds())
    for (const CorrectionField& value : kind.fields)
      if (std::find(names.begin(), names.end(), value.name) == names.end()) names.push_back(value.name);
  return {{"enum", names}};
}

}  // namespace

json shapesOfTheDocument() {
  json defs = json::object();
  shape(Of<Project>{}, defs);
  defs["Correction"]["properties"]["values"]["propertyNames"] = correctionValues();
  json whole = defs["Project"];
  defs.erase("Project");
  whole["properties"]["schema"] = {{"type", "integer"}, {"minimum", 1}, {"maximum", projectSchema}};
  whole["required"] = {"schema"};
  whole["$schema"] = "https://json-schema.org/draft/2020-12/schema";
  whole["title"] = "Gentle Dusk project, schema " + std::to_string(projectSchema);
  whole["$defs"] = std::move(defs);
  return whole;
}

}  // namespace dusk::reference
