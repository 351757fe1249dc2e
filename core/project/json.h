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

/// The words of an enum in files, by its values from 0 on. Reading any other word throws, and names these.
template <typename E>
struct Words;
template <typename E>
concept Worded = requires {
  Words<E>::all;
};

template <Worded E>
void to_json(nlohmann::json& j, E value) {
  j = Words<E>::all[size_t(value)];
}
template <Worded E>
void from_json(const nlohmann::json& j, E& value) {
  const auto word = j.get<std::string>();
  std::string allowed;
  for (size_t i = 0; i < std::size(Words<E>::all); ++i) {
    if (word == Words<E>::all[i]) return void(value = E(i));
    allowed += (i == 0                              ? "'"
                : i + 1 == std::size(Words<E>::all) ? " or '"
                                                    : ", '") +
               (Words<E>::all[i] + std::string("'"));
  }
  throw nlohmann::json::other_error::create(
      501, std::string(Words<E>::what) + " is " + allowed + ", not '" + word.substr(0, 60) + "'", nullptr);
}

#define DUSK_WORDS(Type, whatItIs, ...)                 \
  template <>                                           \
  struct Words<Type> {                                  \
    static constexpr const char* what = whatItIs;       \
    static constexpr const char* all[] = {__VA_ARGS__}; \
  };
DUSK_WORDS(Run, "a run", "a", "b", "up")
DUSK_WORDS(LengthOn, "what a length is on", "ground", "upright")
DUSK_WORDS(UpAxis, "an upward axis", "x", "y", "z")
DUSK_WORDS(Grouping, "a grouping", "node", "material", "each")
DUSK_WORDS(StandInKind, "a stand-in's kind", "box", "cylinder", "ball", "sheet")
DUSK_WORDS(ShadowReach, "a shadow's reach", "fitting", "endless", "given")
DUSK_WORDS(BackdropKind, "a backdrop's kind", "photo", "plain", "gradient", "panorama")
DUSK_WORDS(DeliveredAlpha, "a deliverable's alpha", "none", "straight", "premultiplied")
DUSK_WORDS(ExrCompression, "a compression", "zip", "zips", "piz", "dwaa", "none")
DUSK_WORDS(FeedJoin, "how a feed joins", "mix", "multiply", "add")
DUSK_WORDS(MappingKind, "a mapping's kind", "solid", "coordinates", "box", "cylinder", "ball", "flat",
           "camera")
DUSK_WORDS(MappingAxis, "a mapping's axis", "x", "y", "z")
DUSK_WORDS(PictureChannel, "a picture's channel", "colour", "data", "red", "green", "blue", "alpha")
DUSK_WORDS(SurfaceValue, "a surface's value", "baseColour", "metalness", "roughness", "clearcoat",
           "clearcoatRoughness", "sheen", "transmission", "emission", "bump", "normal", "opacity",
           "subsurface", "specular", "anisotropy", "sheenColour", "sheenRoughness", "film", "coatNormal")
DUSK_WORDS(DecalLay, "how a decal lies", "flat", "wrapped", "coordinates")
DUSK_WORDS(BlendRole, "a role of the blend", "plate", "contact", "reflections", "product", "glow", "front",
           "lens", "grain", "view")
DUSK_WORDS(LayerKind, "a layer's kind", "picture", "colour", "gradient")
DUSK_WORDS(LayerMode, "a layer's mode", "normal", "multiply", "screen", "overlay", "darken", "lighten",
           "colour-dodge", "colour-burn", "hard-light", "soft-light", "difference", "plus")
DUSK_WORDS(LayerAnchor, "a layer's anchor", "fill", "topLeft", "top", "topRight", "left", "middle", "right",
           "bottomLeft", "bottom", "bottomRight")
DUSK_WORDS(MaskKind, "a mask's kind", "outline", "brush", "straight", "round", "brightness", "hue", "depth",
           "facing", "parts", "layer")
DUSK_WORDS(MaskJoin, "how a mask joins", "add", "subtract", "intersect")
DUSK_WORDS(MaskHold, "what a mask is held by", "frame", "ground", "product")
DUSK_WORDS(DecalSide, "a decal's side", "both", "outside", "inside")
DUSK_WORDS(Easing, "an easing", "even", "gentle", "firm", "overshoot", "bounce", "hold", "own")
DUSK_WORDS(MotionLoop, "how a motion goes on", "once", "again", "backAndForth")
#undef DUSK_WORDS

/// The text as JSON. Throws when it is none, or is nested deeper than anything of ours (what walks it would
/// run out of stack).
nlohmann::json parsedJson(const std::string& text);
/// What went wrong, without the library's own numbering.
std::string whatOf(const nlohmann::json::exception& error);

// Written and read in json.cpp alone: this is more text for the compiler than all the rest of the document.
#define DUSK_JSON(Type)                                  \
  void to_json(nlohmann::json& json, const Type& value); \
  void from_json(const nlohmann::json& json, Type& value);
DUSK_JSON(AssetRef)
DUSK_JSON(Stroke)
DUSK_JSON(Footprint)
DUSK_JSON(Pin)
DUSK_JSON(KnownLength)
DUSK_JSON(Gnomon)
DUSK_JSON(LensProfile)
DUSK_JSON(Evidence)
DUSK_JSON(Triadd)
DUSK_JSON(Camera)
DUSK_JSON(VantageSigma)
DUSK_JSON(Vantage)
DUSK_JSON(KeptVantage)
DUSK_JSON(LevelPlane)
DUSK_JSON(Mapping)
DUSK_JSON(Feed)
DUSK_JSON(Coat)
DUSK_JSON(Surface)
DUSK_JSON(PartMove)
DUSK_JSON(PartRole)
DUSK_JSON(Piece)
DUSK_JSON(SetRecipe)
DUSK_JSON(Decal)
DUSK_JSON(Product)
DUSK_JSON(Placement)
DUSK_JSON(Surroundings)
DUSK_JSON(Lamp)
DUSK_JSON(StandIn)
DUSK_JSON(Backdrop)
DUSK_JSON(KeptCamera)
DUSK_JSON(HeightReference)
DUSK_JSON(Contact)
DUSK_JSON(Focus)
DUSK_JSON(RenderSettings)
DUSK_JSON(LightMix)
DUSK_JSON(MaskPoint)
DUSK_JSON(Mask)
DUSK_JSON(CorrectionKind)
DUSK_JSON(Correction)
DUSK_JSON(BlendRow)
DUSK_JSON(ExtraLayer)
DUSK_JSON(LensLook)
DUSK_JSON(GrainLook)
DUSK_JSON(BlockLook)
DUSK_JSON(CutOut)
DUSK_JSON(CleanUp)
DUSK_JSON(BlendReference)
DUSK_JSON(ViewConfig)
DUSK_JSON(BlendSettings)
DUSK_JSON(BlendSnapshot)
DUSK_JSON(DeliverableKind)
DUSK_JSON(PictureFrame)
DUSK_JSON(HandOver)
DUSK_JSON(Deliverable)
DUSK_JSON(Shot)
DUSK_JSON(VariantChange)
DUSK_JSON(VariantOption)
DUSK_JSON(VariantAxis)
DUSK_JSON(ExcludedPair)
DUSK_JSON(MotionKey)
DUSK_JSON(MotionTrack)
DUSK_JSON(Motion)
DUSK_JSON(Rig)
DUSK_JSON(Project)
DUSK_JSON(LampKind)
DUSK_JSON(FeedKind)
#undef DUSK_JSON

}  // namespace dusk
