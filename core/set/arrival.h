#pragma once
#include <functional>

#include "core/project/project.h"

/// Where a product stands when it comes into a shot.
namespace dusk {

/// A product's true size, metres; nothing where its model is not at hand.
using SizeOf = std::function<std::optional<Vec3d>(const Product&)>;

/// Where on the ground of a shot something of that true size is first put, beside what stands there. Nothing
/// without a camera, or where that sees no ground.
std::optional<Vec2d> spotBeside(const Project& project, const Shot& shot, const Vec3d& sizeM,
                                const SizeOf& sizeOf);

/// Stands what comes into a shot where a set wants its product, which the set suits when it is the first;
/// before an empty backdrop the camera goes to it; else where it is seen well beside what stands on the
/// ground.
void arrive(Project& project, size_t shot, Placement& placement, const Vec3d& sizeM, const SizeOf& sizeOf);

/// The product of a placement has another true size, because its file is read in another unit: what is as it
/// was when it came is as it would be now - its spot, the camera that went to it, the set that suited it.
void arriveAgain(Project& project, size_t shot, const std::string& placement, const Vec3d& wasM,
                 const Vec3d& sizeM, const SizeOf& sizeOf);

}  // namespace dusk
