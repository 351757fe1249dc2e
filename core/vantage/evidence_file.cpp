#include "core/vantage/evidence_file.h"

#include "core/base/json_text.h"
#include "core/base/words.h"
#include "core/project/json.h"
#include "core/project/sound.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

using nlohmann::json;

template <typename T>
std::optional<T> optionalField(const json& from, const char* key) {
  return from.contains(key) && !from.at(key).is_null() ? std::optional<T>(from.at(key).get<T>())
                                                       : std::nullopt;
}

EvidenceFile parse(const json& in) {
  EvidenceFile file;
  const json& image = in.at("image");
  file.width = image.at("width").get<int>();
  file.height = image.at("height").get<int>();
  file.imageFile = image.value("file", "");
  Evidence& e = file.evidence;
  int number = 0;
  for (const json& s : in.value("strokes", json::array())) {
    e.strokes.push_back({"stroke-" + std::to_string(++number),
                         s.at("run").get<Run>(),
                         s.at("points").get<std::vector<Vec2d>>(),
                         {}});
  }
  if (in.contains("footprint") && !in["footprint"].is_null()) {
    const json& f = in["footprint"];
    e.footprint = Footprint{f.at("corners").get<std::array<Vec2d, 4>>(), optionalField<Vec2d>(f, "size_m"),
                            optionalField<double>(f, "ratio"), f.value("height_m", 0.0)};
  }
  for (const json& p : in.value("pins", json::array()))
    e.pins.push_back({p.at("at").get<Vec2d>(), p.at("world_m").get<Vec3d>()});
  for (const json& l : in.value("lengths", json::array())) {
    e.lengths.push_back({l.at("from").get<Vec2d>(), l.at("to").get<Vec2d>(), l.at("metres").get<double>(),
                         l.value("on", LengthOn::ground)});
  }
  if (in.contains("level_line")) in["level_line"].at("points").get_to(e.levelLine);
  e.origin = optionalField<Vec2d>(in, "origin");
  e.quarterTurns = in.value("quarter_turns", 0);
  if (in.contains("camera")) {
    e.focalMm35 = optionalField<double>(in["camera"], "focal_mm_35");
    e.heightM = optionalField<double>(in["camera"], "height_m");
  }
  if (in.contains("lens")) {
    const json& lens = in["lens"];
    for (const std::string& name : lens.value("solve", std::vector<std::string>{})) {
      e.solveK1 |= name == "k1";
      e.solveK2 |= name == "k2";
      e.shifted |= name == "shift";
    }
    if (lens.contains("k1"))
      e.lens = LensProfile{"given", lens.at("k1").get<double>(), lens.value("k2", 0.0), {}, 1, 1};
  }
  return file;
}

}  // namespace

Result<EvidenceFile> parseEvidence(const std::string& text) {
  try {
    EvidenceFile file = parse(parsedJson(text));
    if (file.width < 2 || file.height < 2 || file.width > 1'000'000 || file.height > 1'000'000)
      return Error{words("The evidence says no usable image size (image.width, image.height)."),
                   ErrorKind::unreadable};
    if (const std::string flaw = unsound(file.evidence); !flaw.empty())
      return Error{words("The evidence cannot be used: ") + flaw + ".", ErrorKind::unreadable};
    return file;
  } catch (const json::exception& error) {
    return Error{words("The evidence file is not as it should be: ") + whatOf(error) + ".",
                 ErrorKind::unreadable};
  }
}

std::string answerJson(const VantageAnswer& answer) {
  const Vantage& v = answer.vantage;
  json out = {{"solved", v.solved}, {"advice", answer.advice}, {"items", json::array()}};
  if (v.solved) {
    const Camera& c = v.camera;
    const Triadd& a = c.axes;
    const Vec3d& p = c.position;
    out["image"] = {{"width", c.width}, {"height", c.height}};
    out["focal_px"] = c.focalPx;
    out["focal_mm_35"] = focalMm35(c);
    out["cx"] = c.cx, out["cy"] = c.cy, out["k1"] = c.k1, out["k2"] = c.k2;
    out["world_from_camera"] = {a.x.x, a.y.x, a.z.x, p.x, a.x.y, a.y.y, a.z.y, p.y,
                                a.x.z, a.y.z, a.z.z, p.z, 0,     0,     0,     1};
    out["tilt_degrees"] = degrees(tilt(c)), out["roll_degrees"] = degrees(roll(c));
    out["sigma"] = {{"focal_px", v.sigma.focalPx},
                    {"focal_mm_35", v.sigma.focalPx / c.focalPx * focalMm35(c)},
                    {"tilt_degrees", v.sigma.tiltDegrees},
                    {"roll_degrees", v.sigma.rollDegrees},
                    {"height_m", v.sigma.heightM},
                    {"k1", v.sigma.k1},
                    {"k2", v.sigma.k2}};
    out["rms_px"] = v.rmsPx;
    out["scale_known"] = answer.scaleKnown;
    if (answer.footprintSizeM) out["footprint_size_m"] = *answer.footprintSizeM;
  }
  for (const EvidenceItem& item : answer.items)
    out["items"].push_back(
        {{"what", item.what}, {"id", item.id}, {"rms_px", item.rmsPx}, {"outlier", item.outlier}});
  return jsonText(out, 2) + "\n";
}

}  // namespace dusk
