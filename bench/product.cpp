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

}  // namespace
}  // namespace dusk
