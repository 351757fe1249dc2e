#include <BRepBndLib.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <BRepTools.hxx>
#include <BRep_Tool.hxx>
#include <Bnd_Box.hxx>
#include <IGESCAFControl_Reader.hxx>
#include <IMeshTools_Parameters.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Poly_Triangulation.hxx>
#include <Quantity_Color.hxx>
#include <STEPCAFControl_Reader.hxx>
#include <Standard_Failure.hxx>
#include <TDF_ChildIterator.hxx>
#include <TDF_LabelSequence.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Face.hxx>
#include <XCAFApp_Application.hxx>
#include <XCAFDoc_ColorTool.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <XSControl_WorkSession.hxx>

#include "core/product/formats.h"
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

std::optional<Vec3f> colourOf(XCAFDoc_ColorTool& tool, const TDF_Label& label) {
  Quantity_Color colour;
  // Quantity_Color holds linear values.
  for (auto kind : {XCAFDoc_ColorSurf, XCAFDoc_ColorGen})
    if (tool.GetColor(label, kind, colour))
      return Vec3f(float(colour.Red()), float(colour.Green()), float(colour.Blue()));
  return {};
}

/// Appends a face's triangulation with normals from the exact surface.
void appendFace(const TopoDS_Face& face, Mesh& mesh) {
  TopLoc_Location location;
  const Handle(Poly_Triangulation) triangulation = BRep_Tool::Triangulation(face, location);
  if (triangulation.IsNull()) return;
  triangulation->ComputeNormals();
  const gp_Trsf place = location.Transformation();
  const bool flipped = face.Orientation() == TopAbs_REVERSED;
  const auto first = uint32_t(mesh.positions.size());
  for (int i = 1; i <= triangulation->NbNodes(); ++i) {
    const gp_Pnt p = triangulation->Node(i).Transformed(place);
    gp_Dir n = triangulation->Normal(i);
    n.Transform(place);
    if (flipped) n.Reverse();
    mesh.positions.emplace_back(float(p.X()), float(p.Y()), float(p.Z()));
    mesh.normals.emplace_back(float(n.X()), float(n.Y()), float(n.Z()));
  }
  for (int i = 1; i <= triangulation->NbTriangles(); ++i) {
    int a, b, c;
    triangulation->Triangle(i).Get(a, b, c);
    if (flipped) std::swap(b, c);
    for (int k : {a, b, c}) mesh.indices.push_back(first + uint32_t(k) - 1);
  }
}

class AssemblyWalk {
 public:
  AssemblyWalk(const Handle(XCAFDoc_ShapeTool) & shapes, const Handle(XCAFDoc_ColorTool) & colours)
      : shapes_(shapes), colours_(colours) {}

  Model model;

  void visit(const TDF_Label& label, const TopLoc_Location& place, int parent,
             std::optional<Vec3f> inherited) {
    TDF_Label shapeLabel = label;
    std::string name = nameOf(label);
    if (shapes_->IsReference(label)) {
      shapes_->GetReferredShape(label, shapeLabel);
      // A generated occurrence name ("=>[0:1:1:2]", "NAUO3") says less than the part's own.
      if (name.empty() || name.starts_with("=>") || name.starts_with("NAUO")) name = nameOf(shapeLabel);
    }
    if (name.empty()) name = "part";
    for (const TDF_Label& from : {shapeLabel, label})
      if (const auto own = colourOf(*colours_, from)) inherited = own;
    const std::string path =
        uniquePath(taken_, (parent >= 0 ? model.groups[parent].path + "/" : std::string()) + name);
    if (shapes_->IsAssembly(shapeLabel)) {
      model.groups.push_back({path, name, parent});
      const int self = int(model.groups.size()) - 1;
      TDF_LabelSequence children;
      shapes_->GetComponents(shapeLabel, children);
      for (const TDF_Label& child : children)
        visit(child, place * shapes_->GetLocation(child), self, inherited);
      return;
    }
    addPart(shapeLabel, place,
            Part{path, name, parent, {}, inherited.has_value(), inherited.value_or(Vec3f(0.6f))});
  }

 private:
  /// Faces that carry a colour of their own become parts of their own beside the rest.
  void addPart(const TDF_Label& label, const TopLoc_Location& place, Part part) {
    std::map<std::array<float, 3>, Mesh> byColour;
    const TopoDS_Shape shape = shapes_->GetShape(label).Located(place);
    for (TopExp_Explorer faces(shape, TopAbs_FACE); faces.More(); faces.Next()) {
      Vec3f colour = part.colour;
      TDF_Label faceLabel;
      if (shapes_->FindSubShape(label, faces.Current().Located(TopLoc_Location()), faceLabel))
        if (const auto c = colourOf(*colours_, faceLabel)) colour = *c;
      appendFace(TopoDS::Face(faces.Current()), byColour[{colour.x, colour.y, colour.z}]);
    }
    for (auto& [colour, mesh] : byColour) {
      if (mesh.indices.empty()) continue;
      Part one = part;
      one.mesh = std::move(mesh);
      if (byColour.size() > 1) {
        one.colour = {colour[0], colour[1], colour[2]};
        one.hasColour = true;
        if (one.colour != part.colour)
          one.name += " (face colour)", one.path = uniquePath(taken_, one.path + " face");
      }
      model.parts.push_back(std::move(one));
    }
  }

  Handle(XCAFDoc_ShapeTool) shapes_;
  Handle(XCAFDoc_ColorTool) colours_;
  std::map<std::string, int> taken_;
};

/// Reads and transfers a CAD file into `document`; a sentence where that fails.
template <typename Reader>
Outcome transferred(Reader& reader, const std::filesystem::path& file, const char* format,
                    Handle(TDocStd_Document) & document) {
  reader.SetColorMode(true);
  reader.SetNameMode(true);
  if (reader.ReadFile(file.c_str()) != IFSelect_RetDone)
    return Error{"Cannot read " + file.string() + " as " + format +
                     ": it is damaged or of another kind. Export it again.",
                 ErrorKind::unreadable};
  if (!reader.Transfer(document))
    return Error{"The " + std::string(format) + " file " + file.string() +
                     " was read, but holds no shape that can be built.",
                 ErrorKind::unreadable};
  return done();
}

Result<Model> read(const std::filesystem::path& file, double chordM) {
  for (const auto& printer : Message::DefaultMessenger()->Printers()) printer->SetTraceLevel(Message_Fail);
  Handle(TDocStd_Document) document;
  const Handle(XCAFApp_Application) application = XCAFApp_Application::GetApplication();
  application->NewDocument("BinXCAF", document);
  const bool iges = isIgesFile(file);
  STEPCAFControl_Reader stepReader;
  IGESCAFControl_Reader igesReader;
  const Outcome there = iges ? transferred(igesReader, file, "IGES", document)
                             : transferred(stepReader, file, "STEP", document);
  if (!there) return there.error();
  const auto shapes = XCAFDoc_DocumentTool::ShapeTool(document->Main());
  const auto colours = XCAFDoc_DocumentTool::ColorTool(document->Main());
  TDF_LabelSequence roots;
  shapes->GetFreeShapes(roots);
  IMeshTools_Parameters how;
  how.Deflection = chordM * 1000;  // the reader converts everything to millimetres
  how.Angle = 0.2;
  how.InParallel = true;
  for (const TDF_Label& root : roots) BRepMesh_IncrementalMesh(shapes->GetShape(root), how);
  AssemblyWalk walk(shapes, colours);
  for (const TDF_Label& root : roots) walk.visit(root, shapes->GetLocation(root), -1, {});
  walk.model.metresPerUnit = 0.001;
  walk.model.unitReason = std::string(iges ? "IGES" : "STEP") + " states its unit; read as millimetre";
  application->Close(document);
  return std::move(walk.model);
}

}  // namespace

Result<Model> readCad(const std::filesystem::path& file, double chordM) {
  try {
    return read(file, chordM);
  } catch (const Standard_Failure& failure) {
    return Error{"Reading " + file.string() + " failed inside: " + failure.GetMessageString(),
                 ErrorKind::unreadable};
  } catch (const std::exception& failure) {
    return Error{"Reading " + file.string() + " failed inside: " + failure.what(), ErrorKind::unreadable};
  }
}

}  // namespace dusk
