#pragma once
#include <array>

#include "core/product/model.h"
#include "core/project/surface.h"
#include "core/surface/patterns.h"

namespace dusk {

/// What a surface must know of the part it is on. Lengths in millimetres of the real thing, in the frame of
/// the model, from before any move of the part.
struct PartFacts {
  std::string path;
  Similarity mmFromMesh;
  Box boxMm;          ///< of the part
  Vec3f up{0, 0, 1};  ///< of the model
  float footMm = 0;   ///< how high the model's lowest point is along that
  float standsM = 0;  ///< height in the world of what it stands on
  float mmPerUv = 1;  ///< on average over the part; 0: it has no coordinates
  /// As good as random, by the path (Fowler, Noll and Vo, FNV-1a).
  uint32_t number() const {
    uint32_t h = 2166136261u;
    for (const char c : path) h = (h ^ uint8_t(c)) * 16777619u;
    return h;
  }
};

/// What of that is a matter of the model alone, in its own unit: walked once, for all parts.
struct PartShape {
  Box box;
  double perUv = 0;  ///< units per texture coordinate, on average; 0: it has none
};
std::vector<PartShape> shapesOf(const Model& model);
/// Units of a mesh along which its coordinates go by one, on average over it; 0 without coordinates.
double perUvOf(const Mesh& mesh);

/// `whole`: the box of the model.
PartFacts factsOf(const Part& part, const PartShape& shape, const Product& product, const Box& whole,
                  double standsM);

/// A spot on a part in millimetres, and what one look at it stands for.
struct Site {
  Vec3f mm{0, 0, 0}, normal{0, 0, 1};
  Vec3f across{0, 0, 0}, along{0, 0, 0};  ///< the look's two half axes, on the surface
  Vec2f uv{0, 0}, uvAcross{0, 0}, uvAlong{0, 0};
  bool hasUv = false;
  /// The same moved along the surface; `uvBy`: by how much the coordinates change with that.
  Site moved(const Vec3f& by, const Vec2f& uvBy) const {
    Site s = *this;
    s.mm += by, s.uv += uvBy;
    return s;
  }
};

/// A spot in the plane of a picture or pattern: millimetres to the right and up.
struct OnPlane {
  Vec2f mm{0, 0}, across{0, 0}, along{0, 0};
  float weight = 1;
};
struct OnPlanes {
  std::array<OnPlane, 3> list;
  int count = 0;
};

/// Where a mapping brings a spot; `box` may bring it onto up to three planes. For pictures on the mesh's own
/// coordinates with a width of 0, a millimetre is one time across.
OnPlanes onPlanes(const Mapping& mapping, const PartFacts& part, const Site& site);

/// The same for patterns that fill space: the axis is its z.
PatternPoint inSpace(const Mapping& mapping, const PartFacts& part, const Site& site);

}  // namespace dusk
