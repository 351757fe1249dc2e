#include "core/product/side_files.h"

#include <algorithm>
#include <array>

#include "core/base/hash.h"
#include "core/base/lower.h"
#include "core/product/formats.h"

namespace dusk {
namespace fs = std::filesystem;

std::string uriDecoded(const std::string& uri) {
  std::string out;
  for (size_t i = 0; i < uri.size(); ++i)
    if (uri[i] == '%' && i + 2 < uri.size() && std::isxdigit(static_cast<unsigned char>(uri[i + 1])) &&
        std::isxdigit(static_cast<unsigned char>(uri[i + 2])))
      out += char(std::stoi(uri.substr(i + 1, 2), nullptr, 16)), i += 2;
    else
      out += uri[i];
  return out;
}

namespace {

/// As this system writes paths.
fs::path plainPath(std::string name) {
  std::replace(name.begin(), name.end(), '\\', '/');
  return fs::path(name).lexically_normal();
}

/// Also of kinds that are not read: that is told then.
bool isPicture(const fs::path& file) {
  constexpr std::array endings = {".png", ".jpg",  ".jpeg", ".tga", ".bmp", ".psd", ".webp",
                                  ".tif", ".tiff", ".gif",  ".dds", ".exr", ".hdr"};
  return std::count(endings.begin(), endings.end(), endingOf(file)) > 0;
}

bool holdsTextures(const fs::path& folder) {
  constexpr std::array names = {"textures", "texture", "tex", "maps", "images", "materials"};
  return std::count(names.begin(), names.end(), lower(folder.filename().string())) > 0;
}

/// The file of that name, in small letters, in the folder or at most `deep` below it: the least deep.
std::optional<fs::path> named(const std::string& name, const fs::path& folder, int deep) {
  constexpr int most = 4096;  // entries of one folder: nobody waits for a whole disk
  std::vector<fs::path> level{folder};
  for (; !level.empty() && deep >= 0; --deep) {
    std::vector<fs::path> below;
    for (const fs::path& in : level) {
      std::error_code code, ignored;
      int seen = 0;
      for (fs::directory_iterator at(in, fs::directory_options::skip_permission_denied, code), end;
           !code && at != end && ++seen < most; at.increment(code))
        if (at->is_directory(ignored))
          below.push_back(at->path());
        else if (lower(at->path().filename().string()) == name && at->is_regular_file(ignored))
          return at->path();
    }
    std::sort(below.begin(), below.end());
    level = std::move(below);
  }
  return {};
}

}  // namespace

/// Relative to the folder; empty: nowhere.
std::string SideFiles::found(const std::string& name) const {
  const fs::path path = plainPath(name);
  std::error_code code;
  if (path.empty()) return {};
  if (path.is_relative() && *path.begin() != ".." && fs::is_regular_file(folder_ / path, code))
    return path.generic_string();
  const std::string alone = lower(path.filename().string());
  const fs::path folder = folder_.empty() ? fs::path(".") : folder_;
  const bool picture = isPicture(path);
  if (const auto file = named(alone, folder, picture ? 2 : 0))
    return file->lexically_relative(folder).generic_string();
  if (!picture) return {};
  const fs::path above = fs::absolute(folder, code).lexically_normal().parent_path();
  for (fs::directory_iterator at(above, fs::directory_options::skip_permission_denied, code), end;
       !code && at != end; at.increment(code))
    if (holdsTextures(at->path()))
      if (const auto file = named(alone, at->path(), 0))
        return ("../" / file->lexically_relative(above)).generic_string();
  return {};
}

std::optional<fs::path> SideFiles::find(const std::string& name) {
  auto known = std::find_if(all_.begin(), all_.end(), [&](const SideFile& f) { return f.name == name; });
  if (known == all_.end()) {
    SideFile file{name, found(name), "", false};
    if (!file.path.empty())
      if (const auto hash = hashFile(folder_ / file.path)) file.hash = *hash;
    known = all_.insert(all_.end(), std::move(file));
  }
  return known->path.empty() ? std::nullopt : std::optional(folder_ / known->path);
}

void SideFiles::noteUnread(const std::string& name) {
  for (SideFile& file : all_) file.unread |= file.name == name;
}

std::vector<std::string> SideFiles::missing(const std::vector<SideFile>& all) {
  std::vector<std::string> names;
  for (const SideFile& file : all)
    if (file.path.empty() || file.unread) names.push_back(plainPath(file.name).filename().string());
  return names;
}

bool SideFiles::areAsBefore(const std::vector<SideFile>& before, const fs::path& model) {
  SideFiles now(model);
  for (const SideFile& file : before) now.find(file.name);
  return std::equal(
      before.begin(), before.end(), now.all_.begin(), now.all_.end(),
      [](const SideFile& a, const SideFile& b) { return a.path == b.path && a.hash == b.hash; });
}

}  // namespace dusk
