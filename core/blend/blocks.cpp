#include "core/blend/blocks.h"

#include "core/blend/lanes.h"

namespace dusk {
namespace {

constexpr int side = 8;
using Block = std::array<float, side * side>;

/// The cosines of T.81, A.3.3: [frequency][place].
const std::array<std::array<float, side>, side>& cosines() {
  static const auto all = [] {
    std::array<std::array<float, side>, side> c{};
    for (int u = 0; u < side; ++u)
      for (int x = 0; x < side; ++x)
        c[size_t(u)][size_t(x)] =
            float(0.5 * (u == 0 ? std::sqrt(0.5) : 1.0) * std::cos((2 * x + 1) * u * pi / 16));
    return c;
  }();
  return all;
}

/// The block's frequencies, or back from those: rows, then columns.
Block transformed(const Block& block, bool back) {
  const auto& c = cosines();
  const auto cosine = [&](size_t to, size_t from) { return back ? c[from][to] : c[to][from]; };
  Block half, out;
  for (size_t y = 0; y < side; ++y)
    for (size_t to = 0; to < side; ++to) {
      float sum = 0;
      for (size_t from = 0; from < side; ++from) sum += cosine(to, from) * block[y * side + from];
      half[y * side + to] = sum;
    }
  for (size_t to = 0; to < side; ++to)
    for (size_t x = 0; x < side; ++x) {
      float sum = 0;
      for (size_t from = 0; from < side; ++from) sum += cosine(to, from) * half[from * side + x];
      out[to * side + x] = sum;
    }
  return out;
}

/// Its frequencies rounded to the steps.
void roundFrequencies(Block& block, const std::vector<int>& steps) {
  Block frequencies = transformed(block, false);
  for (size_t i = 0; i < frequencies.size(); ++i)
    if (steps[i] > 0) frequencies[i] = std::nearbyint(frequencies[i] / float(steps[i])) * float(steps[i]);
  block = transformed(frequencies, true);
}

/// Brightness and colour differences of code values 0 to 255 (JFIF 1.02), brightness about its middle.
Vec3f differencesOf(const Vec3f& rgb) {
  const float y = 0.299f * rgb.x + 0.587f * rgb.y + 0.114f * rgb.z;
  return {y - 128, (rgb.z - y) / 1.772f, (rgb.x - y) / 1.402f};
}
Vec3f codesOfDifferences(const Vec3f& d) {
  const float y = d.x + 128;
  return {y + 1.402f * d.z, y - 0.114f * 1.772f / 0.587f * d.y - 0.299f * 1.402f / 0.587f * d.z,
          y + 1.772f * d.y};
}

class Blocked : public Node {
 public:
  Blocked(const NodePtr& picture, const NodePtr& before, const BlockLook& look, double scale)
      : Node(picture->whole, 3, {picture, before},
             NodeKey("blocks")
                 .with(look.brightness)
                 .with(look.colour)
                 .with(look.colourStep[0])
                 .with(look.colourStep[1])
                 .with(scale)),
        look_(look),
        scale_(scale) {}

  PixelArea needs(size_t, const PixelArea& area) const override {
    const PixelArea c = cellsOf(area);
    return {int(std::floor(c.x0 * cell(0) * scale_)), int(std::floor(c.y0 * cell(1) * scale_)),
            int(std::ceil(c.x1 * cell(0) * scale_)), int(std::ceil(c.y1 * cell(1) * scale_))};
  }

  void make(std::span<const Sheet> from, Sheet& to) const override {
    for (int c = 0; c < 3; ++c)
      for (int y = to.area.y0; y < to.area.y1; ++y)
        std::copy_n(from[0].row(c, y) + (to.area.x0 - from[0].area.x0), to.area.width(), to.row(c, y));
    const PixelArea cells = cellsOf(to.area);
    for (int cy = cells.y0; cy < cells.y1; ++cy)
      for (int cx = cells.x0; cx < cells.x1; ++cx) change(from[0], from[1], cx, cy, to);
  }

 private:
  /// Pixels of the plate to a side of what is rounded together.
  int cell(int axis) const { return side * look_.colourStep[size_t(axis)]; }
  /// Those that an area touches.
  PixelArea cellsOf(const PixelArea& a) const {
    const auto at = [&](int v, int axis) { return v / (cell(axis) * scale_); };
    return {int(std::floor(at(a.x0, 0))), int(std::floor(at(a.y0, 1))), int(std::ceil(at(a.x1, 0))),
            int(std::ceil(at(a.y1, 1)))};
  }
  PixelArea areaOf(int cx, int cy) const {
    const auto at = [&](int v, int axis) { return int(std::ceil(v * cell(axis) * scale_ - 0.5)); };
    return {at(cx, 0), at(cy, 1), at(cx + 1, 0), at(cy + 1, 1)};
  }
  static bool differs(const Sheet& a, const Sheet& b, int x, int y) {
    return a.at(0, x, y) != b.at(0, x, y) || a.at(1, x, y) != b.at(1, x, y) || a.at(2, x, y) != b.at(2, x, y);
  }

  void change(const Sheet& picture, const Sheet& before, int cx, int cy, Sheet& to) const {
    const PixelArea own = areaOf(cx, cy), &t = to.area;
    const PixelArea seen{std::max(own.x0, t.x0), std::max(own.y0, t.y0), std::min(own.x1, t.x1),
                         std::min(own.y1, t.y1)};
    bool any = false;
    for (int y = seen.y0; y < seen.y1 && !any; ++y)
      for (int x = seen.x0; x < seen.x1 && !any; ++x) any = differs(picture, before, x, y);
    if (!any) return;
    std::vector<Vec3f> values = valuesOf(picture, cx, cy), rounded = values;
    roundAll(rounded);
    const int w = cell(0), h = cell(1);
    for (int y = seen.y0; y < seen.y1; ++y)
      for (int x = seen.x0; x < seen.x1; ++x) {
        if (!differs(picture, before, x, y)) continue;
        const int u = std::clamp(int((x + 0.5) / scale_) - cx * w, 0, w - 1),
                  v = std::clamp(int((y + 0.5) / scale_) - cy * h, 0, h - 1);
        const size_t i = size_t(v * w + u);
        const Vec3f by = (codesOfDifferences(rounded[i]) - codesOfDifferences(values[i])) / 255.0f;
        for (int c = 0; c < 3; ++c)
          to.row(c, y)[x - t.x0] = higher(quickDecoded(quickEncoded(picture.at(c, x, y)) + by[c]), 0.0f);
      }
  }

  /// The plate's pixels of a cell: the mean of the picture's in each; beyond the picture as at its border.
  std::vector<Vec3f> valuesOf(const Sheet& picture, int cx, int cy) const {
    const int w = cell(0), h = cell(1);
    const PixelArea& a = picture.area;
    std::vector<Vec3f> all(size_t(w) * size_t(h));
    const auto span = [&](int plate, int first, int end) {
      const int from = int(std::ceil(plate * scale_ - 0.5)), to = int(std::ceil((plate + 1) * scale_ - 0.5));
      const int begin = std::clamp(from, first, end - 1);
      return std::pair(begin, std::clamp(to, begin + 1, end));
    };
    for (int v = 0; v < h; ++v)
      for (int u = 0; u < w; ++u) {
        const auto [x0, x1] = span(cx * w + u, a.x0, a.x1);
        const auto [y0, y1] = span(cy * h + v, a.y0, a.y1);
        Vec3f sum(0);
        for (int y = y0; y < y1; ++y)
          for (int x = x0; x < x1; ++x)
            for (int c = 0; c < 3; ++c)
              sum[c] += 255 * lower(higher(quickEncoded(picture.at(c, x, y)), 0.0f), 1.0f);
        all[size_t(v * w + u)] = differencesOf(sum / float((x1 - x0) * (y1 - y0)));
      }
    return all;
  }

  /// Coders take whole values, and so do we.
  void roundAll(std::vector<Vec3f>& values) const {
    const int w = cell(0), h = cell(1);
    Block block;
    for (int by = 0; by < h; by += side)
      for (int bx = 0; bx < w; bx += side) {
        const auto at = [&](int i) { return size_t((by + i / side) * w + bx + i % side); };
        for (int i = 0; i < side * side; ++i) block[size_t(i)] = std::nearbyint(values[at(i)].x);
        roundFrequencies(block, look_.brightness);
        for (int i = 0; i < side * side; ++i) values[at(i)].x = block[size_t(i)];
      }
    if (look_.colour.empty()) return;
    const int sx = look_.colourStep[0], sy = look_.colourStep[1];
    for (int c = 1; c < 3; ++c) {
      for (int i = 0; i < side * side; ++i) {
        float sum = 0;
        for (int v = 0; v < sy; ++v)
          for (int u = 0; u < sx; ++u) sum += values[size_t((i / side * sy + v) * w + i % side * sx + u)][c];
        block[size_t(i)] = std::nearbyint(sum / float(sx * sy));
      }
      roundFrequencies(block, look_.colour);
      for (int v = 0; v < h; ++v)
        for (int u = 0; u < w; ++u) values[size_t(v * w + u)][c] = between(block, u, v, sx, sy);
    }
  }

  /// A value of colour at a pixel, between those about it, as pictures are unpacked.
  static float between(const Block& block, int u, int v, int sx, int sy) {
    const float x = std::clamp((float(u) + 0.5f) / float(sx) - 0.5f, 0.0f, side - 1.0f),
                y = std::clamp((float(v) + 0.5f) / float(sy) - 0.5f, 0.0f, side - 1.0f);
    const int x0 = int(x), y0 = int(y), x1 = std::min(x0 + 1, side - 1), y1 = std::min(y0 + 1, side - 1);
    const float tx = x - float(x0), ty = y - float(y0);
    const auto at = [&](int i, int j) { return block[size_t(j * side + i)]; };
    return (at(x0, y0) * (1 - tx) + at(x1, y0) * tx) * (1 - ty) +
           (at(x0, y1) * (1 - tx) + at(x1, y1) * tx) * ty;
  }

  BlockLook look_;
  double scale_;
};

}  // namespace

NodePtr blocked(const NodePtr& picture, const NodePtr& before, const BlockLook& look,
                const BlendFrame& frame) {
  constexpr size_t steps = side * side;
  // In a picture made smaller the blocks are averaged away.
  constexpr double least = 0.75;
  if (look.brightness.size() != steps || (!look.colour.empty() && look.colour.size() != steps) ||
      frame.scale < least)
    return picture;
  return std::make_shared<Blocked>(held(picture), before, look, frame.scale);
}

double coarsenessOf(const BlockLook& look) {
  if (look.brightness.size() != side * side) return 0;
  double sum = 0;
  int count = 0;
  for (int v = 0; v < 4; ++v)
    for (int u = 0; u < 4; ++u)
      if (u + v > 0 && u + v < 5) sum += look.brightness[size_t(v * side + u)], ++count;
  return sum / count;
}

}  // namespace dusk
