#include "app/stations/product/model_jobs.h"

#include <QApplication>
#include <QFileInfo>

#include "app/jobs/linked.h"
#include "app/stations/product/revise_panel.h"
#include "app/stations/product/size_doubt.h"
#include "app/stations/workbench.h"
#include "app/widgets/file_choice.h"
#include "core/base/words.h"
#include "core/product/revise.h"

namespace dusk {
namespace {

/// A newer file of a product, read and compared with the one before.
struct Comparison {
  AssetRef ref;
  std::vector<PartFate> fates;
};

Result<Comparison> compared(AssetStore& assets, const Product& before, const QString& file,
                            Progress& progress) {
  const auto old = assets.model(before, progress);
  if (!old) return old.error();
  Product after = before;
  const auto fresh = linked<Model>(assets, pathOf(file), [&](const AssetRef& ref) {
    after.model = ref;
    return assets.model(after, progress);
  });
  if (!fresh) return fresh.error();
  return Comparison{fresh->ref, compareModels(**old, *fresh->asset)};
}

/// A file read in the wrong unit is told at once: the product may be too large or too small to be seen.
void askAboutSize(Workbench& bench, const std::string& name) {
  Session& session = bench.session;
  const auto doubt = sizeDoubt(session);
  if (!doubt) return;
  std::vector<Answer> answers;
  for (const LengthUnit& unit : doubt->units)
    answers.push_back({readAs(unit), words("Reads the file in the unit that fits the place"),
                       [&session, placement = session.placement()->id, metres = unit.metres] {
                         if (!byId(session.shot().placements, placement)) return;
                         session.selectPlacement(placement);
                         correctUnit(session, metres);
                       }});
  emit bench.asked(QString::fromStdString(name + ": " + doubt->sentence), answers);
}

}  // namespace

void chooseModels(Workbench& bench) {
  takeModels(bench,
             chooseFiles(QApplication::activeWindow(), words("Bring in models"), FileKind::model, true));
}

void takeModels(Workbench& bench, const QStringList& files) {
  Session& session = bench.session;
  for (const QString& file : files)
    bench.jobs.run<Linked<Model>>(
        {words("Reading ") + QFileInfo(file).fileName(), words("model ") + file.toStdString()},
        [assets = session.assets(), path = pathOf(file)](Progress& progress) {
          return linked<Model>(*assets, path, [&](const AssetRef& ref) {
            return assets->model(Product{"", "", ref}, progress);
          });
        },
        [&bench, &session, shot = session.shot().id,
         name = QFileInfo(file).completeBaseName().toStdString()](Linked<Model>& model) {
          session.selectShot(shot);
          session.addProduct(model.ref, *model.asset, name);
          session.announceAssets();
          askAboutSize(bench, name);
          if (session.station() == Station::plate || session.station() == Station::vantage)
            session.setStation(Station::product);
        });
}

void chooseRevision(Workbench& bench) {
  const QString file =
      chooseFile(QApplication::activeWindow(), words("Choose the newer file"), FileKind::model);
  if (!file.isEmpty()) takeRevision(bench, file);
}

void takeRevision(Workbench& bench, const QString& file) {
  Session& session = bench.session;
  const Product* product = session.product();
  if (!product) return session.refuse(words("Bring in a model first: a revision is a newer file of it."));
  bench.jobs.run<Comparison>(
      {words("Comparing ") + QFileInfo(file).fileName(), "revision"},
      [assets = session.assets(), before = *product, file](Progress& progress) {
        return compared(*assets, before, file, progress);
      },
      [&session, id = product->id](Comparison& c) {
        if (!byId(session.project().products, id)) return;
        auto* panel = new RevisePanel(session, id, c.ref, c.fates, QApplication::activeWindow());
        panel->show();
      });
}

}  // namespace dusk
