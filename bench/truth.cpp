// Insertion truth: made-up sets rendered with the products physically in them, against our composites made
// only from photo, panorama and vantage. Arguments: [WIDTH] [SAMPLES] [SETS, by parts of their names, or
// "all"] [FOLDER for pictures] [true-camera] [CALM: how many times as many samples photo and truth have].
#include <cstdio>
#include <cstdlib>

#include "bench/study_tables.h"
#include "core/picture/write.h"

namespace {

using namespace dusk;

Outcome writePictures(const std::filesystem::path& folder, const std::string& name,
                      const demo::Insertion& made) {
  std::filesystem::create_directories(folder);
  Picture shown = Picture::rgb(made.difference.width, made.difference.height);
  for (size_t i = 0; i < shown.pixels.size(); ++i)
    shown.pixels[i] = std::min(1.0f, made.difference.pixels[i / 3] / 10);
  for (const auto& [what, picture] :
       {std::pair("truth.png", &made.truth), {"composite.png", &made.composite}, {"difference.png", &shown}})
    if (const auto written = writePng8(folder / (name + " " + what), *picture); !written)
      return written.error();
  return done();
}

Result<std::vector<demo::TruthSet>> allSets(const std::filesystem::path& demo,
                                            const std::filesystem::path& scratch, const std::string& wanted) {
  const auto isWanted = [&](const std::string& name) {
    return wanted == "all" || name.find(wanted) != std::string::npos;
  };
  auto sets = demo::demoTruthSets(demo);
  if (!sets) return sets.error();
  std::erase_if(*sets, [&](const demo::TruthSet& set) { return !isWanted(set.name); });
  using Top = bench::StudyTable::Top;
  for (const bench::StudyTable& table : {bench::StudyTable{Top::lacquer, false},
                                         {Top::lacquer, true},
                                         {Top::varnish, false},
                                         {Top::wetStone, false},
                                         {Top::paper, false, true},
                                         {Top::paper, true, true}}) {
    if (!isWanted(nameOf(table))) continue;
    auto set = bench::studyTable(table, demo, scratch);
    if (!set) return set.error();
    sets->push_back(std::move(*set));
  }
  return sets;
}

}  // namespace

int main(int argc, char** argv) {
  const int width = argc > 1 ? std::atoi(argv[1]) : 480, samples = argc > 2 ? std::atoi(argv[2]) : 256;
  const std::string wanted = argc > 3 ? argv[3] : "all";
  const auto scratch = std::filesystem::temp_directory_path() / "gentle-dusk-truth-sets";
  std::filesystem::create_directories(scratch);
  auto sets = allSets(DUSK_SOURCE "/demo", scratch, wanted);
  if (!sets) return std::puts(sets.error().message.c_str()), 1;
  std::printf("%d px wide, %d samples; mean CIEDE2000\n%-24s %8s %8s %10s %8s   %s\n", width, samples, "set",
              "product", "edges", "influence", "outside", "without the product");
  for (demo::TruthSet& set : *sets) {
    const std::string name = set.name;
    const auto made = demo::insertionTruth(std::move(set), width, samples, argc > 6 ? std::atoi(argv[6]) : 1,
                                           argc > 5 && argv[5] == std::string("true-camera"));
    if (!made) return std::printf("%s: %s\n", name.c_str(), made.error().message.c_str()), 1;
    using Where = demo::Insertion::Where;
    std::printf("%-24s %8.2f %8.2f %10.2f %8.2f   %.2f\n", name.c_str(), made->off[Where::product].mean(),
                made->off[Where::edge].mean(), made->off[Where::influence].mean(),
                made->off[Where::outside].mean(), made->untouched.mean());
    std::fflush(stdout);
    if (argc <= 4) continue;
    if (const auto written = writePictures(argv[4], name, *made); !written)
      return std::puts(written.error().message.c_str()), 1;
  }
  return 0;
}
