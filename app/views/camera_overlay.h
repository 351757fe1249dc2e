#pragma once
#include <QPainter>
#include <QTransform>

#include "app/widgets/look.h"
#include "core/project/project.h"

namespace dusk {

/// Draws what the vantage says onto the photo: ground grid, horizon, axes at the origin. `toScreen` maps
/// plate pixels.
void drawGround(QPainter& painter, const Camera& camera, const QTransform& toScreen, double spacingM,
                double opacity);
/// A line on the ground or in space, bent as the lens bends it, clipped to what is in front of the camera.
void drawWorldLine(QPainter& painter, const Camera& camera, const QTransform& toScreen, const Vec3d& from,
                   const Vec3d& to);
/// A circle on the ground.
void drawGroundCircle(QPainter& painter, const Camera& camera, const QTransform& toScreen,
                      const Vec3d& centre, double radius);

QPointF toPoint(const Vec2d& v);

/// A small text on a dark chip, to be read on any photo; `at` is where its baseline begins.
void paintLabel(QPainter& painter, const QPointF& at, const QString& text,
                const QColor& colour = look::mark::text);

/// Lines to frame by, over the picture: none, thirds, the middle, or borders of 5 and 10 % inside which a
/// picture that is trimmed or shown on a screen stays whole.
enum class Framing { none, thirds, middle, borders };
void paintFraming(QPainter& painter, const QRectF& picture, Framing framing);

/// Grid spacing, metres, that shows some ten lines across the ground near the middle.
double gridSpacing(const Camera& camera);
/// Where a hint stands: in the middle near a view's lower border, or its upper.
QRectF hintPlace(const QWidget& view, const QString& hint, bool isAbove = false);
/// One line there that says what can be done, and the rim that says the keyboard works in the view.
void paintHint(QPainter& painter, const QWidget& view, const QString& hint, bool isAbove = false);

}  // namespace dusk
