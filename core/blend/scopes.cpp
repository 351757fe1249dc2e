#include "core/blend/scopes.h"

#include <cmath>
#include <limits>

#include "core/colour/difference.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

constexpr size_t enough = 40'000;  ///< pixels of a kind, about, that say how it looks
constexpr size_t least = 300;      ///< below which the ground as far away says nothing
constexpr double around =
    0.15;  ///< share of the product's distance before and behind it that counts as beside it

int channel(uint32_t rgb, int c) { return int(rgb >> (16 - 8 * c)) & 255; }
/// Brightness of a code, as the W3C's "Compositing and Blending Level 1" has it.
int brightness(uint32_t rgb) {
  return int(std::lround(0.3 * channel(rgb, 0) + 0.59 * channel(rgb, 1) + 0.11 * channel(rgb, 2)));
}

/// Adds pixel after pixel up.
class Count {
 public:
  Count() {
    t_.waveform.assign(size_t(Tones::across) * Tones::levels, 0),
        t_.circle.assign(size_t(Tones::side) * Tones::side, 0);
  }
  void add(uint32_t rgb, double across) {
    ++t_.pixels;
    for (int c = 0; c < 3; ++c) t_.histogram[size_t(c)][size_t(channel(rgb, c))] += 1;
    const int y = brightness(rgb);
    t_.histogram[3][size_t(y)] += 1;
    const int column = std::clamp(int(across * Tones::across), 0, Tones::across - 1);
    t_.waveform[size_t(y * Tones::levels / 256) * Tones::across + size_t(column)] += 1;
    const Vec3d lab = labOfSrgb(Vec3d(channel(rgb, 0), channel(rgb, 1), channel(rgb, 2)) / 255.0);
    t_.a += lab.y, t_.b += lab.z;
    const auto cell = [](double v) {
      return std::clamp(int(std::lround((v / Tones::reach + 1) / 2 * (Tones::side - 1))), 0, Tones::side - 1);
    };
    t_.circle[size_t(cell(lab.z)) * Tones::side + size_t(cell(lab.y))] += 1;
  }
  Tones tones() {
    if (t_.pixels == 0) return t_;
    const double share = 1.0 / double(t_.pixels);
    for (auto& h : t_.histogram)
      for (float& v : h) v = float(v * share);
    for (float& v : t_.waveform) v = float(v * share);
    for (float& v : t_.circle) v = float(v * share);
    t_.a *= share, t_.b *= share;
    t_.dark = quantile(0.01), t_.middle = quantile(0.5), t_.light = quantile(0.99);
    return t_;
  }

 private:
  double quantile(double q) const {
    double sum = 0;
    for (size_t i = 0; i < 256; ++i)
      if ((sum += double(t_.histogram[3][i])) >= q) return double(i);
    return 255;
  }
  Tones t_;
};

/// How far away the ground is under each spot of a picture.
class GroundDepth {
 public:
  GroundDepth(const Shot& shot, int width, int height)
      : known_(shot.vantage.solved), camera_(resized(workingCamera(shot.vantage), width, height)) {}
  double at(double x, double y) const {
    if (!known_) return std::numeric_limits<double>::quiet_NaN();
    const auto p = levelPoint(camera_, {x, y});
    return p ? std::abs((*p - camera_.position).dot(camera_.axes.z))
             : std::numeric_limits<double>::quiet_NaN();
  }

 private:
  bool known_;
  Camera camera_;
};

/// The passes' own pixel under one of the picture's.
struct Under {
  const Passes& passes;
  const CodeView& codes;
  int x(int at) const {
    return std::min(passes.width() - 1, int((long long)at * passes.width() / codes.width));
  }
  int y(int at) const {
    return std::min(passes.height() - 1, int((long long)at * passes.height() / codes.height));
  }
  float alpha(int u, int v) const { return passes.alpha.at(x(u), y(v))[0]; }
  bool isTouched(int u, int v) const {
    if (alpha(u, v) > 0) return true;
    if (!passes.ratio.empty()) {
      const float* r = passes.ratio.at(x(u), y(v));
      if (r[0] != 1 || r[1] != 1 || r[2] != 1) return true;
    }
    if (passes.reflection.empty()) return false;
    const float* r = passes.reflection.at(x(u), y(v));
    return r[0] != 0 || r[1] != 0 || r[2] != 0;
  }
};

}  // namespace

Scopes scopesOf(const CodeView& codes, const Passes& passes, const Shot& shot, int width, int height,
                const PixelArea& area) {
  Scopes out;
  if (codes.width <= 0 || passes.alpha.empty()) return out;
  const Under under{passes, codes};
  size_t covered = 0;
  double from = std::numeric_limits<double>::max(), to = 0;
  for (int y = 0; y < passes.height(); ++y)
    for (int x = 0; x < passes.width(); ++x) {
      if (passes.alpha.at(x, y)[0] < 0.98f) continue;
      ++covered;
      if (passes.depth.empty()) continue;
      if (const double z = passes.depth.at(x, y)[0]; z > 0) from = std::min(from, z), to = std::max(to, z);
    }
  const double perPass = double(codes.width) * codes.height / std::max(1, passes.width() * passes.height());
  const auto stepFor = [](double pixels) { return std::max(1, int(std::sqrt(pixels / double(enough)))); };
  Count product, beside, all;
  for (int y = 0, step = stepFor(double(covered) * perPass); y < codes.height; y += step)
    for (int x = 0; x < codes.width; x += step)
      if (under.alpha(x, y) >= 0.98f) product.add(codes.at(x, y), (x + 0.5) / codes.width);
  const GroundDepth ground(shot, width, height);
  out.fromM = from * (1 - around), out.toM = to * (1 + around);
  for (int y = 0, step = stepFor(double(codes.width) * codes.height); y < codes.height; y += step)
    for (int x = 0; x < codes.width; x += step) {
      if (under.isTouched(x, y)) continue;
      const double across = (x + 0.5) / codes.width;
      all.add(codes.at(x, y), across);
      const double z = ground.at(area.x0 + (x + 0.5) * area.width() / codes.width,
                                 area.y0 + (y + 0.5) * area.height() / codes.height);
      if (z >= out.fromM && z <= out.toM) beside.add(codes.at(x, y), across);
    }
  out.product = product.tones(), out.photo = beside.tones();
  out.sameDepth = out.photo.pixels >= least;
  if (!out.sameDepth) out.photo = all.tones();
  return out;
}

std::vector<CodeEnd> codeEnds(const CodeView& codes, const Passes& passes) {
  std::vector<CodeEnd> ends(size_t(codes.width) * codes.height, CodeEnd::none);
  if (passes.alpha.empty()) return ends;
  const Under under{passes, codes};
  for (int y = 0; y < codes.height; ++y)
    for (int x = 0; x < codes.width; ++x) {
      const uint32_t rgb = codes.at(x, y);
      int high = 0, low = 0;
      for (int c = 0; c < 3; ++c) high += channel(rgb, c) == 255, low += channel(rgb, c) == 0;
      if (high + low == 0 || !under.isTouched(x, y)) continue;
      ends[size_t(y) * codes.width + x] = high == 3  ? CodeEnd::burnt
                                          : low == 3 ? CodeEnd::black
                                                     : CodeEnd::beyond;
    }
  return ends;
}

}  // namespace dusk
