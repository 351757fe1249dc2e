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
  // Separable: each output pixel averages the input interval it covers (at least one pixel wide, centred).
  struct Span {
    int first;
    std::vector<float> weights;
  };
  const auto spans = [](int in, int out) {
    std::vector<Span> result(out);
    const double step = double(in) / out, half = std::max(step, 1.0) / 2;
    for (int i = 0; i < out; ++i) {
      const double centre = (i + 0.5) * step;
      const int first = std::max(0, int(std::floor(centre - half)));
      const int last = std::min(in - 1, int(std::ceil(centre + half)) - 1);
      result[i].first = first;
      double sum = 0;
      for (int k = first; k <= last; ++k) {
        const double w = std::min(k + 1.0, centre + half) - std::max(double(k), centre - half);
        result[i].weights.push_back(float(std::max(w, 0.0)));
        sum += std::max(w, 0.0);
      }
      for (float& w : result[i].weights) w = float(w / sum);
    }
    return result;
  };
  const size_t n = from.channels.size();
  Picture wide(width, from.height, from.channels), result(width, height, from.channels);
  const auto columns = spans(from.width, width), rows = spans(from.height, height);
  tbb::parallel_for(0, from.height, [&](int y) {
    for (int x = 0; x < width; ++x)
      for (size_t k = 0; k < columns[x].weights.size(); ++k)
        for (size_t c = 0; c < n; ++c)
          wide.at(x, y)[c] += columns[x].weights[k] * from.at(columns[x].first + int(k), y)[c];
  });
  tbb::parallel_for(0, height, [&](int y) {
    for (size_t k = 0; k < rows[y].weights.size(); ++k) {
      const float w = rows[y].weights[k];
      const float* source = wide.at(0, rows[y].first + int(k));
      float* target = result.at(0, y);
      for (size_t i = 0; i < size_t(width) * n; ++i) target[i] += w * source[i];
    }
  });
  return result;
}

}  // namespace dusk
