#include "core/base/words.h"
#include "core/proof/checks.h"
#include "core/surface/print.h"
#include "core/surface/texture.h"

namespace dusk {
namespace {

struct Corners {
  Vec3f a, b, c;
};

/// The triangles that a print could lie on, millimetres in the frame of the model.
std::vector<Corners> under(const Decal& decal, const Product& product, const Model& model, double unitMm) {
  std::vector<Corners> all;
  for (const Part& part : model.parts) {
    const auto holds = [&](const std::string& branch) { return isUnder(part.path, branch); };
    if (!decal.parts.empty() && std::none_of(decal.parts.begin(), decal.parts.end(), holds)) continue;
    if (!isRendered(product, part.path)) continue;
    const Mesh& mesh = model.meshOf(part);
    const auto corner = [&](size_t k) {
      return toFloat(part.place.point(toDouble(mesh.positions[mesh.indices[k]])) * unitMm);
    };
    for (size_t t = 0; t + 2 < mesh.indices.size(); t += 3)
      all.push_back({corner(t), corner(t + 1), corner(t + 2)});
  }
  return all;
}

/// How far along the unit `way` a ray from `from` meets a triangle (Moeller & Trumbore 1997, "Fast, Minimum
/// Storage Ray/Triangle Intersection").
std::optional<float> meets(const Corners& t, const Vec3f& from, const Vec3f& way) {
  const Vec3f e1 = t.b - t.a, e2 = t.c - t.a, p = way.cross(e2);
  const float det = e1.dot(p);
  if (std::abs(det) < 1e-12f) return {};
  const Vec3f s = from - t.a, q = s.cross(e1);
  const float u = s.dot(p) / det, v = way.dot(q) / det;
  if (u < 0 || v < 0 || u + v > 1) return {};
  return e2.dot(q) / det;
}

/// Share of what is printed that finds nothing to lie on, in percent.
double cutAway(const Decal& decal, const Product& product, const Model& model, const Texture& texture) {
  const double unitMm = product.metresPerUnit * 1000;
  const DecalFrame frame = frameOf(decal, unitMm, float(texture.height) / float(std::max(1, texture.width)));
  const std::vector<Corners> triangles = under(decal, product, model, unitMm);
  constexpr int steps = 15;
  int printed = 0, lost = 0;
  for (int y = 0; y < steps; ++y)
    for (int x = 0; x < steps; ++x) {
      const Vec2f uv((float(x) + 0.5f) / steps, (float(y) + 0.5f) / steps);
      if (texture.at(uv, {0.5f / steps, 0}, {0, 0.5f / steps}, false).alpha < 0.25f) continue;
      ++printed;
      Vec3f out;
      const Vec2f on((uv.x - 0.5f) * frame.size.x, (uv.y - 0.5f) * frame.size.y);
      const Vec3f point = pointOf(decal, frame, on, &out);
      bool lies = false;
      for (const Corners& t : triangles) {
        const auto far = meets(t, point, out);
        if (!far || std::abs(*far) > float(decal.reachMm)) continue;
        const Vec3f normal = (t.b - t.a).cross(t.c - t.a).normalized();
        // At its very rim, rounding must not count.
        const Vec3f inward = point + out * *far - (frame.right * on.x + frame.up * on.y) * 1e-3f;
        if (onDecal(decal, frame, decal.lay == DecalLay::flat ? inward : point + out * *far, normal)) {
          lies = true;
          break;
        }
      }
      lost += !lies;
    }
  return printed > 0 ? 100.0 * lost / printed : 0;
}

}  // namespace

void checkPrints(const ProofOf& of, Findings& findings) {
  for (const auto& [product, model, perPixel, at] : seenProducts(of))
    for (const Decal& d : product.decals) {
      if (!d.on) continue;
      const auto tell = [&, &where = at, id = product.id + "/" + d.id](
                            const char* what, const std::string& says, double value, double low, double high,
                            const char* unit, const char* remedy) {
        findings.push_back(
            {what, says + "\"" + d.name + "\"", value, low, high, unit, remedy, "Surface", {}, where, id});
      };
      tell("print-mirrored", words("prints that read backwards: "), d.mirrored, 0, 0, "",
           words("Switch its mirroring off."));
      const auto picture = textureOf(of, d.picture, true, d.page);
      if (!picture || picture->width <= 0 || d.widthMm <= 0) continue;
      tell("print-sharpness", words("texels to a pixel of the print "),
           perPixel / (d.widthMm / picture->width), 0.7, 1e9, "",
           words("Take a larger picture, or a drawing (SVG, PDF)."));
      if (model && of.models == Models::wait && d.lay != DecalLay::coordinates)
        tell("print-cut", words("what finds nothing to lie on of the print "),
             cutAway(d, product, *model, *picture), 0, 3, "%",
             words("Move it, make it smaller, or let it reach deeper."));
    }
}

}  // namespace dusk
