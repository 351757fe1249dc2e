#include "core/picture/row_scaler.h"

#include <tbb/parallel_for.h>

namespace dusk {
namespace {

double cubic(double x) {
  x = std::abs(x);
  if (x < 1) return 1 + x * x * (1.5 * x - 2.5);
  return x < 2 ? 2 + x * (-4 + x * (2.5 - 0.5 * x)) : 0;
}

}  // namespace

std::vector<RowScaler::Taps> RowScaler::tapsOf(int from, int to) {
  const double step = double(from) / to, wide = std::max(1.0, step);
  std::vector<Taps> all(static_cast<size_t>(to));
  for (int i = 0; i < to; ++i) {
    const double middle = (i + 0.5) * step;
    const int first = std::max(0, int(std::floor(middle - 2 * wide))),
              end = std::min(from, int(std::ceil(middle + 2 * wide)));
    Taps& t = all[size_t(i)];
    t.first = first;
    double sum = 0;
    for (int k = first; k < end; ++k) {
      t.weights.push_back(float(cubic((k + 0.5 - middle) / wide)));
      sum += double(t.weights.back());
    }
    for (float& w : t.weights) w = float(double(w) / sum);
  }
  return all;
}

RowScaler::RowScaler(int fromWidth, int fromHeight, int toWidth, int toHeight, int channels)
    : fromWidth_(fromWidth),
      toWidth_(toWidth),
      toHeight_(toHeight),
      channels_(channels),
      across_(tapsOf(fromWidth, toWidth)),
      down_(tapsOf(fromHeight, toHeight)) {}

Picture RowScaler::add(const Picture& rows) {
  const size_t n = size_t(channels_), row = size_t(toWidth_) * n, before = held_.size();
  held_.resize(before + row * size_t(rows.height));
  tbb::parallel_for(0, rows.height, [&](int y) {
    const float* from = &rows.pixels[size_t(y) * size_t(fromWidth_) * n];
    float* to = &held_[before + size_t(y) * row];
    for (const Taps& t : across_) {
      for (size_t c = 0; c < n; ++c) {
        float sum = 0;
        for (size_t k = 0; k < t.weights.size(); ++k)
          sum += t.weights[k] * from[(size_t(t.first) + k) * n + c];
        *to++ = sum;
      }
    }
  });
  taken_ += rows.height;
  int end = made_;
  while (end < toHeight_ && down_[size_t(end)].first + int(down_[size_t(end)].weights.size()) <= taken_)
    ++end;
  Picture out(toWidth_, end - made_, rows.channels);
  tbb::parallel_for(made_, end, [&](int y) {
    const Taps& t = down_[size_t(y)];
    float* to = &out.pixels[size_t(y - made_) * row];
    for (size_t i = 0; i < row; ++i) {
      float sum = 0;
      for (size_t k = 0; k < t.weights.size(); ++k)
        sum += t.weights[k] * held_[(size_t(t.first - heldFrom_) + k) * row + i];
      to[i] = sum;
    }
  });
  made_ = end;
  const int keep = made_ < toHeight_ ? std::min(taken_, down_[size_t(made_)].first) : taken_;
  held_.erase(held_.begin(), held_.begin() + long(size_t(keep - heldFrom_) * row));
  heldFrom_ = keep;
  return out;
}

}  // namespace dusk
