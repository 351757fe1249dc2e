#include "core/surface/drawn.h"

#include <unistd.h>

#include "core/base/cache_folder.h"
#include "core/base/files.h"
#include "core/base/hash.h"
#include "core/base/run_program.h"
#include "core/base/words.h"
#include "core/picture/formats.h"
#include "core/product/formats.h"
#include "core/product/import.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

/// Raise it when drawings come out otherwise.
constexpr int generation = 1;
/// A label of 100 mm gets some 500 dots an inch.
constexpr int side = 2048;
constexpr double seconds = 30;
constexpr size_t memoryBytes = size_t{3} << 30;

std::optional<Vec2d> sizeIn(const std::string& text) {
  Vec2d size(0, 0);
  return std::sscanf(text.c_str(), "%lf %lf", &size.x, &size.y) == 2 && size.x > 0 && size.y > 0
             ? std::optional(size)
             : std::nullopt;
}

}  // namespace

bool isDrawing(const fs::path& file) {
  const std::string ending = endingOf(file);
  return ending == ".svg" || ending == ".svgz" || ending == ".pdf";
}

std::vector<std::string> printEndings() {
  std::vector<std::string> all = lightEndings();
  all.insert(all.end(), {".svg", ".svgz", ".pdf", ".tga", ".webp"});
  return all;
}

bool isPrintFile(const fs::path& file) {
  const auto all = printEndings();
  return std::find(all.begin(), all.end(), endingOf(file)) != all.end();
}

fs::path printWorkerProgram() { return importWorkerProgram().parent_path() / "dusk-print-worker"; }

Result<Drawn> drawn(const fs::path& file, const std::string& hash, int page, Progress& progress) {
  const fs::path folder = cacheFolder() / "drawings";
  const std::string key = hash + "-" + std::to_string(generation) + "-" + std::to_string(page);
  const fs::path pixels = folder / (key + ".tga"), size = folder / (key + ".mm");
  std::error_code ignored;
  fs::create_directories(folder, ignored);
  if (fs::exists(pixels, ignored))
    if (const auto text = readFile(size, 1000); text)
      if (const auto mm = sizeIn(*text)) return Drawn{pixels, *mm};
  const fs::path half = folder / ("half-" + std::to_string(::getpid()) + "-" + key + ".tga");
  const auto end =
      runProgram(printWorkerProgram(),
                 {file, half, std::to_string(page), std::to_string(side), std::to_string(memoryBytes)},
                 seconds, progress);
  const std::string name = file.filename().string();
  const auto fail = [&](const std::string& sentence) {
    fs::remove(half, ignored);
    return Error{sentence, ErrorKind::unreadable};
  };
  if (!end)
    return fail(
        words("The installation is incomplete: the drawing program could not be started. Install Gentle Dusk "
              "again."));
  if (end->cancelled) return fs::remove(half, ignored), cancelledError();
  if (end->tooLong)
    return fail(words("Drawing ") + name + words(" took longer than 30 s and was ended. Save it simpler."));
  if (end->broke())
    return fail(words("The drawing program broke on ") + name +
                words(". Nothing else is harmed; save the file again."));
  if (end->exitCode() != 0) return fail(end->said.empty() ? words("Cannot draw ") + name + "." : end->said);
  const auto mm = sizeIn(end->said);
  if (!mm) return fail(words("Cannot draw ") + name + ".");
  fs::rename(half, pixels, ignored);
  if (const auto kept = writeFileAtomically(size, end->said); !kept) return kept.error();
  return Drawn{pixels, *mm};
}

}  // namespace dusk
