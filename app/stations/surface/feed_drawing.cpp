#include "app/stations/surface/feed_drawing.h"

#include <QPainter>
#include <QPainterPath>

#include "app/widgets/colours.h"
#include "app/widgets/look.h"
#include "core/surface/patterns.h"

namespace dusk {
namespace {

QImage patternDrawing(Pattern pattern, const Feed& feed, int size) {
  Feed shown = feed;
  shown.sizeMm = 10, shown.mapping = {};
  QImage image(size, size, QImage::Format_RGB32);
  const float step = 30.0f / float(size);  // three of it across
  std::vector<float> values(size_t(size) * size_t(size));
  for (int y = 0; y < size; ++y)
    for (int x = 0; x < size; ++x) {
      const Vec3f at((float(x) + 0.5f) * step - 15, 15 - (float(y) + 0.5f) * step, 0);
      const bool upright = feed.kind == FeedKind::gradient;
      values[size_t(y * size + x)] =
          std::clamp(pattern({upright ? Vec3f(0, 0, at.y / 3) : at, Vec3f(step)}, shown), 0.0f, 1.0f);
    }
  // As large as this, fine lines are grey on grey: what there is takes the whole range.
  const auto [low, high] = std::minmax_element(values.begin(), values.end());
  const float from = *low, span = std::max(*high - *low, 0.01f);
  for (size_t i = 0; i < values.size(); ++i) {
    const int c = int(40 + 190 * (values[i] - from) / span);
    image.setPixel(int(i) % size, int(i) / size, qRgb(c, c, std::min(255, c + 8)));
  }
  return image;
}

/// A body's outline with what is meant in tide blue.
void drawShape(QPainter& p, FeedKind kind, double s) {
  const QRectF body(s * 0.16, s * 0.2, s * 0.68, s * 0.62);
  p.setPen(QPen(look::muted(), s / 18));
  p.drawRect(body);
  p.setPen(QPen(look::tide(), s / 7, Qt::SolidLine, Qt::RoundCap));
  switch (kind) {
    case FeedKind::edges:
      for (const QPointF& c : {body.topLeft(), body.topRight(), body.bottomLeft(), body.bottomRight()})
        p.drawPoint(c);
      break;
    case FeedKind::creases:
      p.drawLine(body.bottomLeft() + QPointF(s / 8, -s / 8), body.bottomRight() + QPointF(-s / 8, -s / 8));
      break;
    case FeedKind::facingUp:
      p.drawLine(body.topLeft(), body.topRight());
      break;
    case FeedKind::height:
      p.drawLine(body.center() + QPointF(0, s * 0.2), body.center() - QPointF(0, s * 0.2));
      break;
    case FeedKind::nearGround:
      p.drawLine(body.bottomLeft(), body.bottomRight());
      break;
    case FeedKind::thickness:
      p.drawLine(body.center() - QPointF(s * 0.22, 0), body.center() + QPointF(s * 0.22, 0));
      break;
    case FeedKind::facing:
      p.drawLine(body.topLeft(), body.bottomLeft());
      break;
    case FeedKind::vertexColours:
      for (const auto& [at, colour] : {std::pair(body.topLeft(), look::tide()),
                                       {body.topRight(), look::ember()},
                                       {body.bottomRight(), look::moss()},
                                       {body.bottomLeft(), look::rose()}}) {
        p.setPen(QPen(colour, s / 7, Qt::SolidLine, Qt::RoundCap));
        p.drawPoint(at);
      }
      break;
    default:
      p.drawPoint(body.center());
      break;
  }
}

}  // namespace

QImage feedDrawing(const Feed& feed, int size) {
  if (const Pattern pattern = patternOf(feed.kind)) return patternDrawing(pattern, feed, size);
  QImage image(size, size, QImage::Format_ARGB32_Premultiplied);
  image.fill(look::field());
  QPainter p(&image);
  p.setRenderHint(QPainter::Antialiasing);
  if (feed.kind == FeedKind::plain) {
    p.fillRect(image.rect(), shownColour(feed.high));
  } else if (feed.kind == FeedKind::picture) {
    const double s = size;
    p.fillRect(image.rect(), QColor("#4a6f7c"));
    QPainterPath hill;
    hill.moveTo(0, s), hill.lineTo(0, s * 0.7), hill.lineTo(s * 0.35, s * 0.4),
        hill.lineTo(s * 0.6, s * 0.68), hill.lineTo(s * 0.8, s * 0.52), hill.lineTo(s, s * 0.74),
        hill.lineTo(s, s);
    p.fillPath(hill, look::moss());
    p.setBrush(look::ember()), p.setPen(Qt::NoPen);
    p.drawEllipse(QPointF(s * 0.74, s * 0.28), s * 0.12, s * 0.12);
  } else {
    drawShape(p, feed.kind, size);
  }
  return image;
}

}  // namespace dusk
