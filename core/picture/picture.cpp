#include "core/picture/picture.h"

#include <tbb/parallel_for.h>

namespace dusk {

Rgb sampleBilinear(const Picture& picture, float x, float y) {
  const float fx = std::clamp(x - 0.5f, 0.0f, float(picture.width - 1));
  const float fy = std::clamp(y - 0.5f, 0.0f, float(picture.height - 1));
  const int x0 = int(fx), y0 = int(fy);
  const int x1 = std::min(x0 + 1, picture.width - 1), y1 = std::min(y0 + 1, picture.height - 1);
  const float tx = fx - x0, ty = fy - y0;
  return (picture.rgbAt(x0, y0) * (1 - tx) + picture.rgbAt(x1, y0) * tx) * (1 - ty) +
         (picture.rgbAt(x0, y1) * (1 - tx) + picture.rgbAt(x1, y1) * tx) * ty;
}

Picture resized(const Picture& from, int width, int height) {
  if (from.width == width && from.height == height) return from;
  return resizedArea(from, width, height, {0, 0, width, height});
}

Picture resizedArea(const Picture& from, int width, int height, const PixelArea& area) {
  // Separable: each output pixel averages the input interval it covers (at least one pixel wide, centred).
  struct Spans {
    std::vector<int> first{};
    std::vector<float> weights{};
    int taps = 0;  ///< of each; the last may be zero
  };
  const auto spans = [](int in, int out) {
    const double step = double(in) / out, half = std::max(step, 1.0) / 2;
    Spans result;
    result.taps = std::min(in, int(std::ceil(2 * half)) + 1);
    result.first.resize(size_t(out)), result.weights.resize(size_t(out) * size_t(result.taps));
    for (int i = 0; i < out; ++i) {
      const double centre = (i + 0.5) * step;
      const int first = std::clamp(int(std::floor(centre - half)), 0, in - result.taps);
      float* weights = &result.weights[size_t(i) * size_t(result.taps)];
      double sum = 0;
      for (int k = 0; k < result.taps; ++k) {
        const int at = first + k;
        const double w = std::min(at + 1.0, centre + half) - std::max(double(at), centre - half);
        weights[k] = float(std::max(w, 0.0));
        sum += std::max(w, 0.0);
      }
      for (int k = 0; k < result.taps; ++k) weights[k] = float(weights[k] / sum);
      result.first[size_t(i)] = first;
    }
    return result;
  };
  const size_t n = from.channels.size();
  const Spans columns = spans(from.width, width), rows = spans(from.height, height);
  // Only the rows that the area is made of.
  const int top = rows.first[size_t(area.y0)],
            bottom = std::min(from.height, rows.first[size_t(area.y1 - 1)] + rows.taps);
  Picture wide(area.width(), bottom - top, from.channels), result(area.width(), area.height(), from.channels);
  tbb::parallel_for(0, bottom - top, [&](int y) {
    float* target = wide.at(0, y);
    for (int x = area.x0; x < area.x1; ++x, target += n) {
      const float* source = from.at(columns.first[size_t(x)], top + y);
      const float* weights = &columns.weights[size_t(x) * size_t(columns.taps)];
      for (int k = 0; k < columns.taps; ++k, source += n)
        for (size_t c = 0; c < n; ++c) target[c] += weights[k] * source[c];
    }
  });
  tbb::parallel_for(area.y0, area.y1, [&](int y) {
    float* target = result.at(0, y - area.y0);
    for (int k = 0; k < rows.taps; ++k) {
      const float w = rows.weights[size_t(y) * size_t(rows.taps) + size_t(k)];
      const float* source = wide.at(0, rows.first[size_t(y)] + k - top);
      for (size_t i = 0; w != 0 && i < size_t(area.width()) * n; ++i) target[i] += w * source[i];
    }
  });
  return result;
}

}  // namespace dusk
