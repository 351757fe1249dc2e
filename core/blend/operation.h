#pragma once
#include "core/blend/node.h"
#include "core/project/correction_kinds.h"

namespace dusk {

/// What corrections need to know of the picture they are part of.
struct BlendFrame {
  PixelArea whole;            ///< the piece of the picture that there is, in pixels of the picture
  int width = 0, height = 0;  ///< of the picture
  double scale = 1;           ///< pixels of the picture to one of the plate, each way
  PixelArea shown() const { return crop.width() > 0 ? crop : PixelArea{0, 0, width, height}; }
  NodePtr depth;     ///< metres, 1 channel; nullptr where it is not known
  PixelArea crop{};  ///< what is delivered of it, by which layers are anchored; empty: all
};

/// Light in place, row by row: straight (not premultiplied) values.
class PointOperation {
 public:
  virtual ~PointOperation() = default;
  /// `x0`, `y`: where in the picture the row begins.
  virtual void apply(float* r, float* g, float* b, int count, int x0, int y) const = 0;
};

/// A correction at work: exactly one of the two is there; neither where it does nothing.
struct Operation {
  std::shared_ptr<const PointOperation> point;
  /// From what it corrects (3 channels of light, or 4 premultiplied) to the same.
  std::function<NodePtr(const NodePtr&)> area;
};

// One file for each kind. Lengths in their fields are in pixels of the plate.
Operation exposureOperation(const Correction& c);
Operation whiteOperation(const Correction& c);
Operation contrastOperation(const Correction& c);
Operation liftGammaGainOperation(const Correction& c);
Operation curveOperation(const Correction& c);
Operation levelsOperation(const Correction& c);
Operation saturationOperation(const Correction& c);
Operation hueOperation(const Correction& c);
Operation splitOperation(const Correction& c);
Operation blurOperation(const Correction& c, const BlendFrame& frame);
Operation sharpenOperation(const Correction& c, const BlendFrame& frame);
Operation defocusOperation(const Correction& c, const BlendFrame& frame);
Operation glowOperation(const Correction& c, const BlendFrame& frame);
Operation vignetteOperation(const Correction& c, const BlendFrame& frame);
Operation fringesOperation(const Correction& c, const BlendFrame& frame);
Operation edgeOperation(const Correction& c, const BlendFrame& frame);
Operation noiseOperation(const Correction& c, const BlendFrame& frame);

/// Multiplier per channel of a shift by so many mired from daylight (above 0 warmer), and of a tint in
/// percent (above 0 towards magenta) that leaves luminance alone.
Rgb whiteShift(double mired, double tintPercent = 0);

}  // namespace dusk
