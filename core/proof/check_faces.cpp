#include <array>
#include <map>

#include "core/base/words.h"
#include "core/proof/checks.h"
#include "core/trace/compile.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

constexpr double apartM = 2e-6;  // what lies closer is in one plane: less than a ray tells apart

/// A triangle that is large enough to be seen, turned to the camera, in the world.
struct Face {
  Vec3d corner[3];
  Vec3d normal;
  size_t part;
};

using Polygon = std::vector<Vec2d>;

double areaOf(const Polygon& p) {
  double sum = 0;
  for (size_t i = 0; i < p.size(); ++i) {
    const Vec2d &a = p[i], &b = p[(i + 1) % p.size()];
    sum += a.x * b.y - a.y * b.x;
  }
  return sum / 2;
}

/// What two triangles of one plane have in common, both counter-clockwise (Sutherland & Hodgman 1974,
/// "Reentrant Polygon Clipping").
double commonArea(const Polygon& a, const Polygon& b) {
  Polygon left = a;
  for (size_t i = 0; i < b.size() && left.size() > 2; ++i) {
    const Vec2d from = b[i], along = b[(i + 1) % b.size()] - from;
    const auto side = [&](const Vec2d& p) { return along.x * (p.y - from.y) - along.y * (p.x - from.x); };
    Polygon next;
    for (size_t k = 0; k < left.size(); ++k) {
      const Vec2d &p = left[k], &q = left[(k + 1) % left.size()];
      const double sp = side(p), sq = side(q);
      if (sp >= 0) next.push_back(p);
      if ((sp >= 0) != (sq >= 0)) next.push_back(p + (q - p) * (sp / (sp - sq)));
    }
    left = std::move(next);
  }
  return left.size() > 2 ? std::abs(areaOf(left)) : 0;
}

/// A plane of space, rounded: where it looks and how far it is. Faces of one plane have one, up to a step of
/// the last.
using Plane = std::array<int64_t, 4>;
Plane planeOf(const Face& f) {
  const double distance = f.normal.dot((f.corner[0] + f.corner[1] + f.corner[2]) / 3);
  return {std::llround(f.normal.x * 4000), std::llround(f.normal.y * 4000), std::llround(f.normal.z * 4000),
          std::llround(distance / (8 * apartM))};
}

/// The parts that faces are of: how each looks, and what it is called.
struct Looks {
  std::vector<std::string> looks, names;
};

void addFaces(const ProofOf& of, const Placement& p, const Camera& camera, std::vector<Face>& faces,
              Looks& looks) {
  const Product* product = byId(of.project.products, p.productId);
  const auto model = product ? of.assets.loadedModel(*product) : nullptr;
  const auto perPixel = mmPerPixel(of.shot, p);
  if (!model || !perPixel || !product->piece.kind.empty()) return;  // pieces are let into each other
  const Similarity world = worldFromModel(*product, p, *model, planeHeightM(of.shot, p));
  const double least = std::pow(2 * *perPixel / 1000, 2);
  for (const Part& part : model->parts) {
    if (!isRendered(*product, part.path)) continue;
    const Surface* surface = surfaceOf(of.project, *product, part);
    const size_t index = looks.looks.size();
    looks.looks.push_back(surface ? surface->id : "file " + std::to_string(part.material));
    looks.names.push_back(part.name);
    const Similarity moved = world.after(movedWithin(*product, part)).after(part.place);
    const Mesh& mesh = model->meshOf(part);
    for (size_t t = 0; t < mesh.triangles(); ++t) {
      Face face;
      for (size_t k = 0; k < 3; ++k)
        face.corner[k] = moved.point(toDouble(mesh.positions[mesh.indices[t * 3 + k]]));
      const Vec3d across = (face.corner[1] - face.corner[0]).cross(face.corner[2] - face.corner[0]);
      const double twice = across.length();
      if (twice / 2 < least || across.dot(camera.position - face.corner[0]) <= 0) continue;
      face.normal = across / twice, face.part = index;
      faces.push_back(face);
    }
  }
}

/// Area that faces of unlike parts share, and the two that share most.
struct Fight {
  double areaM2 = 0;
  size_t a = 0, b = 0;
  Vec3d at{0, 0, 0};
};

class Fights {
 public:
  Fights(const std::vector<Face>& faces, const Looks& looks) : faces_(faces), looks_(looks) {
    for (size_t i = 0; i < faces.size(); ++i) planes_[planeOf(faces[i])].push_back(i);
    for (size_t i = 0; i < faces.size() && looked_ < most; ++i) look(i);
  }
  Fight worst() const {
    Fight worst;
    for (const auto& [pair, fight] : fights_)
      if (fight.areaM2 > worst.areaM2) worst = fight;
    return worst;
  }

 private:
  static constexpr size_t most = 3'000'000;  // pairs; beyond, what is found so far tells enough
  void look(size_t i) {
    const Face& f = faces_[i];
    const Triadf axes = triadAround(toFloat(f.normal));
    const Vec3d x = toDouble(axes.x), y = toDouble(axes.y);
    const auto laid = [&](const Face& face) {
      Polygon p;
      for (const Vec3d& c : face.corner) p.push_back({x.dot(c), y.dot(c)});
      return p;
    };
    const Polygon own = laid(f);
    for (const int step : {0, 1, -1}) {
      Plane beside = planeOf(f);
      beside[3] += step;
      const auto plane = planes_.find(beside);
      if (plane == planes_.end()) continue;
      for (const size_t k : plane->second) {
        const Face& other = faces_[k];
        if (k <= i || other.part == f.part || looks_.looks[other.part] == looks_.looks[f.part]) continue;
        if (++looked_ >= most) return;
        if (std::abs(f.normal.dot(other.corner[0] - f.corner[0])) > 4 * apartM) continue;
        const double area = commonArea(own, laid(other));
        if (area <= 0) continue;
        Fight& fight = fights_[std::minmax(f.part, other.part)];
        fight.areaM2 += area, fight.a = f.part, fight.b = other.part;
        fight.at = (other.corner[0] + other.corner[1] + other.corner[2]) / 3;
      }
    }
  }

  const std::vector<Face>& faces_;
  const Looks& looks_;
  std::map<Plane, std::vector<size_t>> planes_;  ///< of each, its faces
  std::map<std::pair<size_t, size_t>, Fight> fights_;
  size_t looked_ = 0;
};

}  // namespace

void checkFaces(const ProofOf& of, Findings& findings) {
  if (of.models == Models::loaded || of.shot.placements.empty()) return;
  const Camera camera = workingCamera(of.shot.vantage);
  if (camera.width <= 0 || camera.height <= 0) return;
  std::vector<Face> faces;
  Looks looks;
  for (const Placement& p : of.shot.placements) addFaces(of, p, camera, faces, looks);
  if (faces.empty()) return;
  const Fight fight = Fights(faces, looks).worst();
  const auto perPixel = mmPerPixel(of.shot, of.shot.placements.front());
  std::string what = words("faces of two parts in one plane");
  std::optional<Vec2d> at;
  if (fight.areaM2 > 0) {
    what += ": \"" + looks.names[fight.a] + words("\" and \"") + looks.names[fight.b] + "\"";
    if (const auto pixel = projected(camera, fight.at))
      at = Vec2d(pixel->x / camera.width, pixel->y / camera.height);
  }
  // As the side of a square that shows now one, now the other.
  findings.push_back({"faces-fight",
                      what,
                      std::sqrt(fight.areaM2) * 1000 / perPixel.value_or(1),
                      0,
                      3,
                      "px",
                      words("Hide one of them, or move one by a tenth of a millimetre."),
                      "Product",
                      {},
                      at});
}

}  // namespace dusk
