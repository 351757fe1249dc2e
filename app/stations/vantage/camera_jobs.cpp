#include "app/stations/vantage/camera_jobs.h"

#include "app/stations/workbench.h"
#include "app/widgets/file_choice.h"
#include "core/base/files.h"
#include "core/base/words.h"
#include "core/vantage/camera_file.h"

namespace dusk {

void saveCamera(Workbench& bench, const QString& file) {
  Session& session = bench.session;
  const Shot& shot = session.shot();
  if (!shot.vantage.solved)
    return session.refuse(words("There is no camera to save yet: solve the vantage first."));
  const std::filesystem::path path = pathOf(file);
  const std::string text =
      path.extension() == ".json" ? vantageJson(shot.vantage) : cameraGltf(shot.vantage.camera, shot.name);
  bench.jobs.run<Nothing>(
      {words("Writing the camera"), "camera", Lane::outgoing, true},
      [path, text](Progress&) { return writeFileAtomically(path, text); },
      [&session, file](Nothing&) { session.say(words("Camera written: ") + file); });
}

void loadCamera(Workbench& bench, const QString& file) {
  Session& session = bench.session;
  const Camera& camera = session.shot().vantage.camera;
  if (camera.width <= 0) return session.refuse(words("Choose the photo first: a camera belongs to one."));
  bench.jobs.run<Vantage>(
      {words("Reading the camera"), "camera", Lane::incoming, true},
      [path = pathOf(file), w = camera.width, h = camera.height](Progress&) {
        return readVantage(path, w, h);
      },
      [&session, shot = session.shot().id](Vantage& vantage) {
        session.editShotOf(shot, words("load a camera"), [&](Shot& s) {
          s.vantage = vantage;
          s.vantage.locked = true;
        });
      });
}

}  // namespace dusk
