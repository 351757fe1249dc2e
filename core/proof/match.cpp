#include "core/proof/match.h"

#include "core/base/srgb.h"
#include "core/base/words.h"
#include "core/blend/blocks.h"
#include "core/blend/grain.h"
#include "core/project/blend_edit.h"

namespace dusk {
namespace {

double mean(const Vec3d& v) { return (v.x + v.y + v.z) / 3; }
double codes(double light) { return 255 * srgbEncoded(std::max(light, 0.0)); }

double corner(const Vec3d& v) { return 1 + v.x + v.y + v.z; }

/// Of the whole product, as it is matched; one with masks is a person's own.
bool isSaturation(const Correction& c) { return c.kind == CorrectionKind::saturation && c.masks.empty(); }
double saturationOf(const BlendSettings& blend) {
  double all = 1;
  for (const Correction& c : rowOf(blend, BlendRole::product).corrections)
    if (isSaturation(c) && c.on) all *= 1 + (valueOf(c, "amount") - 1) * c.strength;
  return all;
}

MatchRow row(MatchKind kind) {
  switch (kind) {
    case MatchKind::softness:
      return {kind, words("Softness"),
              "px", words("Sigma of an edge's blur, green, in pixels of the photo"),
              2,    {},
              0,    0,
              0.5};
    case MatchKind::halo:
      return {kind, words("Sharpening halo"), "%", words("Over- and undershoot beside edges"), 0, {}, 0, 0,
              40};
    case MatchKind::fringes:
      return {kind, words("Fringes"), "px", words("Red against blue at the corner"), 2, {}, 0, 0, 1};
    case MatchKind::vignette:
      return {kind, words("Vignette"),
              "%",  words("Light lost at the corner, by the lens's profile or the photo's own even places"),
              0,    {},
              0,    0,
              20};
    case MatchKind::black:
      return {
          kind, words("Black"), "codes", words("Where it is darkest: haze and flare lift it"), 1, {}, 0, 0,
          12};
    case MatchKind::exposure:
      return {
          kind, words("Exposure"), "EV", words("The ground's light, measured over predicted"), 2, {}, 0, 0,
          0.5};
    case MatchKind::white:
      return {kind, words("White"), "%", words("Red over blue of that light"), 0, {}, 0, 0, 15};
    case MatchKind::saturation:
      return {kind, words("Saturation"),
              "%",  words("Strength of colours, of the photo over the panorama's light"),
              0,    {},
              100,  0,
              20};
    case MatchKind::blocks:
      return {kind,    words("JPEG blocks"),
              "codes", words("Mean step to which the photo's compression rounded its slow changes"),
              1,       {},
              0,       0,
              12};
    case MatchKind::grain:
      break;
  }
  return {kind, words("Grain"), "codes", words("Deviation of the noise at middle grey, green"), 2, {}, 0, 0,
          2};
}

}  // namespace

std::vector<MatchRow> matchRows(const PhotoCharacter& photo, const RenderCharacter& render,
                                const BlendSettings& blend) {
  std::vector<MatchRow> rows;
  const BlendRow &lens = rowOf(blend, BlendRole::lens), &grain = rowOf(blend, BlendRole::grain);
  const double lensShare = lens.on ? lens.strength : 0, grainShare = grain.on ? grain.strength : 0;
  MatchRow r = row(MatchKind::exposure);
  if (photo.tone) r.photo = photo.tone->ev, r.margin = 0.05;
  r.product = blend.exposureEv, rows.push_back(r);
  r = row(MatchKind::white);
  if (photo.tone) r.photo = 100 * (photo.tone->white.x / photo.tone->white.z - 1), r.margin = 2;
  r.product = 100 * (blend.white.x / std::max(blend.white.z, 1e-9) - 1), rows.push_back(r);
  r = row(MatchKind::saturation);
  if (photo.saturation) r.photo = 100 * photo.saturation->ratio, r.margin = 100 * photo.saturation->margin;
  r.product = 100 * saturationOf(blend), rows.push_back(r);
  r = row(MatchKind::black);
  const double own = render.black ? mean(*render.black) : 0;
  if (photo.black) r.photo = codes(mean(*photo.black)), r.margin = 1;
  r.product = codes(own * (1 - mean(blend.veil)) + mean(blend.veil));
  r.atLeast = true;  // a product need have nothing dark
  rows.push_back(r);
  r = row(MatchKind::vignette);
  if (photo.vignette) r.photo = 100 * photo.vignette->loss, r.margin = 100 * photo.vignette->margin;
  r.product = 100 * (1 - corner(blend.lens.vignette * lensShare)), rows.push_back(r);
  r = row(MatchKind::fringes);
  // In pixels at the corner of a picture of 1000 to the corner: thousandths are that.
  if (photo.fringes)
    r.photo = photo.fringes->scale.x - photo.fringes->scale.y, r.margin = photo.fringes->margin.length();
  r.product = (blend.lens.fringe.x - blend.lens.fringe.y) * lensShare, rows.push_back(r);
  r = row(MatchKind::softness);
  if (photo.softness) r.photo = photo.softness->sigma[1], r.margin = photo.softness->margin * *r.photo;
  const double blur = blend.lens.softPx.y * std::sqrt(lensShare);
  r.product = blur > 0.02 ? std::max(render.sigmaPx, softnessAfter(blur)) : render.sigmaPx, rows.push_back(r);
  r = row(MatchKind::halo);
  if (photo.softness) r.photo = 100 * photo.softness->halo, r.margin = 4;
  r.product = 100 * blend.lens.halo * lensShare, rows.push_back(r);
  r = row(MatchKind::grain);
  if (photo.grain.patches > 0)
    r.photo = greyGrain(photo.grain.look).y, r.margin = photo.grain.margin * *r.photo;
  r.product = std::hypot(render.grain.y, greyGrain(blend.grain).y * grainShare), rows.push_back(r);
  r = row(MatchKind::blocks);
  if (photo.blocks) r.photo = coarsenessOf(*photo.blocks);
  r.product = coarsenessOf(blend.blocks) * grainShare, rows.push_back(r);
  return rows;
}

BlendSettings matched(BlendSettings blend, MatchKind kind, const PhotoCharacter& photo,
                      const RenderCharacter& render) {
  const auto show = [&](BlendRole role) {
    BlendRow& r = blend.rows[infoOf(role).name];
    r.on = true, r.strength = 1;
    if (r == BlendRow{}) blend.rows.erase(infoOf(role).name);
  };
  switch (kind) {
    case MatchKind::grain:
      if (photo.grain.look.sigma.empty()) return unmatched(blend, kind);
      blend.grain = photo.grain.look;
      // The render's own noise is there already.
      for (Vec3d& s : blend.grain.sigma)
        for (int c = 0; c < 3; ++c)
          s[c] = std::sqrt(std::max(0.0, s[c] * s[c] - render.grain[c] * render.grain[c]));
      show(BlendRole::grain);
      break;
    case MatchKind::blocks:
      if (photo.blocks) blend.blocks = *photo.blocks, show(BlendRole::grain);
      break;
    case MatchKind::softness:
      if (!photo.softness) break;
      for (int c = 0; c < 3; ++c)
        blend.lens.softPx[c] = blurFor(photo.softness->sigma[size_t(c)], render.sigmaPx);
      show(BlendRole::lens);
      break;
    case MatchKind::halo:
      if (!photo.softness) break;
      blend.lens.halo = photo.softness->halo, blend.lens.haloPx = photo.softness->haloPx;
      show(BlendRole::lens);
      break;
    case MatchKind::fringes:
      if (!photo.fringes) break;
      // What the margin does not tell from nothing is nothing.
      for (int c = 0; c < 2; ++c)
        blend.lens.fringe[c] =
            std::abs(photo.fringes->scale[c]) > 2 * photo.fringes->margin[c] ? photo.fringes->scale[c] : 0;
      show(BlendRole::lens);
      break;
    case MatchKind::vignette:
      if (photo.vignette) blend.lens.vignette = photo.vignette->look, show(BlendRole::lens);
      break;
    case MatchKind::black:
      if (photo.black)
        for (int c = 0; c < 3; ++c) {
          const double own = render.black ? (*render.black)[c] : 0;
          blend.veil[c] = std::clamp(((*photo.black)[c] - own) / std::max(1e-6, 1 - own), 0.0, 0.2);
        }
      break;
    case MatchKind::exposure:
      if (photo.tone) blend.exposureEv = photo.tone->ev;
      break;
    case MatchKind::white:
      if (photo.tone) blend.white = photo.tone->white, blend.warmth = 0;
      break;
    case MatchKind::saturation:
      if (!photo.saturation) break;
      blend = unmatched(std::move(blend), kind);
      // What the margin does not tell from nothing is nothing.
      if (std::abs(photo.saturation->ratio - 1) > 2 * photo.saturation->margin) {
        Correction c;
        c.kind = CorrectionKind::saturation, c.values["amount"] = photo.saturation->ratio;
        auto& all = blend.rows[infoOf(BlendRole::product).name].corrections;
        all.insert(all.begin(), c);
      }
      break;
  }
  return blend;
}

BlendSettings matchedAll(BlendSettings blend, const PhotoCharacter& photo, const RenderCharacter& render) {
  for (const MatchRow& row : matchRows(photo, render, blend))
    if (row.photo && row.kind != MatchKind::blocks) blend = matched(blend, row.kind, photo, render);
  dropIdleRows(blend);
  return blend;
}

BlendSettings unmatched(BlendSettings blend, MatchKind kind) {
  const LensLook none;
  switch (kind) {
    case MatchKind::grain:
      blend.grain = {};
      break;
    case MatchKind::blocks:
      blend.blocks = {};
      break;
    case MatchKind::softness:
      blend.lens.softPx = none.softPx;
      break;
    case MatchKind::halo:
      blend.lens.halo = none.halo, blend.lens.haloPx = none.haloPx;
      break;
    case MatchKind::fringes:
      blend.lens.fringe = none.fringe;
      break;
    case MatchKind::vignette:
      blend.lens.vignette = none.vignette;
      break;
    case MatchKind::black:
      blend.veil = Vec3d(0);
      break;
    case MatchKind::exposure:
      blend.exposureEv = 0;
      break;
    case MatchKind::white:
      blend.white = Vec3d(1);
      break;
    case MatchKind::saturation:
      if (const auto found = blend.rows.find(infoOf(BlendRole::product).name); found != blend.rows.end()) {
        auto& all = found->second.corrections;
        std::erase_if(all, [](const Correction& c) { return isSaturation(c); });
        if (found->second == BlendRow{}) blend.rows.erase(found);
      }
      break;
  }
  return blend;
}

bool isMatched(const BlendSettings& blend, MatchKind kind) { return unmatched(blend, kind) != blend; }

}  // namespace dusk
