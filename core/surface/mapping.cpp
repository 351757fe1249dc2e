#include "core/surface/mapping.h"

#include "core/surface/noise.h"

namespace dusk {
namespace {

/// The vector with the axis as its z: a turn of the three, so that handedness stays.
Vec3f alongAxis(const Vec3f& v, MappingAxis axis) {
  switch (axis) {
    case MappingAxis::x:
      return {v.y, v.z, v.x};
    case MappingAxis::y:
      return {v.z, v.x, v.y};
    case MappingAxis::z:
      break;
  }
  return v;
}

/// How far this part lies off, from -1 to 1 along each axis, by its path.
Vec3f scatterOf(const PartFacts& part) {
  const auto one = [&](int axis) { return 2 * evenAt(int(part.number()), axis, 0, 11) - 1; };
  return {one(0), one(1), one(2)};
}

Vec2f turnedBy(const Vec2f& v, double degreesTurn) {
  if (degreesTurn == 0) return v;
  const float a = float(radians(degreesTurn)), c = std::cos(a), s = std::sin(a);
  return {v.x * c + v.y * s, v.y * c - v.x * s};
}

/// Shifted, scattered and turned as the mapping says.
OnPlane laid(const Mapping& m, const PartFacts& part, OnPlane on) {
  Vec2f off(float(m.shiftMm.x), float(m.shiftMm.y));
  if (m.scatterMm > 0) {
    const Vec3f s = scatterOf(part) * float(m.scatterMm);
    off += Vec2f(s.x, s.y);
  }
  on.mm = turnedBy(on.mm - off, m.turnDegrees);
  on.across = turnedBy(on.across, m.turnDegrees), on.along = turnedBy(on.along, m.turnDegrees);
  return on;
}

OnPlanes fromSides(const Mapping& m, const PartFacts& part, const Site& s, const Vec3f& p) {
  OnPlanes out;
  // The blend is narrow: a picture seen twice is seen by nobody as what it is.
  float weight[3], sum = 0;
  for (int i = 0; i < 3; ++i) {
    const float n = std::abs(s.normal[i]), n2 = n * n, n4 = n2 * n2;
    sum += weight[i] = n4 * n4;
  }
  for (int i = 0; i < 3; ++i) {
    if (weight[i] < 0.01f * sum) continue;
    // Seen from outside, right is right and up is up.
    const float side = s.normal[i] < 0 ? -1.0f : 1.0f;
    const auto seen = [&](const Vec3f& v) {
      return i == 0 ? Vec2f(v.y * side, v.z) : i == 1 ? Vec2f(-v.x * side, v.z) : Vec2f(v.x * side, v.y);
    };
    out.list[size_t(out.count++)] = laid(m, part, {seen(p), seen(s.across), seen(s.along), weight[i] / sum});
  }
  // What was left out must not be missing.
  float kept = 0;
  for (int i = 0; i < out.count; ++i) kept += out.list[size_t(i)].weight;
  for (int i = 0; i < out.count; ++i) out.list[size_t(i)].weight /= kept;
  return out;
}

OnPlane round(const Mapping& m, const PartFacts& part, const Site& s, const Vec3f& middle) {
  const Vec3f p = alongAxis(middle, m.axis), across = alongAxis(s.across, m.axis),
              along = alongAxis(s.along, m.axis);
  const Vec3f size = alongAxis(toFloat(part.boxMm.size()), m.axis);
  const float radius = std::max(1e-3f, (size.x + size.y) / 4), r = std::max(1e-4f, std::hypot(p.x, p.y));
  const Vec3f tangent(-p.y / r, p.x / r, 0);
  const float angle = std::atan2(p.x, -p.y);  // 0 in front, growing to the right
  const float turns = radius / r;
  if (m.kind == MappingKind::cylinder)
    return {{angle * radius, p.z},
            {across.dot(tangent) * turns, across.z},
            {along.dot(tangent) * turns, along.z}};
  const float whole = std::max(1e-4f, p.length()), up = std::asin(std::clamp(p.z / whole, -1.0f, 1.0f));
  const Vec3f rise = Vec3f(-p.x * p.z / r, -p.y * p.z / r, r) / whole;
  const float scale = radius / whole;
  return {{angle * radius, up * radius},
          {across.dot(tangent) * turns, across.dot(rise) * scale},
          {along.dot(tangent) * turns, along.dot(rise) * scale}};
}

}  // namespace

double perUvOf(const Mesh& mesh) {
  double on = 0, across = 0;
  for (size_t t = 0; !mesh.uvs.empty() && t + 2 < mesh.indices.size(); t += 3) {
    const uint32_t* i = &mesh.indices[t];
    const Vec3f &a = mesh.positions[i[0]], &b = mesh.positions[i[1]], &c = mesh.positions[i[2]];
    on += double((b - a).cross(c - a).length());
    const Vec2f e = mesh.uvs[i[1]] - mesh.uvs[i[0]], g = mesh.uvs[i[2]] - mesh.uvs[i[0]];
    across += double(std::abs(e.x * g.y - e.y * g.x));
  }
  return across > 0 ? std::sqrt(on / across) : 0;
}

std::vector<PartShape> shapesOf(const Model& model) {
  std::vector<double> perUv;
  for (const Mesh& mesh : model.meshes) perUv.push_back(perUvOf(mesh));
  std::vector<PartShape> shapes;
  for (const Part& part : model.parts)
    shapes.push_back({model.boxOf(part), perUv[size_t(part.mesh)] * part.place.scale});
  return shapes;
}

PartFacts factsOf(const Part& part, const PartShape& shape, const Product& product, const Box& whole,
                  double standsM) {
  PartFacts f;
  f.path = part.path;
  const double mm = product.metresPerUnit * 1000;
  f.mmFromMesh = part.place;
  f.mmFromMesh.scale *= mm, f.mmFromMesh.shift = part.place.shift * mm;
  if (!shape.box.empty()) f.boxMm.low = shape.box.low * mm, f.boxMm.high = shape.box.high * mm;
  const int axis = int(product.up);
  f.up = Vec3f(0);
  f.up[axis] = 1;
  f.footMm = whole.empty() ? 0.0f : float(whole.low[axis] * mm);
  f.standsM = float(standsM);
  f.mmPerUv = float(shape.perUv * mm);
  return f;
}

namespace {

/// Thrown on from an eye: sizes hold where its picture's plane is.
OnPlane thrown(const Mapping& m, const Site& s) {
  const Vec3f ahead = toFloat(m.aheadMm), z = ahead.normalized(), x = z.cross(toFloat(m.up)).normalized(),
              y = x.cross(z), to = s.mm - toFloat(m.eyeMm);
  const float away = std::max(1e-3f, to.dot(z)), scale = ahead.length() / away;
  const Vec2f at = Vec2f(to.dot(x), to.dot(y)) * scale;
  // How that moves with the spot: the quotient's derivative.
  const auto change = [&](const Vec3f& d) {
    return Vec2f(d.dot(x), d.dot(y)) * scale - at * (d.dot(z) / away);
  };
  return {at, change(s.across), change(s.along)};
}

}  // namespace

OnPlanes onPlanes(const Mapping& m, const PartFacts& part, const Site& s) {
  const Vec3f middle = s.mm - toFloat(part.boxMm.middle());
  const auto one = [&](const OnPlane& on) { return OnPlanes{{laid(m, part, on)}, 1}; };
  switch (m.kind) {
    case MappingKind::solid:
    case MappingKind::box:
      break;
    case MappingKind::coordinates:
      if (s.hasUv && part.mmPerUv > 0) {
        const float scale = m.sizeMm.x > 0 ? part.mmPerUv : 1.0f;
        return one({s.uv * scale, s.uvAcross * scale, s.uvAlong * scale});
      }
      break;
    case MappingKind::cylinder:
    case MappingKind::ball:
      return one(round(m, part, s, middle));
    case MappingKind::camera:
      return one(thrown(m, s));
    case MappingKind::flat: {
      const auto seen = [&](const Vec3f& v) {
        return m.axis == MappingAxis::x   ? Vec2f(v.y, v.z)
               : m.axis == MappingAxis::y ? Vec2f(v.x, v.z)
                                          : Vec2f(v.x, v.y);
      };
      return one({seen(middle), seen(s.across), seen(s.along)});
    }
  }
  return fromSides(m, part, s, middle);
}

PatternPoint inSpace(const Mapping& m, const PartFacts& part, const Site& s) {
  const auto turn = [&](Vec3f v) {
    v = alongAxis(v, m.axis);
    const Vec2f level = turnedBy({v.x, v.y}, m.turnDegrees);
    return Vec3f(level.x, level.y, v.z);
  };
  Vec3f off(float(m.shiftMm.x), float(m.shiftMm.y), 0);
  if (m.scatterMm > 0) off += scatterOf(part) * float(m.scatterMm);
  PatternPoint at;
  at.mm = turn(s.mm - toFloat(part.boxMm.middle())) - off;
  const Vec3f a = turn(s.across), b = turn(s.along);
  for (int i = 0; i < 3; ++i) at.width[i] = 2 * (std::abs(a[i]) + std::abs(b[i]));
  return at;
}

}  // namespace dusk
