#include "core/base/installed.h"

#include <cstdlib>

namespace dusk {
namespace fs = std::filesystem;
namespace {

std::string& commit() {
  static std::string said = "unknown";
  return said;
}

/// The first of the places that is there, told plainly; empty if none is.
template <typename IsIt>
fs::path firstOf(std::initializer_list<fs::path> places, IsIt isIt) {
  std::error_code code;
  for (const fs::path& place : places)
    if (isIt(place)) return fs::weakly_canonical(place, code);
  return {};
}

}  // namespace

fs::path programFolder() {
  std::error_code code;
  return fs::read_symlink("/proc/self/exe", code).parent_path();
}

fs::path helperProgram(const std::string& name) {
  const fs::path here = programFolder();
  const fs::path found =
      firstOf({here / name, here / "../libexec/gentle-dusk" / name, here / "../import_worker" / name,
               here / "../../import_worker" / name, here / "../batch" / name},
              [](const fs::path& place) {
                std::error_code code;
                return fs::is_regular_file(place, code);
              });
  return found.empty() ? here / name : found;
}

fs::path headlessProgram() {
  const char* said = std::getenv("DUSK_BATCH");
  return said && *said ? fs::path(said) : helperProgram("gentle-dusk-batch");
}

fs::path sharedFolder(const std::string& name) {
  const fs::path here = programFolder();
  const fs::path source = here / "../../..";
  return firstOf(
      {here / "../share/gentle-dusk" / name, source / "app" / name, source / name, source / "docs" / name},
      [](const fs::path& place) {
        std::error_code code;
        return fs::is_directory(place, code);
      });
}

std::string programVersion() { return DUSK_VERSION; }
std::string programCommit() { return commit(); }
void setProgramCommit(std::string said) { commit() = std::move(said); }
std::string programTitle() { return "Gentle Dusk " + programVersion() + ", commit " + programCommit(); }

}  // namespace dusk
