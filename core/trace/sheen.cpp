#include "core/trace/sheen.h"

#include <array>

namespace dusk::sheen {
namespace {

constexpr int cosines = 64, alphas = 32;

using Table = std::array<std::array<float, cosines>, alphas>;

Table integrated() {
  Table t;
  constexpr int polar = 128, around = 64;
  for (int a = 0; a < alphas; ++a)
    for (int c = 0; c < cosines; ++c) {
      const float alpha = 0.01f + 0.99f * (a + 0.5f) / alphas, z = (c + 0.5f) / cosines;
      const Vec3f wo(std::sqrt(1 - z * z), 0, z);
      double sum = 0;
      for (int i = 0; i < polar; ++i)
        for (int k = 0; k < around; ++k) {
          const float theta = pif / 2 * (i + 0.5f) / polar, phi = pif * (k + 0.5f) / around;
          const Vec3f wi(std::sin(theta) * std::cos(phi), std::sin(theta) * std::sin(phi), std::cos(theta));
          sum += value(wo, wi, (wo + wi).normalized(), alpha) * std::sin(theta);
        }
      t[a][c] = std::min(1.0f, float(sum * 2 * (pi / 2 / polar) * (pi / around)));
    }
  return t;
}

}  // namespace

float albedo(float cosine, float alpha) {
  static const Table table = integrated();
  const float x = std::clamp(cosine * cosines - 0.5f, 0.0f, cosines - 1.001f),
              y = std::clamp((alpha - 0.01f) / 0.99f * alphas - 0.5f, 0.0f, alphas - 1.001f);
  const int c = int(x), a = int(y);
  const float tx = x - c, ty = y - a;
  return (table[a][c] * (1 - tx) + table[a][c + 1] * tx) * (1 - ty) +
         (table[a + 1][c] * (1 - tx) + table[a + 1][c + 1] * tx) * ty;
}

}  // namespace dusk::sheen
