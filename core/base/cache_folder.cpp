#include "core/base/cache_folder.h"

#include <cstdlib>

namespace dusk {
namespace fs = std::filesystem;

fs::path cacheFolder() {
  if (const char* xdg = std::getenv("XDG_CACHE_HOME"); xdg && *xdg) return fs::path(xdg) / "gentle-dusk";
  if (const char* home = std::getenv("HOME"); home && *home) return fs::path(home) / ".cache" / "gentle-dusk";
  return fs::temp_directory_path() / "gentle-dusk";
}

}  // namespace dusk
