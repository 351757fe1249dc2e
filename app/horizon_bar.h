#pragma once
#include <QWidget>
#include <array>

#include "app/preview.h"
#include "app/session.h"

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
  void setDelivered(int files);
  QSize sizeHint() const override { return {900, 74}; }

  enum class State { untouched, begun, off, proved };
  struct Status {
    State state = State::untouched;
    QString figure;
  };
  Status status(Station station) const;

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
  const Finding* finding(const char* id) const;

  Session& session_;
  std::shared_ptr<const Proofs> proofs_;
  int samples_ = 0, wanted_ = 0, delivered_ = 0, hover_ = -1;
};

}  // namespace dusk
