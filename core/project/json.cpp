#include "core/project/json.h"

#include <algorithm>

#include "core/base/json_text.h"
#include "core/project/correction_kinds.h"
#include "core/project/deliverable_kinds.h"
#include "core/project/feed_kinds.h"
#include "core/project/json_fields.h"
#include "core/project/lamp_kinds.h"

namespace dusk {

namespace {

/// How many lists and objects are open at most, one within another.
int depthOf(std::string_view text) {
  int depth = 0, most = 0;
  bool quoted = false;
  for (size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (quoted && c == '\\') {
      ++i;
    } else if (c == '"') {
      quoted = !quoted;
    } else if (!quoted) {
      depth += (c == '[' || c == '{') - (c == ']' || c == '}');
      most = std::max(most, depth);
    }
  }
  return most;
}

}  // namespace

nlohmann::json parsedJson(const std::string& text) {
  constexpr int deepest = 60;
  // Not by the library's callback, which looks through a whole list again for each object that ends in it.
  if (depthOf(text) > deepest)
    throw nlohmann::json::other_error::create(502, "it is nested too deeply", nullptr);
  return nlohmann::json::parse(text);
}

std::string whatOf(const nlohmann::json::exception& error) {
  const std::string text = error.what();
  const size_t end = text.find("] ");
  return text.starts_with("[json.") && end != std::string::npos ? text.substr(end + 2) : text;
}

void to_json(nlohmann::json& j, const LampKind& kind) { j = infoOf(kind).name; }
void from_json(const nlohmann::json& j, LampKind& kind) {
  const auto name = j.get<std::string>();
  const LampKindInfo* info = lampKindNamed(name);
  if (!info) throw nlohmann::json::other_error::create(501, "no lamp is a '" + name + "'", nullptr);
  kind = info->kind;
}

void to_json(nlohmann::json& j, const FeedKind& kind) { j = infoOf(kind).name; }
void from_json(const nlohmann::json& j, FeedKind& kind) {
  const auto name = j.get<std::string>();
  const FeedKindInfo* info = feedKindNamed(name);
  if (!info) throw nlohmann::json::other_error::create(501, "no feed is a '" + name + "'", nullptr);
  kind = info->kind;
}

void to_json(nlohmann::json& j, const CorrectionKind& kind) { j = infoOf(kind).name; }
void from_json(const nlohmann::json& j, CorrectionKind& kind) {
  const auto name = j.get<std::string>();
  const CorrectionKindInfo* info = correctionKindNamed(name);
  if (!info) throw nlohmann::json::other_error::create(501, "no correction is a '" + name + "'", nullptr);
  kind = info->kind;
}

void to_json(nlohmann::json& j, const DeliverableKind& kind) { j = infoOf(kind).name; }
void from_json(const nlohmann::json& j, DeliverableKind& kind) {
  const auto name = j.get<std::string>();
  const DeliverableKindInfo* info = deliverableKindNamed(name);
  if (!info) {
    std::string all;
    for (const DeliverableKindInfo& each : deliverableKinds())
      all += (all.empty()                           ? "'"
              : &each == &deliverableKinds().back() ? " or '"
                                                    : ", '") +
             std::string(each.name) + "'";
    throw nlohmann::json::other_error::create(
        501, "a deliverable's kind is " + all + ", not '" + name.substr(0, 60) + "'", nullptr);
  }
  kind = info->kind;
}

// What is there then is the document's own JSON, not text within text.
void to_json(nlohmann::json& j, const VariantChange& change) {
  j = {{"at", change.at}};
  if (change.gone)
    j["gone"] = true;
  else
    j["to"] = jsonFrom(change.to);
}
void from_json(const nlohmann::json& j, VariantChange& change) {
  change = {j.at("at").get<std::string>(), {}, j.value("gone", false)};
  if (!change.gone) change.to = jsonText(j.at("to"));
}

// Handles are only told where they count.
void to_json(nlohmann::json& j, const MotionKey& key) {
  j = {{"seconds", key.seconds}, {"to", jsonFrom(key.to)}, {"easing", key.easing}};
  if (key.easing == Easing::own) j["handles"] = key.handles;
}
void from_json(const nlohmann::json& j, MotionKey& key) {
  key = {};
  key.seconds = j.at("seconds").get<double>(), key.easing = j.value("easing", key.easing);
  key.to = jsonText(j.at("to"));
  key.handles = j.value("handles", key.handles);
}

void to_json(nlohmann::json& j, const MotionTrack& track) {
  j = {{"id", track.id}, {"at", track.at}, {"loop", track.loop}, {"keys", track.keys}};
}
void from_json(const nlohmann::json& j, MotionTrack& track) {
  track = {j.value("id", ""), j.value("at", ""), j.value("loop", MotionLoop::once)};
  track.keys = j.value("keys", track.keys);
  // Whoever wrote them by hand need not have had them in order.
  std::stable_sort(track.keys.begin(), track.keys.end(),
                   [](const MotionKey& a, const MotionKey& b) { return a.seconds < b.seconds; });
}

#define DUSK_PUT(field) put(json[#field], value.field);
#define DUSK_TAKE(field) takeField(json, #field, value.field);
#define DUSK_FIELDS(Type, ...)                                        \
  void to_json(nlohmann::json& json, const Type& value) {             \
    json = nlohmann::json::object();                                  \
    NLOHMANN_JSON_EXPAND(NLOHMANN_JSON_PASTE(DUSK_PUT, __VA_ARGS__))  \
  }                                                                   \
  void from_json(const nlohmann::json& json, Type& value) {           \
    needKind(json, nlohmann::json::value_t::object);                  \
    value = Type{};                                                   \
    NLOHMANN_JSON_EXPAND(NLOHMANN_JSON_PASTE(DUSK_TAKE, __VA_ARGS__)) \
  }
#include "core/project/field_lists.h"
#undef DUSK_FIELDS
#undef DUSK_TAKE
#undef DUSK_PUT

}  // namespace dusk
