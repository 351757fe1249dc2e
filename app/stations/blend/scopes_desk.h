#pragma once
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"

class QCheckBox;
class QComboBox;
class QLabel;

namespace dusk {

/// One of the ways to see how tones lie: the product's as a line, the photo's as a ground.
class ScopeView : public QWidget {
  Q_OBJECT
 public:
  enum class Kind { histogram, waveform, circle };
  explicit ScopeView(QWidget* parent = nullptr);
  void setKind(Kind kind);
  void setScopes(std::shared_ptr<const Scopes> scopes);

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  void paintHistogram(QPainter& painter, const QRectF& box) const;
  void paintField(QPainter& painter, const QRectF& box, bool circle) const;

  Kind kind_ = Kind::histogram;
  std::shared_ptr<const Scopes> scopes_;
};

/// How the product's tones lie beside those of the photo that is as far away, in numbers and as a picture.
class ScopesDesk : public Desk {
  Q_OBJECT
 public:
  explicit ScopesDesk(Workbench& bench);

 protected:
  void showEvent(QShowEvent*) override;
  void hideEvent(QHideEvent*) override;

 private:
  void take(const std::shared_ptr<const Frame>& frame);
  void ask();

  Workbench& bench_;
  ScopeView* view_;
  QComboBox* kind_;
  QCheckBox* ends_;
  QLabel *product_, *photo_, *says_;
};

}  // namespace dusk
