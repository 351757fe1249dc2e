#include "app/stations/vantage/vantage_overlay.h"

#include "app/stations/vantage/run_look.h"
#include "app/views/camera_overlay.h"
#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

const QColor shade(20, 18, 26, 170);

QPolygonF mapped(const QTransform& t, const std::vector<Vec2d>& points) {
  QPolygonF line;
  for (const Vec2d& p : points) line << t.map(toPoint(p));
  return line;
}

void rimmedLine(QPainter& painter, const QPolygonF& line, const QPen& pen) {
  painter.setPen(QPen(shade, pen.widthF() + 2.2));
  painter.drawPolyline(line);
  painter.setPen(pen);
  painter.drawPolyline(line);
}

}  // namespace

void paintStroke(QPainter& painter, const QTransform& t, const Stroke& stroke, const EvidenceLook& how) {
  const RunLook run = runLook(stroke.run);
  const QPolygonF line = mapped(t, stroke.points);
  const bool off = how.item && how.item->outlier;
  if (how.item && how.item->bows.size() == stroke.points.size()) {
    // The residual as a bow: the line as it should run, magnified away from the one drawn.
    // A large photo seen small has errors of many pixels: they are magnified from what is seen of them.
    const double times = std::min(bowTimes, bowTimesSeen * std::sqrt(std::abs(t.determinant())));
    QPolygonF bow;
    for (int i = 0; i < line.size(); ++i) {
      const Vec2d& b = how.item->bows[size_t(i)];
      QPointF d(b.x * times, b.y * times);
      if (const double n = std::hypot(d.x(), d.y()); n > 40) d *= 40 / n;
      bow << line[i] + d;
    }
    QColor colour = off ? look::mark::rose : look::mark::tide;
    colour.setAlphaF(how.selected || off ? 1 : 0.6);
    painter.setPen(QPen(colour, 1.1, Qt::SolidLine));
    painter.drawPolyline(bow);
    if (how.selected)
      for (int i = 0; i < line.size(); ++i) painter.drawLine(line[i], bow[i]);
  }
  rimmedLine(painter, line, QPen(off ? look::mark::rose : run.colour, how.selected ? 2.6 : 1.8, run.dash));
  painter.setPen(QPen(QColor(20, 18, 26), 1));
  painter.setBrush(how.selected ? look::mark::text : run.colour);
  for (int i = 0; i < line.size(); ++i) {
    const bool end = i == 0 || i + 1 == line.size();
    const double r = end ? 3.8 : 1.8;
    // Round: drawn by hand. Square: on the edge it snapped to.
    if (stroke.drawn.empty() || !end)
      painter.drawEllipse(line[i], r, r);
    else
      painter.drawRect(QRectF(line[i] - QPointF(r, r), QSizeF(2 * r, 2 * r)));
  }
  painter.setBrush(Qt::NoBrush);
  if (how.item && (how.selected || off))
    paintLabel(painter, line.last() + QPointF(9, -7),
               QString("%L1 px%L2")
                   .arg(how.item->rmsPx, 0, 'f', 2)
                   .arg(off ? words(" - does not fit, left out") : ""),
               off ? look::mark::rose : look::mark::text);
}

void paintProposed(QPainter& painter, const QTransform& t, const Stroke& stroke, bool dropped) {
  const RunLook run = runLook(stroke.run);
  QColor colour = run.colour;
  colour.setAlphaF(dropped ? 0.35 : 1);
  const QPolygonF line = mapped(t, stroke.points);
  rimmedLine(painter, line, QPen(colour, 1.6, dropped ? Qt::DotLine : run.dash));
  const QPointF middle = (line.first() + line.last()) / 2;
  painter.setBrush(dropped ? QColor(20, 18, 26, 200) : colour);
  painter.setPen(QPen(dropped ? colour : QColor(20, 18, 26), 1));
  painter.drawEllipse(middle, 5.5, 5.5);
  painter.setPen(QPen(dropped ? colour : QColor(20, 18, 26), 1.6));
  if (dropped) {
    painter.drawLine(middle + QPointF(-2.5, -2.5), middle + QPointF(2.5, 2.5));
    painter.drawLine(middle + QPointF(-2.5, 2.5), middle + QPointF(2.5, -2.5));
  } else {
    painter.drawLine(middle + QPointF(-2.6, 0.2), middle + QPointF(-0.6, 2.2));
    painter.drawLine(middle + QPointF(-0.6, 2.2), middle + QPointF(2.8, -2.2));
  }
  painter.setBrush(Qt::NoBrush);
}

void paintFootprint(QPainter& painter, const QTransform& t, const Footprint& footprint) {
  const QPolygonF shape = mapped(t, {footprint.corners.begin(), footprint.corners.end()});
  QColor fill = look::mark::moss;
  fill.setAlpha(36);
  painter.setBrush(fill);
  painter.setPen(QPen(look::mark::moss, 2));
  painter.drawPolygon(shape);
  painter.setBrush(look::mark::moss);
  painter.setPen(QPen(QColor(20, 18, 26), 1));
  for (const QPointF& p : shape) painter.drawRect(QRectF(p - QPointF(3.5, 3.5), QSizeF(7, 7)));
  painter.setBrush(Qt::NoBrush);
}

void paintPin(QPainter& painter, const QTransform& t, const Pin& pin, int number, const Vantage& vantage,
              bool selected) {
  const QPointF at = t.map(toPoint(pin.at));
  if (vantage.solved)
    if (const auto seen = projected(vantage.camera, pin.worldM)) {
      painter.setPen(QPen(look::mark::tide, 1.4, Qt::DotLine));
      painter.drawLine(at, t.map(toPoint(*seen)));
    }
  painter.setPen(QPen(shade, 4.5));
  painter.drawLine(at, at + QPointF(7, -15));
  painter.setPen(QPen(selected ? look::mark::text : look::mark::ember, 2));
  painter.drawLine(at, at + QPointF(7, -15));
  painter.setBrush(selected ? look::mark::text : look::mark::ember);
  painter.setPen(QPen(QColor(20, 18, 26), 1));
  painter.drawEllipse(at + QPointF(7, -16), 5, 5);
  painter.setBrush(Qt::NoBrush);
  paintLabel(painter, at + QPointF(15, -13), QString::number(number));
}

void paintLength(QPainter& painter, const QTransform& t, const KnownLength& length, bool selected) {
  const QPointF a = t.map(toPoint(length.from)), b = t.map(toPoint(length.to));
  const QPen pen(selected ? look::mark::text : look::mark::moss, selected ? 2.4 : 1.8);
  rimmedLine(painter, QPolygonF({a, b}), pen);
  QPointF side(a.y() - b.y(), b.x() - a.x());
  if (const double n = std::hypot(side.x(), side.y()); n > 0) side *= 6 / n;
  rimmedLine(painter, QPolygonF({a - side, a + side}), pen);
  rimmedLine(painter, QPolygonF({b - side, b + side}), pen);
  paintLabel(painter, (a + b) / 2 + QPointF(8, -6),
             QString("%L1 m%L2")
                 .arg(length.metres, 0, 'g', 4)
                 .arg(length.on == LengthOn::upright ? words(" up") : ""));
}

void paintHorizonPoints(QPainter& painter, const QTransform& t, const std::vector<Vec2d>& points) {
  const QPolygonF line = mapped(t, points);
  rimmedLine(painter, line, QPen(look::mark::tide, 2, Qt::DashDotDotLine));
  painter.setBrush(look::mark::tide);
  painter.setPen(QPen(QColor(20, 18, 26), 1));
  for (const QPointF& p : line) painter.drawEllipse(p, 3.8, 3.8);
  painter.setBrush(Qt::NoBrush);
  if (!line.isEmpty()) paintLabel(painter, line.first() + QPointF(8, -7), words("horizon"));
}

void paintOrigin(QPainter& painter, const QTransform& t, const Camera& camera) {
  const auto origin = projected(camera, {0, 0, 0});
  if (!origin || origin->x < 0 || origin->y < 0 || origin->x > camera.width || origin->y > camera.height)
    return;
  // Axes as long as about a twelfth of the picture.
  const double reach = (camera.position.length() * camera.width / camera.focalPx) / 12;
  const QPointF o = t.map(toPoint(*origin));
  const struct {
    Vec3d to;
    Run run;
    const char* name;
  } axes[] = {{{reach, 0, 0}, Run::a, "X"}, {{0, reach, 0}, Run::b, "Y"}, {{0, 0, reach}, Run::up, "Z"}};
  for (const auto& axis : axes)
    if (const auto end = projected(camera, axis.to)) {
      const QPointF e = t.map(toPoint(*end));
      rimmedLine(painter, QPolygonF({o, e}), QPen(runLook(axis.run).colour, 2.2));
      paintLabel(painter, e + QPointF(4, -3), axis.name, runLook(axis.run).colour);
    }
  painter.setBrush(look::mark::text);
  painter.setPen(QPen(QColor(20, 18, 26), 1));
  painter.drawEllipse(o, 3.2, 3.2);
  painter.setBrush(Qt::NoBrush);
}

void paintGridNote(QPainter& painter, const QTransform& t, double spacing, bool scaleKnown) {
  const QPointF corner = t.map(QPointF(0, 0));
  paintLabel(painter, corner + QPointF(12, 20),
             scaleKnown ? QString(words("grid %1 m")).arg(spacing)
                        : QString(words("grid %1 m, if the camera is 1.5 m up")).arg(spacing),
             look::mark::tide);
}

void paintVanishingPoints(QPainter& painter, const QTransform& t, const Camera& camera) {
  const QRectF frame = t.mapRect(QRectF(0, 0, camera.width, camera.height));
  const QPointF middle = frame.center();
  for (const Run run : {Run::a, Run::b, Run::up}) {
    const Vec3d axis = run == Run::a ? Vec3d(1, 0, 0) : run == Run::b ? Vec3d(0, 1, 0) : Vec3d(0, 0, 1);
    const Vec3d d = camera.axes.toLocal(axis);
    const RunLook look = runLook(run);
    if (std::abs(d.z) > 1e-6)
      if (const auto at = projected(camera, camera.position + axis * (d.z > 0 ? 1e6 : -1e6));
          at && frame.contains(t.map(toPoint(*at)))) {
        const QPointF p = t.map(toPoint(*at));
        painter.setPen(QPen(shade, 4));
        painter.drawEllipse(p, 8, 8);
        painter.setPen(QPen(look.colour, 1.8));
        painter.drawEllipse(p, 8, 8);
        painter.drawPoint(p);
        paintLabel(painter, p + QPointF(11, 4), look.name, look.colour);
        continue;
      }
    // Toward the vanishing point, whichever end of the run it belongs to; parallel runs point along
    // themselves.
    QPointF way(d.x, d.y);
    if (d.z < 0) way = -way;
    const double n = std::hypot(way.x(), way.y());
    if (n < 1e-9) continue;
    way /= n;
    const QRectF inner = frame.adjusted(16, 16, -16, -16);
    const double reach = std::min(std::abs(way.x()) > 1e-9 ? inner.width() / 2 / std::abs(way.x()) : 1e9,
                                  std::abs(way.y()) > 1e-9 ? inner.height() / 2 / std::abs(way.y()) : 1e9);
    const QPointF tip = middle + way * reach, side(-way.y(), way.x());
    QPolygonF arrow;
    arrow << tip << tip - way * 13 + side * 5.5 << tip - way * 13 - side * 5.5;
    painter.setPen(QPen(QColor(20, 18, 26), 1.2));
    painter.setBrush(look.colour);
    painter.drawPolygon(arrow);
    painter.setBrush(Qt::NoBrush);
    const double far = camera.focalPx * std::hypot(d.x, d.y) / std::max(std::abs(d.z), 1e-9) / camera.width;
    QPointF text = tip - way * 20 + QPointF(-way.x() * 26 - 22, way.y() > 0.5 ? -6 : 5);
    paintLabel(painter, text,
               far < 50 ? QString(words("%1, %2 × away")).arg(look.name).arg(far, 0, 'f', 1)
                        : QString(words("%1, parallel")).arg(look.name),
               look.colour);
  }
}

void paintBox(QPainter& painter, const QTransform& t, const Camera& camera, const VantageWork::Box& box) {
  std::array<Vec3d, 8> corners;
  for (size_t i = 0; i < 8; ++i)
    corners[i] = {box.at.x + ((i & 1) ? 0.5 : -0.5) * box.edgeM,
                  box.at.y + ((i & 2) ? 0.5 : -0.5) * box.edgeM, (i & 4) ? box.edgeM : 0.0};
  // The corner farthest from the camera is hidden, and so are the three edges that meet there.
  const auto farthest = std::max_element(corners.begin(), corners.end(), [&](const Vec3d& a, const Vec3d& b) {
    return (a - camera.position).length2() < (b - camera.position).length2();
  });
  const size_t hidden = size_t(farthest - corners.begin());
  for (size_t i = 0; i < 8; ++i)
    for (const size_t bit : {1u, 2u, 4u})
      if (!(i & bit)) {
        const bool back = i == hidden || (i | bit) == hidden;
        painter.setPen(QPen(shade, back ? 2 : 3.6));
        drawWorldLine(painter, camera, t, corners[i], corners[i | bit]);
        QColor colour = look::mark::ember;
        colour.setAlphaF(back ? 0.45 : 1);
        painter.setPen(QPen(colour, back ? 1 : 1.8, back ? Qt::DotLine : Qt::SolidLine));
        drawWorldLine(painter, camera, t, corners[i], corners[i | bit]);
      }
  if (const auto foot = projected(camera, {box.at.x, box.at.y, 0})) {
    painter.setBrush(look::mark::ember);
    painter.setPen(QPen(QColor(20, 18, 26), 1));
    painter.drawEllipse(t.map(toPoint(*foot)), 4.5, 4.5);
    painter.setBrush(Qt::NoBrush);
    paintLabel(painter, t.map(toPoint(*foot)) + QPointF(9, 14), QString("%L1 m").arg(box.edgeM, 0, 'g', 3));
  }
}

void paintLevel(QPainter& painter, const QTransform& t, const Camera& camera, const LevelPlane& level) {
  const auto spot = levelPoint(camera, {camera.width * 0.5, camera.height * 0.6}, level.heightM);
  if (!spot) return;
  const double step = 0.1, x0 = std::round(spot->x / step) * step, y0 = std::round(spot->y / step) * step;
  QColor colour = look::mark::moss;
  colour.setAlphaF(0.8);
  painter.setPen(QPen(colour, 1));
  for (int i = -5; i <= 5; ++i) {
    drawWorldLine(painter, camera, t, {x0 + i * step, y0 - 5 * step, level.heightM},
                  {x0 + i * step, y0 + 5 * step, level.heightM});
    drawWorldLine(painter, camera, t, {x0 - 5 * step, y0 + i * step, level.heightM},
                  {x0 + 5 * step, y0 + i * step, level.heightM});
  }
  if (const auto at = projected(camera, {x0, y0, level.heightM}))
    paintLabel(painter, t.map(toPoint(*at)) + QPointF(4, -4),
               QString("%L1, %L2 m").arg(QString::fromStdString(level.name)).arg(level.heightM, 0, 'f', 3),
               look::mark::moss);
}

}  // namespace dusk
