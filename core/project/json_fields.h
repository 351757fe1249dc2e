#pragma once
#include "core/project/json.h"

/// What the document's fields are in JSON, by overloads for the few kinds of them. The library's own way asks
/// of each type in a hundred ways what it might be, which took the compiler four times as long. Reading
/// throws as in json.h.

namespace dusk {

/// A number, a switch or a text: what the library itself reads and writes.
template <typename T>
concept PlainField = std::is_arithmetic_v<T> || std::is_same_v<T, std::string>;
/// A point or a colour.
template <typename T>
concept VectorField = requires {
  T::dimensions();
};

// Told before they are used by one another.
template <typename T>
void put(nlohmann::json& json, const std::optional<T>& value);
template <typename T, size_t n>
void put(nlohmann::json& json, const std::array<T, n>& values);
template <typename T>
void put(nlohmann::json& json, const std::vector<T>& values);
template <typename T>
void take(const nlohmann::json& json, std::optional<T>& value);
template <typename T, size_t n>
void take(const nlohmann::json& json, std::array<T, n>& values);
template <typename T>
void take(const nlohmann::json& json, std::vector<T>& values);

/// Throws unless it is an array or, where asked for, an object: in the words the library has for that.
inline void needKind(const nlohmann::json& json, nlohmann::json::value_t kind) {
  if (json.type() != kind)
    throw nlohmann::json::type_error::create(
        302,
        std::string("type must be ") + (kind == nlohmann::json::value_t::array ? "array" : "object") +
            ", but is " + json.type_name(),
        &json);
}

template <typename T>
void put(nlohmann::json& json, const T& value) {
  if constexpr (PlainField<T>)
    json = value;
  else if constexpr (VectorField<T>)
    nlohmann::adl_serializer<T>::to_json(json, value);
  else
    to_json(json, value);
}
template <typename T>
void take(const nlohmann::json& json, T& value) {
  if constexpr (PlainField<T>)
    json.get_to(value);
  else if constexpr (VectorField<T>)
    nlohmann::adl_serializer<T>::from_json(json, value);
  else
    from_json(json, value);
}

inline void put(nlohmann::json& json, const std::set<std::string>& texts) { json = texts; }
inline void take(const nlohmann::json& json, std::set<std::string>& texts) { json.get_to(texts); }

template <typename Key, typename T>
void put(nlohmann::json& json, const std::map<Key, T>& map) {
  json = nlohmann::json::object();
  for (const auto& [key, value] : map) {
    if constexpr (Worded<Key>)
      put(json[Words<Key>::all[size_t(key)]], value);
    else
      put(json[key], value);
  }
}
template <typename Key, typename T>
void take(const nlohmann::json& json, std::map<Key, T>& map) {
  needKind(json, nlohmann::json::value_t::object);
  map.clear();
  for (const auto& [name, value] : json.items()) {
    Key key;
    take(nlohmann::json(name), key);
    take(value, map[key]);
  }
}

template <typename T>
void put(nlohmann::json& json, const std::optional<T>& value) {
  if (value)
    put(json, *value);
  else
    json = nullptr;
}
template <typename T>
void take(const nlohmann::json& json, std::optional<T>& value) {
  if (json.is_null())
    value.reset();
  else
    take(json, value.emplace());
}

template <typename List>
void putEach(nlohmann::json& json, const List& values) {
  json = nlohmann::json::array();
  for (const auto& value : values) put(json.emplace_back(), value);
}
template <typename T, size_t n>
void put(nlohmann::json& json, const std::array<T, n>& values) {
  putEach(json, values);
}
template <typename T, size_t n>
void take(const nlohmann::json& json, std::array<T, n>& values) {
  needKind(json, nlohmann::json::value_t::array);
  for (size_t i = 0; i < n; ++i) take(json.at(i), values[i]);
}

template <typename T>
void put(nlohmann::json& json, const std::vector<T>& values) {
  putEach(json, values);
}
template <typename T>
void take(const nlohmann::json& json, std::vector<T>& values) {
  needKind(json, nlohmann::json::value_t::array);
  values = std::vector<T>(json.size());
  for (size_t i = 0; i < values.size(); ++i) take(json[i], values[i]);
}

/// One field; what the object does not name stays as it is.
template <typename T>
void takeField(const nlohmann::json& object, const char* name, T& value) {
  const auto found = object.find(name);
  if (found != object.end()) take(*found, value);
}

}  // namespace dusk
