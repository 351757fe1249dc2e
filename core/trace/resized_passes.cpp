#include "core/trace/resized_passes.h"

#include <tbb/parallel_for_each.h>

#include <cmath>

namespace dusk {

namespace {

/// All pictures of passes made of those of others, but what shows at each pixel.
template <typename Make>
Passes eachOf(const Passes& from, const Make& make) {
  Passes to;
  to.reduction = from.reduction;
  std::vector<std::pair<const Picture*, Picture*>> pictures;
  const auto take = [&](const Picture& one, Picture& other) {
    if (!one.empty()) pictures.emplace_back(&one, &other);
  };
  for (const auto member :
       {&Passes::beauty, &Passes::alpha, &Passes::ratio, &Passes::reflection, &Passes::albedo,
        &Passes::normal, &Passes::depth, &Passes::position, &Passes::facing, &Passes::occlusion})
    take(from.*member, to.*member);
  to.groups.resize(from.groups.size());
  for (size_t g = 0; g < from.groups.size(); ++g) {
    const GroupPasses& one = from.groups[g];
    GroupPasses& other = to.groups[g];
    other.name = one.name;
    for (size_t p = 0; p < one.part.size(); ++p) take(one.part[p], other.part[p]);
    take(one.with, other.with), take(one.without, other.without), take(one.mirror, other.mirror);
  }
  tbb::parallel_for_each(pictures, [&](const auto& pair) { *pair.second = make(*pair.first); });
  return to;
}

}  // namespace

Passes resized(const Passes& from, int width, int height) {
  if (from.width() == width && from.height() == height) return from;
  Passes to = eachOf(from, [&](const Picture& picture) { return resized(picture, width, height); });
  if (from.picture.width() > 0) {
    const double x = double(width) / from.width(), y = double(height) / from.height();
    const PixelArea& p = from.picture;
    to.picture = {int(std::lround(p.x0 * x)), int(std::lround(p.y0 * y)), int(std::lround(p.x1 * x)),
                  int(std::lround(p.y1 * y))};
  }
  // Between ones lies one, or the whole plate would count as changed.
  for (float& r : to.ratio.pixels)
    if (std::abs(r - 1) < 1e-5f) r = 1;
  if (from.covers.empty()) return to;
  to.covers.resize(size_t(width) * size_t(height));
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x) {
      const auto at = [](int i, int count, int of) { return size_t((2 * i + 1) * of / (2 * count)); };
      to.covers[size_t(y) * size_t(width) + size_t(x)] =
          from.covers[at(y, height, from.height()) * size_t(from.width()) + at(x, width, from.width())];
    }
  return to;
}

Passes cropped(const Passes& from, const PixelArea& area) {
  Passes to = eachOf(from, [&](const Picture& picture) { return cropped(picture, area); });
  for (int y = area.y0; y < area.y1 && !from.covers.empty(); ++y) {
    const auto row = from.covers.begin() + long(y) * from.width();
    to.covers.insert(to.covers.end(), row + area.x0, row + area.x1);
  }
  return to;
}

}  // namespace dusk
