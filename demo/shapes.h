#pragma once
#include <TDF_Label.hxx>
#include <TDocStd_Document.hxx>
#include <TopoDS_Shape.hxx>
#include <XCAFDoc_ColorTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <filesystem>
#include <gp_Dir.hxx>
#include <gp_Pnt.hxx>

#include "core/base/result.h"

/// The solid pieces that the made-up products are put together from. Millimetres; fronts look towards -Y.
namespace dusk::demo {

inline const gp_Dir alongX(1, 0, 0), alongY(0, 1, 0), up(0, 0, 1), front(0, -1, 0);

TopoDS_Shape box(double x0, double y0, double z0, double x1, double y1, double z1);
TopoDS_Shape cylinder(const gp_Pnt& from, const gp_Dir& along, double radius, double length);
/// Every edge rounded; the shape as it is where that cannot be done.
TopoDS_Shape rounded(const TopoDS_Shape& shape, double radius);
TopoDS_Shape cut(const TopoDS_Shape& from, const TopoDS_Shape& tool);
TopoDS_Shape fused(const TopoDS_Shape& a, const TopoDS_Shape& b);
TopoDS_Shape ring(const gp_Pnt& from, const gp_Dir& along, double outer, double inner, double length);
/// A knob with a knurled rim: a toothed prism with a domed cap and a pointer groove.
TopoDS_Shape knob(const gp_Pnt& at, double radius, double length);
TopoDS_Shape screw(const gp_Pnt& at);
/// Marks round the dial in front of y, between two radii, every `step` degrees over the lower-left to
/// lower-right sweep, but none at multiples of `skip`.
TopoDS_Shape dialMarks(const gp_Pnt& centre, double inner, double outer, double width, double step,
                       double skip);
/// A flat sector of a ring in front of y, in degrees clockwise from the top.
TopoDS_Shape dialBand(const gp_Pnt& centre, double inner, double outer, double from, double to);
/// A tapering pointer `length` long in front of `face`, turned clockwise from the top.
TopoDS_Shape pointer(const gp_Pnt& face, double width, double tail, double length, double degrees);

struct Colour {
  double r, g, b;  // scene-linear
};
inline constexpr Colour enamel{0.055, 0.19, 0.235}, brass{0.78, 0.53, 0.22}, rubber{0.022, 0.022, 0.023},
    steel{0.62, 0.61, 0.60}, ivory{0.78, 0.74, 0.64}, ink{0.03, 0.03, 0.035}, red{0.62, 0.08, 0.03},
    glass{0.9, 0.95, 0.95}, black{0.035, 0.035, 0.037};

/// The document under way: groups with named, coloured parts.
class Assembly {
 public:
  explicit Assembly(const char* name);
  void group(const char* name);
  void part(const char* name, const TopoDS_Shape& shape, const Colour& colour);
  bool write(const std::filesystem::path& file);

 private:
  Handle(TDocStd_Document) document_;
  Handle(XCAFDoc_ShapeTool) shapes_;
  Handle(XCAFDoc_ColorTool) colours_;
  TDF_Label root_, group_;
};

/// Puts an assembly together and writes it as STEP AP214 with names and colours; errors of the modeller
/// become sentences.
Outcome writeAssembly(const char* name, void (*build)(Assembly&), const std::filesystem::path& file);

}  // namespace dusk::demo
