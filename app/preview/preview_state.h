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
  std::optional<OpenShutter> shutter;
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
  bool isWhole() const { return area.contains(QRect(QPoint(0, 0), whole)); }
  /// Of the picture in what is traced, where that goes beyond its border; else empty.
  PixelArea picture() const {
    if (!isWhole() || area.size() == whole) return {};
    return {-area.x(), -area.y(), whole.width() - area.x(), whole.height() - area.y()};
  }
  int width, height;
  std::string shotId;
  std::shared_ptr<const Picture> plateFrom;
  BlendSettings view;                                ///< that alone
  std::shared_ptr<const Picture> plate, shownPlate;  ///< at screen size
  QImage bare;
  Clock::time_point asked;
};

/// What is traced for a picture so many times smaller than the one asked for.
struct Preview::Smaller {
  int width, height;
  Scene scene;
  Smaller(const Stage& stage, const Request& request, int divisor);
  /// Where the request has an open shutter and something moves; false: cancelled.
  bool openShutter(const Request& request);
};

/// The last calm picture, where a request asks for the same but for what parts of products are made of:
/// nothing but those need be looked at anew at once.
struct Preview::Before {
  std::shared_ptr<const Passes> picture;  ///< nullptr: it asks for something else
  std::vector<unsigned char> changed;     ///< [pixel]: such a part is seen there
  /// That picture with those parts as a coarse one of the same shape shows them.
  std::shared_ptr<const Passes> dressed(const Passes& coarse) const;
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

/// When the noise is taken out on the way: once there is something to tell it by, and then so seldom that it
/// costs a fifth of the time.
class Preview::Pace {
 public:
  bool mayDenoise(int samples) const {
    constexpr int enough = 4;
    constexpr double share = 0.25, first = 0.15;
    const double traced = secondsSince(begun_) - spent_;
    return samples >= enough && traced > first && spent_ + last_ <= share * traced;
  }
  void denoised(double seconds) { last_ = seconds, spent_ += seconds; }
  /// It was, so that what is noisy is not shown any more.
  bool isCalm() const { return spent_ > 0; }
  static double secondsSince(Clock::time_point t) {
    return std::chrono::duration<double>(Clock::now() - t).count();
  }

 private:
  Clock::time_point begun_ = Clock::now();
  double spent_ = 0, last_ = 0;
};

/// Puts what the blend needs of a row's pixels [x0, x1) in the place of what is there; of one size.
void putOver(Passes& to, const Passes& from, int y, int x0, int x1);

/// Coarse passes brought to the picture's size; only what the blend needs.
std::shared_ptr<const Passes> atSize(Passes from, int width, int height);

}  // namespace dusk
