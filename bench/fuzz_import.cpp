// Damages model files at random and imports each through the worker, as the window would: FILES [SEED].
// Prints how each kind of file ended, and fails when an import ended other than as a model or a sentence.
#include <tbb/parallel_for.h>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <STEPControl_Writer.hxx>

#include <assimp/Exporter.hpp>
#include <atomic>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <map>
#include <mutex>
#include <random>

#include "bench/damaged.h"
#include "core/base/files.h"
#include "core/product/import.h"
#include "tests/one_mesh.h"

namespace dusk {
namespace {
namespace fs = std::filesystem;

/// A small pyramid with a group, written in the format.
std::string pyramid(const char* format, const fs::path& file) {
  aiScene scene;
  fillOneMesh(scene, "pyramid", {{0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {0, 1, 0}, {0.5f, 0.5f, 1}},
              {{-1, -1, 0}, {1, -1, 0}, {1, 1, 0}, {-1, 1, 0}, {0, 0, 1}},
              {0, 1, 4, 1, 2, 4, 2, 3, 4, 3, 0, 4, 0, 2, 1, 0, 3, 2});
  Assimp::Exporter().Export(&scene, format, file.string());
  return *readFile(file);
}

std::string pin(const fs::path& file) {
  for (const auto& printer : Message::DefaultMessenger()->Printers()) printer->SetTraceLevel(Message_Fail);
  STEPControl_Writer writer;
  writer.Transfer(BRepPrimAPI_MakeCylinder(3, 20), STEPControl_AsIs);
  writer.Write(file.c_str());
  return *readFile(file);
}

}  // namespace
}  // namespace dusk

int main(int argc, char** argv) {
  using namespace dusk;
  const int files = argc > 1 ? std::atoi(argv[1]) : 10'000;
  const unsigned seed = argc > 2 ? unsigned(std::atoi(argv[2])) : 1;
  char pattern[] = "/tmp/gentle-dusk-fuzz-XXXXXX";
  const fs::path folder = ::mkdtemp(pattern);
  ::setenv("XDG_CACHE_HOME", (folder / "cache").c_str(), 1);
  const struct {
    const char* ending;
    std::string whole;
  } kinds[] = {
      {".step", pin(folder / "whole.step")},           {".obj", pyramid("obj", folder / "whole.obj")},
      {".glb", pyramid("glb2", folder / "whole.glb")}, {".gltf", pyramid("gltf2", folder / "whole.gltf")},
      {".stl", pyramid("stl", folder / "whole.stl")},  {".stl", pyramid("stlb", folder / "binary.stl")}};
  std::mutex mutex;
  std::map<std::string, std::map<std::string, int>> ends;
  std::atomic<int> wrong = 0;
  for (const auto& kind : kinds) {  // undamaged, each is a model
    const fs::path file = folder / ("sound" + std::string(kind.ending));
    std::ofstream(file, std::ios::binary).write(kind.whole.data(), std::streamsize(kind.whole.size()));
    Progress progress;
    if (const auto model = importModel(file, progress); !model) {
      std::printf("%s: %s\n", kind.ending, model.error().message.c_str());
      return 1;
    }
  }
  tbb::parallel_for(0, files, [&](int i) {
    std::mt19937 random(seed * 1'000'003u + unsigned(i));
    const auto& kind = kinds[size_t(i) % std::size(kinds)];
    const fs::path file = folder / ("damaged-" + std::to_string(i) + kind.ending);
    const std::string bytes = damaged(kind.whole, random);
    std::ofstream(file, std::ios::binary).write(bytes.data(), std::streamsize(bytes.size()));
    Progress progress;
    const auto model = importModel(file, progress, {}, {10, size_t{2} << 30});
    std::string end = "a model";
    if (!model) {
      const std::string& said = model.error().message;
      const auto holds = [&](const char* words) { return said.find(words) != std::string::npos; };
      end = holds("broke on")      ? "reader broke"
            : holds("longer than") ? "took too long"
            : holds("memory")      ? "too much memory"
                                   : "refused";
      if (said.size() < 20 || holds("could not be started")) ++wrong;
    }
    std::error_code ignored;
    fs::remove(file, ignored);
    if (i % 500 == 0) fs::remove_all(folder / "cache", ignored);
    const std::lock_guard lock(mutex);
    ++ends[kind.ending][end];
  });
  std::printf("\n%d damaged files through the import worker\n", files);
  for (const auto& [ending, counts] : ends) {
    std::printf("%-6s", ending.c_str());
    for (const auto& [end, count] : counts) std::printf("  %s: %d", end.c_str(), count);
    std::printf("\n");
  }
  std::error_code ignored;
  fs::remove_all(folder, ignored);
  return wrong == 0 ? 0 : 1;
}
