// The verbs about a shelf of panoramas and surfaces: list, fetch.
#include "core/outside/shelf.h"

#include "batch/answer.h"
#include "batch/verbs.h"

namespace dusk::batch {
namespace fs = std::filesystem;
namespace {

const char* wordOf(ShelfKind kind) { return kind == ShelfKind::panorama ? "panorama" : "surface"; }

Result<Shelf::Contents> contentsOf(const Shelf& shelf, Progress& progress) {
  auto contents = shelf.look(progress);
  if (contents && !contents->offline.empty())
    std::fprintf(stderr, "%s This is what it said last.\n", contents->offline.c_str());
  return contents;
}

}  // namespace

int shelfList(const Request& request, Progress& progress) {
  const Shelf shelf(request.file);
  const auto contents = contentsOf(shelf, progress);
  if (!contents) return fail(contents.error());
  json entries = json::array();
  for (const ShelfKind kind : {ShelfKind::panorama, ShelfKind::surface}) {
    if (!request.kind.empty() && request.kind != wordOf(kind)) continue;
    for (const ShelfEntry* e : entriesWith(contents->index, kind, request.words))
      entries.push_back({{"id", e->id},
                         {"kind", wordOf(kind)},
                         {"title", e->title},
                         {"author", e->author},
                         {"licence", e->licence},
                         {"bytes", e->bytes()},
                         {"fetched", shelf.here(*e, Shelf::What::files).has_value()}});
  }
  if (request.json) {
    print({{"shelf", contents->index.title}, {"offline", contents->offline}, {"entries", entries}}, true);
    return 0;
  }
  for (const json& e : entries)
    std::printf("%s  %s, %s, %s%s\n", e["id"].get<std::string>().c_str(),
                e["title"].get<std::string>().c_str(), e["kind"].get<std::string>().c_str(),
                e["licence"].get<std::string>().c_str(), e["fetched"] == true ? ", fetched" : "");
  return 0;
}

int shelfFetch(const Request& request, Progress& progress) {
  const Shelf shelf(request.file);
  const auto contents = contentsOf(shelf, progress);
  if (!contents) return fail(contents.error());
  const auto& entries = contents->index.entries;
  const auto entry = std::find_if(entries.begin(), entries.end(),
                                  [&](const ShelfEntry& e) { return e.id == request.entry; });
  if (entry == entries.end())
    return fail({"The shelf has nothing called " + request.entry + ".", ErrorKind::unreadable});
  const Ticker ticker(progress);
  auto file = shelf.fetch(*entry, Shelf::What::files, progress);
  if (!file) return fail(file.error());
  if (!request.out.empty()) {
    std::error_code ec;
    const fs::path folder = shelf.folderOf(*entry);
    fs::create_directories(request.out, ec);
    if (!ec)
      fs::copy(folder, request.out, fs::copy_options::recursive | fs::copy_options::overwrite_existing, ec);
    if (ec) return fail({request.out + " cannot be written; look at its rights and its disk."});
    file = fs::path(request.out) / fs::relative(*file, folder);
  }
  print({{"file", file->string()}, {"licence", entry->licence}, {"author", entry->author}}, request.json);
  return 0;
}

}  // namespace dusk::batch
