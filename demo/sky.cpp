#include "demo/sky.h"

#include "core/light/panorama.h"
#include "demo/noise.h"

namespace dusk::demo {
namespace {

struct Perez {
  double a, b, c, d, e;
  double operator()(double cosTheta, double gamma) const {
    return (1 + a * std::exp(b / std::max(cosTheta, 0.02))) *
           (1 + c * std::exp(d * gamma) + e * std::cos(gamma) * std::cos(gamma));
  }
};

class ClearSky {
 public:
  ClearSky(double t, const Vec3f& sun) : sun_(sun), thetaSun_(std::acos(sun.z)) {
    luminance_ = {0.1787 * t - 1.4630, -0.3554 * t + 0.4275, -0.0227 * t + 5.3251, 0.1206 * t - 2.5771,
                  -0.0670 * t + 0.3703};
    x_ = {-0.0193 * t - 0.2592, -0.0665 * t + 0.0008, -0.0004 * t + 0.2125, -0.0641 * t - 0.8989,
          -0.0033 * t + 0.0452};
    y_ = {-0.0167 * t - 0.2608, -0.0950 * t + 0.0092, -0.0079 * t + 0.2102, -0.0441 * t - 1.6537,
          -0.0109 * t + 0.0529};
    const double s = thetaSun_, s2 = s * s, s3 = s2 * s, t2 = t * t;
    const double chi = (4.0 / 9 - t / 120) * (pi - 2 * s);
    zenithY_ = std::max(0.1, (4.0453 * t - 4.9710) * std::tan(chi) - 0.2155 * t + 2.4192);
    zenithX_ = t2 * (0.00166 * s3 - 0.00375 * s2 + 0.00209 * s) +
               t * (-0.02903 * s3 + 0.06377 * s2 - 0.03202 * s + 0.00394) + 0.11693 * s3 - 0.21196 * s2 +
               0.06052 * s + 0.25886;
    zenithSmallY_ = t2 * (0.00275 * s3 - 0.00610 * s2 + 0.00317 * s) +
                    t * (-0.04214 * s3 + 0.08970 * s2 - 0.04153 * s + 0.00516) + 0.15346 * s3 - 0.26756 * s2 +
                    0.06670 * s + 0.26688;
  }

  Rgb operator()(const Vec3f& d) const {
    const double cosine = std::max(0.0f, d.z), gamma = std::acos(std::clamp(d.dot(sun_), -1.0f, 1.0f));
    const auto part = [&](const Perez& f, double zenith) {
      return zenith * f(cosine, gamma) / f(1, thetaSun_);
    };
    const double Y = part(luminance_, zenithY_), x = part(x_, zenithX_), y = part(y_, zenithSmallY_);
    const double X = x / y * Y, Z = (1 - x - y) / y * Y;
    const auto positive = [](double v) { return float(std::max(v, 0.0)); };
    return Rgb(positive(3.24096994 * X - 1.53738318 * Y - 0.49861076 * Z),
               positive(-0.96924364 * X + 1.8759675 * Y + 0.04155506 * Z),
               positive(0.05563008 * X - 0.20397696 * Y + 1.05697151 * Z));
  }

 private:
  Vec3f sun_;
  double thetaSun_, zenithY_, zenithX_, zenithSmallY_;
  Perez luminance_{}, x_{}, y_{};
};

Rgb mixShore(const Rgb& air, float share) { return air * (1 - share) + Rgb(0.13f, 0.15f, 0.18f) * share; }

}  // namespace

Picture eveningSky(int width, const Vec3f& sun) {
  const ClearSky clear(3.0, sun);
  Picture sky = Picture::rgb(width, width / 2);
  for (int py = 0; py < sky.height; ++py)
    for (int px = 0; px < sky.width; ++px) {
      const Vec3f d = panoramaDirection({(px + 0.5f) / sky.width, (py + 0.5f) / sky.height});
      Rgb colour = clear(d) * 0.085f;
      const float towards = std::max(0.0f, d.dot(sun));
      if (d.z > 0) {
        // Thin cloud on a level sheet high above, lit warmer towards the sun.
        const Vec3f at = Vec3f(d.x, d.y, 0) / (d.z + 0.12f);
        const float sheet = layeredNoise({at.x * 0.9f + 3, at.y * 2.2f, 0.7f}, 6) +
                            0.25f * noise({at.x * 0.3f, at.y * 0.5f, 4});
        const float cover = smoothStep(0.02f, 0.42f, sheet) * smoothStep(0.0f, 0.12f, d.z) * 0.75f;
        const Rgb lit = Rgb(0.86f, 0.76f, 0.70f) * (0.75f + 0.9f * std::pow(towards, 6.0f)) +
                        Rgb(0.10f, 0.02f, -0.02f) * smoothStep(0.5f, 0.0f, d.z);
        colour = colour * (1 - cover) + lit * cover;
      }
      // Haze at the horizon, warm on the sun's side.
      const float haze = std::exp(-std::abs(d.z) * 14.0f);
      colour =
          colour * (1 - 0.55f * haze) +
          (Rgb(0.86f, 0.72f, 0.62f) + Rgb(0.5f, 0.30f, 0.10f) * std::pow(towards, 4.0f)) * (0.55f * haze);
      // A far shore under the haze.
      const float azimuth = std::atan2(d.x, d.y);
      const float ridge =
          0.016f + 0.014f * layeredNoise({azimuth * 5, 2, 0}, 4) + 0.008f * noise({azimuth * 1.7f, 0, 0});
      const float nearer = 0.006f + 0.008f * layeredNoise({azimuth * 9, 7, 0}, 4);
      colour = mixShore(colour, 0.40f * smoothStep(ridge + 0.0012f, ridge - 0.0012f, d.z));
      colour = mixShore(colour, 0.30f * smoothStep(nearer + 0.0012f, nearer - 0.0012f, d.z));
      for (int c = 0; c < 3; ++c) sky.at(px, py)[c] = std::max(0.0f, colour[c]);
    }
  return sky;
}

}  // namespace dusk::demo
