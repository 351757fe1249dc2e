#pragma once
#include "core/product/model.h"
#include "core/surface/texture.h"

namespace dusk {

/// A picture that came within a model file, which is in memory with it. Its alpha is a matter of shape, and
/// does not count here. The model is held as long as the texture.
std::shared_ptr<const Texture> memoryTexture(std::shared_ptr<const Model> model, int texture, bool colour);

}  // namespace dusk
