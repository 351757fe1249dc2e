#include "core/product/read_cad_face.h"

#include <BRepAdaptor_Surface.hxx>
#include <BRep_Tool.hxx>
#include <GeomLib.hxx>
#include <Poly_Triangulation.hxx>
#include <TopoDS_Face.hxx>
#include <gp_Cylinder.hxx>

namespace dusk {
namespace {

/// Normal of the exact surface at a node, before the face's orientation; nothing where the surface has none.
std::optional<gp_Dir> exactNormal(const BRepAdaptor_Surface& surface, const gp_Pnt2d& uv) {
  gp_Pnt point;
  gp_Vec du, dv;
  surface.D1(uv.X(), uv.Y(), point, du, dv);
  const gp_Vec n = du.Crossed(dv);
  // At a pole one of the two vanishes; the next best is asked of the geometry itself.
  if (n.Magnitude() > 1e-9 * (du.Magnitude() + 1e-12) * (dv.Magnitude() + 1e-12) && n.Magnitude() > 1e-14)
    return gp_Dir(n);
  gp_Dir estimate;
  const gp_Trsf& place = surface.Trsf();
  if (GeomLib::NormEstim(surface.Surface().Surface(), uv, 1e-7, estimate) > 1) return {};
  return estimate.Transformed(place);
}

}  // namespace

void appendFace(const TopoDS_Face& face, Mesh& mesh) {
  TopLoc_Location location;
  const Handle(Poly_Triangulation) triangulation = BRep_Tool::Triangulation(face, location);
  if (triangulation.IsNull()) return;
  const BRepAdaptor_Surface surface(face, false);
  const gp_Trsf place = location.Transformation();
  const bool flipped = face.Orientation() == TopAbs_REVERSED, placed = !location.IsIdentity();
  const auto first = uint32_t(mesh.positions.size());
  const int nodes = triangulation->NbNodes();
  std::vector<int> without;
  for (int i = 1; i <= nodes; ++i) {
    gp_Pnt p = triangulation->Node(i);
    if (placed) p.Transform(place);
    Vec3f normal(0, 0, 0);
    if (triangulation->HasUVNodes())
      if (const auto n = exactNormal(surface, triangulation->UVNode(i)))
        normal = Vec3f(float(n->X()), float(n->Y()), float(n->Z())) * (flipped ? -1.0f : 1.0f);
    if (normal.length2() == 0) without.push_back(i);
    mesh.positions.emplace_back(float(p.X()), float(p.Y()), float(p.Z()));
    mesh.normals.push_back(normal);
  }
  std::vector<Vec3f> sums(without.empty() ? 0 : size_t(nodes), Vec3f(0, 0, 0));
  for (int i = 1; i <= triangulation->NbTriangles(); ++i) {
    int corner[3];
    triangulation->Triangle(i).Get(corner[0], corner[1], corner[2]);
    if (flipped) std::swap(corner[1], corner[2]);
    const auto at = [&](int k) { return mesh.positions[first + uint32_t(corner[k]) - 1]; };
    const Vec3f n = (at(1) - at(0)).cross(at(2) - at(0));
    if (n.length2() == 0) continue;  // at a pole
    for (int k : corner) {
      mesh.indices.push_back(first + uint32_t(k) - 1);
      if (!sums.empty()) sums[size_t(k) - 1] += n;
    }
  }
  for (int i : without) {
    const Vec3f& n = sums[size_t(i) - 1];
    mesh.normals[first + uint32_t(i) - 1] = n.length2() > 0 ? n.normalized() : Vec3f(0, 0, 1);
  }
}

std::optional<RoundAxis> axisOf(const TopoDS_Face& face) {
  const BRepAdaptor_Surface surface(face);
  if (surface.GetType() != GeomAbs_Cylinder) return {};
  const gp_Cylinder cylinder = surface.Cylinder();
  const double from = surface.FirstVParameter(), to = surface.LastVParameter();
  if (!std::isfinite(from) || !std::isfinite(to) || to - from > 1e9) return {};
  const gp_Dir d = cylinder.Axis().Direction();
  const gp_Pnt middle = cylinder.Location().Translated(gp_Vec(d) * ((from + to) / 2));
  return RoundAxis{{float(middle.X()), float(middle.Y()), float(middle.Z())},
                   {float(d.X()), float(d.Y()), float(d.Z())},
                   float(cylinder.Radius()),
                   float(to - from)};
}

void addAxis(std::vector<RoundAxis>& axes, const RoundAxis& axis) {
  for (RoundAxis& had : axes) {
    const Vec3f between = axis.point - had.point;
    if (std::abs(had.direction.dot(axis.direction)) < 0.99999f ||
        between.cross(had.direction).length() > 1e-4f * (had.radius + axis.radius))
      continue;
    if (axis.length > had.length) had = axis;
    return;
  }
  axes.push_back(axis);
}

}  // namespace dusk
