#include "bench/box_world.h"

#include <tbb/parallel_for.h>

#include <cmath>

#include "core/light/panorama.h"

namespace dusk::bench {
namespace {

float hashed(int x, int y, int z, unsigned seed) {
  unsigned h =
      seed * 0x9e3779b9u ^ unsigned(x) * 0x85ebca6bu ^ unsigned(y) * 0xc2b2ae35u ^ unsigned(z) * 0x27d4eb2fu;
  h ^= h >> 15, h *= 0x2c1b3c6du, h ^= h >> 12, h *= 0x297a2d39u, h ^= h >> 15;
  return float(h & 0xffffff) / float(0x1000000);
}

/// Smooth value noise, 0 to 1.
float noise(const Vec3f& p, unsigned seed) {
  const int x = int(std::floor(p.x)), y = int(std::floor(p.y)), z = int(std::floor(p.z));
  const auto ease = [](float t) { return t * t * (3 - 2 * t); };
  const float u = ease(p.x - float(x)), v = ease(p.y - float(y)), w = ease(p.z - float(z));
  const auto row = [&](int j, int k) {
    return std::lerp(hashed(x, y + j, z + k, seed), hashed(x + 1, y + j, z + k, seed), u);
  };
  return std::lerp(std::lerp(row(0, 0), row(1, 0), v), std::lerp(row(0, 1), row(1, 1), v), w);
}

float octaves(const Vec3f& p, unsigned seed) {
  return 0.5f * noise(p, seed) + 0.3f * noise(p * 3.1f, seed + 1) + 0.2f * noise(p * 9.7f, seed + 2);
}

Vec3f turnedBy(const Vec3f& v, float a) {
  return {std::cos(a) * v.x - std::sin(a) * v.y, std::sin(a) * v.x + std::cos(a) * v.y, v.z};
}

}  // namespace

BoxWorld::BoxWorld(Kind kind, unsigned seed) : kind_(kind) {
  std::mt19937 random(seed);
  std::uniform_real_distribution<float> u(0, 1);
  turn_ = u(random) < 0.5f ? 0.0f : u(random) * 1.5f;  // half the tables stand askew in their rooms
  const float azimuth = u(random) * 6.28f, height = 0.35f + 0.6f * u(random);
  sun_ = Vec3f(std::cos(azimuth) * std::cos(height), std::sin(azimuth) * std::cos(height), std::sin(height));
  if (kind == Kind::interior) {
    addRoom(random, 2 + u(random), 2.4f + 1.5f * u(random), 0, 2.5f + 0.5f * u(random));
    addClutter(random, 12, 2.0f, 0, 0.2f, 0.9f);
  } else if (kind == Kind::table) {
    addRoom(random, 2.5f + u(random), 3 + 2 * u(random), -0.75f, 2.0f);
    boxes_.push_back({{-0.8f, -0.5f, -0.05f}, {0.8f, 0.6f, 0}, {0.45f, 0.3f, 0.2f}, 2, seed + 7});
    addClutter(random, 14, 0.75f, 0, 0.04f, 0.22f);
    addClutter(random, 5, 2.2f, -0.75f, 0.3f, 0.9f);
  } else {
    boxes_.push_back({{-60, -60, -1}, {60, 60, 0}, {0.32f, 0.3f, 0.28f}, 3, seed + 3});
    for (const float side : {-1.0f, 1.0f}) {
      const float wall = side * (2.5f + 3 * u(random));
      for (float y = -30; y < 30;) {
        const float length = 5 + 7 * u(random), back = wall + side * (0.2f + 1.0f * u(random));
        boxes_.push_back({{std::min(back, side * 14), y, 0},
                          {std::max(back, side * 14), y + length, 5 + 8 * u(random)},
                          Rgb(0.25f + 0.45f * u(random), 0.25f + 0.3f * u(random), 0.2f + 0.3f * u(random)),
                          1,
                          seed + unsigned(y * 10 + 1000)});
        y += length;
      }
    }
    addClutter(random, 14, 5.0f, 0, 0.3f, 1.2f);
  }
}

void BoxWorld::addRoom(std::mt19937& random, float x, float y, float floor, float ceiling) {
  std::uniform_real_distribution<float> u(0, 1);
  const auto seed = unsigned(random());
  const Rgb wall(0.5f + 0.2f * u(random), 0.48f + 0.2f * u(random), 0.42f + 0.2f * u(random));
  boxes_.push_back({{-x, -y, floor - 0.2f}, {x, y, floor}, {0.35f, 0.24f, 0.16f}, 2, seed});
  boxes_.push_back({{-x, -y, ceiling}, {x, y, ceiling + 0.2f}, {0.75f, 0.74f, 0.72f}, 0, seed + 1});
  boxes_.push_back({{-x - 0.2f, -y, floor}, {-x, y, ceiling}, wall, 0, seed + 2});
  boxes_.push_back({{x, -y, floor}, {x + 0.2f, y, ceiling}, wall, 0, seed + 3});
  boxes_.push_back({{-x, -y - 0.2f, floor}, {x, -y, ceiling}, wall * 0.9f, 0, seed + 4});
  boxes_.push_back({{-x, y, floor}, {x, y + 0.2f, ceiling}, wall * 0.95f, 0, seed + 5});
  // Things on the walls: windows, doors, pictures, shelves.
  for (int i = 0; i < 14; ++i) {
    const bool alongX = u(random) < 0.5f;
    const float side = u(random) < 0.5f ? -1.0f : 1.0f, at = (u(random) * 1.6f - 0.8f) * (alongX ? x : y),
                width = 0.25f + 0.5f * u(random), low = floor + 0.2f + 1.2f * u(random),
                high = std::min(ceiling - 0.1f, low + 0.3f + 0.9f * u(random)),
                deep = 0.02f + 0.25f * u(random) * u(random);
    const float face = side * (alongX ? y : x), a = std::min(face, face - side * deep),
                b = std::max(face, face - side * deep);
    const Rgb colour(0.1f + 0.7f * u(random), 0.1f + 0.6f * u(random), 0.1f + 0.6f * u(random));
    boxes_.push_back({alongX ? Vec3f(at - width, a, low) : Vec3f(a, at - width, low),
                      alongX ? Vec3f(at + width, b, high) : Vec3f(b, at + width, high), colour,
                      i < 3 ? 4 : int(u(random) * 3), seed + 10 + unsigned(i)});
  }
}

void BoxWorld::addClutter(std::mt19937& random, int count, float reach, float floor, float least,
                          float most) {
  std::uniform_real_distribution<float> u(0, 1);
  for (int i = 0; i < count; ++i) {
    const Vec3f foot((u(random) * 2 - 1) * reach, (u(random) * 2 - 1) * reach, floor);
    if (foot.x * foot.x + foot.y * foot.y < 0.04f * reach * reach) continue;  // the product's spot is free
    const Vec3f size(least + (most - least) * u(random), least + (most - least) * u(random),
                     least + (most - least) * u(random));
    boxes_.push_back({foot - Vec3f(size.x / 2, size.y / 2, 0), foot + Vec3f(size.x / 2, size.y / 2, size.z),
                      Rgb(0.1f + 0.7f * u(random), 0.1f + 0.6f * u(random), 0.08f + 0.6f * u(random)),
                      int(u(random) * 4), unsigned(random())});
  }
}

void BoxWorld::moveSun(float degrees) { sun_ = turnedBy(sun_, float(radians(double(degrees)))); }

bool BoxWorld::isTaken(const Vec3f& world) const {
  const Vec3f p = turnedBy(world, -turn_);
  for (const Box& b : boxes_)
    if (p.x > b.low.x - 0.03f && p.y > b.low.y - 0.03f && p.z > b.low.z - 0.03f && p.x < b.high.x + 0.03f &&
        p.y < b.high.y + 0.03f && p.z < b.high.z + 0.03f)
      return true;
  return false;
}

BoxWorld::Meeting BoxWorld::closest(const Vec3f& o, const Vec3f& d) const {
  Meeting m;
  for (const Box& b : boxes_) {
    float enter = 1e-4f, leave = m.distance;
    int axis = -1;
    bool met = true;
    for (int i = 0; i < 3 && met; ++i) {
      const float by = 1 / (std::abs(d[i]) < 1e-9f ? std::copysign(1e-9f, d[i]) : d[i]);
      const float t0 = ((by > 0 ? b.low[i] : b.high[i]) - o[i]) * by,
                  t1 = ((by > 0 ? b.high[i] : b.low[i]) - o[i]) * by;
      if (t0 > enter) enter = t0, axis = i;
      leave = std::min(leave, t1);
      met = enter < leave;
    }
    if (!met || axis < 0) continue;
    m.distance = enter, m.box = &b, m.normal = Vec3f(0);
    m.normal[axis] = d[axis] > 0 ? -1.0f : 1.0f;
  }
  return m;
}

Rgb BoxWorld::paintAt(const Box& b, const Vec3f& p, const Vec3f& n) const {
  // Stains, and the grain of things near by.
  const float grain = 0.35f + 0.7f * octaves(p * 4, b.seed) + 0.6f * octaves(p * 29, b.seed + 9);
  Rgb c = b.colour * grain;
  const float along = std::abs(n.x) > 0.5f ? p.y : p.x, up = std::abs(n.z) > 0.5f ? p.y : p.z;
  if (b.paint == 1 && std::abs(n.z) < 0.5f) {
    const float a = along / 1.4f, h = up / 1.8f - 0.3f, fa = a - std::floor(a), fh = h - std::floor(h);
    if (h > 0 && fa > 0.28f && fa < 0.75f && fh > 0.2f && fh < 0.8f)
      c = Rgb(0.06f, 0.08f, 0.1f) * (0.5f + hashed(int(std::floor(a)), int(std::floor(h)), 0, b.seed) * 4);
  } else if (b.paint == 2) {
    c *= 0.6f + 0.8f * hashed(int(std::floor(along / 0.14f)), 0, 0, b.seed);
  } else if (b.paint == 3) {
    const float a = along / 0.4f, h = up / 0.4f;
    c *= 0.75f + 0.5f * hashed(int(std::floor(a)), int(std::floor(h)), 1, b.seed);
    if (a - std::floor(a) < 0.06f || h - std::floor(h) < 0.06f) c *= 0.5f;
  } else if (b.paint == 4) {
    return Rgb(5, 5.5f, 6) * grain;
  }
  return c;
}

Rgb BoxWorld::sky(const Vec3f& d) const {
  const float cloud = std::max(0.0f, octaves(d * 2.5f, 5) - 0.5f) * 2;
  const Rgb blue = Rgb(0.35f, 0.5f, 0.8f) * (1.2f - 0.7f * std::max(0.0f, d.z));
  Rgb c = blue + Rgb(cloud);
  if (d.dot(sun_) > 0.9998f) c += Rgb(2e4f);
  return c;
}

Rgb BoxWorld::radiance(const Vec3f& origin, const Vec3f& direction) const {
  const Vec3f o = turnedBy(origin, -turn_), d = turnedBy(direction, -turn_);
  const Meeting m = closest(o, d);
  if (!m.box) return sky(d);
  const Vec3f at = o + d * m.distance;
  const Rgb paint = paintAt(*m.box, at, m.normal);
  if (m.box->paint == 4) return paint;
  if (kind_ != Kind::street) {
    // Light from the windows' side, falling off through the room.
    const float toWindow = 0.55f + 0.35f * m.normal.dot(Vec3f(0.6f, 0.5f, 0.6f));
    return paint * toWindow;
  }
  Rgb light = Rgb(0.3f, 0.36f, 0.45f) * (0.6f + 0.4f * m.normal.z);
  if (const float facing = m.normal.dot(sun_); facing > 0 && !closest(at + m.normal * 1e-3f, sun_).box)
    light += Rgb(1.5f, 1.35f, 1.1f) * facing;
  return paint * light;
}

Picture BoxWorld::photo(const Camera& camera) const {
  Picture p = Picture::rgb(camera.width, camera.height);
  const Vec3f from = toFloat(camera.position);
  tbb::parallel_for(0, p.height, [&](int y) {
    for (int x = 0; x < p.width; ++x) {
      Rgb c(0);
      for (const Vec2d& s : {Vec2d(0.25, 0.3), Vec2d(0.75, 0.7)})
        c += radiance(from, toFloat(rayThrough(camera, {x + s.x, y + s.y}))) * 0.5f;
      std::copy_n(&c.x, 3, p.at(x, y));
    }
  });
  return p;
}

Picture BoxWorld::panorama(const Vec3f& from, int width,
                           const std::function<Vec3f(const Vec3f&)>& toWorld) const {
  Picture p = Picture::rgb(width, width / 2);
  tbb::parallel_for(0, p.height, [&](int y) {
    for (int x = 0; x < width; ++x) {
      const Rgb c = radiance(from, toWorld(panoramaDirection({(float(x) + 0.5f) / float(width),
                                                              (float(y) + 0.5f) / float(p.height)})));
      std::copy_n(&c.x, 3, p.at(x, y));
    }
  });
  return p;
}

}  // namespace dusk::bench
