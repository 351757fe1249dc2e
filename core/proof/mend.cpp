#include "core/proof/mend.h"

#include "core/proof/checks.h"
#include "core/proof/shadow_look.h"
#include "core/vantage/frames.h"

namespace dusk {
namespace {

Outcome mendMatch(Shot& shot, MatchKind kind, AssetStore& assets, const Passes* passes) {
  if (!passes) return Error{"Nothing is rendered yet: wait for the picture."};
  Progress progress;
  const auto photo = measurePhoto(shot, assets, progress);
  if (!photo) return photo.error();
  shot.blend = matched(shot.blend, kind, *photo, measureRender(*passes));
  return done();
}

Outcome mendFocus(Shot& shot, AssetStore& assets) {
  const auto photo = assets.photo(shot.plate);
  if (!photo) return photo.error();
  const PhotoInfo& info = (*photo)->info;
  const Placement& p = shot.placements.front();
  const Camera& camera = shot.vantage.camera;
  shot.focus.on = true, shot.focus.fNumber = info.fNumber;
  shot.focus.distanceM = (Vec3d(p.xM, p.yM, planeHeightM(shot, p)) - camera.position).dot(camera.axes.z);
  if (info.focalMm35 > 0) shot.focus.sensorWidthMm = 36 * info.focalMm / info.focalMm35;
  return done();
}

Outcome mendPanorama(Shot& shot, AssetStore& assets) {
  Progress progress;
  const auto found = stanceOf(shot, assets, progress);
  if (!found || found->ambiguous)
    return Error{"The panorama cannot be told to stand one way or another: turn it by hand."};
  shot.surroundings.turnDegrees = found->turnDegrees;
  shot.surroundings.mirrored = found->mirrored;
  return done();
}

Outcome mendFrame(Shot& shot, const Finding& finding) {
  PictureFrame* frame = byId(shot.frames, finding.subject);
  if (!frame) return Error{"The frame is gone."};
  const double by = 100 / finding.value;
  frame->widthPx = std::max(1, int(frame->widthPx * by)),
  frame->heightPx = std::max(1, int(frame->heightPx * by));
  return done();
}

Outcome mendPrint(Project& project, const Finding& finding) {
  const size_t slash = finding.subject.find('/');
  Product* product = byId(project.products, finding.subject.substr(0, slash));
  Decal* decal = product ? byId(product->decals, finding.subject.substr(slash + 1)) : nullptr;
  if (!decal) return Error{"The print is gone."};
  decal->mirrored = false;
  return done();
}

struct Words {
  const char *id, *says;
};
constexpr Words words[] = {
    {"line-fit", "It stands at an odd angle."},
    {"focal-length", "It looks stretched, as by another lens."},
    {"shadow-angle", "Its shadow falls another way than all others."},
    {"shadow-length", "Its shadow is longer or shorter than the others."},
    {"shadow-darkness", "Its shadow is blacker or paler than the others."},
    {"shadow-softness", "Its shadow's edge is not as soft as the others'."},
    {"shadow-colour", "Its shadow has another colour than the others."},
    {"contact-gap", "It floats."},
    {"height-reference", "It is too large, or too small, for that place."},
    {"ground-tone", "It is lit too brightly, or too little, for that place."},
    {"edge-softness", "It looks cut out and stuck on."},
    {"resolution", "The picture is not the size we sent."},
    {"in-picture", "Where is it?"},
    {"catcher-cut", "Its shadow ends with an edge."},
    {"border", "There is a grey box round it on our page."},
    {"depth-of-field", "It is sharper than a photo could be."},
    {"lights", "It is black."},
    {"stock-light", "It shines as in a studio, not as in that place."},
    {"panorama-elsewhere", "What it mirrors is another place."},
    {"panorama-mirrored", "What it mirrors is the wrong way round."},
    {"panorama-turned", "What it mirrors is not where it is."},
    {"panorama-range", "The light is flat, without a real sun."},
    {"print-mirrored", "The lettering reads backwards."},
    {"print-sharpness", "The print is blurred."},
    {"texture-sharpness", "The material is blurred."},
    {"texture-stretched", "The material is pulled long."},
    {"texture-repeats", "One sees the same patch again and again."},
    {"faces-fight", "There are flickering spots on it."},
    {"texture-size", "The material looks like a model of itself."},
    {"product-cut", "A piece of it is missing at the border."},
    {"frame-enlarged", "It is soft at the size we need."},
    {"jpeg-worn", "The photo is all little squares."},
    {"panorama-detail", "What it mirrors is a blur of blocks."},
    {"intersecting", "It stands in that thing."},
    {"fireflies", "There are white specks on it."},
    {"grain", "It is too clean beside the photo, or too noisy."},
    {"fringes", "Its edges have other colours than the photo's."},
    {"vignette", "It is too bright for the corner it stands in."},
    {"black", "Its blacks are deeper than any in the photo."},
    {"exposure", "It is brighter or darker than all around it."},
    {"white", "Its white has another tint."},
    {"files-missing", "We cannot open it: files are missing."},
    {"files-changed", "That is not the version we agreed on."},
    {"passes-chosen", "Where is the shadow?"},
    {"passes-missing", "A pass is missing."},
    {"print-cut", "The label is cut off."},
    {"render-noise", "It is grainy on our white page."},
};

/// What of a shadow the light that throws it can put right.
bool isOfShadow(const Finding& f) {
  return f.id == "shadow-darkness" || f.id == "shadow-softness" || f.id == "shadow-colour";
}

}  // namespace

bool canMend(const Finding& f) {
  return !f.ok() &&
         (matchKindOf(f.id) || isOfShadow(f) || f.id == "contact-gap" || f.id == "depth-of-field" ||
          f.id == "panorama-mirrored" || f.id == "panorama-turned" || f.id == "frame-enlarged" ||
          f.id == "print-mirrored" || f.id == "passes-chosen" || f.id == "passes-missing");
}

Outcome mend(Project& project, size_t index, const Finding& f, AssetStore& assets, const Passes* passes) {
  if (index >= project.shots.size()) return Error{"The shot is gone."};
  Shot& shot = project.shots[index];
  if (const auto kind = matchKindOf(f.id)) return mendMatch(shot, *kind, assets, passes);
  if (isOfShadow(f)) return mendShadow(shot, assets);
  if (f.id == "contact-gap") {
    Placement* p = byId(shot.placements, f.subject);
    if (!p) return Error{"It is no longer placed."};
    p->liftM -= f.value / 1000;
    return done();
  }
  if (f.id == "depth-of-field") return mendFocus(shot, assets);
  if (f.id == "panorama-mirrored" || f.id == "panorama-turned") return mendPanorama(shot, assets);
  if (f.id == "frame-enlarged") return mendFrame(shot, f);
  if (f.id == "print-mirrored") return mendPrint(project, f);
  if (f.id == "passes-missing") {
    for (const Deliverable& d : shot.deliverables)
      for (const char* pass : {"occlusion", "clay"})
        if (std::find(d.passes.begin(), d.passes.end(), pass) != d.passes.end())
          shot.render.extraPasses.insert(pass);
    if (shot.render.occlusionM <= 0) shot.render.occlusionM = RenderSettings{}.occlusionM;
    return done();
  }
  if (f.id == "passes-chosen") {
    for (Deliverable& d : shot.deliverables)
      if (!d.passes.empty()) d.passes.push_back("shadow_ratio");
    return done();
  }
  return Error{"This is for you to decide. " + f.remedy};
}

std::string clientWords(const Finding& f) {
  if (f.ok()) return {};
  for (const Words& w : words)
    if (f.id == w.id) return w.says;
  return {};
}

}  // namespace dusk
