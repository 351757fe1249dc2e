#pragma once
#include <QDoubleSpinBox>
#include <QLabel>
#include <optional>

#include "app/document/step_run.h"

namespace dusk {

/// A number with its unit. Takes sums and other units as they are typed (`3/8 in`, `2*40 mm`), steps by arrow
/// and Page keys (Shift: a tenth), turns with the wheel only while it has the focus.
class NumberField : public QDoubleSpinBox {
  Q_OBJECT
 public:
  explicit NumberField(QWidget* parent = nullptr);
  void setUnit(const QString& unit);
  const QString& unit() const { return unit_; }
  /// The undo step an edit now belongs to: one for each pull, and one for each run of steps.
  int gesture() { return pull_ ? pull_ : run_.gesture(); }
  /// Between these, however long it takes, everything is one step.
  void beginPull();
  void endPull() { pull_ = 0; }

  double valueFromText(const QString& text) const override;
  QString textFromValue(double value) const override;
  QValidator::State validate(QString& text, int& at) const override;
  void fixup(QString& text) const override;

 protected:
  void wheelEvent(QWheelEvent* e) override;
  void keyPressEvent(QKeyEvent* e) override;
  void focusInEvent(QFocusEvent* e) override;
  void focusOutEvent(QFocusEvent* e) override;

 private:
  QString unit_;
  int pull_ = 0;
  StepRun run_;
};

/// The name of a number field: dragged sideways it changes the value (Shift: a tenth as fast), a double click
/// brings the usual value back.
class ScrubLabel : public QLabel {
  Q_OBJECT
 public:
  ScrubLabel(const QString& text, NumberField* field);
  void setUsual(std::optional<double> value) { usual_ = value; }

 protected:
  void mousePressEvent(QMouseEvent* e) override;
  void mouseMoveEvent(QMouseEvent* e) override;
  void mouseReleaseEvent(QMouseEvent* e) override;
  void mouseDoubleClickEvent(QMouseEvent* e) override;

 private:
  NumberField* field_;
  std::optional<double> usual_;
  double from_ = 0, at_ = 0;
  bool pulling_ = false;
};

}  // namespace dusk
