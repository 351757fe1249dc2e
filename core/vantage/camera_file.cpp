#include "core/vantage/camera_file.h"

#include <Eigen/Geometry>

#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/base/words.h"
#include "core/project/json.h"
#include "core/vantage/camera.h"
#include "core/vantage/evidence_file.h"

namespace dusk {
namespace {

using Eigen::Matrix4d;
using nlohmann::json;

/// Our world is Z up, glTF's Y up: (x, y, z) there is (x, z, -y) of ours.
Vec3d toGltf(const Vec3d& v) { return {v.x, v.z, -v.y}; }
Vec3d fromGltf(const Vec3d& v) { return {v.x, -v.z, v.y}; }

Matrix4d localMatrix(const json& node) {
  Matrix4d m = Matrix4d::Identity();
  if (node.contains("matrix")) {
    const auto values = node.at("matrix").get<std::array<double, 16>>();
    m = Eigen::Map<const Matrix4d>(values.data());  // column by column, as in the standard
    return m;
  }
  const auto t = node.value("translation", std::array<double, 3>{0, 0, 0});
  const auto r = node.value("rotation", std::array<double, 4>{0, 0, 0, 1});
  const auto s = node.value("scale", std::array<double, 3>{1, 1, 1});
  Eigen::Affine3d a = Eigen::Affine3d::Identity();
  a.translate(Eigen::Vector3d(t[0], t[1], t[2]));
  a.rotate(Eigen::Quaterniond(r[3], r[0], r[1], r[2]).normalized());
  a.scale(Eigen::Vector3d(s[0], s[1], s[2]));
  return a.matrix();
}

/// The first node with a perspective camera under `index`, and where it stands.
bool findCamera(const json& document, size_t index, const Matrix4d& parent, int depth, Matrix4d& place,
                json& camera) {
  const json& node = document.at("nodes").at(index);
  const Matrix4d here = parent * localMatrix(node);
  if (node.contains("camera")) {
    const json& found = document.at("cameras").at(node.at("camera").get<size_t>());
    if (found.value("type", "") == "perspective") {
      place = here, camera = found;
      return true;
    }
  }
  if (depth > 64) return false;
  for (const json& child : node.value("children", json::array()))
    if (findCamera(document, child.get<size_t>(), here, depth + 1, place, camera)) return true;
  return false;
}

std::optional<Camera> fromGltfDocument(const json& document, int width, int height) {
  Matrix4d place;
  json found;
  bool any = false;
  if (document.contains("scenes") && !document["scenes"].empty()) {
    const json& scene = document["scenes"].at(document.value("scene", size_t(0)));
    for (const json& root : scene.value("nodes", json::array()))
      if (!any) any = findCamera(document, root.get<size_t>(), Matrix4d::Identity(), 0, place, found);
  }
  for (size_t i = 0; !any && i < document.value("nodes", json::array()).size(); ++i)
    any = findCamera(document, i, Matrix4d::Identity(), 0, place, found);
  if (!any) return {};
  Camera c;
  const json extras = found.value("extras", json::object());
  c.width = extras.value("width", width), c.height = extras.value("height", height);
  c.focalPx = extras.value("focalPx",
                           c.height / 2.0 / std::tan(found.at("perspective").at("yfov").get<double>() / 2));
  c.cx = extras.value("cx", c.width / 2.0), c.cy = extras.value("cy", c.height / 2.0);
  c.k1 = extras.value("k1", 0.0), c.k2 = extras.value("k2", 0.0);
  const auto column = [&](int i) { return fromGltf({place(0, i), place(1, i), place(2, i)}); };
  c.axes = {column(0).normalized(), -column(1).normalized(), -column(2).normalized()};
  c.position = column(3);
  return c;
}

Camera fromAnswer(const json& answer, int width, int height) {
  Camera c;
  const json image = answer.value("image", json::object());
  c.width = image.value("width", width), c.height = image.value("height", height);
  c.focalPx = answer.at("focal_px").get<double>();
  c.cx = answer.value("cx", c.width / 2.0), c.cy = answer.value("cy", c.height / 2.0);
  c.k1 = answer.value("k1", 0.0), c.k2 = answer.value("k2", 0.0);
  const auto m = answer.at("world_from_camera").get<std::array<double, 16>>();
  c.axes = {{m[0], m[4], m[8]}, {m[1], m[5], m[9]}, {m[2], m[6], m[10]}};
  c.position = {m[3], m[7], m[11]};
  return c;
}

bool usable(const Camera& c) {
  const auto unit = [](const Vec3d& v) { return std::abs(v.length() - 1) < 1e-3; };
  const double sum = c.focalPx + c.cx + c.cy + c.k1 + c.k2 + c.position.x + c.position.y + c.position.z;
  return std::isfinite(sum) && c.focalPx > 1 && c.width > 1 && c.height > 1 && unit(c.axes.x) &&
         unit(c.axes.y) && unit(c.axes.z) && c.axes.x.cross(c.axes.y).dot(c.axes.z) > 0.99;
}

}  // namespace

std::string cameraGltf(const Camera& c, const std::string& name) {
  const Vec3d x = toGltf(c.axes.x), y = toGltf(-c.axes.y), z = toGltf(-c.axes.z), p = toGltf(c.position);
  const json document = {
      {"asset", {{"version", "2.0"}, {"generator", "Gentle Dusk"}}},
      {"scene", 0},
      {"scenes", {{{"nodes", {0}}}}},
      {"nodes",
       {{{"name", name},
         {"camera", 0},
         {"matrix", {x.x, x.y, x.z, 0, y.x, y.y, y.z, 0, z.x, z.y, z.z, 0, p.x, p.y, p.z, 1}}}}},
      {"cameras",
       {{{"name", name},
         {"type", "perspective"},
         {"perspective",
          {{"aspectRatio", double(c.width) / c.height},
           {"yfov", 2 * std::atan(c.height / 2.0 / c.focalPx)},
           {"znear", 0.01}}},
         {"extras",
          {{"width", c.width},
           {"height", c.height},
           {"focalPx", c.focalPx},
           {"cx", c.cx},
           {"cy", c.cy},
           {"k1", c.k1},
           {"k2", c.k2}}}}}}};
  return jsonText(document, 2) + "\n";
}

std::string vantageJson(const Vantage& vantage) {
  VantageAnswer answer;
  answer.vantage = vantage;
  return answerJson(answer);
}

Result<Vantage> readVantage(const std::filesystem::path& file, int width, int height) try {
  const auto wrong = [&](const std::string& why) {
    return Error{words("No camera could be read from ") + file.filename().string() + ": " + why,
                 ErrorKind::unreadable};
  };
  auto text = readFile(file, size_t{512} << 20);
  if (!text) return text.error();
  std::string body = *text;
  // A .glb is a header of 12 bytes and chunks; the first holds the JSON.
  if (body.size() > 20 && body.starts_with("glTF")) {
    uint32_t length = 0;
    std::copy_n(body.data() + 12, 4, reinterpret_cast<char*>(&length));
    body = body.substr(20, length);
  }
  const json document = parsedJson(body);
  std::optional<Camera> camera;
  Vantage vantage;
  if (document.contains("asset"))
    camera = fromGltfDocument(document, width, height);
  else if (document.contains("world_from_camera"))
    camera = fromAnswer(document, width, height);
  if (!camera) return wrong(words("it holds neither a glTF perspective camera nor a solved vantage."));
  if (!usable(*camera))
    return wrong(words("its camera is not one that can take a picture (check its scale and turn)."));
  if (std::abs(double(camera->width) / camera->height - double(width) / height) > 0.01)
    return wrong(words("it belongs to a picture of another shape (") + std::to_string(camera->width) + " x " +
                 std::to_string(camera->height) + ").");
  vantage.camera = resized(*camera, width, height);
  vantage.solved = true;
  if (document.contains("sigma")) {
    const json& s = document["sigma"];
    vantage.sigma = {s.value("focal_px", 0.0) * width / camera->width,
                     s.value("tilt_degrees", 0.0),
                     s.value("roll_degrees", 0.0),
                     s.value("height_m", 0.0),
                     s.value("k1", 0.0),
                     s.value("k2", 0.0)};
  }
  vantage.rmsPx = document.value("rms_px", 0.0);
  return vantage;
} catch (const json::exception& error) {
  return Error{words("No camera could be read from ") + file.filename().string() +
                   words(": its text is damaged (") + error.what() + ").",
               ErrorKind::unreadable};
}

}  // namespace dusk
