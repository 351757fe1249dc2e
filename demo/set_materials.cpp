#include "demo/set_materials.h"

#include "demo/noise.h"

namespace dusk::demo {
namespace {

/// Leans `normal` against the slope of a height field (heights in metres). Blinn 1978, "Simulation of
/// wrinkled surfaces".
template <typename Height>
void bump(const Vec3f& p, Vec3f& normal, float step, const Height& height) {
  const Triadf t = triadAround(normal);
  const float h = height(p);
  const float dx = (height(p + t.x * step) - h) / step, dy = (height(p + t.y * step) - h) / step;
  normal = (normal - t.x * dx - t.y * dy).normalized();
}

/// Hewn stone: tone by block, clouds, speckles, darker worn edges, and a few stains.
void stone(const SurfacePoint& s, const Rgb& tone, const Rgb& other, float contrast, BsdfParameters& out,
           Vec3f& normal) {
  const int number = int(s.uv.x + 0.5f);
  const Vec3f own(random01(number, 1) * 50, random01(number, 2) * 50, random01(number, 3) * 50);
  const Vec3f p = s.position + own;
  const float cloud = layeredNoise(p * 5.0f, 4), speckle = layeredNoise(p * 160.0f, 2),
              pits = layeredNoise(p * 60.0f, 3);
  Rgb colour = mix(tone, other, random01(number, 4) * 0.9f + cloud * 0.6f);
  colour *= (0.68f + 0.52f * random01(number, 5)) * (1 + contrast * cloud + 0.34f * speckle);
  // Damp, dirt and lichen run over the joints, so they go by the world, not by the stone.
  const float stain = smoothStep(0.08f, 0.34f, layeredNoise(s.position * 1.7f + Vec3f(9, 4, 2), 4));
  colour = mix(colour, colour * Rgb(0.56f, 0.53f, 0.48f), stain * 0.85f);
  const float lichen = smoothStep(0.20f, 0.26f, layeredNoise(s.position * 11.0f + Vec3f(3, 8, 1), 3)) *
                       smoothStep(0.0f, 0.2f, layeredNoise(s.position * 2.1f, 2));
  colour = mix(colour, Rgb(0.42f, 0.40f, 0.30f), lichen * 0.5f);
  colour *= 1 - 0.38f * s.uv.y * (0.6f + 0.8f * pits);
  for (int c = 0; c < 3; ++c) colour[c] = std::clamp(colour[c], 0.01f, 0.8f);
  out.base = colour;
  out.roughness = 0.78f - 0.25f * stain;
  out.ior = 1.45f;
  bump(p, normal, 0.0012f, [](const Vec3f& q) {
    return 0.0028f * layeredNoise(q * 22.0f, 3) + 0.0007f * layeredNoise(q * 120.0f, 2);
  });
}

}  // namespace

std::shared_ptr<const Material> pavingStone() {
  return made([](const SurfacePoint& s, BsdfParameters& out, Vec3f& n) {
    stone(s, {0.33f, 0.305f, 0.27f}, {0.205f, 0.21f, 0.215f}, 0.5f, out, n);
  });
}

std::shared_ptr<const Material> wallStone() {
  return made([](const SurfacePoint& s, BsdfParameters& out, Vec3f& n) {
    stone(s, {0.36f, 0.295f, 0.225f}, {0.22f, 0.21f, 0.20f}, 0.45f, out, n);
    // Green where the wall stays damp.
    const float moss = smoothStep(0.42f, 0.0f, s.position.z + 0.25f * layeredNoise(s.position * 4.0f, 3)) *
                       smoothStep(-0.1f, 0.25f, layeredNoise(s.position * 9.0f, 3));
    out.base = mix(out.base, {0.075f, 0.09f, 0.035f}, moss * 0.75f);
  });
}

std::shared_ptr<const Material> jointSand() {
  return made([](const SurfacePoint& s, BsdfParameters& out, Vec3f& n) {
    const float grain = layeredNoise(s.position * 300.0f, 2), patch = layeredNoise(s.position * 3.0f, 3);
    out.base = mix({0.16f, 0.14f, 0.11f}, {0.05f, 0.065f, 0.03f}, 0.5f + 1.4f * patch) * (1 + 0.5f * grain);
    out.roughness = 0.95f;
    bump(s.position, n, 0.001f, [](const Vec3f& q) { return 0.002f * layeredNoise(q * 90.0f, 2); });
  });
}

std::shared_ptr<const Material> limeMortar() {
  return made([](const SurfacePoint& s, BsdfParameters& out, Vec3f& n) {
    const float grain = layeredNoise(s.position * 220.0f, 2), patch = layeredNoise(s.position * 4.0f, 4);
    out.base = mix({0.27f, 0.24f, 0.20f}, {0.13f, 0.115f, 0.095f}, 0.4f + 1.5f * patch) * (1 + 0.4f * grain);
    out.roughness = 0.95f;
    bump(s.position, n, 0.001f, [](const Vec3f& q) { return 0.003f * layeredNoise(q * 60.0f, 3); });
  });
}

std::shared_ptr<const Material> castIron() {
  return made([](const SurfacePoint& s, BsdfParameters& out, Vec3f& n) {
    const float rust = smoothStep(
        0.05f, 0.28f, layeredNoise(s.position * Vec3f(9, 9, 4), 4) + 0.1f * (0.35f - s.position.z));
    const float worn = smoothStep(0.12f, 0.3f, layeredNoise(s.position * 30.0f, 3));
    out.base = mix(mix({0.021f, 0.023f, 0.025f}, {0.055f, 0.052f, 0.05f}, worn), {0.095f, 0.046f, 0.024f},
                   rust * 0.7f);
    out.roughness = 0.42f + 0.4f * rust;
    bump(s.position, n, 0.001f, [](const Vec3f& q) { return 0.0016f * layeredNoise(q * 55.0f, 3); });
  });
}

std::shared_ptr<const Material> crateWood() {
  return made([](const SurfacePoint& s, BsdfParameters& out, Vec3f& n) {
    const int number = int(s.uv.x + 0.5f);
    // Every plank numbers its grain's direction: even along x, odd upright.
    const Vec3f along = number % 2 ? Vec3f(55, 55, 2.2f) : Vec3f(2.2f, 55, 55);
    const Vec3f p = s.position * along + Vec3f(random01(number, 1) * 40, random01(number, 2) * 40, 0);
    const float grain = layeredNoise(p, 4), ring = layeredNoise(p * Vec3f(0.3f, 0.3f, 0.3f), 3);
    Rgb colour = mix({0.33f, 0.205f, 0.105f}, {0.20f, 0.155f, 0.115f}, random01(number, 3) + ring);
    colour *= (0.8f + 0.4f * random01(number, 4)) * (1 + 0.75f * grain);
    const float grey = smoothStep(-0.1f, 0.3f, layeredNoise(s.position * 3.0f, 3));
    colour = mix(colour, Rgb(0.21f, 0.20f, 0.185f) * (1 + 0.6f * grain), grey * 0.55f);
    out.base = colour * (1 - 0.35f * s.uv.y);
    out.roughness = 0.72f;
    bump(s.position, n, 0.0008f, [&](const Vec3f& q) { return 0.0006f * layeredNoise(q * along * 1.5f, 2); });
  });
}

std::shared_ptr<const Material> hempRope() {
  return made([](const SurfacePoint& s, BsdfParameters& out, Vec3f& n) {
    const float fibre = layeredNoise(s.position * 260.0f, 2);
    out.base =
        Rgb(0.36f, 0.27f, 0.155f) * (1 + 0.7f * fibre) * (0.8f + 0.5f * layeredNoise(s.position * 8.0f, 2));
    out.roughness = 0.95f;
    bump(s.position, n, 0.0006f, [](const Vec3f& q) { return 0.0007f * noise(q * 300.0f); });
  });
}

std::shared_ptr<const Material> harbourWater() {
  return made([](const SurfacePoint& s, BsdfParameters& out, Vec3f& n) {
    out.base = {0.012f, 0.022f, 0.026f};
    out.roughness = 0.12f;
    out.ior = 1.33f;
    bump(s.position, n, 0.01f, [](const Vec3f& q) {
      return 0.05f * layeredNoise({q.x * 0.8f, q.y * 1.6f, 0.3f}, 3) +
             0.006f * noise({q.x * 9, q.y * 14, 1.5f});
    });
  });
}

std::shared_ptr<const Material> wetConcrete() {
  return made([](const SurfacePoint& s, BsdfParameters& out, Vec3f& n) {
    const Vec3f p = s.position + Vec3f(s.uv.x * 3, s.uv.x * 5, 0);
    const float cloud = layeredNoise(p * 2.2f, 5), grain = layeredNoise(p * 130.0f, 2),
                pool = smoothStep(-0.06f, 0.12f, layeredNoise(s.position * 1.1f + Vec3f(4, 1, 7), 4));
    Rgb colour = mix({0.15f, 0.147f, 0.14f}, {0.085f, 0.088f, 0.09f}, 0.5f + cloud) * (1 + 0.3f * grain);
    const float algae = smoothStep(0.1f, 0.3f, layeredNoise(s.position * 1.4f + Vec3f(1, 9, 2), 4));
    colour = mix(colour, Rgb(0.05f, 0.065f, 0.03f), algae * 0.4f) * (1 - 0.3f * s.uv.y);
    out.base = colour;
    out.roughness = 0.75f;
    out.clearcoat = 1, out.clearcoatRoughness = 0.26f - 0.20f * pool;
    bump(p, n, 0.002f, [&](const Vec3f& q) {
      return (1 - 0.9f * pool) * (0.0016f * layeredNoise(q * 40.0f, 3)) + 0.0004f * layeredNoise(q * 3.0f, 2);
    });
  });
}

std::shared_ptr<const Material> benchWood() {
  return made([](const SurfacePoint& s, BsdfParameters& out, Vec3f& n) {
    const int number = int(s.uv.x + 0.5f);
    const Vec3f along(1.6f, 48, 48);
    const Vec3f p = s.position * along + Vec3f(random01(number, 1) * 40, random01(number, 2) * 40, 0);
    const float grain = layeredNoise(p, 4), ring = layeredNoise(p * 0.25f, 3),
                worn = smoothStep(0.0f, 0.3f, layeredNoise(s.position * 4.0f, 4));
    Rgb colour = mix({0.30f, 0.165f, 0.075f}, {0.20f, 0.115f, 0.06f}, random01(number, 3) + 1.4f * ring);
    colour *= (0.85f + 0.3f * random01(number, 4)) * (1 + 0.7f * grain);
    colour = mix(colour, Rgb(0.33f, 0.25f, 0.17f), worn * 0.3f);
    out.base = colour * (1 - 0.5f * s.uv.y);
    out.roughness = 0.55f + 0.2f * worn, out.clearcoat = 0.25f, out.clearcoatRoughness = 0.35f;
    bump(s.position, n, 0.0008f, [&](const Vec3f& q) { return 0.0004f * layeredNoise(q * along * 1.5f, 2); });
  });
}

std::shared_ptr<const Material> limeWash() {
  return made([](const SurfacePoint& s, BsdfParameters& out, Vec3f& n) {
    const int number = int(s.uv.x + 0.5f);
    const float patch = layeredNoise(s.position * 2.0f, 4), flake = layeredNoise(s.position * 26.0f, 3);
    Rgb colour =
        mix({0.62f, 0.60f, 0.54f}, {0.48f, 0.47f, 0.43f}, 0.5f + patch + 0.3f * (random01(number, 2) - 0.5f));
    colour = mix(colour, Rgb(0.22f, 0.17f, 0.12f), 0.7f * smoothStep(0.24f, 0.34f, flake + 0.3f * patch));
    out.base = colour * (1 - 0.55f * s.uv.y);
    out.roughness = 0.9f;
    bump(s.position, n, 0.001f, [](const Vec3f& q) { return 0.0012f * layeredNoise(q * 30.0f, 3); });
  });
}

std::shared_ptr<const Material> chartPaper() {
  return made([](const SurfacePoint& s, BsdfParameters& out, Vec3f&) {
    // Soundings over a made-up coast: land buff, shoals blue, a frame and a graticule.
    const float u = s.uv.x, v = s.uv.y;
    const float depth = layeredNoise({u * 2.6f + 1.3f, v * 1.9f + 4.1f, 0.5f}, 5) + 0.55f * (v - 0.35f);
    Rgb colour = depth < 0.0f    ? Rgb(0.66f, 0.57f, 0.36f)
                 : depth < 0.07f ? Rgb(0.36f, 0.56f, 0.66f)
                 : depth < 0.16f ? Rgb(0.55f, 0.68f, 0.72f)
                                 : Rgb(0.74f, 0.73f, 0.68f);
    const auto lineAt = [](float x, float width) { return std::abs(x - std::round(x)) < width; };
    if (std::abs(depth) < 0.006f || std::abs(depth - 0.07f) < 0.003f) colour = Rgb(0.06f, 0.06f, 0.07f);
    if (lineAt(u * 8, 0.008f) || lineAt(v * 6, 0.008f)) colour *= 0.55f;
    const float edge = std::min({u, 1 - u, v, 1 - v});
    if (edge < 0.02f) colour = Rgb(0.72f, 0.70f, 0.64f);
    if (edge > 0.02f && edge < 0.026f) colour = Rgb(0.04f);
    if (edge > 0.026f && edge < 0.034f && (lineAt(u * 32, 0.25f) != lineAt(v * 24, 0.25f)))
      colour = Rgb(0.06f);
    colour *= 0.96f + 0.10f * layeredNoise(s.position * 30.0f, 3);
    out.base = colour;
    out.roughness = 0.85f;
  });
}

}  // namespace dusk::demo
