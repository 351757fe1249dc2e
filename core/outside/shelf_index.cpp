#include "core/outside/shelf_index.h"

#include <algorithm>
#include <nlohmann/json.hpp>
#include <set>
#include <sstream>

#include "core/base/json_text.h"
#include "core/base/lower.h"
#include "core/base/words.h"

namespace dusk {
namespace {
using nlohmann::json;

constexpr size_t mostEntries = 100'000, mostFiles = 64;

/// What an entry says that cannot be.
struct Unusable {
  std::string why;
};

bool isName(const std::string& part) {
  if (part.empty() || part.front() == '.' || part.size() > 120) return false;
  return std::none_of(part.begin(), part.end(),
                      [](unsigned char c) { return c < 32 || c == '\\' || c == ':'; });
}
/// Whether a path stays in its folder on every system.
bool staysInside(const std::string& path) {
  if (path.empty() || path.back() == '/') return false;
  std::istringstream parts(path);
  for (std::string part; std::getline(parts, part, '/');)
    if (!isName(part)) return false;
  return true;
}
bool isHash(const std::string& text) {
  return text.size() == 64 && text.find_first_not_of("0123456789abcdef") == std::string::npos;
}

ShelfFile fileOf(const json& j) {
  ShelfFile file{j.at("path").get<std::string>(), j.at("bytes").get<int64_t>(),
                 j.at("sha256").get<std::string>()};
  if (!staysInside(file.path))
    throw Unusable{words("has the path ") + file.path + words(", which leads out of its folder")};
  if (file.bytes < 0) throw Unusable{words("has a file of less than no bytes")};
  if (!isHash(file.sha256)) throw Unusable{words("has a SHA-256 that is none")};
  return file;
}

std::vector<ShelfFile> filesOf(const json& entry, const char* key) {
  std::vector<ShelfFile> files;
  if (!entry.contains(key)) return files;
  const json& list = entry.at(key);
  if (list.is_object()) return {fileOf(list)};
  for (const json& j : list) files.push_back(fileOf(j));
  if (files.size() > mostFiles) throw Unusable{words("has too many files")};
  return files;
}

ShelfEntry entryOf(const json& j) {
  ShelfEntry e;
  e.id = j.at("id").get<std::string>();
  if (!isName(e.id) || e.id.find('/') != std::string::npos)
    throw Unusable{words("has an id that is no file name")};
  e.kind = j.at("kind") == "surface" ? ShelfKind::surface : ShelfKind::panorama;
  e.title = j.value("title", e.id), e.author = j.value("author", ""), e.licence = j.value("licence", "");
  e.about = j.value("about", "");
  e.tags = j.value("tags", std::vector<std::string>());
  e.thumbnail = filesOf(j, "thumbnail"), e.preview = filesOf(j, "preview"), e.files = filesOf(j, "files");
  if (e.files.empty()) throw Unusable{words("has no files")};
  return e;
}

}  // namespace

int64_t ShelfEntry::bytes() const {
  int64_t sum = 0;
  for (const ShelfFile& f : files) sum += f.bytes;
  return sum;
}

Result<ShelfIndex> parseShelfIndex(const std::string& text, const std::string& from) {
  const auto bad = [&](const std::string& why) {
    return Error{words("The shelf at ") + from + words(" cannot be read: ") + why + ".",
                 ErrorKind::unreadable};
  };
  std::string id;
  try {
    const json j = jsonFrom(text);
    if (!j.is_object() || !j.contains("shelf")) return bad(words("its index is of another kind"));
    if (j.at("shelf") != 1) return bad(words("its index is of a later version than this program knows"));
    ShelfIndex index{j.value("title", ""), {}};
    std::set<std::string> ids;
    if (j.at("entries").size() > mostEntries) return bad(words("it has too many entries"));
    for (const json& entry : j.at("entries")) {
      id = entry.value("id", "");
      if (const json& kind = entry.at("kind"); kind != "panorama" && kind != "surface") continue;
      index.entries.push_back(entryOf(entry));
      if (!ids.insert(index.entries.back().id).second) throw Unusable{words("is there twice")};
    }
    return index;
  } catch (const Unusable& entry) {
    return bad(words("its entry \"") + id + "\" " + entry.why);
  } catch (const json::exception&) {
    return bad(id.empty() ? words("its index is damaged")
                          : words("its entry \"") + id + words("\" is not whole"));
  }
}

std::vector<const ShelfEntry*> entriesWith(const ShelfIndex& index, ShelfKind kind,
                                           const std::string& words) {
  std::vector<const ShelfEntry*> found;
  for (const ShelfEntry& e : index.entries) {
    if (e.kind != kind) continue;
    std::string all = e.title + ' ' + e.author + ' ' + e.about;
    for (const std::string& tag : e.tags) all += ' ' + tag;
    all = lower(all);
    std::istringstream each(lower(words));
    bool has = true;
    for (std::string word; has && each >> word;) has = all.find(word) != std::string::npos;
    if (has) found.push_back(&e);
  }
  return found;
}

}  // namespace dusk
