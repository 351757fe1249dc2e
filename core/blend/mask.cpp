#include "core/blend/mask.h"

#include "core/blend/combine.h"
#include "core/blend/hue.h"
#include "core/blend/lanes.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

/// Right and down in the world, of the plane through the product's spot that faces the camera.
struct ProductPlane {
  Vec3d spot, right, down;
};
std::optional<ProductPlane> productPlane(const MaskWorld& world) {
  if (!world.solved || !world.product) return {};
  return ProductPlane{*world.product, world.camera.axes.x, world.camera.axes.y};
}

/// What lies from `from` to `to`, softly over `soft` beyond.
inline float rangeWeight(float v, float from, float to, float soft) {
  const float per = 1 / higher(soft, 1e-6f);
  const float w = lower(higher(lower((v - from) * per, (to - v) * per) + 1, 0.0f), 1.0f);
  return w * w * (3 - 2 * w);
}

DUSK_LANES void inRange(float* out, const float* v, int count, float from, float to, float soft, bool known) {
  for (int i = 0; i < count; ++i) out[i] = rangeWeight(v[i], from, to, soft) * where(!known || v[i] != 0);
}
DUSK_LANES void byBrightness(float* out, const float* r, const float* g, const float* b, const float* a,
                             int count, float from, float to, float soft) {
  for (int i = 0; i < count; ++i) {
    const float per = a ? 1 / (a[i] > 1e-4f ? a[i] : 1e30f) : 1.0f;
    const float y = (0.2126f * r[i] + 0.7152f * g[i] + 0.0722f * b[i]) * per;
    out[i] = rangeWeight(quickEncoded(y), from, to, soft);
  }
}
DUSK_LANES void byHue(float* out, const float* r, const float* g, const float* b, int count, float at,
                      float inner, float soft) {
  for (int i = 0; i < count; ++i) out[i] = hueWeight(r[i], g[i], b[i], at, inner, soft);
}

/// Nothing of a size: what a picture that is made of no other one has in its place.
class Sized : public Node {
 public:
  explicit Sized(const PixelArea& whole) : Node(whole, 1, {}, NodeKey("sized").with(whole)) {}
  void make(std::span<const Sheet>, Sheet&) const override {}
  bool isCheap() const override { return true; }
};
NodePtr sized(const PixelArea& whole) { return std::make_shared<Sized>(whole); }

NodePtr gradientNode(const Mask& m, const MaskWorld& world) {
  if (m.points.size() < 2) return nullptr;
  const auto a = maskPointInPicture(m.points[0].at, m.hold, world),
             b = maskPointInPicture(m.points[1].at, m.hold, world);
  if (!a || !b) return nullptr;
  const Vec2f from(*a), way = Vec2f(*b) - from;
  const bool round = m.kind == MaskKind::round;
  const float long2 = std::max(way.length2(), 1e-6f);
  return combined({sized(world.frame.whole)}, 1, NodeKey("gradient").with(from).with(way).with(round),
                  [=](const auto&, float* const* out, int count, int x0, int y) {
                    for (int i = 0; i < count; ++i) {
                      const Vec2f p(float(x0 + i) + 0.5f - from.x, float(y) + 0.5f - from.y);
                      const float t = round ? std::sqrt(p.length2() / long2) : p.dot(way) / long2;
                      const float w = std::clamp(1 - t, 0.0f, 1.0f);
                      out[0][i] = w * w * (3 - 2 * w);
                    }
                  });
}

NodePtr partsNode(const Mask& m, const MaskWorld& world) {
  if (!world.passes || world.passes->covers.empty()) return nullptr;
  std::vector<char> takes(world.partOfId.size() + 1);
  for (size_t id = 1; id <= world.partOfId.size(); ++id)
    takes[id] = std::find(m.parts.begin(), m.parts.end(), world.partOfId[id - 1]) != m.parts.end();
  const PixelArea whole = world.frame.whole;
  return held(combined({sized(whole)}, 1, NodeKey("parts").with(takes).with(world.passes.get()),
                       [=, passes = world.passes](const auto&, float* const* out, int count, int x0, int y) {
                         const size_t row = size_t(y - whole.y0) * size_t(whole.width());
                         for (int i = 0; i < count; ++i) {
                           float share = 0;
                           for (const auto& cover : passes->covers[row + size_t(x0 + i - whole.x0)].list)
                             if (cover.id < takes.size() && takes[cover.id]) share += cover.share;
                           const float a = passes->alpha.pixels[row + size_t(x0 + i - whole.x0)];
                           // Of what covers the pixel: a correction works on light that is straight.
                           out[0][i] = a > 0 ? std::min(1.0f, share / a) : 0.0f;
                         }
                       }));
}

NodePtr rangeNode(const NodePtr& of, const Mask& m, bool onlyKnown) {
  if (!of) return nullptr;
  const float from = float(m.from), to = float(m.to), soft = float(m.soft);
  return combined({of}, 1, NodeKey("range").with(from).with(to).with(soft),
                  [=](const auto& in, float* const* out, int count, int, int) {
                    inRange(out[0], in[0][0], count, from, to, soft, onlyKnown);
                  });
}

NodePtr oneMask(const Mask& m, const NodePtr& light, const MaskWorld& world) {
  const float from = float(m.from), to = float(m.to), soft = float(m.soft);
  switch (m.kind) {
    case MaskKind::outline:
    case MaskKind::brush: {
      const bool closed = m.kind == MaskKind::outline;
      const auto line = maskLine(m, world);
      if (!line || line->at.size() < (closed ? 3u : 1u)) return nullptr;
      return shapeNode(world.frame.whole, *line, closed, closed ? 0 : m.widthPx / 2 * world.frame.scale);
    }
    case MaskKind::straight:
    case MaskKind::round:
      return gradientNode(m, world);
    case MaskKind::brightness:
      return combined({light}, 1, NodeKey("brightness").with(from).with(to).with(soft),
                      [=](const auto& in, float* const* out, int count, int, int) {
                        byBrightness(out[0], in[0][0], in[0][1], in[0][2],
                                     in[0].size() == 4 ? in[0][3] : nullptr, count, from, to, soft);
                      });
    case MaskKind::hue: {
      const float inner = (to - from) / 2, at = (from + to) / 2;
      return combined({light}, 1, NodeKey("hue").with(at).with(inner).with(soft),
                      [=](const auto& in, float* const* out, int count, int, int) {
                        byHue(out[0], in[0][0], in[0][1], in[0][2], count, at, inner, soft);
                      });
    }
    case MaskKind::depth:
      return rangeNode(world.frame.depth, m, true);
    case MaskKind::facing:
      return rangeNode(world.facing, m, false);
    case MaskKind::parts:
      return partsNode(m, world);
    case MaskKind::layer:
      return world.alphaOf ? world.alphaOf(m.layer) : nullptr;
  }
  return nullptr;
}

}  // namespace

std::optional<ProductSeen> productSeen(const Passes& passes, const BlendFrame& frame) {
  constexpr float some = 0.02f, sure = 0.9f;
  const Picture& alpha = passes.alpha;
  PixelArea box{alpha.width, alpha.height, 0, 0};
  float near = 1e30f, far = 0;
  for (int y = 0; y < alpha.height; ++y)
    for (int x = 0; x < alpha.width; ++x) {
      const float a = alpha.at(x, y)[0];
      if (a < some) continue;
      box = {std::min(box.x0, x), std::min(box.y0, y), std::max(box.x1, x + 1), std::max(box.y1, y + 1)};
      if (a < sure || passes.depth.empty() || passes.depth.at(x, y)[0] <= 0) continue;
      near = std::min(near, passes.depth.at(x, y)[0]), far = std::max(far, passes.depth.at(x, y)[0]);
    }
  if (box.x1 <= box.x0) return {};
  const auto share = [&](int x, int y) {
    return Vec2d((frame.whole.x0 + double(x) * frame.whole.width() / alpha.width) / frame.width,
                 (frame.whole.y0 + double(y) * frame.whole.height() / alpha.height) / frame.height);
  };
  ProductSeen seen{share(box.x0, box.y0), share(box.x1, box.y1)};
  if (far > 0) seen.nearM = near, seen.farM = far;
  return seen;
}

MaskWorld plateWorld(const Shot& shot) {
  MaskWorld w;
  w.frame.scale = 1, w.solved = shot.vantage.solved, w.camera = workingCamera(shot.vantage);
  if (shot.placements.empty()) return w;
  const Placement& p = shot.placements.front();
  w.product = Vec3d(p.xM, p.yM, planeHeightM(shot, p) + p.liftM);
  return w;
}

std::optional<Vec2d> maskPointInPicture(const Vec2d& point, MaskHold hold, const MaskWorld& world) {
  if (hold == MaskHold::frame) return point * world.frame.scale;
  if (!world.solved) return {};
  if (hold == MaskHold::ground) return projected(world.camera, {point.x, point.y, 0});
  const auto plane = productPlane(world);
  if (!plane) return {};
  return projected(world.camera, plane->spot + plane->right * point.x + plane->down * point.y);
}

std::optional<Vec2d> maskPointHeld(const Vec2d& pixel, MaskHold hold, const MaskWorld& world) {
  if (hold == MaskHold::frame) return pixel / world.frame.scale;
  if (!world.solved) return {};
  if (hold == MaskHold::ground) {
    const auto spot = levelPoint(world.camera, pixel);
    if (!spot) return {};
    return Vec2d(spot->x, spot->y);
  }
  const auto plane = productPlane(world);
  if (!plane) return {};
  const Vec3d way = rayThrough(world.camera, pixel);
  const double along = way.dot(world.camera.axes.z),
               away = (plane->spot - world.camera.position).dot(world.camera.axes.z);
  if (along <= 1e-9 || away <= 0) return {};
  const Vec3d off = world.camera.position + way * (away / along) - plane->spot;
  return Vec2d(off.dot(plane->right), off.dot(plane->down));
}

NodePtr maskNode(const std::vector<Mask>& masks, const NodePtr& light, const MaskWorld& world) {
  NodePtr all;
  for (const Mask& m : masks) {
    if (!m.on) continue;
    const NodePtr one = oneMask(m, light, world);
    if (!one) continue;
    const bool first = !all, inverted = m.inverted;
    const MaskJoin join = m.join;
    if (first && join == MaskJoin::add && !inverted) {
      all = one;
      continue;
    }
    all = combined({one, all ? all : one}, 1, NodeKey("join").with(first).with(join).with(inverted),
                   [=](const auto& in, float* const* out, int count, int, int) {
                     for (int i = 0; i < count; ++i) {
                       const float m = inverted ? 1 - in[0][0][i] : in[0][0][i];
                       const float before = first ? (join == MaskJoin::add ? 0.0f : 1.0f) : in[1][0][i];
                       out[0][i] = join == MaskJoin::add        ? before + m - before * m
                                   : join == MaskJoin::subtract ? before * (1 - m)
                                                                : before * m;
                     }
                   });
  }
  if (all && world.tell) world.tell(masks, all);
  return all;
}

}  // namespace dusk
