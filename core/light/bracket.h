#pragma once
#include <filesystem>

#include "core/light/merge.h"

namespace dusk {

struct PhotoInfo;
/// How much light a photo took by its EXIF: seconds x ISO/100 / f-number²; 0 where it does not say.
double exposureOf(const PhotoInfo& info);

/// Merges photo files of one view. Exposures come from EXIF (time, f-number, ISO), or from `ev`, one a file,
/// where that is not empty. Error: as `mergeBracket`, or a file that cannot be read.
Result<Merged> mergeFiles(const std::vector<std::filesystem::path>& files, const std::vector<double>& ev,
                          Progress& progress);

}  // namespace dusk
