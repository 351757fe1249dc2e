#include "core/light/bracket.h"

#include "core/base/words.h"
#include "core/picture/read.h"

namespace dusk {

double exposureOf(const PhotoInfo& info) {
  if (!(info.exposureSeconds > 0)) return 0;
  return info.exposureSeconds * (info.iso > 0 ? info.iso / 100.0 : 1) /
         (info.fNumber > 0 ? info.fNumber * info.fNumber : 1);
}

Result<Merged> mergeFiles(const std::vector<std::filesystem::path>& files, const std::vector<double>& ev,
                          Progress& progress) {
  if (!ev.empty() && ev.size() != files.size())
    return Error{words("There must be one EV for every photo."), ErrorKind::unreadable};
  std::vector<Exposure> photos;
  for (size_t i = 0; i < files.size(); ++i) {
    if (progress.cancelled()) return cancelledError();
    auto photo = readPhoto(files[i]);
    if (!photo) return photo.error();
    if (photo->sceneLinear)
      return Error{files[i].filename().string() + words(" holds light already, not a photo's code values."),
                   ErrorKind::unreadable};
    Exposure e;
    e.seconds = ev.empty() ? exposureOf(photo->info) : std::exp2(ev[i]);
    e.codes = photo->picture.whole();
    photos.push_back(std::move(e));
  }
  return mergeBracket(std::move(photos), progress);
}

}  // namespace dusk
