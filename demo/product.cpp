#include "demo/product.h"

#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakePolygon.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRepFilletAPI_MakeFillet.hxx>
#include <BRepOffsetAPI_MakePipe.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCone.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <BRepPrimAPI_MakeSphere.hxx>
#include <BRepPrimAPI_MakeTorus.hxx>
#include <BRep_Builder.hxx>
#include <GC_MakeArcOfCircle.hxx>
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
namespace {

const gp_Dir alongX(1, 0, 0), alongY(0, 1, 0), up(0, 0, 1), front(0, -1, 0);

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

/// A knob with a knurled rim: a toothed prism with a domed cap and a pointer groove.
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

/// The carry handle: a tube bent over three straights and two quarter circles.
TopoDS_Shape handle(double halfWidth, double low, double high, double bend, double radius) {
  const double x = halfWidth;
  BRepBuilderAPI_MakeWire wire;
  const auto line = [&](gp_Pnt a, gp_Pnt b) { wire.Add(BRepBuilderAPI_MakeEdge(a, b)); };
  const auto arc = [&](gp_Pnt a, gp_Pnt m, gp_Pnt b) {
    wire.Add(BRepBuilderAPI_MakeEdge(GC_MakeArcOfCircle(a, m, b).Value()));
  };
  const double c = bend * (1 - std::sqrt(0.5));
  line({-x, 0, low}, {-x, 0, high - bend});
  arc({-x, 0, high - bend}, {-x + c, 0, high - c}, {-x + bend, 0, high});
  line({-x + bend, 0, high}, {x - bend, 0, high});
  arc({x - bend, 0, high}, {x - c, 0, high - c}, {x, 0, high - bend});
  line({x, 0, high - bend}, {x, 0, low});
  const gp_Circ section(gp_Ax2(gp_Pnt(-x, 0, low), up), radius);
  const TopoDS_Wire profile = BRepBuilderAPI_MakeWire(BRepBuilderAPI_MakeEdge(section));
  return BRepOffsetAPI_MakePipe(wire.Wire(), BRepBuilderAPI_MakeFace(profile).Face()).Shape();
}

/// Marks round the dial in front of y, between two radii, every `step` degrees over the lower-left to
/// lower-right sweep.
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

/// A flat sector of a ring in front of y, for the coloured band of high water.
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

struct Colour {
  double r, g, b;  // scene-linear
};
constexpr Colour enamel{0.055, 0.19, 0.235}, brass{0.78, 0.53, 0.22}, rubber{0.022, 0.022, 0.023},
    steel{0.62, 0.61, 0.60}, ivory{0.78, 0.74, 0.64}, ink{0.03, 0.03, 0.035}, red{0.62, 0.08, 0.03},
    glass{0.9, 0.95, 0.95}, black{0.035, 0.035, 0.037};

/// The document under way: groups with named, coloured parts.
class Assembly {
 public:
  explicit Assembly(const char* name) {
    XCAFApp_Application::GetApplication()->NewDocument("BinXCAF", document_);
    shapes_ = XCAFDoc_DocumentTool::ShapeTool(document_->Main());
    colours_ = XCAFDoc_DocumentTool::ColorTool(document_->Main());
    root_ = shapes_->NewShape();
    TDataStd_Name::Set(root_, name);
  }

  void group(const char* name) {
    group_ = shapes_->NewShape();
    TDataStd_Name::Set(group_, name);
    TDataStd_Name::Set(shapes_->AddComponent(root_, group_, TopLoc_Location()), name);
  }

  void part(const char* name, const TopoDS_Shape& shape, const Colour& colour) {
    const TDF_Label label = shapes_->AddShape(shape, false);
    TDataStd_Name::Set(label, name);
    colours_->SetColor(label, Quantity_Color(colour.r, colour.g, colour.b, Quantity_TOC_RGB),
                       XCAFDoc_ColorSurf);
    TDataStd_Name::Set(shapes_->AddComponent(group_, label, TopLoc_Location()), name);
  }

  bool write(const std::filesystem::path& file) {
    shapes_->UpdateAssemblies();
    STEPCAFControl_Writer writer;
    writer.SetColorMode(true);
    writer.SetNameMode(true);
    return writer.Transfer(document_) && writer.Write(file.c_str()) == IFSelect_RetDone;
  }

 private:
  Handle(TDocStd_Document) document_;
  Handle(XCAFDoc_ShapeTool) shapes_;
  Handle(XCAFDoc_ColorTool) colours_;
  TDF_Label root_, group_;
};

void build(Assembly& a) {
  // Overall: body 190 x 110 x 216 mm on 12 mm feet, lid above, handle to 340.
  const double w = 95, d = 55, z0 = 12, z1 = 228;
  const gp_Pnt dial(0, -d, 142);
  const double dialRadius = 62;

  a.group("Housing");
  TopoDS_Shape body = rounded(box(-w, -d, z0, w, d, z1), 13);
  body = cut(body, cylinder(dial.Translated(gp_Vec(0, 12, 0)), front, dialRadius, 20));
  for (double z : {40.0, 47.0, 54.0, 61.0})
    body = cut(body, rounded(box(-w - 2, -30, z, -w + 2.5, 30, z + 3), 0.8));
  a.part("Body casting", body, enamel);
  a.part("Lid", rounded(box(-w - 2, -d - 2, z1 + 1, w + 2, d + 2, z1 + 17), 6), enamel);
  a.part("Lid gasket", box(-w + 9, -d + 9, z1 - 1, w - 9, d - 9, z1 + 2), rubber);
  a.part("Hinge pin", cylinder({-60, d + 4, z1}, alongX, 3, 120), steel);
  for (double x : {-58.0, -12.0, 34.0})
    a.part(x < -20 ? "Hinge knuckle left"
           : x < 0 ? "Hinge knuckle middle"
                   : "Hinge knuckle right",
           cylinder({x, d + 4, z1}, alongX, 5.5, 24), enamel);
  a.part("Maker's plate", rounded(box(-34, -d - 1.2, 34, 34, -d + 0.5, 56), 0.5), brass);
  a.part("Latch", rounded(box(-11, -d - 6, z1 - 14, 11, -d + 1, z1 + 9), 2), steel);

  a.group("Dial");
  const gp_Pnt face = dial.Translated(gp_Vec(0, 9, 0));
  a.part("Dial face", cylinder(face, alongY, dialRadius - 0.5, 2), ivory);
  a.part("Hour marks", dialMarks(face, 44, 55, 2.2, 27, 0), ink);
  a.part("Minute marks", dialMarks(face, 49, 55, 0.9, 5.4, 27), ink);
  a.part("High-water band", dialBand(face, 38, 42, 81, 135), red);
  a.part("Low-water band", dialBand(face, 38, 42, -135, -81), enamel);
  BRepBuilderAPI_MakePolygon needle;
  const double na = radians(38);
  const auto turned = [&](double x, double z) {
    return gp_Pnt(face.X() + x * std::cos(na) + z * std::sin(na), face.Y() - 2.2,
                  face.Z() - x * std::sin(na) + z * std::cos(na));
  };
  for (const auto& [x, z] : {std::pair{-2.6, -14.0}, {2.6, -14.0}, {0.5, 52.0}, {-0.5, 52.0}})
    needle.Add(turned(x, z));
  needle.Close();
  a.part("Pointer", BRepPrimAPI_MakePrism(BRepBuilderAPI_MakeFace(needle.Wire()).Face(), gp_Vec(front) * 0.8),
         red);
  a.part("Pointer hub", rounded(cylinder(face, front, 6.5, 4.5), 1), brass);
  a.part("Window", cylinder(dial.Translated(gp_Vec(0, 1.5, 0)), front, dialRadius - 0.6, 2.5), glass);
  a.part("Bezel",
         rounded(ring(dial.Translated(gp_Vec(0, 1, 0)), front, dialRadius + 8, dialRadius - 2, 8), 2.4),
         brass);

  a.group("Controls");
  a.part("Range knob", knob({-52, -d - 3, 46 + 8}, 15, 14), black);
  a.part("Range knob shaft", cylinder({-52, -d + 2, 54}, front, 6, 6), steel);
  a.part("Zero knob", knob({52, -d - 3, 46 + 8}, 15, 14), black);
  a.part("Zero knob shaft", cylinder({52, -d + 2, 54}, front, 6, 6), steel);

  a.group("Probe");
  const gp_Pnt pipe(w + 22, 0, 6);
  a.part("Sensor pipe", cylinder(pipe.Translated(gp_Vec(0, 0, 22)), up, 9, 232), steel);
  TopoDS_Shape tip = fused(cylinder(pipe.Translated(gp_Vec(0, 0, 8)), up, 11.5, 34),
                           BRepPrimAPI_MakeSphere(pipe.Translated(gp_Vec(0, 0, 8)), 11.5).Shape());
  tip = cut(tip, box(w + 5, -30, -30, w + 40, 30, 1.5));
  for (double z : {18.0, 26.0, 34.0})
    tip = cut(tip, cut(cylinder({w + 22, 0, z}, up, 14, 3), cylinder({w + 22, 0, z}, up, 10, 3)));
  a.part("Sensor tip", tip, brass);
  a.part("Pipe cap", rounded(cylinder(pipe.Translated(gp_Vec(0, 0, 250)), up, 12, 16), 3), black);
  for (double z : {70.0, 190.0})
    a.part(z < 100 ? "Lower clamp" : "Upper clamp",
           fused(rounded(ring({w + 22, 0, z}, up, 15, 9, 20), 1.5), box(w - 3, -9, z + 3, w + 10, 9, z + 17)),
           enamel);

  a.group("Handle");
  a.part("Carry handle", handle(64, z1 + 14, 332, 26, 8), steel);
  a.part("Handle grip", rounded(ring({-34, 0, 332}, alongX, 12.5, 7.9, 68), 3), rubber);
  a.part("Handle mount left", rounded(cylinder({-64, 0, z1 + 14}, up, 15, 12), 2.5), brass);
  a.part("Handle mount right", rounded(cylinder({64, 0, z1 + 14}, up, 15, 12), 2.5), brass);

  a.group("Feet");
  for (int i = 0; i < 4; ++i) {
    const double x = i % 2 ? 70 : -70, y = i < 2 ? -34 : 34;
    const char* names[] = {"Foot front left", "Foot front right", "Foot back left", "Foot back right"};
    a.part(names[i], BRepPrimAPI_MakeCone(gp_Ax2(gp_Pnt(x, y, 0), up), 15, 12.5, 15).Shape(), rubber);
  }

  a.group("Screws");
  int number = 0;
  for (double z : {28.0, 212.0})
    for (double x : {-80.0, 80.0})
      a.part(("Body screw " + std::to_string(++number)).c_str(), screw({x, -d + 0.2, z}), steel);
  for (double x : {-29.0, 29.0})
    a.part(x < 0 ? "Plate screw left" : "Plate screw right",
           rounded(cylinder({x, -d - 1, 45}, front, 2, 1), 0.4), steel);
}

}  // namespace

Outcome writeGauge(const std::filesystem::path& file) {
  try {
    for (const auto& printer : Message::DefaultMessenger()->Printers()) printer->SetTraceLevel(Message_Fail);
    Assembly assembly("Brackwater tide gauge");
    build(assembly);
    if (!assembly.write(file)) return Error{"Cannot write " + file.string() + "."};
    return done();
  } catch (const Standard_Failure& failure) {
    return Error{std::string("Building the gauge failed: ") + failure.GetMessageString()};
  }
}

}  // namespace dusk::demo
