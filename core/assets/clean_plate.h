#pragma once
#include <optional>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/picture/packed.h"
#include "core/project/clean_up.h"

/// The photo without what must go.
namespace dusk {

/// What a spot is filled with.
struct FilledSpot {
  PixelArea area;
  std::vector<unsigned char> filled;  ///< [pixel of the area] not 0: it is
  std::vector<float> rgb;             ///< [value of the area] as the photo's own values
  bool operator==(const FilledSpot&) const = default;
};

/// Which pixels of a photo a clean-up takes: those in its loop and the margin round that. Empty where none
/// lies in the photo.
FilledSpot spotOf(const CleanUp& cleanUp, int width, int height);

/// The spot, filled from the photo round it. The same at any time and on any machine. Error: cancelled, or
/// there is nothing to take.
Result<FilledSpot> fillSpot(const PackedPicture& photo, const CleanUp& cleanUp, Progress& progress);

/// Puts it in; all other pixels stay as they are.
void putIn(PackedPicture& photo, const FilledSpot& spot);

/// A text that says all a spot is made by, but for the photo.
std::string keyOf(const CleanUp& cleanUp);

/// The spot as it was kept under a name on this machine's disk; nothing where it was not, or is no whole one.
std::optional<FilledSpot> keptSpot(const std::string& name);
void keepSpot(const std::string& name, const FilledSpot& spot);

}  // namespace dusk
