#pragma once
#include <array>
#include <map>
#include <string>

#include "core/base/maths.h"
#include "core/project/correction.h"
#include "core/project/cut_out.h"

namespace dusk {

/// How one light is mixed in after rendering.
struct LightMix {
  double ev = 0;     ///< times brighter, as a power of two
  double mired = 0;  ///< shift of its colour along the Planckian locus; above 0 warmer
  bool operator==(const LightMix&) const = default;
};

/// The rows of the blend, from the far end of the light's way to the eye.
enum class BlendRole { plate, contact, reflections, product, glow, front, lens, grain, view };

/// What is done to a row.
struct BlendRow {
  bool on = true;
  double strength = 1;
  std::vector<Correction> corrections{};  ///< in the order they act
  std::vector<Mask> masks{};              ///< where the row shows; none: everywhere
  bool operator==(const BlendRow&) const = default;
};

/// What an extra layer shows.
enum class LayerKind { picture, colour, gradient };

/// How a layer joins what is below it: the blend modes of the OpenRaster layer stack, which takes those of
/// the W3C's "Compositing and Blending Level 1".
enum class LayerMode {
  normal,
  multiply,
  screen,
  overlay,
  darken,
  lighten,
  colourDodge,
  colourBurn,
  hardLight,
  softLight,
  difference,
  plus
};

/// Where a picture is anchored in the frame; `fill` covers all of it.
enum class LayerAnchor { fill, topLeft, top, topRight, left, middle, right, bottomLeft, bottom, bottomRight };

/// A picture, colour or gradient anywhere in the order.
struct ExtraLayer {
  std::string id, name;
  LayerKind kind = LayerKind::picture;
  BlendRole above = BlendRole::view;  ///< the role it lies on; on one role, a later one lies higher
  LayerMode mode = LayerMode::normal;
  AssetRef file{};
  int page = 1;                ///< of a PDF
  Vec3d colour{1, 1, 1};       ///< scene-linear; of a gradient at its first point
  Vec3d end{0, 0, 0};          ///< of a gradient at its second point
  Vec2d from{0, 0}, to{0, 1};  ///< of a gradient, in shares of the frame
  LayerAnchor anchor = LayerAnchor::fill;
  double size = 0.2;     ///< width of a picture that is anchored, in shares of the frame's
  double margin = 0.04;  ///< from the frame's edges, in shares of its shorter side
  BlendRow row{};
  bool operator==(const ExtraLayer&) const = default;
};

/// What the photo's lens and camera did, to be done to the product, too. All zero: nothing.
struct LensLook {
  Vec3d softPx{0, 0, 0};    ///< sigma of the blur per channel, pixels of the plate
  double halo = 0;          ///< share of the sharpening's over- and undershoot
  double haloPx = 1.5;      ///< its reach, sigma in pixels of the plate
  Vec2d fringe{0, 0};       ///< by how much red and blue are drawn larger than green, in thousandths
  Vec3d vignette{0, 0, 0};  ///< 1 + v0 r^2 + v1 r^4 + v2 r^6 with r = 1 at the corner
  bool operator==(const LensLook&) const = default;
};

/// The photo's grain: noise of the given deviation at each brightness, with the given neighbourhood.
struct GrainLook {
  static constexpr int reach = 4, lags = (2 * reach + 1) * (2 * reach + 1);
  /// Deviation of R, G, B in 8-bit code values at code values evenly spread from 0 to 255. Empty: none.
  std::vector<Vec3d> sigma{};
  /// Correlation with the neighbour (x, y) pixels away, rows from y = -reach; the middle one is 1. Empty:
  /// white noise.
  std::vector<double> correlation{};
  /// Correlation of the channels: R with G, R with B, G with B.
  Vec3d channels{0, 0, 0};
  int seed = 1;
  bool operator==(const GrainLook&) const = default;
};

/// The blocks in which the photo was compressed (JPEG, ITU-T T.81): the steps to which the 64 frequencies of
/// each block of 8 x 8 pixels were rounded, rows from the top, in code values. Empty: none.
struct BlockLook {
  std::vector<int> brightness{}, colour{};
  std::array<int, 2> colourStep{1, 1};  ///< pixels across and down to one value of colour: 1 or 2
  bool operator==(const BlockLook&) const = default;
};

/// A picture laid over for comparison only; never delivered.
struct BlendReference {
  AssetRef file{};
  double opacity = 0.5;
  bool difference = false;
  Vec2d shift{0, 0};  ///< shares of the frame
  double scale = 1;
  bool operator==(const BlendReference&) const = default;
};

/// An OpenColorIO configuration of one's own in place of ours; what is empty is as that says.
struct ViewConfig {
  AssetRef file{};
  std::string display, look;  ///< as it names them
  std::string linear;         ///< its space that scene-linear Rec.709 is in
  bool operator==(const ViewConfig&) const = default;
};

/// How product and photo become one picture, and the view all is shown and delivered in.
struct BlendSettings {
  BlendSettings();
  BlendSettings(const BlendSettings&);
  BlendSettings(BlendSettings&&) noexcept;
  BlendSettings& operator=(const BlendSettings&);
  BlendSettings& operator=(BlendSettings&&) noexcept;
  ~BlendSettings();
  double exposureEv = 0;
  double warmth =
      0;  ///< -1 (bluer) to +1 (warmer): shift of the white along the Planckian locus, in 100 mired
  double shadowStrength = 1;  ///< of the catcher; 1 as traced
  Vec3d shadowTint{0, 0, 0};  ///< light put back into the shadow, per channel; 0 as traced
  double reflectionStrength = 1;
  std::map<std::string, LightMix> mix{};  ///< by light group, after rendering
  std::string view = "plain sRGB";  ///< one of ours, or of `config`'s where there is one (empty: its usual)
  ViewConfig config{};
  Vec3d white{1, 1, 1};  ///< times the product, per channel, as balanced against a patch of the photo
  Vec3d veil{0, 0, 0};   ///< light of the air and the lens over the product: its black becomes this
  std::map<std::string, BlendRow> rows{};  ///< by the names of roles, and "light:" with a group's name; those
                                           ///< that are not here do nothing
  LensLook lens{};
  GrainLook grain{};
  BlockLook blocks{};
  std::vector<ExtraLayer> layers{};
  std::vector<CutOut> cutOuts{};
  BlendReference reference{};
  bool operator==(const BlendSettings&) const;
};

/// A state of the blend that was put aside under a name.
struct BlendSnapshot {
  std::string id, name;
  BlendSettings blend;
  bool operator==(const BlendSnapshot&) const = default;
};

}  // namespace dusk
