#pragma once
#include "app/desk.h"
#include "app/preview.h"

class QProgressBar;

namespace dusk {

/// What desks ask of the window: things that take time or need a file dialog.
class Errands : public QObject {
  Q_OBJECT
 public:
  using QObject::QObject;
 signals:
  void choosePlate();
  void chooseModel();
  void chooseRevision();
  void choosePanorama();
  void chooseBrackets();
  void chooseBalls();
  void chooseFisheyes();
  void useLight(const QString& file);
  void lookAlong(const QString& lampId);
  void chooseLampPicture(const QString& lampId);
  void deliver();
  void cancelDelivery();
  void chooseFolder();
  void saveCamera();
  void loadCamera();
  void applySurface(const QString& surfaceId, const QString& partPath);
};

Desk* makePlateDesk(Session& session, Errands& errands);
Desk* makeVantageDesk(Session& session, Errands& errands);
Desk* makeProductDesk(Session& session, Errands& errands);
Desk* makeSurfaceDesk(Session& session, Errands& errands);
Desk* makeLightDesk(Session& session, Errands& errands);
Desk* makeContactDesk(Session& session);
Desk* makeRenderDesk(Session& session, Preview& preview);
Desk* makeBlendDesk(Session& session);

/// Shows how far the delivery is; the window keeps it up to date.
class DeliverDesk : public Desk {
  Q_OBJECT
 public:
  DeliverDesk(Session& session, Errands& errands);
  void setFolder(const QString& folder);
  void setRunning(bool running);
  void setProgress(double fraction, double secondsLeft);
  void setResult(const QString& text);

 private:
  QLabel* folder_;
  QLabel* result_;
  QProgressBar* bar_;
  QPushButton* start_;
  QPushButton* cancel_;
};

}  // namespace dusk
