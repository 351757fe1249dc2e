#pragma once
#include <nlohmann/json.hpp>

#include "core/project/project.h"

/// JSON forms of the project's values, shared by the document, the evidence file and the headless answers.
/// Reading throws nlohmann::json::exception on a wrong kind; callers turn that into an Error at their border.

template <typename T>
struct nlohmann::adl_serializer<Imath::Vec2<T>> {
  static void to_json(json& j, const Imath::Vec2<T>& v) { j = {v.x, v.y}; }
  static void from_json(const json& j, Imath::Vec2<T>& v) { j.at(0).get_to(v.x), j.at(1).get_to(v.y); }
};
template <typename T>
struct nlohmann::adl_serializer<Imath::Vec3<T>> {
  static void to_json(json& j, const Imath::Vec3<T>& v) { j = {v.x, v.y, v.z}; }
  static void from_json(const json& j, Imath::Vec3<T>& v) {
    j.at(0).get_to(v.x), j.at(1).get_to(v.y), j.at(2).get_to(v.z);
  }
};
template <typename T>
struct nlohmann::adl_serializer<std::optional<T>> {
  static void to_json(json& j, const std::optional<T>& v) {
    if (v)
      j = *v;
    else
      j = nullptr;
  }
  static void from_json(const json& j, std::optional<T>& v) {
    if (j.is_null())
      v.reset();
    else
      v = j.get<T>();
  }
};

namespace dusk {

NLOHMANN_JSON_SERIALIZE_ENUM(Run, {{Run::a, "a"}, {Run::b, "b"}, {Run::up, "up"}})
NLOHMANN_JSON_SERIALIZE_ENUM(LengthOn, {{LengthOn::ground, "ground"}, {LengthOn::upright, "upright"}})
NLOHMANN_JSON_SERIALIZE_ENUM(UpAxis, {{UpAxis::z, "z"}, {UpAxis::x, "x"}, {UpAxis::y, "y"}})
NLOHMANN_JSON_SERIALIZE_ENUM(Grouping, {{Grouping::node, "node"},
                                        {Grouping::material, "material"},
                                        {Grouping::each, "each"}})
NLOHMANN_JSON_SERIALIZE_ENUM(LampKind, {{LampKind::sun, "sun"},
                                        {LampKind::area, "area"},
                                        {LampKind::disc, "disc"},
                                        {LampKind::sphere, "sphere"},
                                        {LampKind::spot, "spot"},
                                        {LampKind::photo, "photo"},
                                        {LampKind::card, "card"}})
NLOHMANN_JSON_SERIALIZE_ENUM(StandInKind, {{StandInKind::box, "box"},
                                           {StandInKind::cylinder, "cylinder"},
                                           {StandInKind::ball, "ball"},
                                           {StandInKind::sheet, "sheet"}})
NLOHMANN_JSON_SERIALIZE_ENUM(BackdropKind, {{BackdropKind::photo, "photo"},
                                            {BackdropKind::plain, "plain"},
                                            {BackdropKind::gradient, "gradient"},
                                            {BackdropKind::panorama, "panorama"}})
NLOHMANN_JSON_SERIALIZE_ENUM(DeliverableKind, {{DeliverableKind::png, "png"}, {DeliverableKind::exr, "exr"}})

#define DUSK_FIELDS NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT
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
            sheenColour, thinWalled, absorptionColour, absorptionDepthM)
DUSK_FIELDS(PartMove, pivot, axis, shift, turnDegrees)
DUSK_FIELDS(Product, id, name, model, metresPerUnit, up, surfaceOfPart, hiddenParts, moves, names,
            groupOfPart, grouping, chordMm, creaseDegrees)
DUSK_FIELDS(Placement, id, productId, xM, yM, liftM, turnDegrees, leanXDegrees, leanYDegrees, levelId,
            cutAtGround)
DUSK_FIELDS(Surroundings, panorama, turnDegrees, gainEv, mirrored, tiltDegrees, white, contrast, saturation,
            sunApart, sunDiscDegrees, sunMovedDegrees, captureM, domeRadiusM, reflectionBlurDegrees,
            lostRangeEv)
DUSK_FIELDS(Lamp, id, name, kind, on, kelvin, powerEv, azimuthDegrees, elevationDegrees, discDegrees,
            positionM, targetM, widthM, heightM, radiusM, coneDegrees, coneSoftness, seenByCamera,
            seenInReflections, castsShadows, aimedAt, colour, shade, picture, crop, leavesOut)
DUSK_FIELDS(StandIn, id, name, kind, positionM, sizeM, turnDegrees, leanDegrees, on, catches, blocks, gloss,
            glossRoughness, glossIor)
DUSK_FIELDS(Backdrop, kind, colour, upper, width, height, focalMm35, cameraHeightM, distanceM, aimHeightM,
            azimuthDegrees, sweepRadiusM, sweepBehindM)
DUSK_FIELDS(HeightReference, id, name, foot, top, metres)
DUSK_FIELDS(Contact, groundCatches, gloss, glossRoughness, glossIor)
DUSK_FIELDS(Focus, on, fNumber, distanceM, sensorWidthMm, blades, bladeTurnDegrees)
DUSK_FIELDS(RenderSettings, samples, seed, bounces, diffuseBounces, mirrorBounces, glassSides, noiseTarget,
            clampIndirect, caustics, denoise, occlusionM, extraPasses, emptyPasses)
DUSK_FIELDS(LightMix, ev, mired)
DUSK_FIELDS(BlendSettings, exposureEv, warmth, white, shadowStrength, shadowTint, reflectionStrength, mix,
            view)
DUSK_FIELDS(Deliverable, kind, fileName)
DUSK_FIELDS(Shot, id, name, plate, backdrop, whiteNits, evidence, vantage, keptVantages, levels, placements,
            surroundings, lamps, gnomon, otherGnomon, heightReferences, contact, standIns, focus, render,
            blend, deliverables)
DUSK_FIELDS(Rig, id, name, surroundings, lamps)
DUSK_FIELDS(Project, name, products, surfaces, rigs, shots)
#undef DUSK_FIELDS

}  // namespace dusk
