#include "core/picture/picture.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

namespace dusk {
namespace {

/// Weights of an interval of input pixels for each output pixel: the part of the input that it covers, at
/// least one pixel wide, centred.
struct Spans {
  std::vector<int> first{};
  std::vector<float> weights{};
  int taps = 0;  ///< of each; the last may be zero

  Spans(int in, int out) {
    const double step = double(in) / out, half = std::max(step, 1.0) / 2;
    taps = std::min(in, int(std::ceil(2 * half)) + 1);
    first.resize(size_t(out)), weights.resize(size_t(out) * size_t(taps));
    for (int i = 0; i < out; ++i) {
      const double centre = (i + 0.5) * step;
      const int from = std::clamp(int(std::floor(centre - half)), 0, in - taps);
      float* w = &weights[size_t(i) * size_t(taps)];
      double sum = 0;
      for (int k = 0; k < taps; ++k) {
        const int at = from + k;
        const double share =
            std::max(0.0, std::min(at + 1.0, centre + half) - std::max(double(at), centre - half));
        w[k] = float(share), sum += share;
      }
      for (int k = 0; k < taps; ++k) w[k] = float(w[k] / sum);
      first[size_t(i)] = from;
    }
  }
};

/// Separable: `rowAt(y, scratch)` points at a row of the input. Some rows at a time, so that little is held
/// in between.
template <typename RowAt>
Picture areaOf(int fromWidth, int fromHeight, const std::vector<std::string>& channels, const RowAt& rowAt,
               int width, int height, const PixelArea& area) {
  constexpr int rowsAtOnce = 256;
  const size_t n = channels.size();
  const Spans columns(fromWidth, width), rows(fromHeight, height);
  Picture result(area.width(), area.height(), channels);
  for (int y0 = area.y0; y0 < area.y1; y0 += rowsAtOnce) {
    const int y1 = std::min(area.y1, y0 + rowsAtOnce), top = rows.first[size_t(y0)],
              bottom = std::min(fromHeight, rows.first[size_t(y1 - 1)] + rows.taps);
    Picture wide(area.width(), bottom - top, channels);
    tbb::parallel_for(tbb::blocked_range<int>(0, bottom - top), [&](const tbb::blocked_range<int>& some) {
      std::vector<float> scratch;
      for (int y = some.begin(); y < some.end(); ++y) {
        const float* const row = rowAt(top + y, scratch);
        float* target = wide.at(0, y);
        for (int x = area.x0; x < area.x1; ++x, target += n) {
          const float* source = row + size_t(columns.first[size_t(x)]) * n;
          const float* weights = &columns.weights[size_t(x) * size_t(columns.taps)];
          for (int k = 0; k < columns.taps; ++k, source += n)
            for (size_t c = 0; c < n; ++c) target[c] += weights[k] * source[c];
        }
      }
    });
    tbb::parallel_for(y0, y1, [&](int y) {
      float* target = result.at(0, y - area.y0);
      for (int k = 0; k < rows.taps; ++k) {
        const float w = rows.weights[size_t(y) * size_t(rows.taps) + size_t(k)];
        if (w == 0) continue;
        const float* source = wide.at(0, rows.first[size_t(y)] + k - top);
        for (size_t i = 0; i < size_t(area.width()) * n; ++i) target[i] += w * source[i];
      }
    });
  }
  return result;
}

}  // namespace

Rgb sampleBilinear(const Picture& picture, float x, float y) { return bilinear(picture, x, y); }

Picture resized(const Picture& from, int width, int height) {
  if (from.width == width && from.height == height) return from;
  return resizedArea(from, width, height, {0, 0, width, height});
}

Picture cropped(const Picture& from, const PixelArea& area) {
  if (area.x0 == 0 && area.y0 == 0 && area.x1 == from.width && area.y1 == from.height) return from;
  Picture out(area.width(), area.height(), from.channels);
  const size_t n = from.channels.size();
  for (int y = 0; y < out.height; ++y)
    std::copy_n(from.at(area.x0, area.y0 + y), size_t(out.width) * n, out.at(0, y));
  return out;
}

Picture resizedArea(const Picture& from, int width, int height, const PixelArea& area) {
  return areaOf(
      from.width, from.height, from.channels, [&](int y, std::vector<float>&) { return from.at(0, y); },
      width, height, area);
}

Picture resizedArea(int fromWidth, int fromHeight, const RowSource& rowOf, int width, int height,
                    const PixelArea& area) {
  return areaOf(
      fromWidth, fromHeight, {"R", "G", "B"},
      [&](int y, std::vector<float>& scratch) {
        scratch.resize(size_t(fromWidth) * 3);
        rowOf(y, scratch.data());
        return scratch.data();
      },
      width, height, area);
}

}  // namespace dusk
