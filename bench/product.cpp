#include <benchmark/benchmark.h>
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

namespace dusk {
namespace {

const char* gauge = DUSK_SOURCE "/demo/brackwater/brackwater-gauge.step";

/// OpenCASCADE alone: read, transfer, mesh on one thread.
void rawStep(benchmark::State& state) {
  for (const auto& printer : Message::DefaultMessenger()->Printers()) printer->SetTraceLevel(Message_Fail);
  for (auto _ : state) {
    STEPCAFControl_Reader reader;
    reader.SetColorMode(true);
    reader.SetNameMode(true);
    reader.ReadFile(gauge);
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
BENCHMARK(rawStep)->Unit(benchmark::kMillisecond)->UseRealTime();

void ourStep(benchmark::State& state) {
  for (auto _ : state) {
    auto model = readCad(gauge, 0.0001);
    benchmark::DoNotOptimize(model);
  }
}
BENCHMARK(ourStep)->Unit(benchmark::kMillisecond)->UseRealTime();

/// A wavy sheet of a million triangles as a file of the kind, made once.
std::string sheet(const char* ending) {
  const std::string file =
      (std::filesystem::temp_directory_path() / ("gentle-dusk-bench-sheet" + std::string(ending))).string();
  if (std::filesystem::exists(file)) return file;
  constexpr unsigned side = 708;
  aiScene scene;
  scene.mRootNode = new aiNode("sheet");
  scene.mNumMaterials = scene.mNumMeshes = 1;
  scene.mMaterials = new aiMaterial* [1] { new aiMaterial };
  auto* mesh = new aiMesh;
  scene.mMeshes = new aiMesh* [1] { mesh };
  scene.mRootNode->mNumMeshes = 1;
  scene.mRootNode->mMeshes = new unsigned[1]{0};
  mesh->mPrimitiveTypes = aiPrimitiveType_TRIANGLE;
  mesh->mNumVertices = side * side;
  mesh->mVertices = new aiVector3D[side * side];
  mesh->mNormals = new aiVector3D[side * side];
  for (unsigned i = 0; i < side * side; ++i) {
    const float x = float(i % side) / side, y = float(i / side) / side;
    mesh->mVertices[i] = {x, y, 0.02f * std::sin(40 * x) * std::cos(31 * y)};
    mesh->mNormals[i] = {0, 0, 1};
  }
  mesh->mNumFaces = (side - 1) * (side - 1) * 2;
  mesh->mFaces = new aiFace[mesh->mNumFaces];
  for (unsigned i = 0; i < mesh->mNumFaces; ++i) {
    const unsigned cell = i / 2, a = cell / (side - 1) * side + cell % (side - 1);
    mesh->mFaces[i].mNumIndices = 3;
    mesh->mFaces[i].mIndices =
        i % 2 ? new unsigned[3]{a + 1, a + side + 1, a + side} : new unsigned[3]{a, a + 1, a + side};
  }
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
}
BENCHMARK_CAPTURE(bareMesh, obj, ".obj")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(rawMesh, obj, ".obj")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(ourMesh, obj, ".obj")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(bareMesh, glb, ".glb")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(rawMesh, glb, ".glb")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(ourMesh, glb, ".glb")->Unit(benchmark::kMillisecond)->UseRealTime();

}  // namespace
}  // namespace dusk
