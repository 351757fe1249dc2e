#include "core/product/repair.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cstring>
#include <numeric>

namespace dusk {
namespace {

constexpr double creaseWhereNotSaid = 40;

/// Numbers vertices so that those with equal bytes share one number: an open hash table.
class Joiner {
 public:
  explicit Joiner(size_t most) : slots_(std::bit_ceil(std::max<size_t>(most * 2, 16)), none) {}

  /// The number of the vertex whose `size` floats are at `key`, and whether it is new.
  std::pair<uint32_t, bool> number(const float* key, size_t size) {
    uint64_t h = 0x9e3779b97f4a7c15u;
    for (size_t i = 0; i < size; ++i) {
      const float v = key[i] + 0.0f;  // minus zero is zero
      uint32_t bits;
      std::memcpy(&bits, &v, 4);
      h = (h ^ bits) * 0xff51afd7ed558ccdu;
      h ^= h >> 32;
    }
    for (size_t at = h & (slots_.size() - 1);; at = (at + 1) & (slots_.size() - 1)) {
      const uint32_t n = slots_[at];
      if (n == none) {
        slots_[at] = uint32_t(keys_.size() / size);
        keys_.insert(keys_.end(), key, key + size);
        return {slots_[at], true};
      }
      if (std::equal(key, key + size, &keys_[n * size])) return {n, false};
    }
  }

 private:
  static constexpr uint32_t none = 0xffffffff;
  std::vector<uint32_t> slots_;
  std::vector<float> keys_;
};

Vec3f faceNormal(const Mesh& m, size_t t) {
  const Vec3f &a = m.positions[m.indices[t]], &b = m.positions[m.indices[t + 1]],
              &c = m.positions[m.indices[t + 2]];
  return (b - a).cross(c - a);
}

/// `act(list)` for each thing that the mesh's vertices have.
template <typename Act>
void eachList(Mesh& m, const Act& act) {
  const auto one = [&](auto& list) {
    if (!list.empty()) act(list);
  };
  one(m.positions), one(m.normals), one(m.uvs), one(m.colours);
}

constexpr size_t mostOfVertex = 11;  // floats

/// Joins vertices that agree in everything they have. Gives how many went.
uint64_t joinVertices(Mesh& m) {
  const size_t n = m.positions.size();
  Joiner joiner(n);
  std::vector<uint32_t> to(n);
  size_t kept = 0;
  float key[mostOfVertex];
  for (size_t i = 0; i < n; ++i) {
    float* k = key;
    eachList(m, [&](const auto& list) { k = std::copy_n(&list[i].x, sizeof list[i] / sizeof(float), k); });
    const auto [number, fresh] = joiner.number(key, size_t(k - key));
    to[i] = number;
    if (!fresh) continue;
    eachList(m, [&](auto& list) { list[kept] = list[i]; });
    ++kept;
  }
  eachList(m, [&](auto& list) { list.resize(kept); });
  for (uint32_t& i : m.indices) i = to[i];
  return n - kept;
}

uint64_t dropDegenerate(Mesh& m) {
  size_t kept = 0;
  for (size_t t = 0; t + 2 < m.indices.size(); t += 3) {
    const Vec3f &a = m.positions[m.indices[t]], &b = m.positions[m.indices[t + 1]],
                &c = m.positions[m.indices[t + 2]];
    const double longest = std::max({(b - a).length2(), (c - b).length2(), (a - c).length2()});
    const double area = toDouble(b - a).cross(toDouble(c - a)).length2();
    // A millionth of the longest side in height: nothing a picture shows, and no direction to speak of.
    if (!(area > 1e-12 * longest * longest)) continue;
    for (int k = 0; k < 3; ++k) m.indices[kept + size_t(k)] = m.indices[t + size_t(k)];
    kept += 3;
  }
  const size_t gone = (m.indices.size() - kept) / 3;
  m.indices.resize(kept);
  return gone;
}

/// Vertices that no triangle uses would count for the hull.
void dropUnused(Mesh& m) {
  std::vector<uint32_t> to(m.positions.size(), ~0u);
  for (const uint32_t i : m.indices) to[i] = 0;
  if (std::find(to.begin(), to.end(), ~0u) == to.end()) return;
  uint32_t kept = 0;
  for (size_t i = 0; i < to.size(); ++i) {
    if (to[i] == ~0u) continue;
    eachList(m, [&](auto& list) { list[kept] = list[i]; });
    to[i] = kept++;
  }
  eachList(m, [&](auto& list) { list.resize(kept); });
  for (uint32_t& i : m.indices) i = to[i];
}

uint64_t turnToNormals(Mesh& m) {
  uint64_t turnedRound = 0;
  for (size_t t = 0; t < m.indices.size(); t += 3) {
    const Vec3f n = faceNormal(m, t);
    bool against = true;
    for (size_t k = 0; k < 3; ++k) against = against && m.normals[m.indices[t + k]].dot(n) < 0;
    if (against) std::swap(m.indices[t + 1], m.indices[t + 2]), ++turnedRound;
  }
  return turnedRound;
}

/// The same place, the same number.
std::vector<uint32_t> spotsOf(const Mesh& m, size_t& count) {
  Joiner joiner(m.positions.size());
  std::vector<uint32_t> spot(m.positions.size());
  count = 0;
  for (size_t i = 0; i < spot.size(); ++i) {
    const auto [number, fresh] = joiner.number(&m.positions[i].x, 3);
    spot[i] = number, count += fresh;
  }
  return spot;
}

struct Edge {
  uint64_t ends;  ///< the lower spot first
  uint32_t triangle;
  bool forward;
};

/// Walks each body over its edges so that neighbours agree, then faces closed ones outward. Gives the
/// triangles that were turned; where most of a body was, it is the rest that counts.
uint64_t orient(Mesh& m, const std::vector<uint32_t>& spot) {
  const size_t triangles = m.triangles();
  std::vector<Edge> edges;
  edges.reserve(triangles * 3);
  for (size_t t = 0; t < triangles; ++t)
    for (size_t k = 0; k < 3; ++k) {
      const uint64_t a = spot[m.indices[t * 3 + k]], b = spot[m.indices[t * 3 + (k + 1) % 3]];
      edges.push_back({std::min(a, b) << 32 | std::max(a, b), uint32_t(t), a < b});
    }
  std::sort(edges.begin(), edges.end(), [](const Edge& a, const Edge& b) { return a.ends < b.ends; });
  struct Neighbour {
    uint32_t triangle;
    bool opposed;
  };
  std::vector<std::array<Neighbour, 3>> beside(triangles, {{{~0u, false}, {~0u, false}, {~0u, false}}});
  const auto link = [&](uint32_t from, uint32_t to, bool opposed) {
    for (Neighbour& n : beside[from])
      if (n.triangle == ~0u) return void(n = {to, opposed});
  };
  std::vector<bool> open(triangles, false);
  for (size_t i = 0; i < edges.size();) {
    size_t end = i;
    while (end < edges.size() && edges[end].ends == edges[i].ends) ++end;
    if (end - i == 2) {
      const bool opposed = edges[i].forward == edges[i + 1].forward;
      link(edges[i].triangle, edges[i + 1].triangle, opposed);
      link(edges[i + 1].triangle, edges[i].triangle, opposed);
    } else {
      for (size_t k = i; k < end; ++k) open[edges[k].triangle] = true;
    }
    i = end;
  }
  uint64_t count = 0;
  std::vector<char> seen(triangles, 0), flip(triangles, 0);
  for (size_t start = 0; start < triangles; ++start) {
    if (seen[start]) continue;
    std::vector<uint32_t> body{uint32_t(start)};
    seen[start] = 1;
    bool closed = true;
    for (size_t i = 0; i < body.size(); ++i) {
      closed = closed && !open[body[i]];
      for (const Neighbour& n : beside[body[i]])
        if (n.triangle != ~0u && !seen[n.triangle]) {
          seen[n.triangle] = 1, flip[n.triangle] = flip[body[i]] ^ char(n.opposed);
          body.push_back(n.triangle);
        }
    }
    double volume = 0;
    const Vec3d origin = toDouble(m.positions[m.indices[start * 3]]);
    for (const uint32_t t : body) {
      const auto at = [&](size_t k) { return toDouble(m.positions[m.indices[t * 3 + k]]) - origin; };
      volume += at(0).dot(at(1).cross(at(2))) * (flip[t] ? -1 : 1);
    }
    const auto turnedRound =
        size_t(std::count_if(body.begin(), body.end(), [&](uint32_t t) { return flip[t]; }));
    // An open shell has no outside: the smaller share is turned.
    const bool inverted = closed ? volume < 0 : turnedRound * 2 > body.size();
    for (const uint32_t t : body)
      if (bool(flip[t]) != inverted) std::swap(m.indices[t * 3 + 1], m.indices[t * 3 + 2]), ++count;
  }
  return count;
}

/// One normal per corner from the faces round its spot, then corners that agree share a vertex.
void makeNormals(Mesh& m, const std::vector<uint32_t>& spot, size_t spots, double creaseDegrees) {
  const size_t corners = m.indices.size();
  std::vector<Vec3f> faces(corners / 3);
  for (size_t t = 0; t < faces.size(); ++t) faces[t] = faceNormal(m, t * 3);
  std::vector<uint32_t> first(spots + 1, 0), around(corners);
  for (const uint32_t i : m.indices) ++first[spot[i] + 1];
  std::partial_sum(first.begin(), first.end(), first.begin());
  std::vector<uint32_t> fill(first.begin(), first.end() - 1);
  for (size_t c = 0; c < corners; ++c) around[fill[spot[m.indices[c]]]++] = uint32_t(c / 3);
  const float bend = float(std::cos(radians(creaseDegrees)));
  Mesh made;
  made.positions.reserve(m.positions.size()), made.normals.reserve(m.positions.size());
  made.indices.resize(corners);
  Joiner joiner(corners);
  for (size_t c = 0; c < corners; ++c) {
    const uint32_t vertex = m.indices[c], s = spot[vertex];
    const Vec3f own = faces[c / 3];
    const float ownLength = own.length();
    Vec3f sum(0, 0, 0);
    for (uint32_t k = first[s]; k < first[s + 1]; ++k) {
      const Vec3f& other = faces[around[k]];
      if (own.dot(other) >= bend * ownLength * other.length() * (1 - 1e-6f)) sum += other;
    }
    const Vec3f normal = sum.length2() > 0 ? sum.normalized() : own.normalized();
    const Vec3f& p = m.positions[vertex];
    const Vec2f uv = m.uvs.empty() ? Vec2f(0, 0) : m.uvs[vertex];
    const Vec3f colour = m.colours.empty() ? Vec3f(0) : m.colours[vertex];
    // Sums over the same faces in the same order: equal to the bit.
    const float key[mostOfVertex] = {p.x,  p.y,  p.z,      normal.x, normal.y, normal.z,
                                     uv.x, uv.y, colour.x, colour.y, colour.z};
    const auto [number, fresh] = joiner.number(key, mostOfVertex);
    made.indices[c] = number;
    if (!fresh) continue;
    made.positions.push_back(p), made.normals.push_back(normal);
    if (!m.uvs.empty()) made.uvs.push_back(uv);
    if (!m.colours.empty()) made.colours.push_back(colour);
  }
  m = std::move(made);
}

}  // namespace

Repairs repair(Mesh& mesh, std::optional<double> creaseDegrees) {
  Repairs done;
  const size_t before = mesh.positions.size();
  const bool hadNormals = !mesh.normals.empty();
  if (hadNormals && creaseDegrees) {
    done.degenerate = dropDegenerate(mesh);
    done.flipped = turnToNormals(mesh);
    mesh.normals.clear();
  }
  done.duplicateVertices = joinVertices(mesh);
  done.degenerate += dropDegenerate(mesh);
  dropUnused(mesh);
  if (!mesh.normals.empty()) {
    done.flipped += turnToNormals(mesh);
    for (size_t i = 0; i < mesh.normals.size(); ++i)
      if (!(mesh.normals[i].length2() > 0.25f)) ++done.withoutNormals;
    if (!done.withoutNormals) return done;
    mesh.normals.clear();
  }
  size_t spots = 0;
  const std::vector<uint32_t> spot = spotsOf(mesh, spots);
  if (!hadNormals) done.flipped += orient(mesh, spot), done.withoutNormals = before;
  makeNormals(mesh, spot, spots, creaseDegrees.value_or(creaseWhereNotSaid));
  return done;
}

}  // namespace dusk
