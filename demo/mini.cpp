#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakePolygon.hxx>
#include <BRepBuilderAPI_Transform.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <gp_Ax1.hxx>
#include <gp_Trsf.hxx>

#include "core/base/maths.h"
#include "demo/product.h"
#include "demo/shapes.h"

namespace dusk::demo {
namespace {

constexpr double tilt = 14;  // degrees the dial leans back, about the bracket's pivot
const gp_Pnt pivot(0, 8, 96);

TopoDS_Shape tilted(const TopoDS_Shape& shape) {
  gp_Trsf lean;
  lean.SetRotation(gp_Ax1(pivot, alongX), -radians(tilt));
  return BRepBuilderAPI_Transform(shape, lean, true).Shape();
}

/// A bracket's side: a triangle that stiffens it.
TopoDS_Shape gusset(double x) {
  BRepBuilderAPI_MakePolygon outline;
  for (const auto& [y, z] : {std::pair{38.0, 3.0}, {-22.0, 3.0}, {38.0, 70.0}}) outline.Add(gp_Pnt(x, y, z));
  outline.Close();
  return BRepPrimAPI_MakePrism(BRepBuilderAPI_MakeFace(outline.Wire()).Face(), gp_Vec(alongX) * 3);
}

void build(Assembly& a) {
  // A dial of 92 mm on an angle bracket: with its back to a wall, or standing on its foot. 150 mm tall.
  const gp_Pnt dial(0, -26, 100);
  a.group("Bracket");
  TopoDS_Shape angle =
      fused(rounded(box(-42, -46, 0, 42, 46, 4), 1.2), rounded(box(-42, 38, 0, 42, 42, 128), 1.2));
  for (double x : {-42.0, 39.0}) angle = fused(angle, gusset(x));
  for (double x : {-28.0, 28.0}) {
    angle = cut(angle, cylinder({x, -34, -1}, up, 3.2, 8));
    angle = cut(angle, cylinder({x, 50, 112}, front, 3.2, 20));
  }
  a.part("Angle bracket", angle, steel);
  a.part("Pivot arm left", rounded(box(-34, 4, 60, -29, 40, 108), 1.5), steel);
  a.part("Pivot arm right", rounded(box(29, 4, 60, 34, 40, 108), 1.5), steel);
  a.part("Pivot bolt left", rounded(cylinder({-40, 8, 96}, alongX, 6, 7), 1.2), brass);
  a.part("Pivot bolt right", rounded(cylinder({33, 8, 96}, alongX, 6, 7), 1.2), brass);

  a.group("Housing");
  a.part("Round case",
         tilted(cut(rounded(cylinder(dial.Translated(gp_Vec(0, 44, 0)), front, 46, 44), 7),
                    cylinder(dial.Translated(gp_Vec(0, 8, 0)), front, 39, 20))),
         enamel);
  a.part("Bezel", tilted(rounded(ring(dial.Translated(gp_Vec(0, 1, 0)), front, 47.5, 38, 7), 2)), brass);
  a.part("Cable gland",
         tilted(rounded(cylinder(dial.Translated(gp_Vec(0, 24, -42)), gp_Dir(0, 0, -1), 8, 16), 2)), black);

  a.group("Dial");
  const gp_Pnt face = dial.Translated(gp_Vec(0, 6, 0));
  a.part("Dial face", tilted(cylinder(face, alongY, 38.6, 1.5)), ivory);
  a.part("Hour marks", tilted(dialMarks(face, 28, 35, 1.6, 27, 0)), ink);
  a.part("Minute marks", tilted(dialMarks(face, 31.5, 35, 0.7, 5.4, 27)), ink);
  a.part("High-water band", tilted(dialBand(face, 24, 26.5, 81, 135)), red);
  a.part("Pointer", tilted(pointer(face, 1.9, 9, 32, -24)), red);
  a.part("Pointer hub", tilted(rounded(cylinder(face, front, 4.2, 3.6), 0.8)), brass);
  a.part("Window", tilted(cylinder(dial.Translated(gp_Vec(0, 0.5, 0)), front, 38.4, 2)), glass);
}

}  // namespace

Outcome writeMini(const std::filesystem::path& file) { return writeAssembly("Brackwater mini", build, file); }

}  // namespace dusk::demo
