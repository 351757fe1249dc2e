#include "app/stations/plate/photo_jobs.h"

#include <QApplication>
#include <QFileInfo>

#include "app/document/preferences.h"
#include "app/jobs/linked.h"
#include "app/stations/workbench.h"
#include "app/widgets/file_choice.h"
#include "core/base/words.h"

namespace dusk {

void choosePhoto(Workbench& bench) {
  const QString file = chooseFile(QApplication::activeWindow(), words("Choose a photo"), FileKind::photo);
  if (!file.isEmpty()) takePhoto(bench, file);
}

void takePhoto(Workbench& bench, const QString& file) {
  Session& session = bench.session;
  struct Taken {
    Linked<Photo> photo;
    AssetRef config;
  };
  const QString own = Preferences::own().value("colourConfig").toString();
  bench.jobs.run<Taken>(
      {words("Reading ") + QFileInfo(file).fileName(), "photo"},
      [assets = session.assets(), path = pathOf(file), own](Progress&) -> Result<Taken> {
        auto photo = linked<Photo>(*assets, path, [&](const AssetRef& ref) { return assets->photo(ref); });
        if (!photo) return photo.error();
        // One that is not there is told of when it is asked for; a photo comes in without.
        const auto config = own.isEmpty() ? Result<AssetRef>(AssetRef{}) : assets->refer(pathOf(own));
        return Taken{std::move(*photo), config ? *config : AssetRef{}};
      },
      [&bench, shot = session.shot().id](Taken& taken) {
        bench.session.selectShot(shot);
        bench.session.setPlate(taken.photo.ref, *taken.photo.asset, taken.config);
        emit bench.pictureWanted();
      });
}

}  // namespace dusk
