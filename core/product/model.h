#pragma once
#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "core/base/maths.h"
#include "core/project/project.h"

namespace dusk {

/// Triangles in the file's own unit. One normal per vertex (unit length); texture coordinates empty or one
/// per vertex.
struct Mesh {
  std::vector<Vec3f> positions, normals;
  std::vector<Vec2f> uvs;
  std::vector<uint32_t> indices;  ///< three per triangle, counter-clockwise from outside
  size_t triangles() const { return indices.size() / 3; }
};

struct Box {
  Vec3d low{1e300, 1e300, 1e300}, high{-1e300, -1e300, -1e300};
  bool empty() const { return low.x > high.x; }
  Vec3d size() const { return empty() ? Vec3d(0, 0, 0) : high - low; }
  Vec3d middle() const { return empty() ? Vec3d(0, 0, 0) : (low + high) * 0.5; }
  void add(const Vec3d& p) {
    for (int i = 0; i < 3; ++i) low[i] = std::min(low[i], p[i]), high[i] = std::max(high[i], p[i]);
  }
};

/// One thing with a shape in the assembly. `path` names it uniquely: "Gauge/Housing/Lid"; repeated names get
/// " 2", " 3".
struct Part {
  std::string path, name;
  int parent = -1;  ///< index into Model::groups
  Mesh mesh;        ///< placed: in the model's frame
  bool hasColour = false;
  Vec3f colour{0.6f, 0.6f, 0.6f};  ///< scene-linear Rec.709, as the file says
};

/// An assembly node that holds parts or other groups.
struct Group {
  std::string path, name;
  int parent = -1;
};

/// What decides how a model rests: the corners of its convex hull and its centre of mass, in the model's
/// frame.
struct Rest {
  std::vector<Vec3f> hull;
  Vec3f centreOfMass{0, 0, 0};
};

/// A product model as read from its file. Immutable once made.
struct Model {
  std::vector<Group> groups;
  std::vector<Part> parts;
  double metresPerUnit = 0.001;
  std::string unitReason;  ///< "STEP says millimetre"
  UpAxis up = UpAxis::z;
  Rest rest;

  size_t triangles() const {
    size_t n = 0;
    for (const Part& p : parts) n += p.mesh.triangles();
    return n;
  }
  Box box() const {
    Box b;
    for (const Vec3f& v : rest.hull) b.add(toDouble(v));
    if (!b.empty()) return b;
    for (const Part& p : parts)
      for (const Vec3f& v : p.mesh.positions) b.add(toDouble(v));
    return b;
  }
};

/// World from model for a placement: unit and up-axis applied, middle of the box over (x, y), its lowest
/// point at the ground plus the lift.
Similarity worldFromModel(const Product& product, const Placement& placement, const Model& model);

/// True size in metres along world X, Y, Z before any turn.
Vec3d trueSize(const Product& product, const Box& box);

}  // namespace dusk
