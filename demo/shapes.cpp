#include "demo/shapes.h"

#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakePolygon.hxx>
#include <BRepFilletAPI_MakeFillet.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <BRep_Builder.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Quantity_Color.hxx>
#include <STEPCAFControl_Writer.hxx>
#include <Standard_Failure.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Wire.hxx>
#include <XCAFApp_Application.hxx>
#include <XCAFDoc_ColorTool.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>

#include "core/base/maths.h"

namespace dusk::demo {

TopoDS_Shape box(double x0, double y0, double z0, double x1, double y1, double z1) {
  return BRepPrimAPI_MakeBox(gp_Pnt(x0, y0, z0), gp_Pnt(x1, y1, z1));
}
TopoDS_Shape cylinder(const gp_Pnt& from, const gp_Dir& along, double radius, double length) {
  return BRepPrimAPI_MakeCylinder(gp_Ax2(from, along), radius, length);
}
TopoDS_Shape rounded(const TopoDS_Shape& shape, double radius) {
  BRepFilletAPI_MakeFillet fillet(shape);
  for (TopExp_Explorer edges(shape, TopAbs_EDGE); edges.More(); edges.Next())
    fillet.Add(radius, TopoDS::Edge(edges.Current()));
  fillet.Build();
  return fillet.IsDone() ? fillet.Shape() : shape;
}
TopoDS_Shape cut(const TopoDS_Shape& from, const TopoDS_Shape& tool) { return BRepAlgoAPI_Cut(from, tool); }
TopoDS_Shape fused(const TopoDS_Shape& a, const TopoDS_Shape& b) { return BRepAlgoAPI_Fuse(a, b); }
TopoDS_Shape ring(const gp_Pnt& from, const gp_Dir& along, double outer, double inner, double length) {
  return cut(cylinder(from, along, outer, length), cylinder(from, along, inner, length));
}

TopoDS_Shape knob(const gp_Pnt& at, double radius, double length) {
  BRepBuilderAPI_MakePolygon outline;
  constexpr int teeth = 28;
  for (int i = 0; i < teeth * 2; ++i) {
    const double a = pi * i / teeth, r = i % 2 ? radius : radius * 0.93;
    outline.Add(gp_Pnt(at.X() + r * std::cos(a), at.Y(), at.Z() + r * std::sin(a)));
  }
  outline.Close();
  const TopoDS_Shape rim =
      BRepPrimAPI_MakePrism(BRepBuilderAPI_MakeFace(outline.Wire()).Face(), gp_Vec(front) * length);
  const gp_Pnt capAt = at.Translated(gp_Vec(front) * length);
  const TopoDS_Shape cap = rounded(cylinder(capAt, front, radius * 0.86, 3.0), 1.2);
  const TopoDS_Shape groove = box(at.X() - 0.8, at.Y() - length - 4, at.Z() + radius * 0.2, at.X() + 0.8,
                                  at.Y() - length - 1.8, at.Z() + radius);
  return cut(fused(rim, cap), groove);
}

TopoDS_Shape screw(const gp_Pnt& at) {
  const TopoDS_Shape head = rounded(cylinder(at, front, 3.6, 2.2), 0.7);
  return cut(head, box(at.X() - 4, at.Y() - 3, at.Z() - 0.5, at.X() + 4, at.Y() - 1.2, at.Z() + 0.5));
}

TopoDS_Shape dialMarks(const gp_Pnt& centre, double inner, double outer, double width, double step,
                       double skip) {
  TopoDS_Compound all;
  BRep_Builder builder;
  builder.MakeCompound(all);
  for (double a = -135; a <= 135.01; a += step) {
    if (skip > 0 && std::abs(std::remainder(a + 135, skip)) < 0.1) continue;
    gp_Trsf turn;
    turn.SetRotation(gp_Ax1(centre, alongY), radians(a));
    const TopoDS_Shape mark = box(centre.X() - width / 2, centre.Y() - 0.35, centre.Z() + inner,
                                  centre.X() + width / 2, centre.Y(), centre.Z() + outer);
    builder.Add(all, mark.Moved(TopLoc_Location(turn)));
  }
  return all;
}

TopoDS_Shape dialBand(const gp_Pnt& centre, double inner, double outer, double from, double to) {
  BRepBuilderAPI_MakePolygon outline;
  const auto at = [&](double r, double a) {
    return gp_Pnt(centre.X() + r * std::sin(radians(a)), centre.Y(), centre.Z() + r * std::cos(radians(a)));
  };
  for (int i = 0; i <= 24; ++i) outline.Add(at(outer, from + (to - from) * i / 24));
  for (int i = 24; i >= 0; --i) outline.Add(at(inner, from + (to - from) * i / 24));
  outline.Close();
  return BRepPrimAPI_MakePrism(BRepBuilderAPI_MakeFace(outline.Wire()).Face(), gp_Vec(front) * 0.3);
}

TopoDS_Shape pointer(const gp_Pnt& face, double width, double tail, double length, double degrees) {
  BRepBuilderAPI_MakePolygon needle;
  const double a = radians(degrees);
  for (const auto& [x, z] : {std::pair{-width, -tail}, {width, -tail}, {0.5, length}, {-0.5, length}})
    needle.Add(gp_Pnt(face.X() + x * std::cos(a) + z * std::sin(a), face.Y() - 2.2,
                      face.Z() - x * std::sin(a) + z * std::cos(a)));
  needle.Close();
  return BRepPrimAPI_MakePrism(BRepBuilderAPI_MakeFace(needle.Wire()).Face(), gp_Vec(front) * 0.8);
}

Assembly::Assembly(const char* name) {
  XCAFApp_Application::GetApplication()->NewDocument("BinXCAF", document_);
  shapes_ = XCAFDoc_DocumentTool::ShapeTool(document_->Main());
  colours_ = XCAFDoc_DocumentTool::ColorTool(document_->Main());
  root_ = shapes_->NewShape();
  TDataStd_Name::Set(root_, name);
}

void Assembly::group(const char* name) {
  group_ = shapes_->NewShape();
  TDataStd_Name::Set(group_, name);
  TDataStd_Name::Set(shapes_->AddComponent(root_, group_, TopLoc_Location()), name);
}

void Assembly::part(const char* name, const TopoDS_Shape& shape, const Colour& colour) {
  const TDF_Label label = shapes_->AddShape(shape, false);
  TDataStd_Name::Set(label, name);
  colours_->SetColor(label, Quantity_Color(colour.r, colour.g, colour.b, Quantity_TOC_RGB),
                     XCAFDoc_ColorSurf);
  TDataStd_Name::Set(shapes_->AddComponent(group_, label, TopLoc_Location()), name);
}

bool Assembly::write(const std::filesystem::path& file) {
  shapes_->UpdateAssemblies();
  STEPCAFControl_Writer writer;
  writer.SetColorMode(true);
  writer.SetNameMode(true);
  return writer.Transfer(document_) && writer.Write(file.c_str()) == IFSelect_RetDone;
}

Outcome writeAssembly(const char* name, void (*build)(Assembly&), const std::filesystem::path& file) {
  try {
    for (const auto& printer : Message::DefaultMessenger()->Printers()) printer->SetTraceLevel(Message_Fail);
    Assembly assembly(name);
    build(assembly);
    if (!assembly.write(file)) return Error{"Cannot write " + file.string() + "."};
    return done();
  } catch (const Standard_Failure& failure) {
    return Error{std::string("Building ") + name + " failed: " + failure.GetMessageString()};
  }
}

}  // namespace dusk::demo
