// What surfaces cost: `dusk-bench-surface [FOLDER [PICTURES]]`. The white table's product, filling the
// picture, traced in plain surfaces, with a set of four pictures of 4k on every part, and with patterns;
// rates as ratios in one run, taken in turns. Then pictures of 8k, one after the other, and what they take in
// memory; and how long the shelf's swatches take.
#include <OpenImageIO/imageio.h>

#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <fstream>

#include "app/stations/surface/swatches.h"
#include "bench/memory_use.h"
#include "core/project/feed_kinds.h"
#include "core/project/file.h"
#include "core/surface/edit.h"
#include "core/surface/library.h"
#include "core/surface/noise.h"
#include "core/trace/compile.h"
#include "core/trace/render.h"
#include "core/vantage/camera.h"

namespace {

using namespace dusk;
using Clock = std::chrono::steady_clock;
double since(Clock::time_point t) { return std::chrono::duration<double>(Clock::now() - t).count(); }

/// A picture of blotches, so that its tiles differ and compress about as photos do not.
std::filesystem::path writePicture(const std::filesystem::path& folder, const std::string& name, int side,
                                   int seed) {
  const auto file = folder / (name + ".tif");
  if (std::filesystem::exists(file)) return file;
  std::vector<unsigned char> values(size_t(side) * size_t(side) * 3);
  for (int y = 0; y < side; ++y)
    for (int x = 0; x < side; ++x)
      for (int c = 0; c < 3; ++c)
        values[(size_t(y) * size_t(side) + size_t(x)) * 3 + size_t(c)] =
            (unsigned char)(110 + (scrambled(x / 16, y / 16, c, uint32_t(seed)) & 63) +
                            (scrambled(x, y, c, 1) & 15));
  const auto out = OIIO::ImageOutput::create(file.string());
  OIIO::ImageSpec spec(side, side, 3, OIIO::TypeDesc::UINT8);
  spec.attribute("compression", "lzw");
  out->open(file.string(), spec), out->write_image(OIIO::TypeDesc::UINT8, values.data()), out->close();
  return file;
}

Feed pictureFeed(const AssetRef& ref, PictureChannel channel) {
  Feed f = newFeed(FeedKind::picture);
  f.picture = ref, f.channel = channel;
  f.mapping.sizeMm = {60, 0};
  return f;
}

struct Dress {
  const char* name;
  std::function<void(Surface&)> wear;
};

Project dressed(Project p, const Dress& dress) {
  for (Surface& s : p.surfaces) s.feeds.clear(), s.coats.clear(), dress.wear(s);
  return p;
}

}  // namespace

int main(int argc, char** argv) {
  const std::filesystem::path folder = argc > 1 ? argv[1] : "/tmp/dusk-surface-study";
  const int pictures = argc > 2 ? std::atoi(argv[2]) : 24;
  std::filesystem::create_directories(folder);
  const auto file = std::filesystem::path(DUSK_SOURCE) / "demo/table/table.dusk";
  Project project = *loadProject(file);
  AssetStore assets(file.parent_path());
  GeometryCache cache;
  Progress progress;
  std::vector<AssetRef> set;
  for (int i = 0; i < 4; ++i)
    set.push_back(*assets.refer(writePicture(folder, "set-" + std::to_string(i), 4096, i)));
  const Dress dresses[] = {
      {"plain", [](Surface&) {}},
      {"4k set",
       [&](Surface& s) {
         s.feeds[SurfaceValue::baseColour] = {pictureFeed(set[0], PictureChannel::colour)};
         s.feeds[SurfaceValue::roughness] = {pictureFeed(set[1], PictureChannel::green)};
         s.feeds[SurfaceValue::metalness] = {pictureFeed(set[2], PictureChannel::blue)};
         s.feeds[SurfaceValue::bump] = {pictureFeed(set[3], PictureChannel::red)};
         s.feeds[SurfaceValue::bump][0].high = Vec3d(0.02);
       }},
      {"patterns",
       [](Surface& s) {
         s.feeds[SurfaceValue::baseColour] = {newFeed(FeedKind::cloud)};
         s.feeds[SurfaceValue::roughness] = {newFeed(FeedKind::smudges)};
         s.feeds[SurfaceValue::bump] = {newFeed(FeedKind::noise)};
         s.feeds[SurfaceValue::bump][0].high = Vec3d(0.02);
       }},
      {"worn",
       [](Surface& s) {
         s = withUse(s, {0.5, 0.5, 0.5, 0.5});
       }},
  };
  double seconds[std::size(dresses)]{};
  for (int round = 0; round < 3; ++round)
    for (size_t i = 0; i < std::size(dresses); ++i) {
      const Project p = dressed(project, dresses[i]);
      auto compiled = compile(p, 0, assets, cache, progress);
      if (!compiled) return std::puts(compiled.error().message.c_str()), 1;
      Scene& scene = compiled->scene;
      const Camera& c = scene.camera;
      scene.camera = cropped(c, c.width * 3 / 8, c.height * 3 / 8, c.width / 4, c.height / 4);
      scene.noiseTarget = 0, scene.samples = 16;
      Film film(scene.camera.width, scene.camera.height, scene.lights->groups());
      const auto begun = Clock::now();
      (void)render(scene, film, 16, progress);
      if (round > 0) seconds[i] += since(begun);  // the first warms the caches
    }
  for (size_t i = 0; i < std::size(dresses); ++i)
    std::printf("%-9s %6.2f s, samples a second %.2f of plain\n", dresses[i].name, seconds[i],
                seconds[0] / seconds[i]);
  std::printf("swatches:");
  double most = 0, sum = 0;
  for (const LibrarySurface& entry : surfaceLibrary()) {
    const auto begun = Clock::now();
    (void)tracedSwatch(entry.surface, 72, 24);
    most = std::max(most, since(begun)), sum += since(begun);
  }
  std::printf(" mean %.3f s, most %.3f s\n", sum / double(surfaceLibrary().size()), most);
  const double before = residentMb();
  double peak = 0;
  std::vector<std::shared_ptr<const Texture>> all;
  for (int i = 0; i < pictures; ++i) {
    const auto made = writePicture(folder, "large-" + std::to_string(i), 8192, 100 + i);
    auto texture = assets.texture(*assets.refer(made), true, 1, progress);
    if (!texture) return std::puts(texture.error().message.c_str()), 1;
    all.push_back(*texture);
    for (int k = 0; k < 200'000; ++k)  // sharp looks all over it
      (void)all.back()->at({evenAt(k, 0, 0, 1), evenAt(k, 1, 0, 1)}, {5e-5f, 0}, {0, 5e-5f}, true);
    peak = std::max(peak, residentMb() - before);
  }
  if (pictures) std::printf("%d pictures of 8k: at most %.0f MB more in memory\n", pictures, peak);
  return 0;
}
