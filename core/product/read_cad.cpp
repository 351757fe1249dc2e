#include <tbb/parallel_for.h>

#include <BRepMesh_IncrementalMesh.hxx>
#include <IGESCAFControl_Reader.hxx>
#include <IMeshTools_Parameters.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Message_ProgressIndicator.hxx>
#include <Message_ProgressScope.hxx>
#include <Quantity_ColorRGBA.hxx>
#include <STEPCAFControl_Reader.hxx>
#include <Standard_Failure.hxx>
#include <TColStd_SequenceOfAsciiString.hxx>
#include <TDF_LabelSequence.hxx>
#include <TDF_Tool.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Face.hxx>
#include <XCAFApp_Application.hxx>
#include <XCAFDoc_ColorTool.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_LayerTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <XSControl_WorkSession.hxx>

#include "core/base/words.h"
#include "core/product/formats.h"
#include "core/product/read_cad_face.h"
#include "core/product/read_model.h"

namespace dusk {
namespace {

std::string nameOf(const TDF_Label& label) {
  Handle(TDataStd_Name) name;
  if (!label.FindAttribute(TDataStd_Name::GetID(), name)) return {};
  const TCollection_ExtendedString& wide = name->Get();
  std::string text(size_t(wide.LengthOfCString()), '\0');
  char* at = text.data();
  wide.ToUTF8CString(at);
  std::erase(text, '\0');
  return text;
}

struct FileColour {
  Vec3f linear;
  float opacity = 1;
};

/// What an occurrence takes from the assemblies above it.
struct Inherited {
  std::optional<FileColour> colour;
  std::string layer;
  bool hidden = false;
};

std::optional<FileColour> colourOf(XCAFDoc_ColorTool& tool, const TDF_Label& label) {
  Quantity_ColorRGBA colour;
  // Quantity_Color holds linear values.
  for (auto kind : {XCAFDoc_ColorSurf, XCAFDoc_ColorGen})
    if (tool.GetColor(label, kind, colour)) {
      const Quantity_Color& c = colour.GetRGB();
      return FileColour{{float(c.Red()), float(c.Green()), float(c.Blue())}, colour.Alpha()};
    }
  return {};
}

class AssemblyWalk {
 public:
  explicit AssemblyWalk(const TDF_Label& main)
      : shapes_(XCAFDoc_DocumentTool::ShapeTool(main)),
        colours_(XCAFDoc_DocumentTool::ColorTool(main)),
        layers_(XCAFDoc_DocumentTool::LayerTool(main)) {}

  Model model;

  void visit(const TDF_Label& label, const gp_Trsf& place, int parent, const Inherited& from) {
    TDF_Label shapeLabel = label;
    std::string name = nameOf(label);
    if (shapes_->IsReference(label)) {
      shapes_->GetReferredShape(label, shapeLabel);
      // A generated occurrence name ("=>[0:1:1:2]", "NAUO3") says less than the part's own.
      if (name.empty() || name.starts_with("=>") || name.starts_with("NAUO")) name = nameOf(shapeLabel);
    }
    if (name.empty()) name = "part";
    Inherited own = from;
    for (const TDF_Label& l : {shapeLabel, label}) {
      if (const auto c = colourOf(*colours_, l)) own.colour = c;
      own.hidden = own.hidden || !colours_->IsVisible(l);
      if (const std::string layer = layerOf(l); !layer.empty()) own.layer = layer;
    }
    const std::string path =
        uniquePath(taken_, (parent >= 0 ? model.groups[size_t(parent)].path + "/" : std::string()) + name);
    if (shapes_->IsAssembly(shapeLabel)) {
      model.groups.push_back({path, name, parent});
      const int self = int(model.groups.size()) - 1;
      TDF_LabelSequence children;
      shapes_->GetComponents(shapeLabel, children);
      for (const TDF_Label& child : children)
        visit(child, place * shapes_->GetLocation(child).Transformation(), self, own);
      return;
    }
    addPart(shapeLabel, place, path, name, parent, own);
  }

  /// The meshes, after the walk: of every shape once, side by side.
  void mesh() {
    model.meshes.resize(pieces_.size());
    tbb::parallel_for(size_t{0}, pieces_.size(), [&](size_t i) {
      for (const TopoDS_Face& face : pieces_[i].faces) {
        appendFace(face, model.meshes[i]);
        if (const auto axis = axisOf(face)) addAxis(pieces_[i].axes, *axis);
      }
      auto& axes = pieces_[i].axes;
      std::sort(axes.begin(), axes.end(), [](const auto& a, const auto& b) { return a.length > b.length; });
      if (axes.size() > 6) axes.resize(6);
      if (pieces_[i].mirrored) mirror(model.meshes[i], pieces_[i].place);
    });
    for (Part& part : model.parts)
      for (RoundAxis axis : pieces_[size_t(part.mesh)].axes) {
        axis.point = toFloat(part.place.point(toDouble(axis.point)));
        axis.direction = toFloat(part.place.direction(toDouble(axis.direction)));
        axis.radius *= float(part.place.scale), axis.length *= float(part.place.scale);
        part.axes.push_back(axis);
      }
    std::erase_if(model.parts, [&](const Part& p) { return model.meshOf(p).indices.empty(); });
  }

 private:
  /// Faces of one shape that are dressed alike: one mesh.
  struct Facet {
    std::vector<TopoDS_Face> faces;
    std::optional<FileColour> own;  ///< of these faces; else what the part inherits
    std::vector<RoundAxis> axes{};
    bool mirrored = false;
    gp_Trsf place{};
  };

  std::string layerOf(const TDF_Label& label) {
    Handle(TColStd_HSequenceOfExtendedString) names;
    if (!layers_->GetLayers(label, names) || names->IsEmpty()) return {};
    const TCollection_AsciiString name(names->First());
    return name.ToCString();
  }

  int material(const FileColour& colour) {
    const std::array<float, 4> key{colour.linear.x, colour.linear.y, colour.linear.z, colour.opacity};
    const auto [at, fresh] = materials_.emplace(key, int(model.materials.size()));
    if (fresh) {
      FileMaterial m;
      m.name = "colour " + std::to_string(model.materials.size() + 1);
      m.hasColour = true, m.colour = colour.linear;
      m.transmission = 1 - colour.opacity;
      model.materials.push_back(m);
    }
    return at->second;
  }

  /// The faces of a shape by their own colours; made once for all places it stands in.
  const std::vector<size_t>& piecesOf(const TDF_Label& label) {
    TCollection_AsciiString entry;
    TDF_Tool::Entry(label, entry);
    const auto [at, fresh] = piecesOfLabel_.emplace(entry.ToCString(), std::vector<size_t>());
    if (!fresh) return at->second;
    std::map<std::array<float, 4>, size_t> byColour;
    const bool faceLabels = label.HasChild();
    for (TopExp_Explorer faces(shapes_->GetShape(label), TopAbs_FACE); faces.More(); faces.Next()) {
      std::optional<FileColour> colour;
      TDF_Label faceLabel;
      if (faceLabels && shapes_->FindSubShape(label, faces.Current(), faceLabel))
        colour = colourOf(*colours_, faceLabel);
      const std::array<float, 4> key =
          colour ? std::array{colour->linear.x, colour->linear.y, colour->linear.z, colour->opacity}
                 : std::array{-1.0f, 0.0f, 0.0f, 0.0f};
      const auto [piece, first] = byColour.emplace(key, pieces_.size());
      if (first) {
        at->second.push_back(pieces_.size());
        pieces_.push_back({{}, colour});
      }
      pieces_[piece->second].faces.push_back(TopoDS::Face(faces.Current()));
    }
    return at->second;
  }

  void addPart(const TDF_Label& label, const gp_Trsf& place, const std::string& path, const std::string& name,
               int parent, const Inherited& from) {
    const std::vector<size_t> pieces = piecesOf(label);
    for (size_t i = 0; i < pieces.size(); ++i) {
      Part part;
      part.path = path, part.name = name, part.parent = parent, part.mesh = int(pieces[i]);
      part.layer = from.layer, part.hiddenInFile = from.hidden;
      const auto own = pieces_[pieces[i]].own;
      if (i > 0) part.name += " (face colour)", part.path = uniquePath(taken_, path + " face");
      if (own || from.colour) part.material = material(own ? *own : *from.colour);
      if (place.IsNegative()) {  // a mirrored occurrence has a mesh of its own
        pieces_.push_back(pieces_[pieces[i]]);
        pieces_.back().mirrored = true, pieces_.back().place = place;
        part.mesh = int(pieces_.size()) - 1;
      } else {
        part.place = similarity(place);
      }
      model.parts.push_back(std::move(part));
    }
  }

  static Similarity similarity(const gp_Trsf& t) {
    const gp_Mat m = t.HVectorialPart();
    const auto column = [&](int c) { return Vec3d(m.Value(1, c), m.Value(2, c), m.Value(3, c)); };
    const gp_XYZ shift = t.TranslationPart();
    return {{column(1), column(2), column(3)}, t.ScaleFactor(), {shift.X(), shift.Y(), shift.Z()}};
  }

  static void mirror(Mesh& mesh, const gp_Trsf& place) {
    for (size_t i = 0; i < mesh.positions.size(); ++i) {
      gp_Pnt p(mesh.positions[i].x, mesh.positions[i].y, mesh.positions[i].z);
      gp_Vec n(mesh.normals[i].x, mesh.normals[i].y, mesh.normals[i].z);
      p.Transform(place), n.Transform(place);
      mesh.positions[i] = Vec3f(float(p.X()), float(p.Y()), float(p.Z()));
      mesh.normals[i] = Vec3f(float(n.X()), float(n.Y()), float(n.Z())).normalized();
    }
    for (size_t t = 0; t + 2 < mesh.indices.size(); t += 3)
      std::swap(mesh.indices[t + 1], mesh.indices[t + 2]);
  }

  Handle(XCAFDoc_ShapeTool) shapes_;
  Handle(XCAFDoc_ColorTool) colours_;
  Handle(XCAFDoc_LayerTool) layers_;
  std::map<std::string, int> taken_;
  std::map<std::string, std::vector<size_t>> piecesOfLabel_;
  std::vector<Facet> pieces_;
  std::map<std::array<float, 4>, int> materials_;
};

/// Passes on how far a phase is.
class PhaseIndicator : public Message_ProgressIndicator {
 public:
  PhaseIndicator(const ReadReport& report, ReadPhase phase) : report_(report), phase_(phase) {}
  void Show(const Message_ProgressScope&, const Standard_Boolean) override { report_(phase_, GetPosition()); }

 private:
  const ReadReport& report_;
  ReadPhase phase_;
};

/// Reads and transfers a CAD file into `document`; a sentence where that fails.
template <typename Reader>
Outcome transferred(Reader& reader, const std::filesystem::path& file, const char* format,
                    Handle(TDocStd_Document) & document, const ReadReport& report) {
  report(ReadPhase::parse, 0);
  reader.SetColorMode(true);
  reader.SetNameMode(true);
  reader.SetLayerMode(true);
  if (reader.ReadFile(file.c_str()) != IFSelect_RetDone)
    return Error{"Cannot read " + file.string() + " as " + format +
                     ": it is damaged or of another kind. Export it again.",
                 ErrorKind::unreadable};
  report(ReadPhase::build, 0);
  const Handle(PhaseIndicator) building = new PhaseIndicator(report, ReadPhase::build);
  if (!reader.Transfer(document, building->Start()))
    return Error{"The " + std::string(format) + " file " + file.string() +
                     " was read, but holds no shape that can be built.",
                 ErrorKind::unreadable};
  return done();
}

/// Facets for every face, kept with the shapes.
void facet(const XCAFDoc_ShapeTool& shapes, const TDF_LabelSequence& roots, double chordM,
           const ReadReport& report) {
  IMeshTools_Parameters how;
  how.Deflection = chordM * 1000;  // the reader converts everything to millimetres
  how.Angle = 0.2;
  how.InParallel = true;
  report(ReadPhase::facet, 0);
  const Handle(PhaseIndicator) faceting = new PhaseIndicator(report, ReadPhase::facet);
  Message_ProgressScope scope(faceting->Start(), nullptr, roots.Size());
  for (const TDF_Label& root : roots) BRepMesh_IncrementalMesh(shapes.GetShape(root), how, scope.Next());
}

Result<Model> read(const std::filesystem::path& file, double chordM, const ReadReport& report) {
  for (const auto& printer : Message::DefaultMessenger()->Printers()) printer->SetTraceLevel(Message_Fail);
  Handle(TDocStd_Document) document;
  const Handle(XCAFApp_Application) application = XCAFApp_Application::GetApplication();
  application->NewDocument("BinXCAF", document);
  const bool iges = isIgesFile(file);
  STEPCAFControl_Reader stepReader;
  IGESCAFControl_Reader igesReader;
  const Outcome there = iges ? transferred(igesReader, file, "IGES", document, report)
                             : transferred(stepReader, file, "STEP", document, report);
  if (!there) return there.error();
  const auto shapes = XCAFDoc_DocumentTool::ShapeTool(document->Main());
  TDF_LabelSequence roots;
  shapes->GetFreeShapes(roots);
  facet(*shapes, roots, chordM, report);
  AssemblyWalk walk(document->Main());
  for (const TDF_Label& root : roots) walk.visit(root, shapes->GetLocation(root).Transformation(), -1, {});
  report(ReadPhase::keep, 0);
  walk.mesh();
  walk.model.metresPerUnit = 0.001;
  walk.model.chordM = chordM;
  std::string unit = marked("IGES says its unit");
  if (!iges) {
    TColStd_SequenceOfAsciiString lengths, angles, solidAngles;
    stepReader.ChangeReader().FileUnits(lengths, angles, solidAngles);
    const std::string stated = lengths.IsEmpty() ? "its unit" : lengths.First().ToCString();
    unit = stated == "millimetre" ? marked("STEP says millimetre")
           : stated == "metre"    ? marked("STEP says metre")
                                  : "STEP says " + stated;
  }
  walk.model.unitReason = unit;
  application->Close(document);
  return std::move(walk.model);
}

}  // namespace

Result<Model> readCad(const std::filesystem::path& file, double chordM, const ReadReport& report) {
  try {
    return read(file, chordM, report);
  } catch (const Standard_Failure& failure) {
    return Error{"Reading " + file.string() + " failed inside: " + failure.GetMessageString(),
                 ErrorKind::unreadable};
  } catch (const std::exception& failure) {
    return Error{"Reading " + file.string() + " failed inside: " + failure.what(), ErrorKind::unreadable};
  }
}

}  // namespace dusk
