#include "core/deliver/film_apart.h"

#include <tbb/parallel_for.h>

#include "core/base/memory.h"
#include "core/base/words.h"
#include "core/deliver/film_read.h"
#include "core/deliver/names.h"
#include "core/picture/write.h"

namespace dusk {
namespace {
namespace fs = std::filesystem;

constexpr int mostPictures = 5000;

/// Where a picture, counted from 0, lies in a folder.
fs::path nameOf(const fs::path& folder, const std::string& stem, int picture) {
  return folder / (stem + "_" + pictureNumber(picture) + ".png");
}
std::vector<fs::path> names(const fs::path& folder, const std::string& stem, int count) {
  std::vector<fs::path> all;
  for (int i = 0; i < count; ++i) all.push_back(nameOf(folder, stem, i));
  return all;
}

/// Whether all of them are there, and were made after the film.
bool areOf(const fs::path& film, const std::vector<fs::path>& pictures) {
  std::error_code code;
  const auto since = fs::last_write_time(film, code);
  return !pictures.empty() && std::all_of(pictures.begin(), pictures.end(), [&](const fs::path& file) {
    return fs::exists(file, code) && fs::last_write_time(file, code) >= since;
  });
}

Outcome hasRoom(const FilmFacts& film, const fs::path& folder) {
  // A photograph as PNG takes about two thirds of its pixels.
  const size_t need = size_t(film.width) * size_t(film.height) * 2 * size_t(film.pictures),
               has = freeDisk(folder);
  if (has >= need) return done();
  return Error{words("Its pictures may take about ") + bytesText(need) + words(", and ") + bytesText(has) +
               words(" are free on the disk of ") + folder.string() +
               words(". Free some, or cut the film first.")};
}

/// Writes pictures a few at a time: to make a PNG takes longer than to read the film.
class Writer {
 public:
  Writer(const fs::path& folder, std::string stem) : folder_(folder), stem_(std::move(stem)) {}
  int count() const { return written_ + int(held_.size()); }
  const Outcome& outcome() const { return outcome_; }
  /// False once something could not be written.
  bool add(Picture&& picture) {
    held_.push_back(std::move(picture));
    if (held_.size() == 8) flush();
    return outcome_.ok();
  }
  void flush() {
    std::vector<Outcome> each(held_.size(), done());
    tbb::parallel_for(size_t{0}, held_.size(), [&](size_t i) {
      each[i] = writePng8(nameOf(folder_, stem_, written_ + int(i)), held_[i]);
    });
    for (const Outcome& one : each)
      if (!one && outcome_) outcome_ = one;
    written_ += int(held_.size());
    held_.clear();
  }

 private:
  fs::path folder_;
  std::string stem_;
  std::vector<Picture> held_;
  int written_ = 0;
  Outcome outcome_ = done();
};

}  // namespace

Result<FilmApart> takeApart(const fs::path& film, const fs::path& wanted, Progress& progress) {
  const auto facts = readFilm(film);
  if (!facts) return facts.error();
  if (facts->pictures > mostPictures)
    return Error{film.filename().string() + words(" has ") + std::to_string(facts->pictures) +
                 words(" pictures; up to ") + std::to_string(mostPictures) +
                 words(" can be taken apart. Cut it first.")};
  const std::string stem = film.stem().string();
  std::error_code code;
  fs::path folder = wanted;
  for (int n = 2; fs::exists(folder, code); ++n) {
    auto files = names(folder, stem, facts->pictures);
    if (areOf(film, files)) return FilmApart{std::move(files), facts->picturesPerSecond};
    folder = wanted.string() + "-" + std::to_string(n);  // what is there is another's
  }
  if (const Outcome room = hasRoom(*facts, folder); !room) return room.error();
  const fs::path half = folder.parent_path() / ("." + folder.filename().string() + ".half");
  const auto giveUp = [&](Error error) {
    fs::remove_all(half, code);
    return error;
  };
  fs::remove_all(half, code);
  if (fs::create_directories(half, code); code)
    return Error{words("The folder ") + half.string() + words(" could not be made: ") + code.message() + "."};
  Writer writer(half, stem);
  const Outcome read = eachFilmPicture(film, [&](Picture&& picture) {
    const bool more = writer.add(std::move(picture)) && writer.count() < mostPictures;
    progress.report(double(writer.count()) / std::max(1, facts->pictures));
    return more && !progress.cancelled();
  });
  writer.flush();
  if (progress.cancelled()) return giveUp(cancelledError());
  for (const Outcome* out : {&read, &writer.outcome()})
    if (!*out) return giveUp(out->error());
  if (fs::rename(half, folder, code); code)
    return giveUp(
        {words("The folder ") + folder.string() + words(" could not be made: ") + code.message() + "."});
  return FilmApart{names(folder, stem, writer.count()), facts->picturesPerSecond};
}

}  // namespace dusk
