#include "core/deliver/scene_file.h"

#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/base/words.h"
#include "core/light/lights.h"
#include "core/light/sun.h"
#include "core/vantage/camera_file.h"
#include "core/vantage/frames.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

using nlohmann::json;

/// Where something stands whose -Z looks along `direction`, in the world.
Similarity lookingAlong(const Vec3d& direction, const Vec3d& at) {
  const Vec3d z = -direction.normalized(), aside = std::abs(z.z) < 0.9 ? Vec3d(0, 0, 1) : Vec3d(0, 1, 0);
  const Vec3d x = aside.cross(z).normalized();
  Similarity s;
  s.rotation = {x, z.cross(x), z}, s.shift = at;
  return s;
}

class SceneWriter {
 public:
  SceneWriter(const Project& project, const Shot& shot, AssetStore& assets)
      : project_(project), shot_(shot), assets_(assets) {}

  Result<DressedNotes> run(const std::filesystem::path& file, int side, Progress& progress) {
    if (!shot_.vantage.solved) return Error{words("The shot has no camera yet: find its vantage first.")};
    const Progress::Part all = progress.part();
    const double count = double(project_.products.size());
    for (size_t i = 0; i < project_.products.size(); ++i) {
      progress.reportWithin(all.within(double(i) / count, double(i + 1) / count));
      if (const Outcome added = addProduct(project_.products[i], file, side, progress); !added)
        return added.error();
    }
    progress.reportWithin(all);
    if (const Outcome lit = addLights(); !lit) return lit.error();
    addCamera();
    if (const auto written = writeFileAtomically(file, writer_.bytes(shot_.name)); !written)
      return written.error();
    notes_.pictures = writer_.pictures();
    return notes_;
  }

 private:
  Outcome addProduct(const Product& product, const std::filesystem::path& file, int side,
                     Progress& progress) {
    const auto stands = [&](const Placement& p) { return p.productId == product.id; };
    if (std::none_of(shot_.placements.begin(), shot_.placements.end(), stands)) return done();
    DressedProduct dressed(writer_, project_, product, assets_, file.string() + ".picture.png", side);
    DressedNotes own;
    if (const Outcome ready = dressed.prepare(own, progress); !ready) return ready;
    notes_.lost.insert(notes_.lost.end(), own.lost.begin(), own.lost.end());
    for (const Placement& p : shot_.placements) {
      if (!stands(p)) continue;
      const Similarity place = worldFromModel(product, p, dressed.model(), planeHeightM(shot_, p));
      writer_.roots.push_back(dressed.addNode(product.name, gltfFromZUp().after(place)));
      notes_.parts += own.parts;
      if (p.cutAtGround)
        notes_.lost.push_back(product.name + words(" is cut at the ground: it is whole in the file."));
    }
    return done();
  }

  void addLight(const std::string& name, json light, const Rgb& strength, const Similarity& place) {
    const float most = std::max(1e-12f, maxComponent(strength));
    light["name"] = name, light["color"] = gltfList(strength / most), light["intensity"] = most;
    writer_.lights.push_back(std::move(light));
    writer_.roots.push_back(
        writer_.addNode({{"name", name},
                         {"matrix", gltfMatrix(gltfFromZUp().after(place))},
                         {"extensions", {{"KHR_lights_punctual", {{"light", writer_.lights.size() - 1}}}}}}));
  }

  Outcome addLights() {
    const Surroundings& around = shot_.surroundings;
    if (!around.panorama.empty()) {
      const auto dome = assets_.dome(around);
      if (!dome) return dome.error();
      if (dome->sun)
        addLight(words("Sun"), {{"type", "directional"}},
                 dome->sun->irradiance * float(std::exp2(around.gainEv)),
                 lookingAlong(-toDouble(dome->sun->direction), {}));
      const auto name = assets_.pathOf(around.panorama).filename().string();
      writer_.extras["panorama"] = {{"file", name},
                                    {"turnDegrees", around.turnDegrees},
                                    {"tiltDegrees", around.tiltDegrees},
                                    {"rollDegrees", around.rollDegrees},
                                    {"gainEv", around.gainEv},
                                    {"mirrored", around.mirrored}};
      notes_.lost.push_back(words("glTF has no word for a panorama: ") + name +
                            words(" goes beside the file, turned by ") +
                            std::to_string(std::lround(around.turnDegrees)) + words(" degrees."));
    }
    for (const Lamp& lamp : shot_.lamps)
      if (lamp.on) addLamp(lamp);
    return done();
  }

  void addLamp(const Lamp& lamp) {
    const LampKindInfo& info = infoOf(lamp.kind);
    const Rgb light = lampLight(lamp);
    if (!info.lights || info.hasPicture) {
      notes_.lost.push_back(lamp.name +
                            words(": what shines with a picture, or is only mirrored, has no word in glTF."));
      return;
    }
    if (info.body == LampBody::distant)
      return addLight(lamp.name, {{"type", "directional"}}, light * pif,
                      lookingAlong(-toDouble(sunDirection(lamp)), {}));
    const Vec3d to = targetOf(shot_, lamp) - lamp.positionM;
    const Similarity place = lookingAlong(to.length() > 1e-9 ? to : Vec3d(0, 0, -1), lamp.positionM);
    // Radiant intensity along its axis: radiance times what is seen of it from there.
    const double surface =
        info.body == LampBody::rectangle ? lamp.widthM * lamp.heightM : pi * lamp.radiusM * lamp.radiusM;
    json kind = {{"type", "point"}};
    if (info.hasCone || info.body != LampBody::ball) {
      const double outer = info.hasCone ? radians(std::clamp(lamp.coneDegrees, 1.0, 179.0)) / 2 : pi / 2,
                   inner = info.hasCone ? outer * (1 - std::clamp(lamp.coneSoftness, 0.0, 0.999)) : 0;
      kind = {{"type", "spot"}, {"spot", {{"innerConeAngle", inner}, {"outerConeAngle", outer}}}};
    }
    if (!info.hasCone)
      notes_.lost.push_back(lamp.name + words(" has a size: in the file it is a point, with hard shadows."));
    addLight(lamp.name, std::move(kind), light * float(surface), place);
  }

  void addCamera() {
    const Camera camera = workingCamera(shot_.vantage);
    const json alone = jsonFrom(cameraGltf(camera, shot_.name));
    writer_.cameras = alone["cameras"];
    writer_.roots.push_back(writer_.addNode(alone["nodes"][0]));
    const double off = std::hypot(camera.cx - camera.width / 2.0, camera.cy - camera.height / 2.0);
    if (camera.k1 != 0 || camera.k2 != 0 || off > 1)
      notes_.lost.push_back(words(
          "glTF has no word for lens distortion and an axis off the middle: they are among the camera's "
          "extras."));
  }

  const Project& project_;
  const Shot& shot_;
  AssetStore& assets_;
  GltfWriter writer_;
  DressedNotes notes_;
};

}  // namespace

Result<DressedNotes> writeScene(const Project& project, const Shot& shot, AssetStore& assets,
                                const std::filesystem::path& file, int side, Progress& progress) {
  return SceneWriter(project, shot, assets).run(file, side, progress);
}

}  // namespace dusk
