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
NLOHMANN_JSON_SERIALIZE_ENUM(StandInKind, {{StandInKind::box, "box"},
                                           {StandInKind::cylinder, "cylinder"},
                                           {StandInKind::ball, "ball"},
                                           {StandInKind::sheet, "sheet"}})
NLOHMANN_JSON_SERIALIZE_ENUM(BackdropKind, {{BackdropKind::photo, "photo"},
                                            {BackdropKind::plain, "plain"},
                                            {BackdropKind::gradient, "gradient"},
                                            {BackdropKind::panorama, "panorama"}})
NLOHMANN_JSON_SERIALIZE_ENUM(DeliverableKind, {{DeliverableKind::png, "png"}, {DeliverableKind::exr, "exr"}})

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
DUSK_JSON(Surface)
DUSK_JSON(PartMove)
DUSK_JSON(Product)
DUSK_JSON(Placement)
DUSK_JSON(Surroundings)
DUSK_JSON(Lamp)
DUSK_JSON(StandIn)
DUSK_JSON(Backdrop)
DUSK_JSON(HeightReference)
DUSK_JSON(Contact)
DUSK_JSON(Focus)
DUSK_JSON(RenderSettings)
DUSK_JSON(LightMix)
DUSK_JSON(BlendSettings)
DUSK_JSON(Deliverable)
DUSK_JSON(Shot)
DUSK_JSON(Rig)
DUSK_JSON(Project)
DUSK_JSON(LampKind)
#undef DUSK_JSON

}  // namespace dusk
