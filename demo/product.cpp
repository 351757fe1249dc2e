#include "demo/product.h"

#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRepOffsetAPI_MakePipe.hxx>
#include <BRepPrimAPI_MakeCone.hxx>
#include <BRepPrimAPI_MakeSphere.hxx>
#include <GC_MakeArcOfCircle.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Wire.hxx>
#include <gp_Circ.hxx>

#include "core/base/maths.h"
#include "demo/shapes.h"

namespace dusk::demo {
namespace {

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
  a.part("Pointer", pointer(face, 2.6, 14, 52, 38), red);
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
  return writeAssembly("Brackwater tide gauge", build, file);
}

}  // namespace dusk::demo
