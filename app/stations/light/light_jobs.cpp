#include "app/stations/light/light_jobs.h"

#include <QApplication>
#include <QFileInfo>

#include "app/jobs/linked.h"
#include "app/stations/workbench.h"
#include "app/widgets/file_choice.h"
#include "core/base/words.h"
#include "core/light/bracket.h"
#include "core/light/lamp_look.h"
#include "core/light/lights.h"
#include "core/light/reshape.h"
#include "core/picture/read.h"
#include "core/picture/write.h"
#include "core/project/lamp_kinds.h"
#include "core/project/light_edit.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

/// Makes a panorama in the background, writes it beside the first file and lights with it.
void makePanorama(Workbench& bench, const QStringList& files, const char* ending, const QString& title,
                  std::function<Result<Picture>(Progress&)> make) {
  const fs::path first = pathOf(files.front()), to = first.parent_path() / (first.stem().string() + ending);
  bench.jobs.run<Nothing>(
      {title, "panorama"},
      [make = std::move(make), to](Progress& progress) -> Outcome {
        const auto light = make(progress);
        return light ? writeExr(to, {{"panorama", &*light, false}}) : Outcome(light.error());
      },
      [&bench, to](Nothing&) { takePanorama(bench, QString::fromStdString(to.string())); });
}

}  // namespace

void choosePanorama(Workbench& bench) {
  const QString file =
      chooseFile(QApplication::activeWindow(), words("Choose a panorama"), FileKind::panorama);
  if (!file.isEmpty()) takePanorama(bench, file);
}

void takePanorama(Workbench& bench, const QString& file, int gesture) {
  Session& session = bench.session;
  bench.jobs.run<Linked<Panorama>>(
      {words("Reading ") + QFileInfo(file).fileName(), "panorama"},
      [assets = session.assets(), path = pathOf(file)](Progress& progress) {
        return linked<Panorama>(*assets, path,
                                [&](const AssetRef& ref) { return assets->panorama(ref, &progress); });
      },
      [&session, gesture, shot = session.shot().id](Linked<Panorama>& panorama) {
        session.editShotOf(
            shot, words("choose the panorama"), [&](Shot& s) { setPanorama(s, panorama.ref); }, gesture);
      });
}

void chooseBrackets(Workbench& bench) {
  const QStringList files = chooseFiles(QApplication::activeWindow(),
                                        words("Choose 3 to 15 exposures of one view"), FileKind::photo, true);
  if (!files.isEmpty()) takeBrackets(bench, files);
}

void takeBrackets(Workbench& bench, const QStringList& files) {
  std::vector<fs::path> paths;
  for (const QString& f : files) paths.push_back(pathOf(f));
  makePanorama(bench, files, "-merged.exr", QString(words("Merging %1 photos")).arg(files.size()),
               [paths](Progress& progress) -> Result<Picture> {
                 auto merged = mergeFiles(paths, {}, progress);
                 if (!merged) return merged.error();
                 return std::move(merged->light);
               });
}

void chooseBalls(Workbench& bench) {
  const QStringList files =
      chooseFiles(QApplication::activeWindow(),
                  words("Choose photos of a mirror ball, from one side or more"), FileKind::panorama, true);
  if (!files.isEmpty()) takeBalls(bench, files);
}

/// Several photos of a ball are taken to be from sides evenly round it, in the order of their names.
void takeBalls(Workbench& bench, const QStringList& files) {
  makePanorama(bench, files, "-unwrapped.exr", words("Unwrapping the mirror ball"),
               [files](Progress& progress) -> Result<Picture> {
                 std::vector<BallPhoto> balls;
                 for (const QString& f : files) {
                   const auto light = readLight(pathOf(f));
                   if (!light) return light.error();
                   auto ball = findBall(*light);
                   if (!ball) return ball.error();
                   ball->lookDegrees = 360.0 * double(balls.size()) / double(files.size());
                   balls.push_back(std::move(*ball));
                 }
                 return fromBalls(balls, 2048, progress);
               });
}

void chooseFisheyes(Workbench& bench) {
  const QStringList files =
      chooseFiles(QApplication::activeWindow(), words("Choose the front and the back fisheye picture"),
                  FileKind::panorama, true);
  if (!files.isEmpty()) takeFisheyes(bench, files);
}

void takeFisheyes(Workbench& bench, const QStringList& files) {
  if (files.size() != 2)
    return bench.session.refuse(words("Choose two pictures: the front one and the back one."));
  makePanorama(bench, files, "-joined.exr", words("Joining the two fisheye pictures"),
               [files](Progress& progress) -> Result<Picture> {
                 const auto front = readLight(pathOf(files[0])), back = readLight(pathOf(files[1]));
                 if (!front || !back) return front ? back.error() : front.error();
                 return fromFisheyes(*front, *back, 190, 2048, progress);
               });
}

void chooseLampPicture(Workbench& bench) {
  Session& session = bench.session;
  const QString file =
      chooseFile(QApplication::activeWindow(), words("Choose what the lamp shows"), FileKind::photo);
  if (file.isEmpty()) return;
  bench.jobs.run<AssetRef>(
      {words("Reading ") + QFileInfo(file).fileName(), words("lamp picture")},
      [assets = session.assets(), path = pathOf(file)](Progress&) { return assets->refer(path); },
      [&session, shot = session.shot().id, id = session.selectedLamp()](AssetRef& ref) {
        session.editShotOf(shot, words("choose a lamp's picture"), [&](Shot& s) {
          if (Lamp* lamp = byId(s.lamps, id)) lamp->picture = ref, lamp->crop = {0, 0, 1, 1};
        });
      });
}

void lookAlongLamp(Workbench& bench) {
  const Session& session = bench.session;
  const Lamp* lamp = byId(session.shot().lamps, session.selectedLamp());
  if (!lamp) return;
  const Placement* p = session.placement();
  const Vec3d spot = p ? Vec3d(p->xM, p->yM, planeHeightM(session.shot(), *p) + 0.1) : Vec3d(0, 0, 0);
  const LampLook look = lookOf(*lamp, session.shot(), spot);
  emit bench.lookWanted(QString::fromStdString(lamp->id), look.eye, look.target);
}

}  // namespace dusk
