#pragma once
#include <QWidget>
#include <memory>

#include "core/proof/shadow_look.h"

namespace dusk {

/// The light across a shadow: the photo's, and the one that the shot's own lights would throw of the same
/// thing.
class ShadowCurve : public QWidget {
  Q_OBJECT
 public:
  explicit ShadowCurve(QWidget* parent = nullptr);
  /// nullptr: there is none to be compared.
  void setLook(std::shared_ptr<const ShadowLook> look);
  QSize sizeHint() const override { return {260, 96}; }

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  std::shared_ptr<const ShadowLook> look_;
  std::vector<double> photo_, ours_;  ///< share of the light left in even steps across
};

}  // namespace dusk
