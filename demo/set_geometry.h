#pragma once
#include "core/product/model.h"

/// Shapes that made-up places are built from. Texture coordinate u carries a number per stone or plank, v how
/// near an edge a vertex lies (1 = on the edge), for the materials to vary by.
namespace dusk::demo {

/// Where a block's face lies: x and y along the face, z outwards.
struct Placed {
  Vec3f origin;
  Triadf frame;
  Vec3f point(float x, float y, float z) const { return origin + frame.toWorld({x, y, z}); }
};

struct BlockShape {
  float width, height, depth;  ///< of the face, and how far the sides go back
  float bevel = 0.006f;
  float wobble = 0.0015f;  ///< irregularity of the outline
  int number = 0;
};
/// A hewn block: face with rounded, slightly irregular edges, and its four sides.
void addBlock(Mesh& mesh, const Placed& place, const BlockShape& shape);

/// A body of revolution about the vertical through `foot`; profile of (radius, height) from below.
void addTurned(Mesh& mesh, const Vec3f& foot, const std::vector<Vec2f>& profile, int number);

/// A tube along a line of points.
void addTube(Mesh& mesh, const std::vector<Vec3f>& along, float radius, int number);

/// A flat rectangle, x and y from its corner.
void addSheet(Mesh& mesh, const Vec3f& corner, const Vec3f& x, const Vec3f& y);

}  // namespace dusk::demo
