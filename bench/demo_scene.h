#pragma once
#include "core/project/file.h"
#include "core/trace/compile.h"
#include "core/vantage/camera.h"

namespace dusk::bench {

/// A demo's shot, compiled, at a given width.
struct DemoScene {
  AssetStore assets;
  GeometryCache cache;
  Scene scene;
  explicit DemoScene(int width, const char* file = "brackwater/brackwater.dusk")
      : assets((std::filesystem::path(DUSK_SOURCE) / "demo" / file).parent_path()) {
    Progress progress;
    const auto project = loadProject(std::filesystem::path(DUSK_SOURCE) / "demo" / file);
    scene = compile(*project, 0, assets, cache, progress)->scene;
    scene.camera = resized(scene.camera, width, width * scene.camera.height / scene.camera.width);
  }
};

}  // namespace dusk::bench
