#pragma once
#include <memory>
#include <vector>

#include "core/surface/made_surface.h"

namespace dusk {

/// What feeds look at: the spot, in the world and on the part.
struct Look {
  const SurfacePoint& point;
  const Site& site;
  const PartFacts& part;
};

/// The feeds of one value, ready to be asked.
class FeedStack {
 public:
  FeedStack() = default;
  /// `colour`: pictures are taken as light.
  FeedStack(const std::vector<Feed>& feeds, bool colour, const FindTexture& find);
  bool empty() const { return rows_.empty(); }
  /// Over `ground`, the value itself.
  Vec3f over(const Vec3f& ground, const Look& look) const;
  /// The same as one number.
  float over(float ground, const Look& look) const { return over(Vec3f(ground), look).x; }
  /// The direction a normal map bends to: x and y along the texture, z out; (0, 0, 1) without one.
  Vec3f bentNormal(const Look& look) const;
  /// Millimetres across the finest thing in it.
  float finestMm() const;

 private:
  struct Row {
    Feed feed;
    Pattern pattern = nullptr;
    float mean = 0.5f;
    std::shared_ptr<const Texture> texture{};
    std::vector<Row> masks{};
  };
  struct Raw {
    Vec3f value{0, 0, 0};
    float cover = 1;
  };
  static std::vector<Row> rowsOf(const std::vector<Feed>& feeds, size_t& next, int indent, bool colour,
                                 const FindTexture& find);
  static Vec3f over(const std::vector<Row>& rows, Vec3f ground, const Look& look);
  static Raw rawOf(const Row& row, const Look& look);
  static Raw pictureAt(const Row& row, const Look& look);
  static float weightOf(const Row& row, const Look& look);

  std::vector<Row> rows_;
};

/// What the shape tells of a spot, 0 to 1, for the kinds of feed that ask it.
float shapeValue(const Feed& feed, const Look& look);

}  // namespace dusk
