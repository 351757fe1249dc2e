#pragma once
#include <algorithm>
#include <random>
#include <string>

namespace dusk {

/// Bytes flipped, numbers changed, blocks cut out, doubled, swapped, or the end cut off: one to four times.
inline std::string damaged(std::string bytes, std::mt19937& random) {
  const auto below = [&](size_t n) { return n ? size_t(random()) % n : 0; };
  for (size_t times = 1 + below(4); times > 0 && !bytes.empty(); --times) {
    const size_t at = below(bytes.size()), length = std::min(bytes.size() - at, 1 + below(64));
    switch (below(12)) {
      case 0:
        bytes[at] = char(below(256));
        break;
      case 1:
        bytes.erase(at, length);
        break;
      case 2:
        bytes.insert(at, bytes.substr(at, length));
        break;
      case 3:  // the end cut off
        bytes.resize(at);
        break;
      case 4: {  // a number or index becomes another, perhaps far too large
        const size_t digit = bytes.find_first_of("0123456789", at);
        if (digit != std::string::npos)
          bytes.replace(digit, 1, below(4) ? std::to_string(below(100)) : "99999999999");
        break;
      }
      case 5:
        for (size_t i = 0; i < length; ++i) bytes[at + i] = char(below(2) ? 0xff : 0);
        break;
      case 6:  // two blocks change places
        std::swap_ranges(bytes.begin() + long(at), bytes.begin() + long(at + length / 2),
                         bytes.begin() + long(at + length / 2));
    }
  }
  return bytes;
}

}  // namespace dusk
