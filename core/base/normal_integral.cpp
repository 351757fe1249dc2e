#include "core/base/normal_integral.h"

#include <array>
#include <cmath>

#include "core/base/maths.h"

namespace dusk {
namespace {

constexpr double end = 8;  // beyond, there is nothing left of it
constexpr int steps = 64;  // to a standard deviation

std::array<NormalAt, 2 * int(end) * steps + 1> table() {
  std::array<NormalAt, 2 * int(end) * steps + 1> all{};
  for (size_t i = 0; i < all.size(); ++i) {
    const double z = double(i) / steps - end;
    all[i] = {0.5 * std::erfc(-z / std::sqrt(2.0)), std::exp(-z * z / 2) / std::sqrt(2 * pi)};
  }
  return all;
}

}  // namespace

NormalAt normalAt(double z) {
  static const auto all = table();
  if (!(z > -end)) return {0, 0};
  if (!(z < end)) return {1, 0};
  const auto i = size_t((z + end) * steps + 0.5);
  const double at = double(i) / steps - end, h = z - at, p = all[i].density;
  // Each derivative is a Hermite polynomial times the density.
  const double d1 = -at * p, d2 = (at * at - 1) * p, d3 = at * (3 - at * at) * p;
  return {all[i].below + h * (p + h * (d1 / 2 + h * (d2 / 6 + h * d3 / 24))),
          p + h * (d1 + h * (d2 / 2 + h * d3 / 6))};
}

}  // namespace dusk
