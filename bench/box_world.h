#pragma once
#include <functional>
#include <random>
#include <vector>

#include "core/picture/picture.h"
#include "core/vantage/camera.h"

namespace dusk::bench {

/// A made-up place of painted boxes under a sky or in a room: quick to photograph, with things as near as
/// they are in real places.
class BoxWorld {
 public:
  enum class Kind { interior, street, table };
  BoxWorld(Kind kind, unsigned seed);

  Rgb radiance(const Vec3f& origin, const Vec3f& direction) const;
  Picture photo(const Camera& camera) const;
  /// Equirectangular, taken from `from`; `toWorld` turns its own directions into the world's.
  Picture panorama(const Vec3f& from, int width, const std::function<Vec3f(const Vec3f&)>& toWorld) const;
  /// The sun stands elsewhere an hour later.
  void moveSun(float degrees);
  /// Whether a point is inside something.
  bool isTaken(const Vec3f& point) const;

 private:
  struct Box {
    Vec3f low, high;  ///< in the place's own axes
    Rgb colour;
    int paint;  ///< 0 noise, 1 windows, 2 planks, 3 tiles, 4 a lit window
    unsigned seed;
  };
  struct Meeting {
    float distance = 1e30f;
    const Box* box = nullptr;
    Vec3f normal{0, 0, 1};
  };
  Meeting closest(const Vec3f& origin, const Vec3f& direction) const;
  Rgb paintAt(const Box& box, const Vec3f& point, const Vec3f& normal) const;
  Rgb sky(const Vec3f& direction) const;
  void addRoom(std::mt19937& random, float halfX, float halfY, float floor, float ceiling);
  void addClutter(std::mt19937& random, int count, float reach, float floor, float least, float most);

  Kind kind_;
  float turn_;  ///< of the place against the world's axes, radians
  Vec3f sun_;
  std::vector<Box> boxes_;
};

}  // namespace dusk::bench
