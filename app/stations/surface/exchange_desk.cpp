#include "app/stations/surface/exchange_desk.h"

#include <QtWidgets>

#include "app/stations/surface/apply_surface.h"
#include "app/widgets/file_choice.h"
#include "core/base/files.h"
#include "core/deliver/dressed.h"
#include "core/project/links.h"
#include "core/surface/material_file.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

fs::path pathOf(const QString& file) { return fs::path(file.toStdString()); }

/// What was lost on the way, in one sentence for the notices.
QString lossOf(const std::vector<std::string>& lost) {
  if (lost.empty()) return {};
  const QString first = " " + QString::fromStdString(lost.front());
  return lost.size() == 1 ? first : first + QString(" (%1 more)").arg(lost.size() - 1);
}

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

ExchangeDesk::ExchangeDesk(Workbench& bench) : Desk(bench.session, {}, {}), bench_(bench) {
  beginFold("Files of surfaces", false);
  button("Open material file…",
         "Gives the part in hand the first surface of an open XML material file (.mtlx); the others join the "
         "project",
         [this] {
           const QString file = chooseFile(window(), "Open a material file", FileKind::material);
           if (!file.isEmpty()) open(file);
         });
  auto* keep = button("Save as material file…",
                      "Writes the surface of the part in hand as an open XML material file", [this] {
                        const Surface* s = session_.surfaceInHand(session_.project());
                        if (!s) return;
                        const QString file = choosePlace(window(), "Save the surface", FileKind::material,
                                                         QString::fromStdString(s->name), ".mtlx");
                        if (!file.isEmpty()) save(file);
                      });
  auto* product =
      button("Save product as glTF…",
             "Writes the whole product in its surfaces and prints as glTF 2.0, for other programs", [this] {
               const Product* p = session_.product();
               if (!p) return;
               const QString file = choosePlace(window(), "Save the product", FileKind::model,
                                                QString::fromStdString(p->name), ".glb");
               if (!file.isEmpty()) saveProduct(file);
             });
  endFold();
  onRefresh([=, this] {
    keep->setEnabled(session_.surfaceInHand(session_.project()) != nullptr);
    product->setEnabled(session_.product() != nullptr);
  });
}

void ExchangeDesk::open(const QString& file) {
  if (session_.selectedPart().empty())
    return session_.say("Choose a part first: click it in the picture or in the cast.", true);
  bench_.jobs.run<Opened>(
      {"Reading " + QFileInfo(file).fileName(), "material file"},
      [assets = session_.assets(), path = pathOf(file)](Progress&) { return opened(*assets, path); },
      [this, part = session_.selectedPart()](Opened& all) {
        const auto parts = session_.partsInHand(part);
        session_.edit("open a material file", [&](Project& p) {
          std::string first;
          for (Surface s : all.surfaces) {
            s.id = freshId(p.surfaces, "surface");
            if (first.empty()) first = s.id;
            p.surfaces.push_back(std::move(s));
          }
          if (Product* product = session_.productIn(p))
            for (const std::string& each : parts) product->surfaceOfPart[each] = first;
        });
        if (const QString loss = lossOf(all.notes.lost); !loss.isEmpty()) session_.say(loss.trimmed());
      });
}

void ExchangeDesk::save(const QString& file) {
  Surface s = *session_.surfaceInHand(session_.project());
  // Pictures as seen from where the file will lie.
  const AssetStore beside(pathOf(file).parent_path());
  eachLink(s, [&](AssetRef& ref, LinkKind) { ref = beside.relinked(ref, *session_.assets()); });
  MaterialNotes notes;
  const auto written = writeFileAtomically(pathOf(file), materialFileOf({s}, notes));
  if (!written) return session_.say(QString::fromStdString(written.error().message), true);
  session_.say("Saved " + QFileInfo(file).fileName() + "." + lossOf(notes.lost));
}

void ExchangeDesk::saveProduct(const QString& file) {
  bench_.jobs.run<DressedNotes>(
      {"Writing " + QFileInfo(file).fileName(), "dressed product", Lane::outgoing},
      [project = session_.project(), id = session_.product()->id, assets = session_.assets(),
       path = pathOf(file)](Progress& progress) {
        return writeDressed(project, id, *assets, path, dressedSide, progress);
      },
      [this, file](DressedNotes& notes) {
        session_.say(QString("Saved %1: %2 parts, %3 pictures.%4")
                         .arg(QFileInfo(file).fileName())
                         .arg(notes.parts)
                         .arg(notes.pictures)
                         .arg(lossOf(notes.lost)));
      });
}

}  // namespace dusk
