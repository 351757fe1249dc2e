#include <benchmark/benchmark.h>
#include <sys/resource.h>

#include <BRepMesh_IncrementalMesh.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <STEPCAFControl_Reader.hxx>
#include <TDF_LabelSequence.hxx>
#include <TDocStd_Document.hxx>
#include <XCAFApp_Application.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>

#include <assimp/postprocess.h>
#include <assimp/scene.h>

#include <assimp/Exporter.hpp>
#include <assimp/Importer.hpp>

#include "core/product/import.h"
#include "core/product/read_model.h"
#include "demo/shapes.h"
#include "tests/one_mesh.h"

namespace dusk {
namespace {

std::string gauge() { return DUSK_SOURCE "/demo/brackwater/brackwater-gauge.step"; }

/// An assembly of 200 different parts, made once.
std::string assembly() {
  const std::string file =
      (std::filesystem::temp_directory_path() / "gentle-dusk-bench-assembly.step").string();
  if (std::filesystem::exists(file)) return file;
  const auto made = demo::writeAssembly(
      "bench",
      [](demo::Assembly& a) {
        for (int i = 0; i < 200; ++i) {
          if (i % 20 == 0) a.group(("group " + std::to_string(i / 20)).c_str());
          const double x = 40.0 * (i % 20), y = 40.0 * (i / 20), r = 8 + 0.05 * i;
          a.part(("part " + std::to_string(i)).c_str(),
                 i % 4 == 0   ? demo::knob({x, y, 0}, r, 12)
                 : i % 4 == 1 ? demo::rounded(demo::box(x, y, 0, x + r, y + 20, 15), 2)
                 : i % 4 == 2 ? demo::rounded(demo::ring({x, y, 0}, demo::up, r, r / 2, 10), 1)
                              : demo::screw({x, y, 0}),
                 demo::steel);
        }
      },
      file);
  return made ? file : "";
}

/// OpenCASCADE alone: read, transfer, mesh on one thread.
void rawStep(benchmark::State& state, std::string (*fileOf)()) {
  const std::string file = fileOf();
  for (const auto& printer : Message::DefaultMessenger()->Printers()) printer->SetTraceLevel(Message_Fail);
  for (auto _ : state) {
    STEPCAFControl_Reader reader;
    reader.SetColorMode(true);
    reader.SetNameMode(true);
    reader.ReadFile(file.c_str());
    Handle(TDocStd_Document) document;
    XCAFApp_Application::GetApplication()->NewDocument("BinXCAF", document);
    reader.Transfer(document);
    const auto shapes = XCAFDoc_DocumentTool::ShapeTool(document->Main());
    TDF_LabelSequence roots;
    shapes->GetFreeShapes(roots);
    for (const TDF_Label& root : roots)
      BRepMesh_IncrementalMesh(shapes->GetShape(root), 0.1, false, 0.2, false);
    XCAFApp_Application::GetApplication()->Close(document);
  }
}
BENCHMARK_CAPTURE(rawStep, gauge, gauge)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(rawStep, parts200, assembly)->Unit(benchmark::kMillisecond)->UseRealTime();

void ourStep(benchmark::State& state, std::string (*fileOf)()) {
  const std::string file = fileOf();
  for (auto _ : state) {
    auto model = readCad(file, 0.0001);
    benchmark::DoNotOptimize(model);
  }
}
BENCHMARK_CAPTURE(ourStep, gauge, gauge)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(ourStep, parts200, assembly)->Unit(benchmark::kMillisecond)->UseRealTime();

/// A wavy sheet of a million triangles as a file of the kind, made once.
std::string sheet(const char* ending) {
  const std::string file =
      (std::filesystem::temp_directory_path() / ("gentle-dusk-bench-sheet" + std::string(ending))).string();
  if (std::filesystem::exists(file)) return file;
  constexpr unsigned side = 708;
  std::vector<aiVector3D> positions(side * side), normals(side * side, aiVector3D(0, 0, 1));
  for (unsigned i = 0; i < side * side; ++i) {
    const float x = float(i % side) / side, y = float(i / side) / side;
    positions[i] = {x, y, 0.02f * std::sin(40 * x) * std::cos(31 * y)};
  }
  std::vector<unsigned> corners;
  for (unsigned y = 0; y + 1 < side; ++y)
    for (unsigned x = 0; x + 1 < side; ++x) {
      const unsigned a = y * side + x;
      corners.insert(corners.end(), {a, a + 1, a + side, a + 1, a + side + 1, a + side});
    }
  aiScene scene;
  fillOneMesh(scene, "sheet", positions, normals, corners);
  Assimp::Exporter().Export(&scene, std::string(ending) == ".obj" ? "obj" : "glb2", file);
  return file;
}

/// Assimp alone, to the same end: triangles that share their vertices, with normals.
void rawMesh(benchmark::State& state, const char* ending) {
  const std::string file = sheet(ending);
  for (auto _ : state) {
    Assimp::Importer importer;
    benchmark::DoNotOptimize(importer.ReadFile(
        file, aiProcess_Triangulate | aiProcess_JoinIdenticalVertices | aiProcess_GenSmoothNormals));
  }
}
/// Assimp alone, as the file is: no vertex joined.
void bareMesh(benchmark::State& state, const char* ending) {
  const std::string file = sheet(ending);
  for (auto _ : state) {
    Assimp::Importer importer;
    benchmark::DoNotOptimize(importer.ReadFile(file, aiProcess_Triangulate));
  }
}
/// The whole import: the worker process, repairs, hull, hand-over and the cache's file.
void ourMesh(benchmark::State& state, const char* ending) {
  const std::string file = sheet(ending);
  const std::filesystem::path cache = std::filesystem::temp_directory_path() / "gentle-dusk-bench-cache";
  ::setenv("XDG_CACHE_HOME", cache.c_str(), 1);
  for (auto _ : state) {
    std::filesystem::remove_all(cache);
    Progress progress;
    auto model = importModel(file, progress);
    if (!model || model->triangles() < 990'000) state.SkipWithError("not imported");
  }
  rusage children{};
  ::getrusage(RUSAGE_CHILDREN, &children);
  state.counters["worker_peak_MB"] = double(children.ru_maxrss) / 1024;
}
BENCHMARK_CAPTURE(bareMesh, obj, ".obj")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(rawMesh, obj, ".obj")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(ourMesh, obj, ".obj")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(bareMesh, glb, ".glb")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(rawMesh, glb, ".glb")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(ourMesh, glb, ".glb")->Unit(benchmark::kMillisecond)->UseRealTime();

}  // namespace
}  // namespace dusk
