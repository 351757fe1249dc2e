#include "core/colour/difference.h"

#include "core/base/srgb.h"

namespace dusk {

Vec3d labOfSrgb(const Vec3d& code) {
  Vec3d c;
  for (int i = 0; i < 3; ++i) c[i] = srgbDecoded(code[i]);
  // IEC 61966-2-1, over the white of D65.
  const Vec3d xyz((0.4124564 * c.x + 0.3575761 * c.y + 0.1804375 * c.z) / 0.95047,
                  0.2126729 * c.x + 0.7151522 * c.y + 0.0721750 * c.z,
                  (0.0193339 * c.x + 0.1191920 * c.y + 0.9503041 * c.z) / 1.08883);
  const auto f = [](double t) { return t > 216.0 / 24389 ? std::cbrt(t) : (24389.0 / 27 * t + 16) / 116; };
  return {116 * f(xyz.y) - 16, 500 * (f(xyz.x) - f(xyz.y)), 200 * (f(xyz.y) - f(xyz.z))};
}

Vec3d labOfLinear(const Vec3d& linear) {
  Vec3d code;
  for (int i = 0; i < 3; ++i) code[i] = srgbEncoded(std::clamp(linear[i], 0.0, 1.0));
  return labOfSrgb(code);
}

Vec3d srgbOfLab(const Vec3d& lab) {
  const double y = (lab.x + 16) / 116, x = y + lab.y / 500, z = y - lab.z / 200;
  const auto f = [](double t) {
    return t * t * t > 216.0 / 24389 ? t * t * t : (116 * t - 16) * 27.0 / 24389;
  };
  const Vec3d xyz(0.95047 * f(x), f(y), 1.08883 * f(z));
  const Vec3d linear(3.2404542 * xyz.x - 1.5371385 * xyz.y - 0.4985314 * xyz.z,
                     -0.9692660 * xyz.x + 1.8760108 * xyz.y + 0.0415560 * xyz.z,
                     0.0556434 * xyz.x - 0.2040259 * xyz.y + 1.0572252 * xyz.z);
  Vec3d code;
  for (int i = 0; i < 3; ++i) code[i] = srgbEncoded(linear[i]);
  return code;
}

double ciede2000(const Vec3d& a, const Vec3d& b) {
  const auto seventh = [](double v) {
    return std::sqrt(std::pow(v, 7) / (std::pow(v, 7) + std::pow(25.0, 7)));
  };
  const double meanC = (std::hypot(a.y, a.z) + std::hypot(b.y, b.z)) / 2, g = 0.5 * (1 - seventh(meanC));
  const double a1 = a.y * (1 + g), a2 = b.y * (1 + g);
  const double c1 = std::hypot(a1, a.z), c2 = std::hypot(a2, b.z);
  const auto hue = [](double x, double y) {
    if (x == 0 && y == 0) return 0.0;
    const double h = degrees(std::atan2(y, x));
    return h < 0 ? h + 360 : h;
  };
  const double h1 = hue(a1, a.z), h2 = hue(a2, b.z);
  double dh = h2 - h1, sumH = h1 + h2;
  if (c1 * c2 == 0) {
    dh = 0;
  } else if (std::abs(h1 - h2) > 180) {
    dh += dh > 0 ? -360 : 360;
    sumH += sumH < 360 ? 360 : -360;
  }
  const double meanH = c1 * c2 == 0 ? h1 + h2 : sumH / 2;
  const double dL = b.x - a.x, dC = c2 - c1, dH = 2 * std::sqrt(c1 * c2) * std::sin(radians(dh / 2));
  const double meanL = (a.x + b.x) / 2, c = (c1 + c2) / 2, l50 = (meanL - 50) * (meanL - 50);
  const double t = 1 - 0.17 * std::cos(radians(meanH - 30)) + 0.24 * std::cos(radians(2 * meanH)) +
                   0.32 * std::cos(radians(3 * meanH + 6)) - 0.20 * std::cos(radians(4 * meanH - 63));
  const double sL = 1 + 0.015 * l50 / std::sqrt(20 + l50), sC = 1 + 0.045 * c, sH = 1 + 0.015 * c * t;
  const double turn = 30 * std::exp(-std::pow((meanH - 275) / 25, 2));
  const double rT = -2 * seventh(c) * std::sin(radians(2 * turn));
  const double L = dL / sL, C = dC / sC, H = dH / sH;
  return std::sqrt(std::max(0.0, L * L + C * C + H * H + rT * C * H));
}

}  // namespace dusk
