#include "core/trace/film.h"

namespace dusk {

Film::Film(int width, int height) : width_(width), height_(height), sums_(size_t(width) * height) {}

void Film::add(int x, int y, const PixelSample& s) {
  Sums& p = sums_[size_t(y) * width_ + x];
  p.beauty += s.beauty, p.with += s.with, p.without += s.without, p.albedo += s.albedo;
  p.normal += s.normal;
  p.alpha += s.alpha, p.depth += s.depth, p.count += 1;
}

bool Film::touched(int x, int y) const {
  const Sums& p = sums_[size_t(y) * width_ + x];
  return p.alpha > 0 || p.with != p.without;
}

Passes Film::resolve() const {
  Passes r{Picture::rgb(width_, height_),
           Picture(width_, height_, {"A"}),
           Picture::rgb(width_, height_),
           Picture::rgb(width_, height_),
           Picture(width_, height_, {"N.X", "N.Y", "N.Z"}),
           Picture(width_, height_, {"Z"})};
  for (size_t i = 0; i < sums_.size(); ++i) {
    const Sums& p = sums_[i];
    const float n = std::max(p.count, 1.0f);
    const Vec3f normal = p.normal.length2() > 0 ? p.normal.normalized() : Vec3f(0);
    for (int c = 0; c < 3; ++c) {
      r.beauty.pixels[i * 3 + c] = p.beauty[c] / n;
      r.ratio.pixels[i * 3 + c] = p.without[c] > 0 ? p.with[c] / p.without[c] : 1.0f;
      r.albedo.pixels[i * 3 + c] = p.albedo[c] / n;
      r.normal.pixels[i * 3 + c] = normal[c];
    }
    r.alpha.pixels[i] = p.alpha / n;
    r.depth.pixels[i] = p.alpha > 0 ? p.depth / p.alpha : 0.0f;
  }
  return r;
}

}  // namespace dusk
