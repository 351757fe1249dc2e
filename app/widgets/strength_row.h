#pragma once
#include <QPainter>

/// What rows have in common that can be hidden and weakened: those of a stack, of feeds.
namespace dusk {

/// A row filled from the left by its strength, with the mark of what is in hand or has the focus.
void paintStrengthRow(QPainter& painter, const QRectF& box, double strength, bool on, bool inHand,
                      bool focused);

/// Its eye, open or shut.
void paintEye(QPainter& painter, const QPointF& middle, bool open);

}  // namespace dusk
