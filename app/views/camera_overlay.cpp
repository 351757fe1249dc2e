#include "app/views/camera_overlay.h"

#include "app/widgets/look.h"
#include "core/vantage/camera.h"

namespace dusk {

QPointF toPoint(const Vec2d& v) { return {v.x, v.y}; }

void drawWorldLine(QPainter& painter, const Camera& camera, const QTransform& toScreen, const Vec3d& from,
                   const Vec3d& to) {
  constexpr int pieces = 24;
  QPolygonF line;
  const auto flush = [&] {
    if (line.size() > 1) painter.drawPolyline(line);
    line.clear();
  };
  for (int i = 0; i <= pieces; ++i) {
    const Vec3d p = from + (to - from) * (double(i) / pieces);
    const auto pixel = projected(camera, p);
    // Points far beside the frame come out of the distortion model anywhere.
    const Vec3d local = camera.axes.toLocal(p - camera.position);
    const bool near = pixel && local.z > 0.05 && std::hypot(local.x, local.y) < 2.0 * local.z;
    if (near)
      line << toScreen.map(toPoint(*pixel));
    else
      flush();
  }
  flush();
}

void drawGroundCircle(QPainter& painter, const Camera& camera, const QTransform& toScreen, const Vec3d& c,
                      double radius) {
  QPolygonF line;
  for (int i = 0; i <= 72; ++i) {
    const double a = 2 * pi * i / 72;
    if (const auto p = projected(camera, c + Vec3d(std::cos(a), std::sin(a), 0) * radius))
      line << toScreen.map(toPoint(*p));
  }
  painter.drawPolyline(line);
}

void drawGround(QPainter& painter, const Camera& camera, const QTransform& toScreen, double spacing,
                double opacity) {
  painter.save();
  painter.setClipRect(toScreen.mapRect(QRectF(0, 0, camera.width, camera.height)));
  const auto middle = levelPoint(camera, {camera.width * 0.5, camera.height * 0.75});
  const Vec3d c = middle.value_or(Vec3d(0, 0, 0));
  const int cx = int(std::round(c.x / spacing)), cy = int(std::round(c.y / spacing)), reach = 14;
  for (int i = -reach; i <= reach; ++i) {
    const auto pen = [&](bool axis) {
      QColor colour = axis ? look::mark::ember : look::mark::tide;
      colour.setAlphaF(opacity * (axis ? 1.0 : 0.55));
      painter.setPen(QPen(colour, axis ? 1.6 : 1.0));
    };
    const double x = (cx + i) * spacing, y = (cy + i) * spacing;
    pen(cx + i == 0);
    drawWorldLine(painter, camera, toScreen, {x, (cy - reach) * spacing, 0}, {x, (cy + reach) * spacing, 0});
    pen(cy + i == 0);
    drawWorldLine(painter, camera, toScreen, {(cx - reach) * spacing, y, 0}, {(cx + reach) * spacing, y, 0});
  }
  // The horizon: level directions all round, far away.
  QColor colour = look::mark::tide;
  colour.setAlphaF(opacity);
  painter.setPen(QPen(colour, 1.4, Qt::DashLine));
  const Vec3d ahead = Vec3d(camera.axes.z.x, camera.axes.z.y, 0).normalized(), side(ahead.y, -ahead.x, 0);
  drawWorldLine(painter, camera, toScreen, camera.position + (ahead - side) * 1e4,
                camera.position + (ahead + side) * 1e4);
  painter.restore();
}

double gridSpacing(const Camera& camera) {
  const auto spot = levelPoint(camera, {camera.width * 0.5, camera.height * 0.8});
  const double seen = spot ? (*spot - camera.position).length() * camera.width / camera.focalPx : 3;
  for (const double s : {0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0})
    if (seen / s < 12) return s;
  return 20;
}

QRectF hintPlace(const QWidget& view, const QString& hint, bool isAbove) {
  const QRectF box = QFontMetrics(look::small()).boundingRect(hint).adjusted(-10, -5, 10, 5);
  // Beside what covers the view's edges.
  const QRect free = view.contentsRect();
  constexpr double away = 22;
  return {QPointF((view.width() - box.width()) / 2,
                  isAbove ? free.top() + away : free.bottom() + 1 - box.height() - away),
          box.size()};
}

void paintHint(QPainter& painter, const QWidget& view, const QString& hint, bool isAbove) {
  painter.setRenderHint(QPainter::Antialiasing);
  if (!hint.isEmpty()) {
    painter.setFont(look::small());
    const QRectF place = hintPlace(view, hint, isAbove);
    painter.setPen(Qt::NoPen);
    painter.setBrush(QColor(37, 34, 48, 205));
    painter.drawRoundedRect(place, 7, 7);
    painter.setPen(look::mark::text);
    painter.drawText(place, Qt::AlignCenter, hint);
  }
  if (!view.hasFocus()) return;
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(look::faded(look::mark::ember, 120), 1));
  painter.drawRect(view.rect().adjusted(0, 0, -1, -1));
}

void paintLabel(QPainter& painter, const QPointF& at, const QString& text, const QColor& colour) {
  painter.save();
  painter.setFont(look::small());
  const QFontMetricsF metrics(look::small());
  const QRectF chip(at.x() - 4, at.y() - metrics.ascent() - 1, metrics.horizontalAdvance(text) + 8,
                    metrics.height() + 2);
  painter.setPen(Qt::NoPen);
  painter.setBrush(QColor(30, 27, 38, 190));
  painter.drawRoundedRect(chip, 3, 3);
  painter.setPen(colour);
  painter.drawText(at, text);
  painter.restore();
}

void paintFraming(QPainter& painter, const QRectF& picture, Framing framing) {
  std::vector<QLineF> lines;
  const auto at = [&](double x, double y) {
    return QPointF(picture.x() + x * picture.width(), picture.y() + y * picture.height());
  };
  const auto across = [&](double share) {
    lines.push_back({at(share, 0), at(share, 1)}), lines.push_back({at(0, share), at(1, share)});
  };
  if (framing == Framing::thirds) across(1 / 3.0), across(2 / 3.0);
  if (framing == Framing::middle) across(0.5);
  painter.setBrush(Qt::NoBrush);
  // Dark under light: seen on any picture.
  for (const QPen& pen : {QPen(QColor(0, 0, 0, 90), 2.5), QPen(QColor(255, 255, 255, 150), 1)}) {
    painter.setPen(pen);
    for (const QLineF& line : lines) painter.drawLine(line);
    if (framing == Framing::borders)
      for (const double share : {0.05, 0.1})
        painter.drawRect(QRectF(at(share, share), at(1 - share, 1 - share)));
  }
}

}  // namespace dusk
