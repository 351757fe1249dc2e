#include "app/stations/missing.h"
#include "core/base/words.h"

namespace dusk {
namespace {

bool isLit(const Shot& shot) { return !shot.surroundings.panorama.empty() || !shot.lamps.empty(); }

}  // namespace

std::optional<Missing> missingFor(Station station, const Project& project, const Shot& shot) {
  if (station == Station::plate) return {};
  if (!hasPlate(shot)) return Missing{words("There is no picture to stand anything in yet."), Station::plate};
  if (station == Station::vantage) return {};
  if (shot.backdrop.kind == BackdropKind::photo && !shot.vantage.solved)
    return Missing{words("The camera is not known yet: nothing can stand in the photo."), Station::vantage};
  if (station == Station::product || station == Station::light) return {};
  if (project.products.empty() || shot.placements.empty())
    return Missing{words("Nothing stands here yet."), Station::product};
  const bool needsLight =
      station == Station::render || station == Station::blend || station == Station::deliver;
  if (needsLight && !isLit(shot))
    return Missing{words("There is no light of the place yet: an even sky stands in."), Station::light};
  return {};
}

}  // namespace dusk
