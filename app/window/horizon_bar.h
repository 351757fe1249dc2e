#pragma once
#include <QWidget>
#include <map>

#include "app/document/session.h"
#include "app/preview/preview.h"
#include "app/stations/stations.h"

namespace dusk {

/// The row of stations over the picture: each a small sun against one horizon line, hollow below it while
/// untouched, resting on it when begun, risen above when its proofs hold; its one measured figure under its
/// name.
class HorizonBar : public QWidget {
  Q_OBJECT
 public:
  explicit HorizonBar(Session& session, QWidget* parent = nullptr);
  void setProofs(const std::shared_ptr<const Proofs>& proofs);
  void setFrame(const Frame& frame);
  /// Files written of the shot in hand.
  void setDelivered(int files);
  bool hasDelivered() const { return delivered_.contains(session_.shot().id); }
  QSize sizeHint() const override { return {900, height()}; }

  StationStatus status(Station station) const;

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void leaveEvent(QEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  bool event(QEvent*) override;

 private:
  QRectF cell(int index) const;
  int at(const QPointF& p) const;
  QString describe(Station station) const;
  void describe();
  /// Reads every station's status again, and repaints those that say something else by now.
  void refresh();

  Session& session_;
  std::shared_ptr<const Proofs> proofs_;
  std::array<StationStatus, stationCount> shown_;
  int samples_ = 0, wanted_ = 0, hover_ = -1;
  std::map<std::string, int> delivered_;  ///< by shot
};

}  // namespace dusk
