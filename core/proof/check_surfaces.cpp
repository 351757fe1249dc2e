#include "core/base/words.h"
#include "core/proof/checks.h"
#include "core/surface/mapping.h"
#include "core/surface/texture.h"
#include "core/trace/compile.h"

namespace dusk {

std::shared_ptr<const Texture> textureOf(const ProofOf& of, const AssetRef& ref, bool colour, int page) {
  if (of.models == Models::loaded) return of.assets.loadedTexture(ref, colour, page);
  const auto texture = of.assets.texture(ref, colour, page, of.progress);
  return texture ? *texture : nullptr;
}

namespace {

/// How much longer than wide a square of a picture of so many texels comes out on a mesh: the median over its
/// area of the quotient of the singular values (Sander, Snyder, Gortler, Hoppe 2001, "Texture Mapping
/// Progressive Meshes"). Nothing without coordinates.
std::optional<double> stretchOf(const Mesh& mesh, double texelsAcross, double texelsDown) {
  if (mesh.uvs.size() != mesh.positions.size() || texelsAcross <= 0 || texelsDown <= 0) return {};
  double whole = 0;
  std::vector<std::pair<double, double>> stretches;  // with the area that has each
  const size_t step = 1 + mesh.triangles() / 20'000;
  for (size_t t = 0; t < mesh.triangles(); t += step) {
    const auto at = [&](size_t k) { return size_t(mesh.indices[t * 3 + k]); };
    const Vec3d p1 = toDouble(mesh.positions[at(1)] - mesh.positions[at(0)]),
                p2 = toDouble(mesh.positions[at(2)] - mesh.positions[at(0)]);
    const Vec2f a = mesh.uvs[at(1)] - mesh.uvs[at(0)], b = mesh.uvs[at(2)] - mesh.uvs[at(0)];
    const double det = double(a.x) * double(b.y) - double(a.y) * double(b.x), area = p1.cross(p2).length();
    if (std::abs(det) < 1e-14 || area <= 0) continue;
    const Vec3d u = (p1 * double(b.y) - p2 * double(a.y)) / (det * texelsAcross),
                v = (p2 * double(a.x) - p1 * double(b.x)) / (det * texelsDown);
    const double e = u.dot(u), f = u.dot(v), g = v.dot(v), root = std::hypot(e - g, 2 * f);
    stretches.push_back({std::sqrt((e + g + root) / std::max(1e-30, e + g - root)), area});
    whole += area;
  }
  std::sort(stretches.begin(), stretches.end());
  double half = 0;
  for (const auto& [stretch, area] : stretches)
    if (half += area; 2 * half >= whole) return stretch;
  return {};
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
  const Mapping& lies = w.feed.mapping;
  const bool own = lies.kind == MappingKind::coordinates;
  double widthMm = lies.sizeMm.x;
  if (widthMm <= 0 && own)  // once across the coordinates
    widthMm = perUvOf(w.model.meshOf(w.part)) * w.part.place.scale * w.product.metresPerUnit * 1000;
  const std::string name = "\"" + w.surface.name + "\"";
  if (widthMm <= 0) return;
  tell("texture-size", words("true size of a texture of ") + name, widthMm, 2, 5000, "mm",
       words("Give it the size that the real thing has."));
  if (!texture || texture->width <= 0) return;
  if (const auto stretch = own ? stretchOf(w.model.meshOf(w.part), texture->width,
                                           lies.sizeMm.x > 0 ? texture->width : texture->height)
                               : std::nullopt)
    tell("texture-stretched", words("how much longer than wide a square of ") + name + " comes out", *stretch,
         1, 1.6, "x",
         words("Lay it on from the sides, or unfold the part anew in the program it came from."));
  tell("texture-sharpness", words("texels of ") + name + words(" to a pixel"),
       w.mmPerPixel / (widthMm / texture->width), 0.5, 1e9, "",
       words("Take a larger picture, or check its true size."));
  // A pattern so small that it is a mere tone repeats as it should.
  constexpr double seenPx = 6, seenUnevenness = 0.03;
  const double across = maxComponent(toFloat(trueSize(w.product, w.model.boxOf(w.part)))) * 1000.0f;
  const bool isSeen = widthMm / w.mmPerPixel > seenPx && unevenness(*texture) > seenUnevenness;
  tell("texture-repeats", words("times a picture of ") + name + " that can be told again lies side by side",
       isSeen ? across / widthMm : 0, 0, 6, "", words("Take a picture of a larger piece, or a pattern."));
}

}  // namespace

void checkSurfaces(const ProofOf& of, Findings& findings) {
  std::set<std::string> seen;
  for (const auto& [product, model, perPixel, at] : seenProducts(of)) {
    if (!model) continue;
    for (const Part& part : model->parts) {
      const Surface* surface = surfaceOf(of.project, product, part);
      if (!surface || !seen.insert(surface->id).second) continue;
      for (const auto& [value, feeds] : surface->feeds)
        for (const Feed& feed : feeds)
          if (feed.on && !feed.picture.empty() && feed.texture < 0)
            checkPicture(of, {product, *surface, feed, part, *model, perPixel, at}, findings);
    }
  }
}

}  // namespace dusk
