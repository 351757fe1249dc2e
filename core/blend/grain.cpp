#include "core/blend/grain.h"

#include "core/base/srgb.h"
#include "core/blend/blur.h"
#include "core/blend/combine.h"
#include "core/blend/lanes.h"
#include "core/blend/resample.h"

namespace dusk {
namespace {

constexpr int knots = 256;

/// Deviation of light at code values 0 to 255, of each channel.
std::vector<float> lightDeviations(const GrainLook& grain, double amount) {
  std::vector<float> table(size_t(knots) * 3);
  const int last = int(grain.sigma.size()) - 1;
  for (int i = 0; i < knots; ++i) {
    const double code = double(i) / (knots - 1), at = code * last;
    const int k = std::clamp(int(at), 0, std::max(0, last - 1));
    const Vec3d sigma = last > 0
                            ? grain.sigma[size_t(k)] * (1 - (at - k)) + grain.sigma[size_t(k) + 1] * (at - k)
                            : grain.sigma[0];
    const float slope = srgbSlope(float(srgbDecoded(code)));
    for (int c = 0; c < 3; ++c) table[size_t(c * knots + i)] = float(amount * sigma[c] / 255) * slope;
  }
  return table;
}

constexpr int chunk = 256;

DUSK_LANES void knotsOf(const float* light, int count, int* index) {
  for (int i = 0; i < count; ++i)
    index[i] = int(unitEncoded(lower(higher(light[i], 0.0f), 1.0f)) * (knots - 1) + 0.5f);
}
DUSK_LANES void addNoise(float* out, const float* picture, const float* before, const float* cover,
                         const float* noise, const float* wanted, const float* had, int count) {
  for (int i = 0; i < count; ++i) {
    // The plate's part of the picture brought its own noise along, as much darker as itself.
    const float gain = lower(higher(picture[i] / higher(before[i], 1e-6f), 0.0f), 1.0f);
    const float free = 1 - lower(higher(cover[i], 0.0f), 1.0f);
    const float left = had[i] * free * choose(free > 0.999f, gain, 1.0f);
    const float lacking = wanted[i] * wanted[i] - left * left;
    out[i] = picture[i] +
             noise[i] * std::sqrt(higher(lacking, 0.0f)) * where((picture[i] != before[i]) | (cover[i] != 0));
  }
}

void put(float* out, const float* picture, const float* before, const float* cover, const float* noise,
         int count, const float* table) {
  int index[chunk];
  float wanted[chunk], had[chunk];
  for (int from = 0; from < count; from += chunk) {
    const int n = std::min(chunk, count - from);
    knotsOf(picture + from, n, index);
    for (int i = 0; i < n; ++i) wanted[i] = table[index[i]];
    knotsOf(before + from, n, index);
    for (int i = 0; i < n; ++i) had[i] = table[index[i]];
    addNoise(out + from, picture + from, before + from, cover + from, noise + from, wanted, had, n);
  }
}

DUSK_LANES void noisy(float* v, const float* noise, const float* alpha, int count, float sigma) {
  for (int i = 0; i < count; ++i) {
    const float a = alpha ? alpha[i] : 1.0f;
    const float light = higher(v[i] / higher(a, 1e-4f), 0.0f);
    // The slope of the sRGB curve turned round: light for a code value.
    const float slope = choose(light <= 0.0031308f, 1 / 12.92f, 2.4f / 1.055f * quickPow(light, 1.4f / 2.4f));
    v[i] += noise[i] * sigma * slope * a;
  }
}

}  // namespace

Vec3d greyGrain(const GrainLook& grain) {
  return grain.sigma.empty() ? Vec3d(0) : grain.sigma[grain.sigma.size() * 46 / 100];
}

NodePtr grained(const NodePtr& picture, const NodePtr& before, const NodePtr& cover, const GrainLook& grain,
                double amount, const BlendFrame& frame) {
  if (grain.sigma.empty() || amount <= 0) return picture;
  NodePtr noise;
  if (frame.scale > 1.001) {
    // Seen from near, a grain is as large as the plate's pixels.
    const auto plate = [&](int v, int up) { return int(v / frame.scale) + up; };
    const PixelArea& w = frame.whole;
    noise = stretched(noiseField({plate(w.x0, -2), plate(w.y0, -2), plate(w.x1, 3), plate(w.y1, 3)},
                                 grain.correlation, grain.channels, grain.seed),
                      w, frame.scale);
  } else {
    const std::vector<double> own = frame.scale > 0.75 ? grain.correlation : std::vector<double>{};
    noise = noiseField(frame.whole, own, grain.channels, grain.seed);
  }
  const std::vector<float> table = lightDeviations(grain, amount * grainLeft(grain.correlation, frame.scale));
  return combined({picture, before, cover, held(noise)}, 3, NodeKey("grained").with(table),
                  [table](const auto& from, float* const* out, int count, int, int) {
                    for (size_t c = 0; c < 3; ++c)
                      put(out[c], from[0][c], from[1][c], from[2][c], from[3][c], count, &table[c * knots]);
                  });
}

Operation noiseOperation(const Correction& c, const BlendFrame& frame) {
  const double codes = valueOf(c, "sigma"), px = valueOf(c, "px") * frame.scale,
               colour = valueOf(c, "colour") / 100;
  if (codes <= 0) return {};
  const double alike = 1 - colour;
  const PixelArea whole = frame.whole;
  const double left = frame.scale < 1 && px <= 0.3 ? frame.scale : 1;
  return {nullptr, [=](const NodePtr& in) -> NodePtr {
            const NodePtr noise = blurred(noiseField(whole, {}, Vec3d(alike), 7), px);
            const float sigma = float(codes / 255 * left / std::sqrt(px > 0.02 ? whiteNoiseLeft(px) : 1));
            return combined({in, held(noise)}, in->channels, NodeKey("noise").with(sigma),
                            [sigma](const auto& from, float* const* out, int count, int, int) {
                              const float* alpha = from[0].size() == 4 ? from[0][3] : nullptr;
                              for (size_t k = 0; k < from[0].size(); ++k) {
                                std::copy_n(from[0][k], count, out[k]);
                                if (k < 3) noisy(out[k], from[1][k], alpha, count, sigma);
                              }
                            });
          }};
}

}  // namespace dusk
