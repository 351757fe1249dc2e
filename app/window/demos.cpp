#include "app/window/demos.h"

#include "core/base/cache_folder.h"
#include "core/base/installed.h"
#include "core/base/words.h"

namespace dusk {
namespace fs = std::filesystem;

const std::vector<Demo>& demos() {
  static const std::vector<Demo> all{
      {"brackwater", "brackwater.dusk", words("Tide gauge on the quay"),
       words("Outdoors, a low sun, a concrete ground")},
      {"boathouse", "boathouse.dusk", words("In the boathouse"),
       words("Indoors, window light, things on a bench")},
      {"slipway", "slipway.dusk", words("On the slipway"), words("Wet ground under an even sky")},
      {"jar", "plinths.dusk", words("Jar on plinths"), words("No photo: a furnished set")}};
  return all;
}

Result<QString> ownDemo(const Demo& demo) {
  const fs::path from = sharedFolder("demo") / demo.folder, to = dataFolder() / "demo" / demo.folder;
  std::error_code code;
  fs::create_directories(to, code);
  fs::copy(from, to, fs::copy_options::recursive | fs::copy_options::skip_existing, code);
  for (const fs::path& folder : {to, from})
    if (fs::exists(folder / demo.file, code)) return QString::fromStdString((folder / demo.file).string());
  return Error{words("The demos did not come with this program.")};
}

QString pictureOf(const Demo& demo) { return QString(":/demos/%1.jpg").arg(demo.folder); }

}  // namespace dusk
