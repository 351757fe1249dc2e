#include "core/vantage/frames.h"

#include "core/project/deliverable_kinds.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {

std::optional<Vec2d> spotOf(const Shot& shot, const Placement& p) {
  if (!shot.vantage.solved) return {};
  const Camera camera = workingCamera(shot.vantage);
  const auto at = projected(camera, {p.xM, p.yM, planeHeightM(shot, p) + p.liftM});
  if (!at || camera.width <= 0) return {};
  return Vec2d(at->x / camera.width, at->y / camera.height);
}

Vec2d productSpot(const Shot& shot) {
  const auto spot = shot.placements.empty() ? std::nullopt : spotOf(shot, shot.placements.front());
  return spot.value_or(Vec2d(0.5, 0.5));
}

std::array<double, 4> placeOf(const Shot& shot, const PictureFrame& frame, int width, int height) {
  const Vec2d middle = frame.aboutProduct ? productSpot(shot) + frame.centre : frame.centre;
  const double w = frame.width,
               h = w * width * frame.heightPx / std::max(1, frame.widthPx) / std::max(1, height);
  return {middle.x - w / 2, middle.y - h / 2, middle.x + w / 2, middle.y + h / 2};
}

PixelArea reachable(const Shot& shot, int width, int height) {
  if (shot.backdrop.kind == BackdropKind::photo) return {0, 0, width, height};
  return {-width, -height, 2 * width, 2 * height};
}

FramedArea framed(const Shot& shot, const PictureFrame& frame, int width, int height, double scale) {
  const PixelArea in = reachable(shot, width, height);
  FramedArea f{frame.id,
               frame.name,
               {},
               std::max(1, int(std::lround(frame.widthPx * scale))),
               std::max(1, int(std::lround(frame.heightPx * scale))),
               frame.dpi,
               false};
  const auto place = placeOf(shot, frame, width, height);
  double w = (place[2] - place[0]) * width, h = (place[3] - place[1]) * height;
  const double fits = std::min({1.0, in.width() / w, in.height() / h});
  const Vec2d middle((place[0] + place[2]) / 2 * width, (place[1] + place[3]) / 2 * height);
  w *= fits, h *= fits;
  // At very nearly the picture's own scale it is that: no pixel need be made of its neighbours.
  if (std::abs(w - f.width) < 1.5 && std::abs(h - f.height) < 1.5 && f.width <= in.width() &&
      f.height <= in.height())
    w = f.width, h = f.height;
  const int columns = std::clamp(int(std::lround(w)), 1, in.width()),
            rows = std::clamp(int(std::lround(h)), 1, in.height());
  const int x = int(std::lround(middle.x - columns / 2.0)), y = int(std::lround(middle.y - rows / 2.0));
  const int x0 = std::clamp(x, in.x0, in.x1 - columns), y0 = std::clamp(y, in.y0, in.y1 - rows);
  f.area = {x0, y0, x0 + columns, y0 + rows};
  f.isMoved = fits < 1 || x0 != x || y0 != y;
  return f;
}

FramedArea framed(const Shot& shot, const Deliverable& d, int width, int height, double scale) {
  if (const PictureFrame* frame = byId(shot.frames, d.frameId))
    return framed(shot, *frame, width, height, scale);
  return {{}, {}, {0, 0, width, height}, width, height, 0, false};
}

PixelArea tracedArea(const Shot& shot, int width, int height, double scale) {
  PixelArea all{0, 0, width, height};
  for (const Deliverable& d : shot.deliverables) {
    if (!d.on || isOfFilm(d)) continue;
    const PixelArea own = framed(shot, d, width, height, scale).area;
    all = {std::min(all.x0, own.x0), std::min(all.y0, own.y0), std::max(all.x1, own.x1),
           std::max(all.y1, own.y1)};
  }
  return all;
}

}  // namespace dusk
