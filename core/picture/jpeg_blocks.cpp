#include "core/picture/jpeg_blocks.h"

#include <fstream>
#include <vector>

namespace dusk {
namespace {

using Table = std::array<int, 64>;
using Bytes = std::vector<unsigned char>;

/// T.81, figure A.6: where in a block's rows the values of a file's order belong.
constexpr Table naturalOrder{0,  1,  8,  16, 9,  2,  3,  10, 17, 24, 32, 25, 18, 11, 4,  5,
                             12, 19, 26, 33, 40, 48, 41, 34, 27, 20, 13, 6,  7,  14, 21, 28,
                             35, 42, 49, 56, 57, 50, 43, 36, 29, 22, 15, 23, 30, 37, 44, 51,
                             58, 59, 52, 45, 38, 31, 39, 46, 53, 60, 61, 54, 47, 55, 62, 63};

/// One component of a frame: how finely it is sampled, and by which table it is rounded.
struct Component {
  int across = 1, down = 1, table = 0;
};

struct Found {
  std::array<std::optional<Table>, 4> tables;
  std::vector<Component> components;
  bool asRgb = false;  // an encoder says that its colours are not told as differences
};

/// Segment DQT: one table or more. False: it ends too early.
bool takeTables(const Bytes& s, Found& found) {
  for (size_t at = 0; at < s.size();) {
    const int wide = s[at] >> 4, id = s[at] & 15;
    ++at;
    if (wide > 1 || id > 3 || at + size_t(64 << wide) > s.size()) return false;
    Table table{};
    for (const int to : naturalOrder) {
      table[size_t(to)] = wide ? s[at] * 256 + s[at + 1] : s[at];
      at += size_t(1) << wide;
    }
    found.tables[size_t(id)] = table;
  }
  return true;
}

/// Segment SOF: precision, height, width, and the components.
bool takeFrame(const Bytes& s, Found& found) {
  if (s.size() < 6 || s[0] != 8 || s.size() < 6 + size_t(s[5]) * 3) return false;
  for (int i = 0; i < s[5]; ++i) {
    const size_t at = 6 + size_t(i) * 3;
    found.components.push_back({s[at + 1] >> 4, s[at + 1] & 15, s[at + 2]});
  }
  return true;
}

std::optional<JpegBlocks> blocksOf(const Found& found) {
  const auto& c = found.components;
  if (found.asRgb || (c.size() != 1 && c.size() != 3)) return {};
  const auto tableOf = [&](const Component& one) {
    return one.table >= 0 && one.table < 4 ? found.tables[size_t(one.table)] : std::nullopt;
  };
  JpegBlocks blocks;
  const auto brightness = tableOf(c[0]);
  if (!brightness) return {};
  blocks.brightness = *brightness;
  if (c.size() == 1) return blocks;
  const auto colour = tableOf(c[1]);
  if (!colour || c[1].across < 1 || c[1].down < 1) return {};
  blocks.colour = *colour;
  blocks.colourStep = {c[0].across / c[1].across, c[0].down / c[1].down};
  for (const int step : blocks.colourStep)
    if (step < 1 || step > 2) return {};
  return blocks;
}

}  // namespace

std::optional<JpegBlocks> readJpegBlocks(const std::filesystem::path& file) {
  std::ifstream in(file, std::ios::binary);
  const auto byte = [&] { return in.get(); };
  if (byte() != 0xff || byte() != 0xd8) return {};
  Found found;
  while (in) {
    int marker = byte();
    if (marker != 0xff) return {};
    while (marker == 0xff) marker = byte();  // fill bytes
    if (marker == 0xda) return blocksOf(found);
    const int high = byte(), length = high * 256 + byte();
    if (!in || length < 2) return {};
    Bytes segment(size_t(length) - 2);
    if (!in.read(reinterpret_cast<char*>(segment.data()), std::streamsize(segment.size()))) return {};
    if (marker == 0xdb && !takeTables(segment, found)) return {};
    if ((marker == 0xc0 || marker == 0xc1 || marker == 0xc2) && !takeFrame(segment, found)) return {};
    // APP14 of some encoders: its last byte is the kind of colour, 0 being none.
    if (marker == 0xee && segment.size() >= 12 && segment[0] == 'A' && segment[11] == 0) found.asRgb = true;
  }
  return {};
}

}  // namespace dusk
