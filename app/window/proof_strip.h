#pragma once
#include <QWidget>

#include "app/document/session.h"
#include "app/preview/preview.h"

namespace dusk {

/// Product beside photo, measured: the edge loupe, the shadow card, the line fit, the contact, the ground's
/// tone, and what else is off. Each card leads to the station where it is put right.
class ProofStrip : public QWidget {
  Q_OBJECT
 public:
  explicit ProofStrip(Session& session, QWidget* parent = nullptr);
  void setProofs(const std::shared_ptr<const Proofs>& proofs);
  QSize sizeHint() const override { return {900, height()}; }

 private:
  class Card;
  friend class Card;
  Session& session_;
  std::shared_ptr<const Proofs> proofs_;
  std::vector<const Finding*> othersOff_;  ///< of those: what no card of its own shows
  std::vector<Card*> cards_;
};

}  // namespace dusk
