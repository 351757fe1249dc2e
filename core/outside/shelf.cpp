#include "core/outside/shelf.h"

#include "core/base/cache_folder.h"
#include "core/base/files.h"
#include "core/base/hash.h"
#include "core/base/words.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

constexpr int64_t longestIndex = int64_t{64} << 20;
const std::string indexName = "index.json";

const std::vector<ShelfFile>& listOf(const ShelfEntry& entry, Shelf::What what) {
  switch (what) {
    case Shelf::What::thumbnail:
      return entry.thumbnail;
    case Shelf::What::preview:
      return entry.preview;
    case Shelf::What::files:
      break;
  }
  return entry.files;
}

bool isWhole(const fs::path& file, int64_t bytes) {
  std::error_code ec;
  return fs::is_regular_file(file, ec) && int64_t(fs::file_size(file, ec)) == bytes && !ec;
}

}  // namespace

Shelf::Shelf(std::string address, const fs::path& cache, const fs::path& kept, Patience patience)
    : address_(std::move(address)), patience_(patience) {
  if (address_.find("://") == std::string::npos) address_ = "http://" + address_;
  if (!address_.ends_with('/')) address_ += '/';
  const std::string own = hashBytes(address_.data(), address_.size());
  cache_ = cache / own, kept_ = kept / own;
}

Shelf::Shelf(std::string address)
    : Shelf(std::move(address), cacheFolder() / "shelf", dataFolder() / "shelf") {}

Result<Shelf::Contents> Shelf::look(Progress& progress) const {
  const fs::path kept = cache_ / indexName, coming = cache_ / (indexName + ".coming");
  std::error_code ec;
  fs::remove(coming, ec);  // an index is never gone on with: it may be another by now
  const Outcome asked = download({address_, indexName, -1, longestIndex}, coming, patience_, progress);
  if (!asked && asked.error().kind == ErrorKind::cancelled) return asked.error();
  if (asked) {
    const auto text = readFile(coming, size_t(longestIndex));
    if (!text) return text.error();
    auto index = parseShelfIndex(*text, address_);
    if (!index) return fs::remove(coming, ec), index.error();
    fs::rename(coming, kept, ec);
    return Contents{std::move(*index), {}};
  }
  fs::remove(coming, ec);
  const auto last = readFile(kept, size_t(longestIndex));
  if (!last) return asked.error();
  auto index = parseShelfIndex(*last, address_);
  if (!index) return asked.error();
  return Contents{std::move(*index), asked.error().message};
}

fs::path Shelf::placeOf(const ShelfEntry& entry, What what) const {
  const fs::path& root = what == What::files ? kept_ : cache_;
  const char* const of[] = {"thumbnail", "preview", "files"};
  return root / entry.id / of[size_t(what)];
}

std::optional<fs::path> Shelf::here(const ShelfEntry& entry, What what) const {
  const auto& list = listOf(entry, what);
  for (const ShelfFile& file : list)
    if (!isWhole(placeOf(entry, what) / file.path, file.bytes)) return {};
  if (list.empty()) return {};
  return placeOf(entry, what) / list.front().path;
}

Outcome Shelf::fetchOne(const ShelfFile& file, const fs::path& to, Progress& progress) const {
  if (isWhole(to, file.bytes)) return done();
  // Named by what it must become: a beginning of another version is not gone on with.
  fs::path coming = to;
  coming += "." + file.sha256.substr(0, 8) + ".coming";
  const Outcome came = download({address_, file.path, file.bytes}, coming, patience_, progress);
  if (!came) return came.error();
  const auto hash = sha256Of(coming);
  if (!hash) return hash.error();
  std::error_code ec;
  if (*hash != file.sha256) {
    fs::remove(coming, ec);
    return Error{file.path + words(" is not what ") + address_ +
                     words(" says it is (its SHA-256 differs); it was thrown away."),
                 ErrorKind::unreadable};
  }
  fs::rename(coming, to, ec);
  if (ec) return Error{to.string() + words(" cannot be written; look at its folder's rights.")};
  return done();
}

Result<fs::path> Shelf::fetch(const ShelfEntry& entry, What what, Progress& progress) const {
  const auto& list = listOf(entry, what);
  if (list.empty())
    return Error{entry.title + words(" has nothing of that kind on its shelf."), ErrorKind::unreadable};
  double all = 0, before = 0;
  for (const ShelfFile& file : list) all += double(file.bytes);
  const Progress::Part part = progress.part();
  for (const ShelfFile& file : list) {
    const double after = before + double(file.bytes);
    if (all > 0) progress.reportWithin(part.within(before / all, after / all));
    const Outcome came = fetchOne(file, placeOf(entry, what) / file.path, progress);
    if (!came) return came.error();
    before = after;
  }
  progress.reportWithin(part);
  return placeOf(entry, what) / list.front().path;
}

}  // namespace dusk
