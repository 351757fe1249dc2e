#include <fstream>
#include <sstream>

#include "core/base/cache_folder.h"
#include "core/base/files.h"
#include "core/base/hash.h"
#include "core/base/json_text.h"
#include "core/base/words.h"
#include "core/light/align.h"
#include "core/project/blend_edit.h"
#include "core/project/json.h"
#include "core/proof/checks.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {

namespace {

namespace fs = std::filesystem;

/// Raise it when alignments come out otherwise.
constexpr int generation = 3;

/// Where the answer is kept; empty where not all that tells is known by its content.
fs::path keptAt(const Shot& shot) {
  if (shot.plate.hash.empty() || shot.surroundings.panorama.hash.empty() || !shot.cleanUps.empty()) return {};
  const CaptureGuess capture = captureGuess(shot);
  std::ostringstream text;
  text.precision(17);
  text << generation << '|' << shot.plate.hash << '|' << shot.surroundings.panorama.hash << '|'
       << jsonText(viewOnly(shot.blend)) << '|' << capture.aroundM << capture.reachM;
  if (capture.knownM) text << '|' << *capture.knownM;
  text << '|' << capture.tiltDegrees << ' ' << capture.rollDegrees << capture.mirrored;
  const Camera c = workingCamera(shot.vantage);
  text << '|' << c.width << ' ' << c.height << ' ' << c.focalPx << ' ' << c.k1 << ' ' << c.k2 << c.position
       << c.axes.x << c.axes.y << c.axes.z;
  const std::string all = text.str();
  return cacheFolder() / "panorama-stances" / hashBytes(all.data(), all.size());
}

std::optional<PanoramaStance> readKept(const fs::path& file) {
  std::ifstream from(file);
  PanoramaStance s;
  if (from >> s.turnDegrees >> s.turnSigma >> s.mirrored >> s.ambiguous >> s.isElsewhere >> s.tiltDegrees >>
      s.rollDegrees >> s.leanIsTold)
    return s;
  return {};
}

void keep(const fs::path& file, const PanoramaStance& s) {
  std::ostringstream text;
  text.precision(17);
  text << s.turnDegrees << ' ' << s.turnSigma << ' ' << s.mirrored << ' ' << s.ambiguous << ' '
       << s.isElsewhere << ' ' << s.tiltDegrees << ' ' << s.rollDegrees << ' ' << s.leanIsTold << '\n';
  std::error_code code;
  fs::create_directories(file.parent_path(), code);
  (void)writeFileAtomically(file, text.str());  // where that cannot be, it is found anew
}

}  // namespace

std::optional<PanoramaStance> stanceOf(const Shot& shot, AssetStore& assets, Progress& progress) {
  if (shot.backdrop.kind != BackdropKind::photo || shot.plate.empty() || !shot.vantage.solved ||
      shot.surroundings.panorama.empty())
    return {};
  const fs::path file = keptAt(shot);
  if (!file.empty())
    if (const auto kept = readKept(file)) return kept;
  const auto plate = assets.plate(shot);
  const auto panorama = assets.panorama(shot.surroundings.panorama);
  if (!plate || !panorama) return {};
  const auto found = align(**plate, workingCamera(shot.vantage), **panorama, captureGuess(shot), progress);
  if (!found) return {};
  const Alignment::Peak& best = found->best();
  const PanoramaStance stance{best.turnDegrees,   found->turnSigma, best.mirrored,    found->ambiguous,
                              found->isElsewhere, best.tiltDegrees, best.rollDegrees, found->leanIsTold};
  if (!file.empty()) keep(file, stance);
  return stance;
}

void checkPanorama(const ProofOf& of, Findings& findings) {
  const Shot& shot = of.shot;
  if (of.models == Models::loaded || shot.placements.empty()) return;
  const auto found = stanceOf(shot, of.assets, of.progress);
  if (!found) return;
  const auto at = spotOf(shot, shot.placements.front());
  const auto tell = [&](const char* id, const char* what, double value, double high, const char* unit,
                        const char* remedy) {
    findings.push_back({id, what, value, 0, high, unit, remedy, "Light", {}, at});
  };
  tell("panorama-elsewhere", words("panoramas that show nothing of the photo's place"), found->isElsewhere, 0,
       "", words("Take a panorama of the place; or build its light with sun and lamps."));
  if (found->ambiguous) return;
  const bool isMirrored = found->mirrored != shot.surroundings.mirrored;
  tell("panorama-mirrored", words("panorama mirrored against the place"), isMirrored, 0, "",
       words("Mirror the panorama: align it."));
  const Surroundings& set = shot.surroundings;
  if (!isMirrored && found->leanIsTold)
    tell("panorama-leans", words("how far the panorama's upright is off that of what it shows"),
         std::hypot(found->tiltDegrees - set.tiltDegrees, found->rollDegrees - set.rollDegrees), 1.5, "deg",
         words("Align the panorama with the photo."));
  // Where it was taken is found, too, when nobody tells; a step aside may pass for a turn: by the study of
  // made-up places answers that are sure are off by up to 1.3 degrees.
  if (!isMirrored)
    tell("panorama-turned", words("how far the panorama is turned off what the photo shows of the place"),
         std::abs(wrapDegrees(found->turnDegrees - shot.surroundings.turnDegrees)),
         (shot.surroundings.captureM ? 3 : 5) + 3 * found->turnSigma, "deg",
         words("Align the panorama with the photo."));
}

}  // namespace dusk
