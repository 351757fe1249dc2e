#pragma once
#include "core/proof/mirror_look.h"
#include "tests/stage.h"

namespace dusk {

/// A photo of a board, half bright and half dark, that stands on ground which mirrors.
struct BoardOnGround {
  Camera camera = lookAt(270, 180, 248, {0.1, -2, 0.7}, {0, 0.2, 0.15});
  Picture photo;
  BoardOnGround(float strength, float roughness) {
    // Lit by itself, so that it casts nothing that is not meant here.
    BsdfParameters bright = black(), dark = black(), ground;
    bright.emission = Rgb(0.9f), dark.emission = Rgb(0.12f);
    ground.base = {0.05f, 0.04f, 0.03f}, ground.roughness = roughness, ground.ior = 1.5f,
    ground.specular = strength;
    auto model = std::make_shared<Model>();
    model->add({"bright", "bright"}, uprightSheet(-0.6f, 0.02f, 0.5f, 0.5f)),
        model->add({"dark", "dark"}, uprightSheet(0.02f, 0.6f, 0.5f, 0.5f));
    model->add({"ground", "ground"}, disc(4, 0));
    Scene scene;
    GeometryCache cache;
    scene.geometry = std::make_shared<PlacedGeometry>(
        cache.device(), std::vector<PlacedGeometry::Instance>{{cache.get(model, {}), Similarity{}}});
    scene.materials = {{std::make_shared<PlainMaterial>(bright), std::make_shared<PlainMaterial>(dark),
                        std::make_shared<PlainMaterial>(ground)}};
    scene.lights = evenSky(), scene.camera = camera, scene.place.ground = false;
    Film film(camera.width, camera.height, scene.lights->groups());
    Progress progress;
    (void)render(scene, film, 64, progress);
    photo = film.resolve().beauty;
  }
  /// Marked some pixels off, as by hand.
  MirroredEdge marked() const {
    return {*projected(camera, {0.02, 0.5, 0.17}) + Vec2d(1, 0.5),
            *projected(camera, {0.02, 0.5, -0.17}) + Vec2d(-0.5, 1)};
  }
};

}  // namespace dusk
