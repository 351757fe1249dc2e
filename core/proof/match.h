#pragma once
#include "core/assets/asset_store.h"
#include "core/blend/measure_edges.h"
#include "core/blend/measure_grain.h"
#include "core/blend/measure_vignette.h"
#include "core/proof/balance.h"
#include "core/proof/saturation.h"
#include "core/trace/passes.h"

/// The photograph's own character, measured, and what brings the product to it.
namespace dusk {

/// What a photo is like.
struct PhotoCharacter {
  GrainFound grain;
  std::optional<Softness> softness;  ///< in pixels of the photo
  std::optional<Fringes> fringes;
  std::optional<VignetteFound> vignette;  ///< by the lens's profile, else from the photo
  std::optional<Vec3d> black;             ///< see `blackOf`
  std::optional<Balance> tone;  ///< what the product's light lacks, by the ground's measured over predicted
  std::optional<SaturationFound> saturation;
  std::optional<BlockLook> blocks;  ///< of its compression, where its pixels lie as in the file
};
/// Of a shot's photo; edges near the first placed product count, where there are enough. Errors: it cannot be
/// read; cancelled.
Result<PhotoCharacter> measurePhoto(const Shot& shot, AssetStore& assets, Progress& progress);

/// Light (scene-linear, of each channel) that veils what is black in a photo: what its darkest places have.
/// Nothing where there is no telling: where none is dark, or where they get lighter so soon that they are
/// merely its darkest, and not as dark as air and lens let anything be.
std::optional<Vec3d> blackOf(const Picture& plate);

/// What a render is like by itself, before the blend does anything.
struct RenderCharacter {
  double sigmaPx = 0.29;  ///< of its outline, in pixels of the render: one pixel's own width, unless measured
  Vec3d grain{0, 0, 0};   ///< deviation left in it, code values
  std::optional<Vec3d> black;  ///< its darkest light
};
RenderCharacter measureRender(const Passes& passes);

/// One thing that photo and product are compared by.
enum class MatchKind { grain, softness, halo, fringes, vignette, black, exposure, white, saturation, blocks };
inline constexpr size_t matchKinds = size_t(MatchKind::blocks) + 1;
struct MatchRow {
  MatchKind kind;
  const char* title;
  const char* unit;
  const char* about;
  int decimals;
  std::optional<double> photo;  ///< nothing: the photo does not tell
  double product = 0;           ///< with the blend as it is
  double margin = 0;            ///< one sigma of the photo's value
  double scale = 1;             ///< a gap of so much is plainly seen
  bool atLeast = false;         ///< a product that has more is as good
  double gap() const {
    const double g = photo ? product - *photo : 0;
    return atLeast && g > 0 ? 0 : g;
  }
  /// Whether what is left cannot be seen, or told from the margin.
  bool holds() const { return !photo || std::abs(gap()) <= std::max(2 * margin, 0.15 * scale); }
};
/// All of them, in the order a camera does them.
std::vector<MatchRow> matchRows(const PhotoCharacter& photo, const RenderCharacter& render,
                                const BlendSettings& blend);
/// The blend with that one matched; the same where the photo does not tell, or has none of it.
BlendSettings matched(BlendSettings blend, MatchKind kind, const PhotoCharacter& photo,
                      const RenderCharacter& render);
/// The blend with all of them matched that the photo tells, but for its compression: that is a person's
/// choice, as the picture may be compressed once more when it is delivered.
BlendSettings matchedAll(BlendSettings blend, const PhotoCharacter& photo, const RenderCharacter& render);
/// The blend with that one taken back.
BlendSettings unmatched(BlendSettings blend, MatchKind kind);
/// Whether the blend does anything of the kind.
bool isMatched(const BlendSettings& blend, MatchKind kind);

}  // namespace dusk
