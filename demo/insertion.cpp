#include "demo/insertion.h"

#include <unistd.h>

#include "core/colour/difference.h"
#include "core/deliver/deliver.h"
#include "core/picture/read.h"
#include "core/picture/write.h"
#include "core/project/file.h"
#include "core/vantage/camera.h"
#include "demo/quay.h"

namespace dusk::demo {

Result<Insertion> insertionTruth(const std::filesystem::path& folderOfDemo, int width, int samples,
                                 bool trueCamera) {
  namespace fs = std::filesystem;
  auto project = loadProject(folderOfDemo / "brackwater.dusk");
  if (!project) return project.error();
  AssetStore assets(folderOfDemo);
  GeometryCache cache;
  Progress progress;
  auto compiled = compile(*project, 0, assets, cache, progress, Models::fine);
  if (!compiled) return compiled.error();
  Insertion out;
  const Picture plate = photograph(width, samples, false, cache, nullptr, progress);
  out.truth = photograph(width, samples, false, cache, &compiled->scene, progress);

  // What a person has: the photo, the panorama, and the vantage solved from lines drawn on the photo.
  const fs::path folder = fs::temp_directory_path() / ("gentle-dusk-truth-" + std::to_string(::getpid()));
  fs::create_directories(folder);
  if (const auto written = writePng8(folder / "plate.png", plate); !written) return written.error();
  const auto ref = assets.refer(folder / "plate.png");
  if (!ref) return ref.error();
  Shot& shot = project->shots[0];
  shot.plate = {(folder / "plate.png").string(), ref->hash};
  shot.vantage.camera = resized(trueCamera ? quay().camera : shot.vantage.camera, plate.width, plate.height);
  shot.render.samples = samples;
  shot.deliverables = {{DeliverableKind::png, "composite.png"}};
  DeliverOptions options;
  options.folder = folder;
  const auto report = deliver(*project, 0, assets, cache, options, progress);
  if (!report) return report.error();
  const auto composite = readPhoto(folder / "composite.png");
  if (!composite) return composite.error();
  out.composite = composite->picture.whole(), out.alpha = report->passes.alpha;
  std::error_code ignored;
  fs::remove_all(folder, ignored);

  out.difference = Picture(plate.width, plate.height, {"Y"});
  for (size_t i = 0; i < out.difference.pixels.size(); ++i) {
    const auto lab = [&](const Picture& p) {
      // Both as eight bits, as files are.
      const auto code = [&](size_t c) { return std::round(double(p.pixels[i * 3 + c]) * 255) / 255; };
      return labOfSrgb({code(0), code(1), code(2)});
    };
    const double off = ciede2000(lab(out.truth), lab(out.composite));
    out.difference.pixels[i] = float(off);
    const float alpha = report->passes.alpha.pixels[i];
    const float* r = &report->passes.ratio.pixels[i * 3];
    const float influence = std::max({std::abs(r[0] - 1), std::abs(r[1] - 1), std::abs(r[2] - 1)});
    out.off[alpha > 0.5f                     ? Insertion::product
            : influence > 0.01f || alpha > 0 ? Insertion::influence
                                             : Insertion::outside]
        .add(off);
    out.untouched.add(ciede2000(lab(out.truth), lab(plate)));
  }
  return out;
}

}  // namespace dusk::demo
