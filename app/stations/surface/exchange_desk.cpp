#include "app/stations/surface/exchange_desk.h"

#include <QtWidgets>

#include "app/stations/surface/material_jobs.h"
#include "app/widgets/file_choice.h"
#include "core/base/files.h"
#include "core/base/words.h"
#include "core/deliver/dressed.h"
#include "core/project/links.h"
#include "core/surface/material_file.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {}  // namespace

ExchangeDesk::ExchangeDesk(Workbench& bench) : Desk(bench.session, {}, {}), bench_(bench) {
  beginFold(words("Files of surfaces"), false);
  button(words("Open material file…"),
         words("Gives the part in hand the first surface of an open XML material file (.mtlx); the others "
               "join the "
               "project"),
         [this] {
           const QString file = chooseFile(window(), words("Open a material file"), FileKind::material);
           if (!file.isEmpty()) openMaterialFile(bench_, file);
         });
  auto* keep = button(words("Save as material file…"),
                      words("Writes the surface of the part in hand as an open XML material file"), [this] {
                        const Surface* s = session_.surfaceInHand(session_.project());
                        if (!s) return;
                        const QString file =
                            choosePlace(window(), words("Save the surface"), FileKind::material,
                                        QString::fromStdString(s->name), ".mtlx");
                        if (!file.isEmpty()) save(file);
                      });
  auto* product = button(
      words("Save product as glTF…"),
      words("Writes the whole product in its surfaces and prints as glTF 2.0, for other programs"), [this] {
        const Product* p = session_.product();
        if (!p) return;
        const QString file = choosePlace(window(), words("Save the product"), FileKind::model,
                                         QString::fromStdString(p->name), ".glb");
        if (!file.isEmpty()) saveProduct(file);
      });
  endFold();
  onRefresh([=, this] {
    keep->setEnabled(session_.surfaceInHand(session_.project()) != nullptr);
    product->setEnabled(session_.product() != nullptr);
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
  session_.say(words("Saved ") + QFileInfo(file).fileName() + "." + lossOf(notes.lost));
}

void ExchangeDesk::saveProduct(const QString& file) {
  bench_.jobs.run<DressedNotes>(
      {words("Writing ") + QFileInfo(file).fileName(), "dressed product", Lane::outgoing},
      [project = session_.project(), id = session_.product()->id, assets = session_.assets(),
       path = pathOf(file)](Progress& progress) {
        return writeDressed(project, id, *assets, path, dressedSide, progress);
      },
      [this, file](DressedNotes& notes) {
        session_.say(QString(words("Saved %1: %2 parts, %3 pictures.%4"))
                         .arg(QFileInfo(file).fileName())
                         .arg(notes.parts)
                         .arg(notes.pictures)
                         .arg(lossOf(notes.lost)));
      });
}

}  // namespace dusk
