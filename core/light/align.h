#pragma once
#include <optional>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/light/panorama.h"
#include "core/project/project.h"

namespace dusk {

/// How a panorama of the same place is turned, and how bright it is, to agree with a photo.
struct Alignment {
  /// A turn that agrees better than those beside it.
  struct Peak {
    double turnDegrees = 0;
    bool mirrored = false;
    double score = 0;  ///< -1 to 1: correlation with the photo
    double gainEv = 0;
    Vec3d white{1, 1, 1};                     ///< to be multiplied on besides the gain; green is 1
    Vec3d captureM{0, 0, 1.5};                ///< where the panorama was taken, as given or as found
    double tiltDegrees = 0, rollDegrees = 0;  ///< that set it upright, as given or as found
  };
  std::vector<Peak> peaks;    ///< best first, one at least, at most six, at least ten degrees apart
  std::vector<float> curve;   ///< score over turns from -180 degrees in even steps, as taken
  std::vector<float> mirror;  ///< the same, mirrored
  bool ambiguous = false;     ///< a rival cannot be excluded, or none is good
  bool isElsewhere = false;   ///< nothing of the one is found in the other, however it is turned
  double turnSigma = 0;       ///< one sigma of the best turn, degrees
  bool leanIsTold = false;    ///< by the panorama's uprights; else as it was given
  const Peak& best() const { return peaks.front(); }
};

/// Whether the whites of two cameras, under lamps and skies as they are, can be that far apart, per channel;
/// if not, it is another place that was compared.
bool isWhiteOfOnePlace(const Vec3d& white);

/// Where a panorama may have been taken: there, or somewhere near, which is then found too.
struct CaptureGuess {
  Vec3d aroundM{0, 0, 0};                   ///< on the ground
  double reachM = 1;                        ///< how far from it
  std::optional<Vec3d> knownM{};            ///< where it was taken, if that is known
  double tiltDegrees = 0, rollDegrees = 0;  ///< how it leans, where its uprights do not tell
  bool mirrored = false;                    ///< that is told of it mirrored
};

/// What a shot knows of it: where it says so, else about its first product.
CaptureGuess captureGuess(const Shot& shot);

/// Finds how the panorama stands. How it leans is told by its own uprights (lean.h); the rest by all that
/// both show of the place: the light, spot by spot, of the ground and of what is far away; things that look
/// alike in both, whose bearings meet somewhere (landmarks.h); and the directions of level edges, which a
/// built place has in common from everywhere (level_lines.h). Turn, place and whether it is mirrored are
/// found together, from many starts; gain and white are medians of the ratios there, after the photo's
/// fall-off towards its corners. `plate`: scene-linear, at any size. Error: an unsolved camera, nothing to
/// compare, cancelled.
Result<Alignment> align(const Picture& plate, const Camera& camera, const Panorama& panorama,
                        const CaptureGuess& capture, Progress& progress);

}  // namespace dusk
