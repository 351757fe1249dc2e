#include "core/project/sound.h"

#include <array>
#include <cmath>
#include <filesystem>
#include <set>

#include "core/project/check.h"
#include "core/project/deliverable_kinds.h"

namespace dusk {
namespace {

constexpr double day = 86'400;  // seconds

void look(Check& c, const Evidence& e) {
  c.of("the evidence");
  for (const Stroke& s : e.strokes)
    for (const auto* points : {&s.points, &s.drawn})
      for (const Vec2d& p : *points) c.in("stroke's point", p, -farPx, farPx);
  if (e.footprint) {
    for (const Vec2d& p : e.footprint->corners) c.in("footprint's corner", p, -farPx, farPx);
    if (e.footprint->sizeM) c.in("footprint's side", *e.footprint->sizeM, tiny, far);
    c.in("footprint's ratio", e.footprint->ratio, 1e-6, 1e6);
    c.in("footprint's height", e.footprint->heightM, -far, far);
  }
  for (const Pin& p : e.pins) c.in("pin", p.at, -farPx, farPx), c.in("pin's place", p.worldM, -far, far);
  for (const KnownLength& l : e.lengths) {
    c.in("length's end", l.from, -farPx, farPx), c.in("length's end", l.to, -farPx, farPx);
    c.in("length", l.metres, tiny, far);
  }
  for (const Vec2d& p : e.levelLine) c.in("point of the horizon", p, -farPx, farPx);
  c.in("focal length", e.focalMm35, 0.1, 100'000);
  c.in("camera height", e.heightM, tiny, far);
  if (e.lens) {
    c.in("lens k1", e.lens->k1, -100, 100), c.in("lens k2", e.lens->k2, -100, 100);
    for (const double v : e.lens->vignetting) c.in("lens's vignetting", v, -1000, 1000);
    for (const double scale : {e.lens->redScale, e.lens->blueScale}) c.in("lens's fringe", scale, 0.1, 10);
  }
  if (e.origin) c.in("origin", *e.origin, -farPx, farPx);
  c.in("number of quarter turns", e.quarterTurns, -1000, 1000);
}

void look(Check& c, const Vantage& v) {
  const Camera& camera = v.camera;
  c.in("width", camera.width, 0, 1'000'000), c.in("height", camera.height, 0, 1'000'000);
  c.in("camera place", camera.position, -far, far);
  for (const Vec3d& axis : {camera.axes.x, camera.axes.y, camera.axes.z})
    c.in("camera axis", axis, -1.01, 1.01);
  for (const double k : {camera.k1, camera.k2}) c.in("lens bend", k, -1000, 1000);
  c.in("optical axis", Vec2d(camera.cx, camera.cy), -farPx, farPx);
  c.in("focal length in pixels", camera.focalPx, 0, 1e9);
  if (v.solved)
    c.holds(camera.width > 0 && camera.height > 0 && camera.focalPx > 0,
            "is marked solved but has no usable camera");
}

void look(Check& c, const Feed& f) {
  c.in("feed's strength", f.strength, 0, 1), c.in("feed's indent", f.indent, 0, 8);
  c.in("feed's value", f.low, -1e6, 1e6), c.in("feed's value", f.high, -1e6, 1e6);
  c.in("feed's range", f.from, -1000, 1000), c.in("feed's range", f.to, -1000, 1000);
  c.in("feed's size in mm", f.sizeMm, 1e-3, 1e6), c.in("feed's stretch", f.stretch, 1e-3, 1e4);
  c.in("picture's number in a model", f.texture, -1, 1e6);
  c.in("feed's share", f.share, 0, 1), c.in("number of octaves", f.detail, 1, 12);
  const Mapping& m = f.mapping;
  c.in("mapping's size in mm", m.sizeMm, 0, 1e7), c.in("mapping's shift in mm", m.shiftMm, -1e7, 1e7);
  c.in("mapping's turn", m.turnDegrees, -turns, turns), c.in("mapping's scatter in mm", m.scatterMm, 0, 1e6);
  c.in("camera's place in mm", m.eyeMm, -1e9, 1e9), c.in("camera's direction", m.aheadMm, -1e9, 1e9);
  c.in("camera's upright", m.up, -1e9, 1e9);
  c.holds(m.kind != MappingKind::camera || m.aheadMm.cross(m.up).length() >= 1e-9,
          "has a mapping from a camera that looks nowhere, or straight along its own upright");
}

void lookAtOne(Check& c, const Surface& s) {
  c.in("base colour", s.baseColour, 0, 1e6), c.in("emission", s.emission, 0, 1e9);
  c.in("sheen colour", s.sheenColour, 0, 1e6), c.in("dye", s.absorptionColour, 0, 1);
  const std::pair<const char*, double> shares[] = {{"metalness", s.metalness},
                                                   {"roughness", s.roughness},
                                                   {"transmission", s.transmission},
                                                   {"clearcoat", s.clearcoat},
                                                   {"coat roughness", s.clearcoatRoughness},
                                                   {"brushing", s.anisotropy},
                                                   {"sheen", s.sheen},
                                                   {"sheen roughness", s.sheenRoughness}};
  for (const auto& [what, share] : shares) c.in(what, share, 0, 1);
  c.in("IOR", s.ior, 1, 10), c.in("brushing angle", s.anisotropyTurnDegrees, -turns, turns);
  c.in("depth of its dye", s.absorptionDepthM, 0, far);
  c.in("specular", s.specular, 0, 1), c.in("film in nm", s.filmNm, 0, 10'000);
  c.in("film's IOR", s.filmIor, 1, 10);
  c.in("coat colour", s.coatColour, 0, 1), c.in("opacity", s.opacity, 0, 1);
  c.in("subsurface", s.subsurface, 0, 1), c.in("subsurface's reach in mm", s.subsurfaceMm, 0, 1e6);
  c.in("cloud's colour", s.scatterColour, 0, 1), c.in("cloud's depth", s.scatterDepthM, 0, far);
  c.in("cloud's forward share", s.scatterForward, -0.99, 0.99), c.in("Abbe number", s.abbe, 0, 1000);
  c.in("priority", s.priority, -1000, 1000), c.in("flakes", s.flakes, 0, 1);
  c.in("flake's size in mm", s.flakeMm, 1e-3, 100), c.in("flakes' tilt", s.flakeTiltDegrees, 0, 60);
  c.in("flakes' colour", s.flakeColour, 0, 1);
  for (const auto& [value, feeds] : s.feeds)
    for (const Feed& feed : feeds) look(c, feed);
}

void look(Check& c, const Surface& s) {
  c.of("surface", s.name);
  lookAtOne(c, s);
  for (const Coat& coat : s.coats) {
    c.of("coat", coat.name);
    c.in("strength", coat.strength, 0, 1);
    for (const Feed& feed : coat.mask) look(c, feed);
    lookAtOne(c, coat.surface);
  }
}

void look(Check& c, const Decal& d) {
  c.of("decal", d.name);
  c.in("place", d.at, -1e9, 1e9), c.in("normal", d.normal, -1e9, 1e9), c.in("axis", d.axis, -1e9, 1e9);
  c.in("pivot", d.pivot, -1e9, 1e9);
  c.holds(d.normal.length() >= 1e-9 && d.axis.length() >= 1e-9, "looks along a direction of no length");
  c.in("width in mm", d.widthMm, 1e-3, 1e6), c.in("height in mm", d.heightMm, 0, 1e6);
  c.in("turn", d.turnDegrees, -turns, turns), c.in("reach in mm", d.reachMm, 0, 1e6);
  c.in("steepest face", d.steepDegrees, 0, 180), c.in("opacity", d.opacity, 0, 1),
      c.in("page", d.page, 1, 1e6);
  c.in("roughness", d.roughness, 0, 1), c.in("metalness", d.metalness, 0, 1);
  c.in("clearcoat", d.clearcoat, 0, 1), c.in("relief in mm", d.reliefMm, -100, 100);
}

void look(Check& c, const Product& p) {
  c.of("product", p.name);
  c.in("unit in metres", p.metresPerUnit, tiny, far), c.in("chord in mm", p.chordMm, 1e-6, 1e6);
  c.in("crease", p.creaseDegrees, 0, 180);
  for (const auto& [name, value] : p.piece.measures) c.in(name.c_str(), value, -far, far);
  for (const auto& [path, move] : p.moves) {
    c.of("part", path);
    c.in("pivot", move.pivot, -1e9, 1e9), c.in("shift", move.shift, -1e9, 1e9);
    c.in("turn", move.turnDegrees, -turns, turns), c.in("axis", move.axis, -1e9, 1e9);
    c.holds(move.axis.length() >= 1e-9, "turns about an axis of no length");
  }
  for (const auto& [path, role] : p.roles) {
    c.of("part", path);
    c.in("bounce", role.bounce, 0, 100);
  }
  for (const Decal& d : p.decals) look(c, d);
}

void look(Check& c, const Surroundings& s) {
  c.in("panorama's turn", s.turnDegrees, -turns, turns), c.in("panorama's tilt", s.tiltDegrees, -360, 360);
  c.in("panorama's roll", s.rollDegrees, -360, 360);
  c.in("panorama's gain in EV", s.gainEv, -60, 60), c.in("panorama's white", s.white, 0, 1e6);
  c.in("panorama's contrast", s.contrast, 0, 100), c.in("panorama's saturation", s.saturation, 0, 100);
  c.in("sun's disc in degrees", s.sunDiscDegrees, 0, 90);
  if (s.sunMovedDegrees) c.in("sun's place in degrees", *s.sunMovedDegrees, -turns, turns);
  if (s.captureM) c.in("place the panorama was taken at", *s.captureM, -far, far);
  c.in("dome's radius", s.domeRadiusM, 0, far),
      c.in("reflection blur in degrees", s.reflectionBlurDegrees, 0, 180);
  c.in("lost range in EV", s.lostRangeEv, 0, 40);
}

void look(Check& c, const Lamp& l) {
  c.of("lamp", l.name);
  c.in("colour temperature", l.kelvin, 100, 1e6), c.in("power in EV", l.powerEv, -60, 60);
  c.in("azimuth", l.azimuthDegrees, -turns, turns), c.in("elevation", l.elevationDegrees, -turns, turns);
  c.in("disc in degrees", l.discDegrees, 0, 180);
  c.in("place", l.positionM, -far, far), c.in("target", l.targetM, -far, far);
  if (l.colour) c.in("colour", *l.colour, -1e6, 1e6);
  c.in("width", l.widthM, 0, far), c.in("height", l.heightM, 0, far), c.in("radius", l.radiusM, 0, far);
  c.in("cone", l.coneDegrees, 0, 360), c.in("cone softness", l.coneSoftness, 0, 1),
      c.in("shade", l.shade, 0, 1e6);
  for (const double edge : l.crop) c.in("crop", edge, -1, 2);
}

void lookGloss(Check& c, double gloss, double roughness, double ior) {
  c.in("gloss", gloss, 0, 1), c.in("gloss roughness", roughness, 0, 1), c.in("gloss IOR", ior, 1, 10);
}

void look(Check& c, const StandIn& s) {
  c.of("stand-in", s.name);
  c.in("place", s.positionM, -far, far), c.in("turn", s.turnDegrees, -turns, turns);
  c.in("lean", s.leanDegrees, -turns, turns);
  c.in("width", s.sizeM.x, tiny, far), c.in("depth", s.sizeM.y, 0, far), c.in("height", s.sizeM.z, 0, far);
  lookGloss(c, s.gloss, s.glossRoughness, s.glossIor);
}

/// What a backdrop and a camera that was put aside both tell.
template <class Camera>
void lookByHand(Check& c, const Camera& b) {
  c.in("backdrop's focal length", b.focalMm35, 0.1, 100'000),
      c.in("camera height", b.cameraHeightM, -far, far);
  c.in("camera distance", b.distanceM, tiny, far), c.in("aim height", b.aimHeightM, -far, far);
  c.in("place it looks at", Vec2d(b.aimXM, b.aimYM), -far, far);
  c.in("backdrop's azimuth", b.azimuthDegrees, -turns, turns);
}

void look(Check& c, const Backdrop& b) {
  c.in("backdrop's width", b.width, 1, 30'000), c.in("backdrop's height", b.height, 1, 30'000);
  lookByHand(c, b);
  c.in("sweep's radius", b.sweepRadiusM, 0, far), c.in("sweep's distance", b.sweepBehindM, -far, far);
  c.in("floor's radius", b.floorRadiusM, 0, far), c.in("floor's softness", b.floorSoftness, 0, 1);
  c.in("floor's middle", Vec2d(b.floorXM, b.floorYM), -far, far);
}

void look(Check& c, const RenderSettings& r) {
  c.in("number of samples", r.samples, 1, 1'000'000), c.in("number of bounces", r.bounces, 0, 64);
  c.in("number of diffuse bounces", r.diffuseBounces, 0, 64),
      c.in("number of mirror bounces", r.mirrorBounces, 0, 64);
  c.in("number of glass surfaces", r.glassSides, 0, 1000), c.in("noise target", r.noiseTarget, 0, 10);
  c.in("limit of bright bounces", r.clampIndirect, 0, 1e9), c.in("noise reduction", r.denoise, 0, 1);
  c.in("occlusion distance", r.occlusionM, 0, far);
}

void look(Check& c, const Placement& p) {
  c.of("a placed product");
  c.in("place", Vec3d(p.xM, p.yM, p.liftM), -far, far), c.in("turn", p.turnDegrees, -turns, turns);
  c.in("lean", Vec2d(p.leanXDegrees, p.leanYDegrees), -turns, turns);
}

void lookMarks(Check& c, const Shot& shot) {
  for (const auto* g : {&shot.gnomon, &shot.otherGnomon})
    if (*g) {
      c.in("gnomon's foot", (*g)->base, -farPx, farPx), c.in("gnomon's tip", (*g)->shadowTip, -farPx, farPx);
      if ((*g)->top) c.in("gnomon's top", *(*g)->top, -farPx, farPx);
    }
  for (const HeightReference& r : shot.heightReferences) {
    c.in("height reference's foot", r.foot, -farPx, farPx),
        c.in("height reference's top", r.top, -farPx, farPx);
    c.in("known height", r.metres, tiny, far);
  }
  for (const LevelPlane& l : shot.levels) c.in("level's height", l.heightM, -far, far);
}

void look(Check& c, const MotionTrack& track) {
  c.holds(track.at.starts_with('/'), "moves '" + track.at + "', which is no place in the document");
  c.holds(track.keys.size() <= 100'000, "moves something by more than 100,000 keys");
  for (const MotionKey& key : track.keys) {
    c.in("key's moment in seconds", key.seconds, -day, day);
    for (const size_t i : {0, 2}) c.in("key's handle", key.handles[i], 0, 1);
    for (const size_t i : {1, 3}) c.in("key's handle", key.handles[i], -10, 10);
  }
}

void look(Check& c, const Motion& m) {
  c.in("film's length in seconds", m.seconds, 0, day);
  c.in("number of pictures a second", m.picturesPerSecond, 1, 240);
  c.in("shutter's degrees", m.shutterDegrees, 0, 360), c.in("still's moment", m.stillAtSeconds, -day, day);
  std::set<std::string> ids;
  for (const MotionTrack& track : m.tracks) {
    c.holds(ids.insert(track.id).second, "has two motions of one id");
    look(c, track);
  }
}

void look(Check& c, const Shot& shot, const Project& project) {
  c.of("shot", shot.name);
  c.in("white in nits", shot.whiteNits, tiny, 1e12);
  look(c, shot.vantage), look(c, shot.backdrop), look(c, shot.surroundings), look(c, shot.render),
      look(c, shot.blend);
  for (const BlendSnapshot& kept : shot.snapshots) look(c, kept.blend);
  lookGloss(c, shot.contact.gloss, shot.contact.glossRoughness, shot.contact.glossIor);
  c.in("near end of its shadows", shot.contact.reachFromM, 0, far);
  c.in("far end of its shadows", shot.contact.reachToM, 0, far);
  c.in("f-number", shot.focus.fNumber, 1e-3, 1e6), c.in("focus distance", shot.focus.distanceM, tiny, far);
  c.in("sensor width", shot.focus.sensorWidthMm, 1e-3, 10'000),
      c.in("number of blades", shot.focus.blades, 0, 100);
  c.in("turn of the blades", shot.focus.bladeTurnDegrees, -turns, turns);
  lookMarks(c, shot), lookCleanUps(c, shot);
  for (const Deliverable& d : shot.deliverables) {
    const std::string wrong = unsoundIn(d);
    c.holds(wrong.empty(), wrong);
    c.in("quality", d.quality, 1, 100), c.in("most kilobytes", d.mostKb, 0, 10'000'000);
    c.holds(d.frameId.empty() || byId(shot.frames, d.frameId),
            "has a deliverable of a frame that is not in the file");
  }
  for (const PictureFrame& f : shot.frames) {
    c.in("frame's centre", f.centre, -100, 100), c.in("frame's width", f.width, 1e-4, 100);
    c.in("frame's width in pixels", f.widthPx, 1, 100'000),
        c.in("frame's height in pixels", f.heightPx, 1, 100'000);
    c.in("frame's dpi", f.dpi, 0, 100'000);
  }
  look(c, shot.motion);
  c.in("version", shot.handOver.version, 0, 1'000'000);
  for (const Placement& p : shot.placements)
    c.holds(byId(project.products, p.productId), "places a product that is not in the file");
  for (const KeptVantage& k : shot.keptVantages)
    c.of("kept vantage", k.name), look(c, k.vantage), look(c, k.evidence);
  for (const KeptCamera& k : shot.cameras) c.of("kept camera", k.name), lookByHand(c, k);
  for (const StandIn& s : shot.standIns) look(c, s);
  for (const Lamp& l : shot.lamps) look(c, l);
  for (const Placement& p : shot.placements) look(c, p);
  look(c, shot.evidence);
}

void look(Check& c, const std::vector<VariantAxis>& axes) {
  std::set<std::string> axisIds, optionIds;
  for (const VariantAxis& axis : axes) {
    c.of("axis", axis.name);
    c.holds(axisIds.insert(axis.id).second, "has the id of another");
    for (const VariantOption& option : axis.options) {
      c.of("option", option.name);
      c.holds(optionIds.insert(option.id).second, "has the id of another");
      for (const VariantChange& change : option.changes)
        c.holds(change.at.starts_with('/'), "changes '" + change.at + "', which is no place in the document");
    }
  }
}

}  // namespace

std::string unsound(const Project& project) {
  Check c;
  for (const Surface& s : project.surfaces) look(c, s);
  for (const Product& p : project.products) look(c, p);
  for (const Rig& r : project.rigs) {
    c.of("rig", r.name), look(c, r.surroundings);
    for (const Lamp& l : r.lamps) look(c, l);
  }
  for (const Shot& s : project.shots) look(c, s, project);
  look(c, project.axes);
  return c.flaw();
}

std::string unsound(const Evidence& evidence) {
  Check c;
  look(c, evidence);
  return c.flaw();
}

}  // namespace dusk
