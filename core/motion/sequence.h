#pragma once
#include <filesystem>

#include "core/base/result.h"
#include "core/project/project.h"

namespace dusk {

/// Numbered pictures of one name, as a camera on a tripod writes them.
struct PictureSequence {
  std::vector<std::filesystem::path> files;  ///< in order of their numbers
  int first = 0;                             ///< the number of the first
  std::vector<int> missing;                  ///< numbers between first and last that are not there
};

/// The sequence that a file is one of: files beside it whose names differ by their last number alone, written
/// with as many digits or without leading zeros. Error: it has no number, or is alone.
Result<PictureSequence> sequenceOf(const std::filesystem::path& file);

/// Makes the photos of a sequence a shot's plate, one after the other, `from` the film's beginning; the film
/// gets as long as they last. Where a picture is missing the one before it stays. The camera stands still:
/// its vantage is that of the first. `photos` are links to the files, in their order.
void movePlate(Shot& shot, const PictureSequence& sequence, const std::vector<AssetRef>& photos);

/// Takes the moving plate out of a shot, which then has its first picture alone: what lights and is mirrored
/// in every picture of a film, so that a product that stands still looks alike in all. False where no plate
/// moves.
bool holdPlate(Shot& shot);
/// Whether what is traced is the same in all pictures of the film: nothing moves but the plate, and what is
/// done to the finished picture.
bool onlyPlateMoves(const Shot& shot);

}  // namespace dusk
