#pragma once
#include <OpenImageIO/imagebuf.h>

#include "core/deliver/deliver.h"
#include "core/project/deliverable_kinds.h"
#include "core/project/file.h"

/// Small pictures of the demo, handed over and read back.
namespace dusk {

/// A demo project without deliverables, and what it takes to hand it over.
class HandedOver {
 public:
  static constexpr int width = 480, height = 320;
  explicit HandedOver(const char* demo, const char* file)
      : assets(std::filesystem::path(DUSK_SOURCE) / "demo" / demo), file_(file), demo_(demo) {}

  Project project() const {
    Project p = *loadProject(std::filesystem::path(DUSK_SOURCE) / "demo" / demo_ / file_);
    p.shots.resize(1);
    p.shots[0].deliverables.clear();
    return p;
  }
  /// At a fourth of the photo's size, with few samples.
  Result<DeliverReport> write(const Project& p, const std::filesystem::path& into,
                              IfThere ifThere = IfThere::refuse) {
    DeliverOptions options;
    options.folder = into, options.size = std::pair(width, height), options.samples = 8;
    options.ifThere = ifThere;
    return deliver(p, 0, assets, cache, options, progress);
  }

  AssetStore assets;
  GeometryCache cache;
  Progress progress;

 private:
  std::string file_, demo_;
};

/// Values as they are in the file, 0 to 1 or light, with nothing multiplied or divided.
inline Picture readAsIs(const std::filesystem::path& file) {
  OIIO::ImageSpec config;
  config.attribute("oiio:UnassociatedAlpha", 1);
  OIIO::ImageBuf buf(file.string(), 0, 0, nullptr, &config);
  if (!buf.read(0, 0, true, OIIO::TypeFloat)) return {};
  Picture p(buf.spec().width, buf.spec().height, buf.spec().channelnames);
  buf.get_pixels(OIIO::ROI::All(), OIIO::TypeFloat, p.pixels.data());
  return p;
}

inline double worstDifference(const Picture& a, const Picture& b) {
  if (a.pixels.size() != b.pixels.size() || a.empty()) return 1e9;
  double most = 0;
  for (size_t i = 0; i < a.pixels.size(); ++i)
    most = std::max(most, std::abs(double(a.pixels[i]) - double(b.pixels[i])));
  return most;
}

}  // namespace dusk
