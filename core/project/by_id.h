#pragma once
#include <string>

namespace dusk {

/// Lookup by id; nullptr when there is none. Works on const and mutable lists.
template <typename List>
auto byId(List& list, const std::string& id) -> decltype(&list[0]) {
  for (auto& item : list)
    if (item.id == id) return &item;
  return nullptr;
}

/// An id of the form `stem-N` that no item of `list` has yet.
template <typename List>
std::string freshId(const List& list, const std::string& stem) {
  for (int n = 1;; ++n) {
    const std::string id = stem + "-" + std::to_string(n);
    if (!byId(list, id)) return id;
  }
}

}  // namespace dusk
