#include "core/proof/checks.h"
#include "core/surface/texture.h"
#include "core/trace/compile.h"

namespace dusk {

std::shared_ptr<const Texture> textureOf(const ProofOf& of, const AssetRef& ref, bool colour, int page) {
  if (of.models == Models::loaded) return of.assets.loadedTexture(ref, colour, page);
  const auto texture = of.assets.texture(ref, colour, page, of.progress);
  return texture ? *texture : nullptr;
}

namespace {

/// How a mesh lies in its texture coordinates, by its triangles' areas.
struct Unfolded {
  double mmPerUv = 0;  ///< on average; 0: it has no coordinates
  double stretch = 1;  ///< the longer side of what should be a square of the picture over the shorter, median
};

/// Singular values of how a picture of so many texels grows over the mesh (Sander, Snyder, Gortler, Hoppe
/// 2001, "Texture Mapping Progressive Meshes").
Unfolded unfolded(const Mesh& mesh, double mmPerUnit, double texelsAcross, double texelsDown) {
  Unfolded result;
  if (mesh.uvs.size() != mesh.positions.size() || texelsAcross <= 0 || texelsDown <= 0) return result;
  double onMesh = 0, onPicture = 0;
  std::vector<std::pair<double, double>> stretches;  // with the area that has each
  const size_t step = 1 + mesh.triangles() / 20'000;
  for (size_t t = 0; t < mesh.triangles(); t += step) {
    const auto at = [&](size_t k) { return size_t(mesh.indices[t * 3 + k]); };
    const Vec3d p1 = toDouble(mesh.positions[at(1)] - mesh.positions[at(0)]),
                p2 = toDouble(mesh.positions[at(2)] - mesh.positions[at(0)]);
    const Vec2f a = mesh.uvs[at(1)] - mesh.uvs[at(0)], b = mesh.uvs[at(2)] - mesh.uvs[at(0)];
    const double det = double(a.x) * double(b.y) - double(a.y) * double(b.x),
                 area = p1.cross(p2).length() / 2;
    if (std::abs(det) < 1e-14 || area <= 0) continue;
    onMesh += area, onPicture += std::abs(det) / 2;
    const Vec3d u = (p1 * double(b.y) - p2 * double(a.y)) / (det * texelsAcross),
                v = (p2 * double(a.x) - p1 * double(b.x)) / (det * texelsDown);
    const double e = u.dot(u), f = u.dot(v), g = v.dot(v), root = std::hypot(e - g, 2 * f);
    stretches.push_back({std::sqrt((e + g + root) / std::max(1e-30, e + g - root)), area});
  }
  if (onPicture <= 0) return result;
  result.mmPerUv = mmPerUnit * std::sqrt(onMesh / onPicture);
  std::sort(stretches.begin(), stretches.end());
  double half = 0;
  for (const auto& [stretch, area] : stretches) {
    result.stretch = stretch, half += area;
    if (2 * half >= onMesh) break;
  }
  return result;
}

/// How much the mean brightness differs between an eighth of the picture and another: by this the eye sees
/// that it repeats.
double unevenness(const Texture& texture) {
  constexpr int parts = 8;
  double sum = 0, squares = 0;
  for (int y = 0; y < parts; ++y)
    for (int x = 0; x < parts; ++x) {
      const Vec2f uv((float(x) + 0.5f) / parts, (float(y) + 0.5f) / parts);
      const double l = double(luminance(texture.at(uv, {0.5f / parts, 0}, {0, 0.5f / parts}, true).colour));
      sum += l, squares += l * l;
    }
  const double mean = sum / (parts * parts);
  return mean > 0 ? std::sqrt(std::max(0.0, squares / (parts * parts) - mean * mean)) / mean : 0;
}

/// One picture of a surface on a part that wears it.
struct Worn {
  const Product& product;
  const Surface& surface;
  const Feed& feed;
  const Part& part;
  const Model& model;
  double mmPerPixel;
  std::optional<Vec2d> at;
};

void checkPicture(const ProofOf& of, const Worn& w, Findings& findings) {
  const auto texture = textureOf(of, w.feed.picture, w.feed.channel == PictureChannel::colour, 1);
  const auto tell = [&](const char* id, const std::string& what, double value, double low, double high,
                        const char* unit, const char* remedy) {
    findings.push_back({id, what, value, low, high, unit, remedy, "Surface", {}, w.at});
  };
  const double mmPerUnit = w.product.metresPerUnit * 1000 * w.part.place.scale;
  const bool own = w.feed.mapping.kind == MappingKind::coordinates;
  const Unfolded lies = own && texture
                            ? unfolded(w.model.meshOf(w.part), mmPerUnit, texture->width,
                                       w.feed.mapping.sizeMm.x > 0 ? texture->width : texture->height)
                            : Unfolded{};
  const double widthMm = w.feed.mapping.sizeMm.x > 0 ? w.feed.mapping.sizeMm.x : lies.mmPerUv;
  const std::string name = "\"" + w.surface.name + "\"";
  if (widthMm <= 0) return;
  tell("texture-size", "true size of a texture of " + name, widthMm, 2, 5000, "mm",
       "Give it the size that the real thing has.");
  if (lies.mmPerUv > 0)
    tell("texture-stretched", "how much longer than wide a square of " + name + " comes out", lies.stretch, 1,
         1.6, "x", "Lay it on from the sides, or unfold the part anew in the program it came from.");
  if (!texture || texture->width <= 0) return;
  tell("texture-sharpness", "texels of " + name + " to a pixel", w.mmPerPixel / (widthMm / texture->width),
       0.5, 1e9, "", "Take a larger picture, or check its true size.");
  // A pattern so small that it is a mere tone repeats as it should.
  constexpr double seenPx = 6, seenUnevenness = 0.03;
  const double across = maxComponent(toFloat(trueSize(w.product, w.model.boxOf(w.part)))) * 1000.0f;
  const bool isSeen = widthMm / w.mmPerPixel > seenPx && unevenness(*texture) > seenUnevenness;
  tell("texture-repeats", "times a picture of " + name + " that can be told again lies side by side",
       isSeen ? across / widthMm : 0, 0, 6, "", "Take a picture of a larger piece, or a pattern.");
}

}  // namespace

void checkSurfaces(const ProofOf& of, Findings& findings) {
  std::set<std::string> seen;
  for (const Placement& p : of.shot.placements) {
    const Product* product = byId(of.project.products, p.productId);
    const auto perPixel = mmPerPixel(of.shot, p);
    if (!product || !perPixel || !seen.insert(p.productId).second) continue;
    const auto at = spotOf(of.shot, p);
    const auto model = of.assets.loadedModel(*product);
    if (!model) continue;
    for (const Part& part : model->parts) {
      const Surface* surface = surfaceOf(of.project, *product, part);
      if (!surface || !seen.insert("surface:" + surface->id).second) continue;
      for (const auto& [value, feeds] : surface->feeds)
        for (const Feed& feed : feeds)
          if (feed.on && !feed.picture.empty() && feed.texture < 0)
            checkPicture(of, {*product, *surface, feed, part, *model, *perPixel, at}, findings);
    }
  }
}

}  // namespace dusk
