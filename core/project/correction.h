#pragma once
#include <map>
#include <string>
#include <vector>

#include "core/project/asset_ref.h"
#include "core/project/mask.h"

namespace dusk {

/// What a correction does. All there is to know of a kind is in the table of correction_kinds.h.
enum class CorrectionKind {
  exposure,
  white,
  contrast,
  liftGammaGain,
  curve,
  levels,
  saturation,
  hue,
  split,
  table,
  blur,
  sharpen,
  defocus,
  glow,
  vignette,
  fringes,
  edge,
  noise
};

/// One step done to a row of the blend.
struct Correction {
  CorrectionKind kind = CorrectionKind::exposure;
  bool on = true;
  double strength = 1;                     ///< 0 leaves what was there, 1 takes all of it
  std::map<std::string, double> values{};  ///< by the fields of its kind; one that is not here is as usual
  std::vector<Vec2d> curve{};              ///< of a tone curve: code values 0..1 in and out, by rising input
  AssetRef file{};                         ///< of a colour table
  std::vector<Mask> masks{};               ///< where it acts; none: everywhere
  bool operator==(const Correction&) const = default;
};

}  // namespace dusk
