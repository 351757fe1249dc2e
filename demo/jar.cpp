// The Brackwater sampling jar: glass, sea water, cap, seal, and its printed wrap.
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <BRepPrimAPI_MakeRevol.hxx>
#include <GC_MakeArcOfCircle.hxx>
#include <TopoDS.hxx>
#include <algorithm>
#include <gp_Ax1.hxx>
#include <vector>

#include "core/base/maths.h"
#include "demo/jar.h"
#include "demo/shapes.h"

namespace dusk::demo {
namespace {

struct Corner {
  double r, z, round = 0;
};

/// The outline turned about the upright; corners rounded by an arc of that radius, where there is room.
TopoDS_Shape turned(const std::vector<Corner>& outline) {
  BRepBuilderAPI_MakeWire wire;
  const auto point = [](const Vec2d& p) { return gp_Pnt(p.x, 0, p.y); };
  const size_t n = outline.size();
  std::vector<std::pair<Vec2d, Vec2d>> cuts;  // where the arc of a corner begins and ends
  for (size_t i = 0; i < n; ++i) {
    const auto at = [&](size_t k) { return Vec2d(outline[k % n].r, outline[k % n].z); };
    const Vec2d here = at(i), in = (at(i + n - 1) - here).normalized(), out = (at(i + 1) - here).normalized();
    const double half = std::acos(std::clamp(in.dot(out), -1.0, 1.0)) / 2,
                 back = outline[i].round / std::tan(half);
    cuts.push_back({here + in * back, here + out * back});
  }
  for (size_t i = 0; i < n; ++i) {
    const auto& [from, to] = cuts[i];
    const Corner& c = outline[i];
    if (c.round > 0) {
      const Vec2d here(c.r, c.z), middle = (from + to) * 0.5, inwards = (middle - here).normalized();
      const double away = (middle - here).length(), chord = (to - from).length() / 2;
      const double rise = c.round - std::sqrt(std::max(0.0, c.round * c.round - chord * chord));
      const Vec2d top = here + inwards * (away - rise);
      wire.Add(BRepBuilderAPI_MakeEdge(GC_MakeArcOfCircle(point(from), point(top), point(to)).Value()));
    }
    const Vec2d next = cuts[(i + 1) % n].first;
    if ((next - to).length() > 1e-6) wire.Add(BRepBuilderAPI_MakeEdge(point(to), point(next)));
  }
  return BRepPrimAPI_MakeRevol(BRepBuilderAPI_MakeFace(wire.Wire()).Face(), gp_Ax1(gp_Pnt(0, 0, 0), up))
      .Shape();
}

/// A grip: an upright prism whose rim has teeth.
TopoDS_Shape grip(double low, double high, double radius, int teeth) {
  BRepBuilderAPI_MakeWire wire;
  const int n = teeth * 4;
  const auto at = [&](int i) {
    const double a = 2 * pi * i / n, r = radius - (i / 2 % 2 ? 1.1 : 0);
    return gp_Pnt(r * std::cos(a), r * std::sin(a), low);
  };
  for (int i = 0; i < n; ++i) wire.Add(BRepBuilderAPI_MakeEdge(at(i), at(i + 1)));
  return BRepPrimAPI_MakePrism(BRepBuilderAPI_MakeFace(wire.Wire()).Face(), gp_Vec(0, 0, high - low)).Shape();
}

void build(Assembly& a) {
  const auto& [wall, outer, floor, shoulder, level] = jarMeasures;
  const double inner = outer - wall, neck = 33;
  a.group("Vessel");
  a.part("Glass",
         turned({{0, 0},
                 {outer - 6, 0, 2},
                 {outer, 6, 5},
                 {outer, shoulder, 9},
                 {neck, shoulder + 13, 5},
                 {neck, shoulder + 29, 1.2},
                 {neck - 3, shoulder + 29, 1.2},
                 {neck - 3, shoulder + 12, 5},
                 {inner, shoulder - 1.5, 7},
                 {inner, floor + 5, 6},
                 {0, floor}}),
         glass);
  // The water goes half a millimetre into the glass: where both are, the glass is. It climbs the wall a
  // little.
  a.part("Sea water",
         turned({{0, floor - 0.5},
                 {inner - 4, floor - 0.5, 2},
                 {inner + 0.5, floor + 5, 6},
                 {inner + 0.5, level + 2},
                 {inner - 0.2, level + 2},
                 {inner - 2.5, level, 2.2},
                 {0, level}}),
         Colour{0.8, 0.92, 0.92});
  a.part("Sediment",
         turned({{0, floor - 0.3}, {inner - 2, floor - 0.3, 1}, {inner - 3, floor + 3}, {0, floor + 5.5}}),
         Colour{0.3, 0.24, 0.16});
  a.group("Closure");
  const double top = shoulder + 31;
  a.part("Seal", ring({0, 0, shoulder + 28.6}, up, neck + 1.2, neck - 4, 2.2), rubber);
  TopoDS_Shape cap = grip(shoulder + 15, top + 1, neck + 4.5, 48);
  cap = fused(cap, turned({{0, top}, {neck + 4.4, top, 0.4}, {neck + 3.4, top + 4, 2}, {0, top + 4.6}}));
  cap = cut(cap, cylinder({0, 0, shoulder + 10}, up, neck + 0.8, top - shoulder - 10.2));
  a.part("Screw cap", cap, black);
  a.part("Cap disc", cylinder({0, 0, top + 4.3}, up, 22, 0.9), brass);
}

}  // namespace

Outcome writeJar(const std::filesystem::path& file) {
  return writeAssembly("Brackwater sampling jar", build, file);
}

std::string jarLabelSvg() {
  // 10 ml are so high in the straight part.
  const double inner = jarMeasures.outer - jarMeasures.wall, tenMl = 10'000 / (pi * inner * inner);
  constexpr double foot = 76;  // millimetres below the upper edge: where the floor is
  const auto number = [](double v) {
    char text[32];
    std::snprintf(text, sizeof text, "%.3f", v);
    return std::string(text);
  };
  const auto text = [&](double x, double y, double size, const char* anchor, const std::string& words,
                        const char* weight = "400") {
    return "<text x=\"" + number(x) + "\" y=\"" + number(y) +
           "\" font-family=\"Lato, sans-serif\" font-weight=\"" + weight + "\" font-size=\"" + number(size) +
           "\" text-anchor=\"" + anchor + "\" fill=\"#12343b\">" + words + "</text>";
  };
  std::string svg =
      "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"150mm\" height=\"78mm\" viewBox=\"0 0 150 78\">";
  svg += "<g stroke=\"#12343b\" stroke-width=\"0.45\" fill=\"none\">";
  svg +=
      "<path d=\"M48 2h54M48 74h54\"/><path d=\"M58 47.5h34M58 56.5h34M58 65.5h34\" stroke-width=\"0.3\"/>";
  for (int i = 2; foot - i * tenMl > 2; ++i)
    svg += "<path d=\"M118 " + number(foot - i * tenMl) + "h" + (i % 5 == 0 ? "11" : "6") + "\"/>";
  // A line of waves: the works' mark.
  svg += "<path d=\"M55 33q2.5 -4 5 0t5 0t5 0t5 0t5 0t5 0t5 0t5 0\" stroke-width=\"0.8\"/></g>";
  for (int i = 5; foot - i * tenMl > 3; i += 5)
    svg += text(131, foot - i * tenMl + 1.2, 3.4, "start", std::to_string(i * 10));
  svg += text(131, 6, 3, "start", "ml");
  svg += text(75, 17, 8.2, "middle", "BRACKWATER", "700") + text(75, 25, 3.6, "middle", "sampling jar 350");
  svg += text(57, 46.5, 2.8, "end", "place") + text(57, 55.5, 2.8, "end", "depth") +
         text(57, 64.5, 2.8, "end", "date");
  svg += text(12, 40, 3, "start", "Saltmarsh") + text(12, 44.2, 3, "start", "Instrument Works");
  return svg + "</svg>\n";
}

}  // namespace dusk::demo
