#include "core/blend/blur.h"

#include "core/blend/operation.h"

namespace dusk {

Operation blurOperation(const Correction& c, const BlendFrame& frame) {
  const double sigma = valueOf(c, "px") * frame.scale;
  if (sigma <= 0.02) return {};
  return {nullptr, [sigma](const NodePtr& in) { return blurred(in, sigma); }};
}

Operation sharpenOperation(const Correction& c, const BlendFrame& frame) {
  const double sigma = valueOf(c, "px") * frame.scale;
  const float amount = float(valueOf(c, "amount") / 100);
  if (sigma <= 0.02 || amount == 0) return {};
  return {nullptr, [sigma, amount](const NodePtr& in) { return unsharp(in, sigma, amount); }};
}

}  // namespace dusk
