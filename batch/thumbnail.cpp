// The verb that file managers call.
#include "core/deliver/thumbnail.h"
#include "batch/answer.h"
#include "batch/variants.h"
#include "batch/verbs.h"
#include "core/motion/at.h"
#include "core/picture/write.h"

namespace dusk::batch {
namespace fs = std::filesystem;

int thumbnail(const Request& request, Progress& progress) {
  auto asked = askedShot(request.file, request.shot);
  if (!asked) return fail(asked.error());
  auto& [project, shot] = *asked;
  const auto chosen = chosenOne(project, shot, request.variant);
  if (!chosen) return fail(chosen.error());
  AssetStore assets(fs::absolute(request.file).parent_path());
  GeometryCache cache;
  const auto made = thumbnailOf(asStill(*chosen, shot), shot, assets, cache, request.pixels, request.pixels,
                                progress, Models::wait);
  if (!made) return fail(made.error());
  if (const auto written = writePng8(request.out, made->codes); !written) return fail(written.error());
  print({{"file", request.out}, {"width", made->codes.width}, {"height", made->codes.height}}, request.json);
  return 0;
}

}  // namespace dusk::batch
