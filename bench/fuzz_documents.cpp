// Damages projects and pictures at random and opens each, projects down to a small picture:
// `dusk-bench-fuzz-documents [FILES] [SEED]`. Prints how each kind ended, and fails where the program ended,
// or took longer than anyone waits.
#include <sys/mman.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cstdio>
#include <cstdlib>
#include <map>
#include <nlohmann/json.hpp>

#include "bench/damaged.h"
#include "core/base/files.h"
#include "core/base/guard.h"
#include "core/base/json_text.h"
#include "core/deliver/deliver.h"
#include "core/picture/read.h"
#include "core/picture/write.h"
#include "core/project/file.h"

namespace dusk::bench {
namespace {

namespace fs = std::filesystem;
using Json = nlohmann::json;

const fs::path demo = fs::path(DUSK_SOURCE) / "demo/brackwater";

/// What a value may become.
Json strange(const Json& was, std::mt19937& random) {
  const auto below = [&](unsigned n) { return random() % n; };
  static const double numbers[] = {0, -1, 1, 1e-300, 1e9, -1e9, 1e300, 0.5, 2147483648.0, 1e18, -1e-9, 65536};
  static const char* words[] = {"",         "demo",     "../../../etc/passwd", "#gggggg", "box", "sun",
                                "\xff\xfe", "/dev/zero"};
  switch (below(9)) {
    case 0:
      return nullptr;
    case 1:
      return below(2) == 0;
    case 2:
      return words[below(std::size(words))];
    case 3:
      return Json::array();
    case 4:
      return Json::object();
    case 5:
      return was.is_number() ? Json(was.get<double>() * -1000) : Json::array({was, was});
    default:
      return numbers[below(std::size(numbers))];
  }
}

/// One value somewhere in it becomes a strange one, goes, or is there many times.
void disturb(Json& json, std::mt19937& random) {
  Json* at = &json;
  while (at->is_structured() && !at->empty() && random() % 12) {
    auto next = at->begin();
    std::advance(next, long(random() % at->size()));
    at = &*next;
  }
  if (at->is_array() && !at->empty() && random() % 2) {
    const Json one = (*at)[random() % at->size()];
    for (size_t n = random() % 3 ? 2 : 300; n > 0; --n) at->push_back(one);
  } else if (at->is_object() && !at->empty() && random() % 2) {
    at->erase(at->begin());
  } else {
    *at = strange(*at, random);
  }
}

std::string opened(const std::string& text, const fs::path& folder) {
  const auto project = fromText(text);
  if (!project) return "refused";
  static AssetStore assets(demo);
  static GeometryCache cache;
  Progress progress;
  Project small = *project;
  for (Shot& s : small.shots) s.render.denoise = s.render.denoise > 0 ? 1 : 0;
  DeliverOptions options{folder / "out", std::pair(24, 16), 1, {}};
  const auto report = guarded("opening", [&]() -> Result<DeliverReport> {
    return deliver(small, 0, assets, cache, options, progress);
  });
  if (toText(*fromText(toText(*project))) != toText(*project)) std::abort();
  return report ? "a picture" : "a sentence";
}

std::string readPictures(const fs::path& file) {
  const auto header = guarded("reading", [&] { return readPictureHeader(file); });
  const auto photo = guarded("reading", [&] { return readPhoto(file); });
  const auto light = guarded("reading", [&] { return readLight(file); });
  const auto parts = guarded("reading", [&] { return exrParts(file); });
  if (photo)
    for (const float v : photo->picture.whole().pixels)
      if (!std::isfinite(v)) std::abort();
  return photo || light ? "a picture" : "a sentence";
}

struct Kind {
  std::string name, whole;
};

std::vector<Kind> kindsIn(const fs::path& folder) {
  std::vector<Kind> kinds{{"project", *readFile(demo / "brackwater.dusk")}};
  kinds.push_back({"project", *readFile(demo / "brackwater-pair.dusk")});
  Picture p = Picture::rgb(90, 60);
  for (size_t i = 0; i < p.pixels.size(); ++i) p.pixels[i] = float(i % 97) / 97;
  (void)writePng8(folder / "a.png", p);
  (void)writeExr(folder / "a.exr", {{"beauty", &p}, {"depth", &p, true}});
  for (const char* name : {"a.png", "a.exr"})
    kinds.push_back({fs::path(name).extension(), *readFile(folder / name)});
  kinds.push_back({".jpg", *readFile(fs::path(DUSK_SOURCE) / "demo/boathouse/boathouse-panorama-1.jpg")});
  std::string hdr = "#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 6 +X 9\n";
  for (int i = 0; i < 6 * 9; ++i) hdr += {char(40 + i), char(90), char(200 - i), char(129)};
  kinds.push_back({".hdr", hdr});
  std::string tiff("II*\0\10\0\0\0\12\0", 10);
  const auto tag = [&](unsigned id, unsigned type, unsigned value) {
    for (const unsigned v : {id, type, 1u, 0u, value, 0u}) tiff += {char(v), char(v >> 8)};
  };
  constexpr unsigned pixels = 10 + 10 * 12 + 4;
  tag(256, 3, 9), tag(257, 3, 6), tag(258, 3, 8), tag(259, 3, 1), tag(262, 3, 2), tag(273, 4, pixels);
  tag(274, 3, 6), tag(277, 3, 3), tag(278, 3, 6), tag(279, 4, 9 * 6 * 3);
  tiff += std::string(4, '\0');
  for (int i = 0; i < 9 * 6 * 3; ++i) tiff += char(i);
  kinds.push_back({".tif", tiff});
  return kinds;
}

/// Case `number`: how it ended.
std::string tried(const std::vector<Kind>& kinds, const fs::path& folder, unsigned seed, int number) {
  std::mt19937 random(seed * 1'000'003u + unsigned(number));
  const Kind& kind = kinds[size_t(number) % kinds.size()];
  if (kind.name != "project") {
    const fs::path file = folder / ("damaged" + kind.name);
    (void)writeFileAtomically(file, damaged(kind.whole, random));
    return kind.name + ": " + readPictures(file);
  }
  if (random() % 4 == 0) return "project, bytes: " + opened(damaged(kind.whole, random), folder);
  Json json = Json::parse(kind.whole);
  for (unsigned n = 1 + random() % 3; n > 0; --n) disturb(json, random);
  return "project: " + opened(jsonText(json), folder);
}

/// Shared by the process that looks on and the one that tries.
struct Board {
  int number;
  char ends[64][48];
  int counts[64];
};

void note(Board& board, const std::string& end) {
  for (int i = 0; i < 64; ++i) {
    if (board.counts[i] && end != board.ends[i]) continue;
    std::snprintf(board.ends[i], sizeof board.ends[i], "%s", end.c_str());
    ++board.counts[i];
    return;
  }
}

}  // namespace
}  // namespace dusk::bench

int main(int argc, char** argv) {
  using namespace dusk::bench;
  const int files = argc > 1 ? std::atoi(argv[1]) : 10'000;
  const unsigned seed = argc > 2 ? unsigned(std::atoi(argv[2])) : 1;
  char pattern[] = "/tmp/gentle-dusk-fuzz-XXXXXX";
  const fs::path folder = ::mkdtemp(pattern);
  ::setenv("XDG_CACHE_HOME", (folder / "cache").c_str(), 1);
  auto* board = static_cast<Board*>(
      ::mmap(nullptr, sizeof(Board), PROT_READ | PROT_WRITE, MAP_SHARED | MAP_ANONYMOUS, -1, 0));
  int wrong = 0;
  board->number = 0;
  while (board->number < files) {
    const pid_t child = ::fork();
    if (child == 0) {
      if (!std::freopen("/dev/null", "w", stderr)) return 2;  // libraries grumble there
      const auto kinds = kindsIn(folder);
      for (; board->number < files; ++board->number) {
        ::alarm(60);
        note(*board, tried(kinds, folder, seed, board->number));
      }
      ::_exit(0);
    }
    int status = 0;
    ::waitpid(child, &status, 0);
    if (status == 0) break;
    std::printf("case %d ended the program (%s %d)\n", board->number, WIFSIGNALED(status) ? "signal" : "code",
                WIFSIGNALED(status) ? WTERMSIG(status) : WEXITSTATUS(status));
    std::fflush(stdout);
    ++board->number, ++wrong;
  }
  for (int i = 0; i < 64; ++i)
    if (board->counts[i]) std::printf("%6d  %s\n", board->counts[i], board->ends[i]);
  std::printf("%d of %d ended the program\n", wrong, files);
  std::error_code ignored;
  fs::remove_all(folder, ignored);
  return wrong ? 1 : 0;
}
