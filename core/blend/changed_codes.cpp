#include "core/blend/changed_codes.h"

#include <tbb/parallel_for.h>

#include <array>

namespace dusk {
namespace {

/// Between which two of few pixels each of many lies, and how far towards the second, of 256.
struct Between {
  std::vector<int> first, second, share;
  Between(int few, int many) : first(size_t(many)), second(size_t(many)), share(size_t(many)) {
    for (int i = 0; i < many; ++i) {
      const double at = std::clamp((i + 0.5) * few / many - 0.5, 0.0, few - 1.0);
      first[size_t(i)] = int(at), second[size_t(i)] = std::min(int(at) + 1, few - 1);
      share[size_t(i)] = int((at - int(at)) * 256);
    }
  }
};

constexpr int channel(uint32_t code, size_t c) { return int(code >> (16 - 8 * c) & 255); }

}  // namespace

void changedCodes(const CodeView& fine, const CodeView& before, const CodeView& now, uint32_t* out,
                  size_t stride) {
  const Between across(now.width, fine.width), down(now.height, fine.height);
  tbb::parallel_for(tbb::blocked_range<int>(0, fine.height, 16), [&](const tbb::blocked_range<int>& rows) {
    std::vector<std::array<int, 3>> more(size_t(now.width));  // of 256
    for (int y = rows.begin(); y < rows.end(); ++y) {
      const int y0 = down.first[size_t(y)], y1 = down.second[size_t(y)], share = down.share[size_t(y)];
      for (int x = 0; x < now.width; ++x) {
        const uint32_t b0 = before.at(x, y0), b1 = before.at(x, y1), n0 = now.at(x, y0), n1 = now.at(x, y1);
        for (size_t c = 0; c < 3; ++c)
          more[size_t(x)][c] =
              (channel(n0, c) - channel(b0, c)) * (256 - share) + (channel(n1, c) - channel(b1, c)) * share;
      }
      uint32_t* const to = out + size_t(y) * stride;
      for (int x = 0; x < fine.width; ++x) {
        const auto &left = more[size_t(across.first[size_t(x)])],
                   &right = more[size_t(across.second[size_t(x)])];
        const int part = across.share[size_t(x)];
        uint32_t code = 0xff;
        for (size_t c = 0; c < 3; ++c) {
          const int by = (left[c] * (256 - part) + right[c] * part + 32'768) >> 16;
          code = code << 8 | uint32_t(std::clamp(channel(fine.at(x, y), c) + by, 0, 255));
        }
        to[x] = code;
      }
    }
  });
}

}  // namespace dusk
