#pragma once
#include <QPainter>
#include <QTransform>

#include "app/stations/vantage/vantage_work.h"

namespace dusk {

/// How an item of evidence looks in the picture.
struct EvidenceLook {
  bool selected = false;
  const EvidenceItem* item = nullptr;  ///< its residual; none while unsolved
};

void paintStroke(QPainter& painter, const QTransform& toScreen, const Stroke& stroke,
                 const EvidenceLook& look);
void paintProposed(QPainter& painter, const QTransform& toScreen, const Stroke& stroke, bool dropped);
void paintFootprint(QPainter& painter, const QTransform& toScreen, const Footprint& footprint);
/// A pin at its pixel, joined with where the solved camera sees its point.
void paintPin(QPainter& painter, const QTransform& toScreen, const Pin& pin, int number,
              const Vantage& vantage, bool selected);
void paintLength(QPainter& painter, const QTransform& toScreen, const KnownLength& length, bool selected);
void paintHorizonPoints(QPainter& painter, const QTransform& toScreen, const std::vector<Vec2d>& points);
void paintOrigin(QPainter& painter, const QTransform& toScreen, const Camera& camera);
/// What one step of the ground's grid is, in the picture's corner.
void paintGridNote(QPainter& painter, const QTransform& toScreen, double spacing, bool scaleKnown);
/// Where the three runs vanish: a ring inside the frame, an arrow at its edge otherwise.
void paintVanishingPoints(QPainter& painter, const QTransform& toScreen, const Camera& camera);
/// A wire box on the ground; far edges thinner.
void paintBox(QPainter& painter, const QTransform& toScreen, const Camera& camera,
              const VantageWork::Box& box);
/// The grid of a level plane round where it is seen.
void paintLevel(QPainter& painter, const QTransform& toScreen, const Camera& camera, const LevelPlane& level);

/// Screen pixels that one pixel of residual is drawn with, in bows, at most; and by how much what is seen of
/// it is magnified.
inline constexpr double bowTimes = 14, bowTimesSeen = 36;

}  // namespace dusk
