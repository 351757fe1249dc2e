#include "core/project/json.h"

#include <algorithm>

#include "core/base/json_text.h"
#include "core/project/correction_kinds.h"
#include "core/project/deliverable_kinds.h"
#include "core/project/feed_kinds.h"
#include "core/project/json_fields.h"
#include "core/project/lamp_kinds.h"

namespace dusk {

namespace {

/// How many lists and objects are open at most, one within another.
int depthOf(std::string_view text) {
  int depth = 0, most = 0;
  bool quoted = false;
  for (size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (quoted && c == '\\') {
      ++i;
    } else if (c == '"') {
      quoted = !quoted;
    } else if (!quoted) {
      depth += (c == '[' || c == '{') - (c == ']' || c == '}');
      most = std::max(most, depth);
    }
  }
  return most;
}

}  // namespace

nlohmann::json parsedJson(const std::string& text) {
  constexpr int deepest = 60;
  // Not by the library's callback, which looks through a whole list again for each object that ends in it.
  if (depthOf(text) > deepest)
    throw nlohmann::json::other_error::create(502, "it is nested too deeply", nullptr);
  return nlohmann::json::parse(text);
}

std::string whatOf(const nlohmann::json::exception& error) {
  const std::string text = error.what();
  const size_t end = text.find("] ");
  return text.starts_with("[json.") && end != std::string::npos ? text.substr(end + 2) : text;
}

void to_json(nlohmann::json& j, const LampKind& kind) { j = infoOf(kind).name; }
void from_json(const nlohmann::json& j, LampKind& kind) {
  const auto name = j.get<std::string>();
  const LampKindInfo* info = lampKindNamed(name);
  if (!info) throw nlohmann::json::other_error::create(501, "no lamp is a '" + name + "'", nullptr);
  kind = info->kind;
}

void to_json(nlohmann::json& j, const FeedKind& kind) { j = infoOf(kind).name; }
void from_json(const nlohmann::json& j, FeedKind& kind) {
  const auto name = j.get<std::string>();
  const FeedKindInfo* info = feedKindNamed(name);
  if (!info) throw nlohmann::json::other_error::create(501, "no feed is a '" + name + "'", nullptr);
  kind = info->kind;
}

void to_json(nlohmann::json& j, const CorrectionKind& kind) { j = infoOf(kind).name; }
void from_json(const nlohmann::json& j, CorrectionKind& kind) {
  const auto name = j.get<std::string>();
  const CorrectionKindInfo* info = correctionKindNamed(name);
  if (!info) throw nlohmann::json::other_error::create(501, "no correction is a '" + name + "'", nullptr);
  kind = info->kind;
}

void to_json(nlohmann::json& j, const DeliverableKind& kind) { j = infoOf(kind).name; }
void from_json(const nlohmann::json& j, DeliverableKind& kind) {
  const auto name = j.get<std::string>();
  const DeliverableKindInfo* info = deliverableKindNamed(name);
  if (!info) {
    std::string all;
    for (const DeliverableKindInfo& each : deliverableKinds())
      all += (all.empty()                           ? "'"
              : &each == &deliverableKinds().back() ? " or '"
                                                    : ", '") +
             std::string(each.name) + "'";
    throw nlohmann::json::other_error::create(
        501, "a deliverable's kind is " + all + ", not '" + name.substr(0, 60) + "'", nullptr);
  }
  kind = info->kind;
}

// What is there then is the document's own JSON, not text within text.
void to_json(nlohmann::json& j, const VariantChange& change) {
  j = {{"at", change.at}};
  if (change.gone)
    j["gone"] = true;
  else
    j["to"] = jsonFrom(change.to);
}
void from_json(const nlohmann::json& j, VariantChange& change) {
  change = {j.at("at").get<std::string>(), {}, j.value("gone", false)};
  if (!change.gone) change.to = jsonText(j.at("to"));
}

// Handles are only told where they count.
void to_json(nlohmann::json& j, const MotionKey& key) {
  j = {{"seconds", key.seconds}, {"to", jsonFrom(key.to)}, {"easing", key.easing}};
  if (key.easing == Easing::own) j["handles"] = key.handles;
}
void from_json(const nlohmann::json& j, MotionKey& key) {
  key = {};
  key.seconds = j.at("seconds").get<double>(), key.easing = j.value("easing", key.easing);
  key.to = jsonText(j.at("to"));
  key.handles = j.value("handles", key.handles);
}

void to_json(nlohmann::json& j, const MotionTrack& track) {
  j = {{"id", track.id}, {"at", track.at}, {"loop", track.loop}, {"keys", track.keys}};
}
void from_json(const nlohmann::json& j, MotionTrack& track) {
  track = {j.value("id", ""), j.value("at", ""), j.value("loop", MotionLoop::once)};
  track.keys = j.value("keys", track.keys);
  // Whoever wrote them by hand need not have had them in order.
  std::stable_sort(track.keys.begin(), track.keys.end(),
                   [](const MotionKey& a, const MotionKey& b) { return a.seconds < b.seconds; });
}

#define DUSK_PUT(field) put(json[#field], value.field);
#define DUSK_TAKE(field) takeField(json, #field, value.field);
#define DUSK_FIELDS(Type, ...)                                        \
  void to_json(nlohmann::json& json, const Type& value) {             \
    json = nlohmann::json::object();                                  \
    NLOHMANN_JSON_EXPAND(NLOHMANN_JSON_PASTE(DUSK_PUT, __VA_ARGS__))  \
  }                                                                   \
  void from_json(const nlohmann::json& json, Type& value) {           \
    needKind(json, nlohmann::json::value_t::object);                  \
    value = Type{};                                                   \
    NLOHMANN_JSON_EXPAND(NLOHMANN_JSON_PASTE(DUSK_TAKE, __VA_ARGS__)) \
  }
DUSK_FIELDS(AssetRef, path, hash)
DUSK_FIELDS(Stroke, id, run, points, drawn)
DUSK_FIELDS(Footprint, corners, sizeM, ratio, heightM)
DUSK_FIELDS(Pin, at, worldM)
DUSK_FIELDS(KnownLength, from, to, metres, on)
DUSK_FIELDS(Gnomon, base, shadowTip, top)
DUSK_FIELDS(LensProfile, name, k1, k2, vignetting, redScale, blueScale)
DUSK_FIELDS(Evidence, strokes, footprint, pins, lengths, levelLine, focalMm35, heightM, lens, solveK1,
            solveK2, shifted, origin, quarterTurns)
DUSK_FIELDS(Triadd, x, y, z)
DUSK_FIELDS(Camera, width, height, focalPx, cx, cy, k1, k2, axes, position)
DUSK_FIELDS(VantageSigma, focalPx, tiltDegrees, rollDegrees, heightM, k1, k2)
DUSK_FIELDS(Vantage, solved, camera, sigma, rmsPx, locked, straightened)
DUSK_FIELDS(KeptVantage, id, name, evidence, vantage)
DUSK_FIELDS(LevelPlane, id, name, heightM)
DUSK_FIELDS(Surface, id, name, baseColour, metalness, roughness, ior, transmission, clearcoat,
            clearcoatRoughness, emission, anisotropy, anisotropyTurnDegrees, sheen, sheenRoughness,
            sheenColour, thinWalled, absorptionColour, absorptionDepthM, specular, filmNm, filmIor,
            coatColour, opacity, subsurface, subsurfaceMm, scatterColour, scatterDepthM, scatterForward, abbe,
            priority, flakes, flakeMm, flakeTiltDegrees, flakeColour, feeds, coats)
DUSK_FIELDS(Mapping, kind, axis, sizeMm, shiftMm, turnDegrees, scatterMm, eyeMm, aheadMm, up)
DUSK_FIELDS(Feed, kind, on, join, strength, indent, low, high, from, to, sizeMm, stretch, share, detail, seed,
            mapping, picture, texture, channel)
DUSK_FIELDS(Coat, name, on, strength, surface, mask)
DUSK_FIELDS(Decal, id, name, on, picture, page, parts, lay, side, at, normal, axis, pivot, widthMm, heightMm,
            turnDegrees, mirrored, reachMm, steepDegrees, opacity, roughness, metalness, clearcoat, reliefMm)
DUSK_FIELDS(Motion, seconds, picturesPerSecond, shutterDegrees, stillAtSeconds, loops, tracks)
DUSK_FIELDS(PartMove, pivot, axis, shift, turnDegrees)
DUSK_FIELDS(PartRole, seen, mirrored, shadow, lit, alpha, bounce)
DUSK_FIELDS(Piece, kind, measures, seed)
DUSK_FIELDS(SetRecipe, kind, seed, sliders)
DUSK_FIELDS(Product, id, name, model, metresPerUnit, up, surfaceOfPart, hiddenParts, moves, names,
            groupOfPart, grouping, decals, roles, chordMm, creaseDegrees, piece)
DUSK_FIELDS(Placement, id, productId, xM, yM, liftM, turnDegrees, leanXDegrees, leanYDegrees, levelId,
            cutAtGround)
DUSK_FIELDS(Surroundings, panorama, turnDegrees, gainEv, mirrored, tiltDegrees, white, contrast, saturation,
            sunApart, sunDiscDegrees, sunMovedDegrees, captureM, captureFound, domeRadiusM,
            reflectionBlurDegrees, lostRangeEv)
DUSK_FIELDS(Lamp, id, name, kind, on, kelvin, powerEv, azimuthDegrees, elevationDegrees, discDegrees,
            positionM, targetM, widthM, heightM, radiusM, coneDegrees, coneSoftness, seenByCamera,
            seenInReflections, castsShadows, aimedAt, colour, shade, picture, crop, leavesOut)
DUSK_FIELDS(StandIn, id, name, kind, positionM, sizeM, turnDegrees, leanDegrees, on, catches, blocks, gloss,
            glossRoughness, glossIor)
DUSK_FIELDS(Backdrop, kind, colour, upper, width, height, focalMm35, cameraHeightM, distanceM, aimHeightM,
            azimuthDegrees, sweepRadiusM, sweepBehindM, aimXM, aimYM, uprightsStraight, locked)
DUSK_FIELDS(KeptCamera, id, name, focalMm35, cameraHeightM, distanceM, aimHeightM, azimuthDegrees, aimXM,
            aimYM, uprightsStraight)
DUSK_FIELDS(HeightReference, id, name, foot, top, metres)
DUSK_FIELDS(Contact, groundCatches, gloss, glossRoughness, glossIor, reach, reachFromM, reachToM)
DUSK_FIELDS(Focus, on, fNumber, distanceM, sensorWidthMm, blades, bladeTurnDegrees)
DUSK_FIELDS(RenderSettings, samples, seed, bounces, diffuseBounces, mirrorBounces, glassSides, noiseTarget,
            clampIndirect, caustics, denoise, occlusionM, extraPasses, emptyPasses)
DUSK_FIELDS(LightMix, ev, mired)
DUSK_FIELDS(MaskPoint, at, feather)
DUSK_FIELDS(Mask, name, kind, on, inverted, join, hold, points, curved, widthPx, from, to, soft, parts, layer)
DUSK_FIELDS(Correction, kind, on, strength, values, curve, file, masks)
DUSK_FIELDS(BlendRow, on, strength, corrections, masks)
DUSK_FIELDS(ExtraLayer, id, name, kind, above, mode, file, page, colour, end, from, to, anchor, size, margin,
            row)
DUSK_FIELDS(LensLook, softPx, halo, haloPx, fringe, vignette)
DUSK_FIELDS(GrainLook, sigma, correlation, channels, seed)
DUSK_FIELDS(BlockLook, brightness, colour, colourStep)
DUSK_FIELDS(CutOut, id, name, on, loop, keeps, leaves, softPx, standsAtM, standInId)
DUSK_FIELDS(BlendReference, file, opacity, difference, shift, scale)
DUSK_FIELDS(ViewConfig, file, display, look, linear)
DUSK_FIELDS(BlendSettings, exposureEv, warmth, white, shadowStrength, shadowTint, reflectionStrength, mix,
            view, config, veil, rows, lens, grain, blocks, layers, cutOuts, reference)
DUSK_FIELDS(BlendSnapshot, id, name, blend)
DUSK_FIELDS(PictureFrame, id, name, centre, width, widthPx, heightPx, dpi, aboutProduct)
DUSK_FIELDS(Deliverable, kind, fileName, on, frameId, bits, alpha, quality, mostKb, compression, onePart,
            passes)
DUSK_FIELDS(HandOver, title, creator, rights, keepsExif, version)
DUSK_FIELDS(CleanUp, id, name, on, loop, marginPx, from, choice, horizon)
DUSK_FIELDS(Shot, id, name, plate, backdrop, cleanUps, whiteNits, evidence, vantage, keptVantages, cameras,
            levels, placements, surroundings, lamps, gnomon, otherGnomon, heightReferences, contact, standIns,
            focus, render, blend, snapshots, deliverables, frames, handOver, set, choice, motion)
DUSK_FIELDS(Rig, id, name, surroundings, lamps)
DUSK_FIELDS(VariantOption, id, name, changes)
DUSK_FIELDS(VariantAxis, id, name, options)
DUSK_FIELDS(ExcludedPair, one, other)
DUSK_FIELDS(Project, name, products, surfaces, rigs, shots, axes, excluded)
#undef DUSK_FIELDS
#undef DUSK_TAKE
#undef DUSK_PUT

}  // namespace dusk
