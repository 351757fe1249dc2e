#include "core/proof/mend.h"

#include "core/base/words.h"
#include "core/proof/checks.h"
#include "core/proof/find_shadow.h"
#include "core/proof/shadow_look.h"
#include "core/vantage/frames.h"

namespace dusk {
namespace {

Outcome mendMatch(Shot& shot, MatchKind kind, AssetStore& assets, const Passes* passes) {
  if (!passes) return Error{words("Nothing is rendered yet: wait for the picture.")};
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
    return Error{words("The panorama cannot be told to stand one way or another: turn it by hand.")};
  Surroundings& s = shot.surroundings;
  s.turnDegrees = found->turnDegrees, s.mirrored = found->mirrored;
  s.tiltDegrees = found->tiltDegrees, s.rollDegrees = found->rollDegrees;
  return done();
}

Outcome mendFrame(Shot& shot, const Finding& finding) {
  PictureFrame* frame = byId(shot.frames, finding.subject);
  if (!frame) return Error{words("The frame is gone.")};
  const double by = 100 / finding.value;
  frame->widthPx = std::max(1, int(frame->widthPx * by)),
  frame->heightPx = std::max(1, int(frame->heightPx * by));
  return done();
}

Outcome mendPrint(Project& project, const Finding& finding) {
  const size_t slash = finding.subject.find('/');
  Product* product = byId(project.products, finding.subject.substr(0, slash));
  Decal* decal = product ? byId(product->decals, finding.subject.substr(slash + 1)) : nullptr;
  if (!decal) return Error{words("The print is gone.")};
  decal->mirrored = false;
  return done();
}

struct Saying {
  const char *id, *says;
};
constexpr Saying sayings[] = {
    {"line-fit", marked("It stands at an odd angle.")},
    {"focal-length", marked("It looks stretched, as by another lens.")},
    {"shadow-angle", marked("Its shadow falls another way than all others.")},
    {"shadow-length", marked("Its shadow is longer or shorter than the others.")},
    {"shadow-darkness", marked("Its shadow is blacker or paler than the others.")},
    {"shadow-softness", marked("Its shadow's edge is not as soft as the others'.")},
    {"shadow-colour", marked("Its shadow has another colour than the others.")},
    {"contact-gap", marked("It floats.")},
    {"height-reference", marked("It is too large, or too small, for that place.")},
    {"ground-tone", marked("It is lit too brightly, or too little, for that place.")},
    {"edge-softness", marked("It looks cut out and stuck on.")},
    {"resolution", marked("The picture is not the size we sent.")},
    {"in-picture", marked("Where is it?")},
    {"catcher-cut", marked("Its shadow ends with an edge.")},
    {"border", marked("There is a grey box round it on our page.")},
    {"depth-of-field", marked("It is sharper than a photo could be.")},
    {"lights", marked("It has no light and shade.")},
    {"stock-light", marked("It shines as in a studio, not as in that place.")},
    {"panorama-elsewhere", marked("What it mirrors is another place.")},
    {"panorama-mirrored", marked("What it mirrors is the wrong way round.")},
    {"panorama-turned", marked("What it mirrors is not where it is.")},
    {"panorama-leans", marked("What it mirrors is aslant.")},
    {"panorama-range", marked("The light is flat, without a real sun.")},
    {"print-mirrored", marked("The lettering reads backwards.")},
    {"print-sharpness", marked("The print is blurred.")},
    {"texture-sharpness", marked("The material is blurred.")},
    {"texture-stretched", marked("The material is pulled long.")},
    {"texture-repeats", marked("One sees the same patch again and again.")},
    {"faces-fight", marked("There are flickering spots on it.")},
    {"texture-size", marked("The material looks like a model of itself.")},
    {"product-cut", marked("A piece of it is missing at the border.")},
    {"frame-enlarged", marked("It is soft at the size we need.")},
    {"jpeg-worn", marked("The photo is all little squares.")},
    {"photo-enlarged", marked("The photo is soft, as if blown up.")},
    {"panorama-detail", marked("What it mirrors is a blur of blocks.")},
    {"intersecting", marked("It stands in that thing.")},
    {"fireflies", marked("There are white specks on it.")},
    {"grain", marked("It is too clean beside the photo, or too noisy.")},
    {"fringes", marked("Its edges have other colours than the photo's.")},
    {"vignette", marked("It is too bright for the corner it stands in.")},
    {"black", marked("Its blacks are deeper than any in the photo.")},
    {"exposure", marked("It is brighter or darker than all around it.")},
    {"white", marked("Its white has another tint.")},
    {"blocks", marked("It looks cleaner than the worn photo, or more worn.")},
    {"tones-lost", marked("One sees no shapes on it any more.")},
    {"saturation", marked("Its colours are stronger or paler than all others there.")},
    {"files-missing", marked("We cannot open it: files are missing.")},
    {"files-changed", marked("That is not the version we agreed on.")},
    {"passes-chosen", marked("Where is the shadow?")},
    {"passes-missing", marked("A pass is missing.")},
    {"print-cut", marked("The label is cut off.")},
    {"render-noise", marked("It is grainy on our white page.")},
};

/// What of a shadow the light that throws it can put right.
bool isOfShadow(const Finding& f) {
  return f.id == "shadow-darkness" || f.id == "shadow-softness" || f.id == "shadow-colour";
}

/// What aligning the panorama puts right.
bool isOfPanorama(const Finding& f) {
  return f.id == "panorama-mirrored" || f.id == "panorama-turned" || f.id == "panorama-leans";
}

}  // namespace

bool canMend(const Finding& f) {
  return !f.ok() && (matchKindOf(f.id) || isOfShadow(f) || f.id == "contact-gap" ||
                     f.id == "depth-of-field" || isOfPanorama(f) || f.id == "frame-enlarged" ||
                     f.id == "print-mirrored" || f.id == "passes-chosen" || f.id == "passes-missing");
}

Outcome mend(Project& project, size_t index, const Finding& f, AssetStore& assets, const Passes* passes) {
  if (index >= project.shots.size()) return Error{words("The shot is gone.")};
  Shot& shot = project.shots[index];
  if (const auto kind = matchKindOf(f.id)) return mendMatch(shot, *kind, assets, passes);
  if (isOfShadow(f)) {
    if (!shot.gnomon) {
      const auto found = findGnomon(shot, assets);
      if (!found) return found.error();
      shot.gnomon = *found;
    }
    return mendShadow(shot, assets);
  }
  if (f.id == "contact-gap") {
    Placement* p = byId(shot.placements, f.subject);
    if (!p) return Error{words("It is no longer placed.")};
    p->liftM -= f.value / 1000;
    return done();
  }
  if (f.id == "depth-of-field") return mendFocus(shot, assets);
  if (isOfPanorama(f)) return mendPanorama(shot, assets);
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
  return Error{words("This is for you to decide. ") + f.remedy};
}

std::string clientWords(const Finding& f) {
  if (f.ok()) return {};
  for (const Saying& s : sayings)
    if (f.id == s.id) return words(s.says);
  return {};
}

}  // namespace dusk
