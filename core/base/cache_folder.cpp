#include "core/base/cache_folder.h"

#include <cstdlib>

namespace dusk {
namespace fs = std::filesystem;
namespace {

fs::path personsFolder(const char* variable, const char* underHome) {
  if (const char* xdg = std::getenv(variable); xdg && *xdg) return fs::path(xdg) / "gentle-dusk";
  if (const char* home = std::getenv("HOME"); home && *home)
    return fs::path(home) / underHome / "gentle-dusk";
  return fs::temp_directory_path() / "gentle-dusk";
}

}  // namespace

fs::path cacheFolder() {
  const char* own = std::getenv("DUSK_CACHE");
  return own && *own ? fs::path(own) / "gentle-dusk" : personsFolder("XDG_CACHE_HOME", ".cache");
}
fs::path dataFolder() { return personsFolder("XDG_DATA_HOME", ".local/share"); }
fs::path stateFolder() { return personsFolder("XDG_STATE_HOME", ".local/state"); }

}  // namespace dusk
