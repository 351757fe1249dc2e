#pragma once
#include <string>

namespace dusk {

/// The text with its letters from A to Z made small; all else, other alphabets too, as it is.
inline std::string lower(std::string text) {
  for (char& c : text)
    if (c >= 'A' && c <= 'Z') c = char(c - 'A' + 'a');
  return text;
}

}  // namespace dusk
