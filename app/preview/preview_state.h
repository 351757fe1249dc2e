#pragma once
#include <chrono>
#include <optional>

#include "app/preview/preview.h"

/// What the preview's own files share.
namespace dusk {

using Clock = std::chrono::steady_clock;

struct Preview::Request {
  Project project;
  size_t shot;
  std::shared_ptr<AssetStore> assets;
  std::shared_ptr<GeometryCache> cache;
  QSize whole;
  QRect area;
  int width, height;     ///< of the area
  int modelChanges = 0;  ///< the models' state
  ScreenDetail detail;
  Clock::time_point asked = Clock::now();
  std::shared_ptr<Progress> progress = std::make_shared<Progress>();
};

/// What is made once per traced state; immutable.
struct Preview::Stage {
  std::shared_ptr<const Scene> scene;
  std::shared_ptr<AssetStore> assets;
  std::vector<std::string> notes;
  QSize whole;
  QRect area;
  int width, height;
  std::string shotId;
  std::shared_ptr<const Picture> plateFrom;
  std::string view;
  std::shared_ptr<const Picture> plate, shownPlate;  ///< at screen size
  QImage bare;
  Clock::time_point asked;
};

/// The newest passes and where they came from: enough to blend a picture at any time.
struct Preview::Latest {
  std::shared_ptr<const Stage> stage;
  std::shared_ptr<const Passes> passes;             ///< as large as the screen's picture
  std::shared_ptr<const Passes> byLight = nullptr;  ///< with each light's own; when lights are mixed
  int samples = 0;
  bool finished = false;
  std::shared_ptr<const Film> film = nullptr;      ///< once it is finished
  std::shared_ptr<const Passes> coarse = nullptr;  ///< shown outside the region
  double strength = 0;                             ///< of the denoising in `passes`
  std::shared_ptr<const std::vector<NamedPass>> named = nullptr;
};

}  // namespace dusk
