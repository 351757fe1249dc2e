#include "app/stations/surface/material_jobs.h"

#include <QFileInfo>

#include "app/stations/workbench.h"
#include "app/widgets/file_choice.h"
#include "core/base/files.h"
#include "core/base/words.h"
#include "core/project/links.h"
#include "core/surface/material_file.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

struct Opened {
  std::vector<Surface> surfaces;
  MaterialNotes notes;
};

Result<Opened> opened(AssetStore& assets, const fs::path& file) {
  const auto text = readFile(file, size_t{16} << 20);
  if (!text) return text.error();
  Opened all;
  auto surfaces = surfacesFromMaterialFile(*text, file.filename().string(), all.notes);
  if (!surfaces) return surfaces.error();
  all.surfaces = std::move(*surfaces);
  // Pictures are meant beside the file; one that is not there leaves the plain value.
  const auto link = [&](AssetRef& ref, LinkKind) {
    if (auto found = assets.refer(file.parent_path() / ref.path))
      ref = *found;
    else
      all.notes.lost.push_back(found.error().message), ref = {};
  };
  for (Surface& s : all.surfaces) {
    eachLink(s, link);
    for (auto& [value, feeds] : s.feeds)
      std::erase_if(feeds, [](const Feed& f) { return f.kind == FeedKind::picture && f.picture.empty(); });
    std::erase_if(s.feeds, [](const auto& f) { return f.second.empty(); });
  }
  return all;
}

}  // namespace

QString lossOf(const std::vector<std::string>& lost) {
  if (lost.empty()) return {};
  const QString first = " " + QString::fromStdString(lost.front());
  return lost.size() == 1 ? first : first + QString(words(" (%1 more)")).arg(lost.size() - 1);
}

void openMaterialFile(Workbench& bench, const QString& file, int gesture) {
  Session& session = bench.session;
  if (session.selectedPart().empty())
    return session.refuse(words("Choose a part first: click it in the picture or in the cast."));
  bench.jobs.run<Opened>(
      {words("Reading ") + QFileInfo(file).fileName(), words("material file")},
      [assets = session.assets(), path = pathOf(file)](Progress&) { return opened(*assets, path); },
      [&session, gesture, part = session.selectedPart()](Opened& all) {
        const auto parts = session.partsInHand(part);
        session.edit(
            words("open a material file"),
            [&](Project& p) {
              std::string first;
              for (Surface s : all.surfaces) {
                s.id = freshId(p.surfaces, "surface");
                if (first.empty()) first = s.id;
                p.surfaces.push_back(std::move(s));
              }
              if (Product* product = session.productIn(p))
                for (const std::string& each : parts) product->surfaceOfPart[each] = first;
            },
            gesture);
        if (const QString loss = lossOf(all.notes.lost); !loss.isEmpty()) session.say(loss.trimmed());
      });
}

}  // namespace dusk
