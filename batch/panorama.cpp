// The verbs about panoramas: merge, watch, align, sun.
#include <set>

#include "batch/answer.h"
#include "batch/verbs.h"
#include "core/assets/asset_store.h"
#include "core/light/align.h"
#include "core/light/bracket.h"
#include "core/light/bracket_sets.h"
#include "core/light/sun.h"
#include "core/picture/read.h"
#include "core/picture/write.h"
#include "core/vantage/straighten.h"

namespace dusk::batch {

int panoramaMerge(const Request& request, Progress& progress) {
  const Ticker ticker(progress);
  const auto merged = mergeFiles({request.files.begin(), request.files.end()}, request.ev, progress);
  if (!merged) return fail(merged.error());
  if (const auto written = writeExr(request.out, {{"panorama", &merged->light, false}}); !written)
    return fail(written.error());
  json shifts = json::array();
  for (const auto& [dx, dy] : merged->shifts) shifts.push_back({dx, dy});
  print({{"file", request.out},
         {"width", merged->light.width},
         {"height", merged->light.height},
         {"range_ev", merged->rangeEv},
         {"ghost_share", merged->ghostShare},
         {"shifts_px", shifts},
         {"response_log2", merged->response}},
        request.json);
  return 0;
}

namespace {

namespace fs = std::filesystem;

/// Merges a set into a file beside its first photo; what went wrong is said, and the path empty.
fs::path mergedBeside(const BracketSet& set, Progress& progress) {
  std::vector<fs::path> files;
  for (const Arrival& photo : set.photos) files.push_back(photo.file);
  const fs::path to = files.front().parent_path() / (files.front().stem().string() + "-merged.exr");
  const auto merged = mergeFiles(files, {}, progress);
  const Outcome written =
      merged ? writeExr(to, {{"panorama", &merged->light, false}}) : Outcome(merged.error());
  return written ? to : (fail(written.error()), fs::path());
}

}  // namespace

int panoramaWatch(const Request& request, Progress& progress) {
  BracketWatch watch(request.file);
  BracketRule rule;
  rule.photos = request.photos, rule.lateSeconds = request.late;
  std::set<fs::path> done;
  const auto begun = std::chrono::steady_clock::now();
  int worst = 0;
  while (!progress.cancelled()) {
    const std::chrono::duration<double> now = std::chrono::steady_clock::now() - begun;
    const auto sets = watch.look(rule, now.count());
    if (!sets) return fail(sets.error());
    for (const BracketSet& set : *sets) {
      const fs::path first = set.photos.front().file;
      if (set.state == BracketSet::State::coming || !done.insert(first).second) continue;
      const bool whole = set.state == BracketSet::State::complete;
      std::fprintf(stderr, "%s%s\n", set.says().c_str(), whole ? "" : ": not merged, take it again");
      const auto merged = whole ? mergedBeside(set, progress) : fs::path();
      if (merged.empty()) worst = 1;
      print({{"photos", set.photos.size()}, {"complete", whole}, {"file", merged.string()}}, request.json);
      std::fflush(stdout);
    }
    if (request.sets > 0 && int(done.size()) >= request.sets) break;
    std::this_thread::sleep_for(std::chrono::milliseconds(200));
  }
  return worst;
}

int panoramaAlign(const Request& request, Progress& progress) {
  auto asked = askedShot(request.file, request.shot);
  if (!asked) return fail(asked.error());
  auto& [project, index] = *asked;
  const Shot& shot = project.shots[index];
  if (shot.plate.empty() || shot.surroundings.panorama.empty() || !shot.vantage.solved)
    return fail(
        {"The shot needs a plate, a solved vantage and a panorama to be compared.", ErrorKind::failed});
  AssetStore assets(std::filesystem::path(request.file).parent_path());
  const auto plate = assets.plate(shot);
  if (!plate) return fail(plate.error());
  const auto panorama = assets.panorama(shot.surroundings.panorama);
  if (!panorama) return fail(panorama.error());
  const auto found = align(**plate, workingCamera(shot.vantage), **panorama, captureGuess(shot), progress);
  if (!found) return fail(found.error());
  json peaks = json::array();
  for (const Alignment::Peak& p : found->peaks)
    peaks.push_back({{"turn_deg", p.turnDegrees},
                     {"mirrored", p.mirrored},
                     {"tilt_deg", p.tiltDegrees},
                     {"roll_deg", p.rollDegrees},
                     {"score", p.score},
                     {"gain_ev", p.gainEv},
                     {"white", {p.white.x, p.white.y, p.white.z}},
                     {"capture_m", {p.captureM.x, p.captureM.y, p.captureM.z}}});
  json answer = peaks[0];
  answer["ambiguous"] = found->ambiguous;
  answer["elsewhere"] = found->isElsewhere;
  answer["turn_sigma_deg"] = found->turnSigma;
  answer["peaks"] = peaks;
  print(answer, request.json);
  return found->ambiguous ? 1 : 0;
}

int panoramaSun(const Request& request, Progress& progress) {
  const auto light = readLight(request.file, &progress);
  if (!light) return fail(light.error());
  const auto split = splitSun(*light);
  if (!split) return fail({"The panorama has no sun that outshines its neighbourhood.", ErrorKind::failed});
  if (!request.out.empty())
    if (const auto written = writeExr(request.out, {{"panorama", &split->rest, false}}); !written)
      return fail(written.error());
  const Vec3f& d = split->direction;
  print({{"azimuth_deg", degrees(std::atan2(double(d.x), double(d.y)))},
         {"elevation_deg", degrees(std::asin(double(d.z)))},
         {"irradiance", {split->irradiance.x, split->irradiance.y, split->irradiance.z}},
         {"share", split->share}},
        request.json);
  return 0;
}

}  // namespace dusk::batch
