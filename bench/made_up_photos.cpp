#include "bench/made_up_photos.h"

#include <random>

#include "core/base/srgb.h"
#include "core/blend/blur.h"
#include "core/blend/grain.h"
#include "core/blend/product_rows.h"
#include "core/blend/resample.h"

namespace dusk {
namespace {

/// Boards, walls and posts over one another, each with a slow shading of its own and some with a texture, by
/// looks between the pixels: what an ideal lens would throw on the sensor, four times as fine as that.
Picture drawn(int w, int h, std::mt19937& random) {
  const auto any = [&](double low, double high) {
    return std::uniform_real_distribution<double>(low, high)(random);
  };
  struct Board {
    Vec2d at, along;
    double halfWidth, halfLong;
    Rgb colour;
    double slopeX, slopeY, texture;
  };
  std::vector<Board> boards;
  for (int i = 0; i < 46; ++i) {
    const double angle = any(0, 2 * pi), tone = std::exp(any(std::log(0.02), std::log(0.9)));
    boards.push_back({{any(0, w), any(0, h)},
                      {std::cos(angle), std::sin(angle)},
                      any(25, 0.2 * w),
                      any(40, 0.3 * w),
                      Rgb(float(tone * any(0.8, 1.1)), float(tone), float(tone * any(0.8, 1.1))),
                      any(-0.25, 0.25) / w,
                      any(-0.25, 0.25) / h,
                      i % 5 == 0 ? any(0.05, 0.3) : 0});
  }
  const Rgb ground(0.25f, 0.24f, 0.22f);
  // Four looks each way to a pixel.
  Picture p = Picture::rgb(4 * w, 4 * h);
  for (int y = 0; y < 4 * h; ++y)
    for (int x = 0; x < 4 * w; ++x) {
      const Vec2d at((x + 0.5) / 4, (y + 0.5) / 4);
      Rgb v = ground;
      for (auto b = boards.rbegin(); b != boards.rend(); ++b) {
        const Vec2d off = at - b->at;
        const double u = off.dot(b->along), t = off.x * b->along.y - off.y * b->along.x;
        if (std::abs(u) > b->halfLong || std::abs(t) > b->halfWidth) continue;
        const double texture =
            b->texture > 0
                ? 1 + b->texture * std::sin(at.x * 1.3 + std::sin(at.y * 0.7) * 2) * std::sin(at.y * 1.1)
                : 1;
        v = b->colour * float((1 + off.x * b->slopeX + off.y * b->slopeY) * texture);
        break;
      }
      std::copy_n(&v.x, 3, p.at(x, y));
    }
  return p;
}

}  // namespace

double MadeUpPhoto::sigmaAt(double code, int c) const {
  const double light = srgbDecoded(code / 255);
  return 255 * std::sqrt(read + shot * light) * channel[c] / srgbSlope(light);
}

std::vector<double> correlationOfBlur(double sigmaPx) {
  constexpr int reach = GrainLook::reach;
  std::vector<double> out;
  for (int y = -reach; y <= reach; ++y)
    for (int x = -reach; x <= reach; ++x) out.push_back(std::exp(-(x * x + y * y) / (4 * sigmaPx * sigmaPx)));
  return out;
}

GrainFound grainOf(const Picture& codes) {
  return measureGrain({codes.width, codes.height,
                       [&](int y, float* rgb) { std::copy_n(codes.at(0, y), codes.width * 3, rgb); }, 8},
                      Progress());
}

double sigmaAt(const GrainLook& look, double code, int channel) {
  const double at = code / 255 * double(look.sigma.size() - 1);
  const size_t k = std::min(size_t(at), look.sigma.size() - 2);
  return look.sigma[k][channel] * (1 - (at - double(k))) + look.sigma[k + 1][channel] * (at - double(k));
}

MadeUpPhoto madeUpPhoto(unsigned seed, int width, int height, double vignette) {
  std::mt19937 random(seed * 7919 + 13);
  const auto any = [&](double low, double high) {
    return std::uniform_real_distribution<double>(low, high)(random);
  };
  MadeUpPhoto out;
  const Picture ideal = drawn(width, height, random);
  const PixelArea whole{0, 0, width, height};
  const double soft = any(0.35, 1.3);
  const std::vector<double> sigmas{soft * any(0.95, 1.2), soft, soft * any(0.95, 1.25)};
  // The lens blurs before the sensor's pixels gather.
  std::vector<double> fine;
  for (const double s : sigmas) fine.push_back(4 * s);
  NodePtr fineLight = sourceOf(std::make_shared<Picture>(ideal), {0, 0, 4 * width, 4 * height}, 3);
  if (seed % 2 == 0) {
    out.fringe = {any(-1.2, 1.2), any(-1.2, 1.2)};
    fineLight = scaledApart(fineLight, Vec2d(2.0 * width, 2.0 * height),
                            {1 + out.fringe.x / 1000, 1, 1 + out.fringe.y / 1000});
  }
  Evaluator sharp4;
  auto gathered = std::make_shared<Picture>(Picture::rgb(width, height));
  const Sheet thrown = sharp4.sheet(blurredApart(fineLight, fine), fineLight->whole);
  for (int c = 0; c < 3; ++c)
    for (int y = 0; y < height; ++y)
      for (int x = 0; x < width; ++x)
        for (int k = 0; k < 16; ++k) gathered->at(x, y)[c] += thrown.at(c, 4 * x + k % 4, 4 * y + k / 4) / 16;
  NodePtr node = sourceOf(gathered, whole, 3);
  // A pixel's own width is part of an edge's: that of an even square.
  for (size_t c = 0; c < 3; ++c) out.edgeSigma[c] = std::sqrt(sigmas[c] * sigmas[c] + 1 / 12.0);
  if (seed % 3 == 1) {
    out.halo = any(0.15, 0.6);
    const double reach = any(1, 2);
    Evaluator e;
    const Sheet sharp = e.sheet(node, whole), wide = e.sheet(blurred(node, reach), whole);
    auto p = std::make_shared<Picture>(Picture::rgb(width, height));
    for (int c = 0; c < 3; ++c)
      for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x)
          p->at(x, y)[c] = float((1 + out.halo) * sharp.at(c, x, y) - out.halo * wide.at(c, x, y));
    node = sourceOf(p, whole, 3);
  }
  out.correlation = correlationOfBlur(seed % 4 == 3 ? 0.05 : any(0.4, 1.0));
  if (seed % 6 != 5) {
    out.read = std::pow(any(0.0005, 0.002), 2), out.shot = std::pow(any(0.004, 0.02), 2);
    out.channel = {any(0.9, 1.3), 1, any(1, 1.6)};
    out.grain = out.sigmaAt(118, 1);
  }
  Evaluator evaluator;
  const Sheet light = evaluator.sheet(node, whole),
              noise = evaluator.sheet(noiseField(whole, out.correlation, {0.3, 0.2, 0.3}, int(seed) + 100),
                                      whole);
  out.vignette = vignette;
  // From a fall that begins in the middle to one that begins near the corner.
  const double power = 2 + (seed % 5) * 0.5, corner2 = (width * width + height * height) / 4.0;
  out.codes = Picture::rgb(width, height), out.light = Picture::rgb(width, height);
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x)
      for (int c = 0; c < 3; ++c) {
        const double dx = x + 0.5 - width / 2.0, dy = y + 0.5 - height / 2.0,
                     left = 1 - vignette * std::pow((dx * dx + dy * dy) / corner2, power / 2);
        const double v = left * light.at(c, x, y),
                     deviation = std::sqrt(out.read + out.shot * std::max(v, 0.0)) * out.channel[c];
        const double code =
            srgbEncoded(std::max(0.0, v + (out.grain > 0 ? deviation * noise.at(c, x, y) : 0)));
        out.codes.at(x, y)[c] = float(std::lround(255 * std::clamp(code, 0.0, 1.0))) / 255;
        out.light.at(x, y)[c] = srgbDecoded(out.codes.at(x, y)[c]);
      }
  return out;
}

}  // namespace dusk
