#include "app/window/footage.h"

#include <QApplication>
#include <QFileInfo>

#include "app/jobs/linked.h"
#include "app/widgets/file_choice.h"
#include "core/base/words.h"
#include "core/deliver/film_apart.h"
#include "core/deliver/film_read.h"
#include "core/motion/sequence.h"
#include "core/picture/read.h"

namespace dusk {
namespace {
namespace fs = std::filesystem;

/// Footage that is there as linked photos.
struct Found {
  PictureSequence sequence;
  std::vector<AssetRef> photos;
  int picturesPerSecond = 0;  ///< 0: nobody says
  std::shared_ptr<const Photo> first{};
};

/// Where a film's pictures lie: beside the project, or beside the film while that has no place.
fs::path folderFor(const Session& session, const fs::path& film) {
  const fs::path beside = session.file().empty() ? film.parent_path() : session.file().parent_path();
  return beside / (film.stem().string() + "-pictures");
}

/// Links to them all. Error: one is not of the size of the shot's photo.
Outcome link(Found& found, AssetStore& assets, const Camera& camera, Progress& progress) {
  for (const auto& each : found.sequence.files) {
    if (progress.cancelled()) return cancelledError();
    const auto header = readPictureHeader(each);
    if (!header) return header.error();
    if (camera.width > 0 && (header->width != camera.width || header->height != camera.height))
      return Error{each.filename().string() + words(" is ") + std::to_string(header->width) + " × " +
                   std::to_string(header->height) + words(", and the shot's photo ") +
                   std::to_string(camera.width) + " × " + std::to_string(camera.height) +
                   words(". A sequence is of one size.")};
    auto ref = assets.refer(each);
    if (!ref) return ref.error();
    found.photos.push_back(*ref);
    progress.report(double(found.photos.size()) / double(found.sequence.files.size()));
  }
  return done();
}

Result<Found> found(const fs::path& file, const fs::path& folder, AssetStore& assets, const Camera& camera,
                    Progress& progress) {
  Found footage;
  fs::path first = file;
  if (isFilmFile(file)) {
    progress.reportWithin(0, 0.9);
    const auto apart = takeApart(file, folder, progress);
    if (!apart) return apart.error();
    progress.reportWithin(0.9, 1);
    footage.picturesPerSecond = std::clamp(int(std::lround(apart->picturesPerSecond)), 1, 240);
    first = apart->files.front();
  }
  auto sequence = sequenceOf(first);
  if (!sequence) return sequence.error();
  footage.sequence = std::move(*sequence);
  if (const Outcome linked = link(footage, assets, camera, progress); !linked) return linked.error();
  auto photo = assets.photo(footage.photos.front());
  if (!photo) return photo.error();
  footage.first = *photo;
  return footage;
}

}  // namespace

void chooseFootage(Workbench& bench) {
  const QString file = chooseFile(QApplication::activeWindow(), words("A film, or one photo of a sequence"),
                                  FileKind::footage);
  if (!file.isEmpty()) takeFootage(bench, file);
}

void takeFootage(Workbench& bench, const QString& file) {
  Session& session = bench.session;
  const Shot& shot = session.shot();
  const Camera none, camera = shot.plate.empty() ? none : shot.vantage.camera;
  bench.jobs.run<Found>(
      {(isFilmFile(pathOf(file)) ? words("Taking apart ") : words("Linking the photos of ")) +
           QFileInfo(file).fileName(),
       "sequence", Lane::incoming},
      [path = pathOf(file), folder = folderFor(session, pathOf(file)), assets = session.assets(),
       camera](Progress& progress) { return found(path, folder, *assets, camera, progress); },
      [&session, id = shot.id](Found& found) {
        session.selectShot(id);
        if (session.shot().plate.empty()) session.setPlate(found.photos.front(), *found.first);
        session.editShotOf(id, words("take footage as the plate"), [&](Shot& shot) {
          if (found.picturesPerSecond > 0) shot.motion.picturesPerSecond = found.picturesPerSecond;
          movePlate(shot, found.sequence, found.photos);
        });
        const size_t gone = found.sequence.missing.size();
        if (gone)
          session.say(
              QString(words("%1 of its photos is missing, number %2: the one before stays there.",
                            "%1 of its photos are missing, from number %2 on: the one before stays there.",
                            long(gone)))
                  .arg(gone)
                  .arg(found.sequence.missing.front()),
              true);
      });
}

}  // namespace dusk
