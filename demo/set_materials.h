#pragma once
#include <memory>

#include "core/trace/scene.h"

/// What made-up places are made of. All vary with the place in the world, so that no stone repeats.
namespace dusk::demo {

/// A material from a function of the point.
template <typename F>
class Made : public Material {
 public:
  explicit Made(F f) : f_(std::move(f)) {}
  void at(const SurfacePoint& point, BsdfParameters& out, Vec3f& normal) const override {
    f_(point, out, normal);
  }

 private:
  F f_;
};
template <typename F>
std::shared_ptr<const Material> made(F f) {
  return std::make_shared<Made<F>>(std::move(f));
}

inline Rgb mix(const Rgb& a, const Rgb& b, float t) { return a + (b - a) * std::clamp(t, 0.0f, 1.0f); }

std::shared_ptr<const Material> pavingStone();
std::shared_ptr<const Material> wallStone();
std::shared_ptr<const Material> jointSand();
std::shared_ptr<const Material> limeMortar();
std::shared_ptr<const Material> castIron();
std::shared_ptr<const Material> crateWood();
std::shared_ptr<const Material> hempRope();
std::shared_ptr<const Material> harbourWater();
std::shared_ptr<const Material> wetConcrete();
std::shared_ptr<const Material> benchWood();
std::shared_ptr<const Material> limeWash();
/// A printed sea chart, texture coordinates 0 to 1 over the sheet.
std::shared_ptr<const Material> chartPaper();

}  // namespace dusk::demo
