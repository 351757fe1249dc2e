#include "app/stations/plate/photo_jobs.h"

#include <QApplication>
#include <QFileInfo>

#include "app/jobs/linked.h"
#include "app/stations/workbench.h"
#include "app/widgets/file_choice.h"

namespace dusk {

void choosePhoto(Workbench& bench) {
  const QString file = chooseFile(QApplication::activeWindow(), "Choose a photo", FileKind::photo);
  if (!file.isEmpty()) takePhoto(bench, file);
}

void takePhoto(Workbench& bench, const QString& file) {
  Session& session = bench.session;
  bench.jobs.run<Linked<Photo>>(
      {"Reading " + QFileInfo(file).fileName(), "photo"},
      [assets = session.assets(), path = pathOf(file)](Progress&) {
        return linked<Photo>(*assets, path, [&](const AssetRef& ref) { return assets->photo(ref); });
      },
      [&bench, shot = session.shot().id](Linked<Photo>& photo) {
        bench.session.selectShot(shot);
        bench.session.setPlate(photo.ref, *photo.asset);
        emit bench.pictureWanted();
      });
}

}  // namespace dusk
