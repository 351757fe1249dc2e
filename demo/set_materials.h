#pragma once
#include <memory>

#include "core/trace/scene.h"

/// What made-up places are made of. All vary with the place in the world, so that no stone repeats.
namespace dusk::demo {

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
