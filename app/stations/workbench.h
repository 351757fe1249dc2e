#pragma once
#include <QObject>

#include "app/document/answer.h"
#include "app/document/session.h"
#include "app/jobs/jobs.h"
#include "app/preview/preview.h"
#include "app/stations/vantage/vantage_work.h"

namespace dusk {

/// What a station's desk and tool work with, and the little they ask of the window around them.
class Workbench : public QObject {
  Q_OBJECT
 public:
  Workbench(Session& session, Jobs& jobs, Preview& preview)
      : session(session), jobs(jobs), preview(preview), vantageWork(session, jobs) {}

  Session& session;
  Jobs& jobs;
  Preview& preview;
  VantageWork vantageWork;

 signals:
  void pictureWanted();  ///< the view through the vantage
  /// The free look, from a place at another.
  void lookWanted(const QString& lamp, const Vec3d& eye, const Vec3d& target);
  /// A file printed on the part in hand, where the camera sees it.
  void printWanted(const QString& file);
  /// The surface of the part in hand, fitted to what a rectangle of the photo shows; corners in its pixels.
  void fitWanted(const Vec2d& corner, const Vec2d& opposite);
  /// A surface of what a rectangle of the photo shows of a level place.
  void flatWanted(const Vec2d& corner, const Vec2d& opposite);
  /// So many millimetres of the feed in hand, as it is laid now, were drawn along in the picture.
  void lengthDrawn(double mm);
  void ownSetWanted();  ///< to be gone through what of a set still is as it was delivered
  /// A piece of a set, at a place of the world.
  void pieceWanted(const QString& kind, const Vec3d& at);
  void deliveryWanted();  ///< of the shot in hand, as its desk says
  /// A delivery ended: what was written, or nothing when it failed.
  void delivered(int files);
  void queued();  ///< there is more in the queue
  /// Something only the person can decide, without anything waiting for it.
  void asked(const QString& text, const std::vector<Answer>& answers);
};

}  // namespace dusk
