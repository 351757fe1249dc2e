#include "batch/answer.h"
#include "batch/verbs.h"
#include "core/project/lamp_kinds.h"
#include "core/proof/find_shadow.h"
#include "core/proof/lost_sun.h"

namespace fs = std::filesystem;

namespace dusk::batch {
namespace {

/// The first sun lamp of the shot; added where there is none.
Lamp& sunLampOf(Shot& shot) {
  const auto sun = std::find_if(shot.lamps.begin(), shot.lamps.end(), isDistant);
  if (sun != shot.lamps.end()) return *sun;
  Lamp lamp;
  lamp.id = freshId(shot.lamps, "sun"), lamp.name = "Sun";
  return shot.lamps.emplace_back(lamp);
}

}  // namespace

int panoramaShadow(const Request& request, Progress&) {
  auto asked = askedShot(request.file, request.shot);
  if (!asked) return fail(asked.error());
  auto& [project, index] = *asked;
  Shot& shot = project.shots[index];
  AssetStore assets(fs::absolute(request.file).parent_path());
  const bool marked = shot.gnomon.has_value();
  if (!marked) {
    const auto found = findGnomon(shot, assets);
    if (!found) return fail(found.error());
    shot.gnomon = *found;
  }
  const auto read = readGnomon(shot.vantage.camera, *shot.gnomon);
  if (!read) return fail({"The gnomon's foot or tip is not on the ground.", ErrorKind::failed});
  json answer = {{"shot", shot.id},
                 {"marked", marked},
                 {"azimuth_deg", read->sun.azimuthDegrees},
                 {"azimuth_sigma_deg", read->azimuthSigma}};
  if (read->hasElevation)
    answer["elevation_deg"] = read->sun.elevationDegrees,
    answer["elevation_sigma_deg"] = read->elevationSigma;
  if (!shot.surroundings.panorama.empty()) {
    const auto sun = findLostSun(shot, assets);
    if (!sun) return fail(sun.error());
    const auto rgb = [](const Rgb& c) { return json{c.x, c.y, c.z}; };
    answer["left"] = rgb(sun->shadow), answer["irradiance"] = rgb(sun->irradiance);
    answer["panorama_gives"] = sun->givenShare, answer["margin_ev"] = sun->marginEv;
    answer["missing"] = rgb(sun->missing);
    if (sun->isMissed()) {
      Lamp& lamp = sunLampOf(shot);
      lamp = sunLampFor(*sun, lamp);
      answer["lamp_ev"] = lamp.powerEv;
    }
  }
  if (!request.out.empty()) {
    if (const Outcome saved = saveElsewhere(project, request.file, request.out); !saved)
      return fail(saved.error());
    answer["project"] = request.out;
  }
  print(answer, request.json);
  return 0;
}

}  // namespace dusk::batch
