#include "app/widgets/number_field.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QMouseEvent>
#include <QToolTip>
#include <cmath>

#include "app/document/session.h"
#include "app/widgets/words.h"
#include "core/base/quantity.h"

namespace dusk {
namespace {

/// The field keeps its own unit behind whatever is typed: `1.2 m` stands there as "1.2 m mm".
Result<double> read(const QString& shown, const QString& unit) {
  const std::string own = unit.toStdString();
  QString text = shown.trimmed();
  if (!unit.isEmpty() && text.endsWith(" " + unit)) text.chop(unit.size() + 1);
  // Where fractions are written behind a comma, a point is read as well.
  if (const QString point = QLocale().decimalPoint(); point != ".") text.replace(point, ".");
  return quantityFromText(text.trimmed().toStdString(), quantityOfUnit(own), own);
}

}  // namespace

NumberField::NumberField(QWidget* parent) : QDoubleSpinBox(parent) {
  setKeyboardTracking(false);
  setAlignment(Qt::AlignRight);
  setFocusPolicy(Qt::StrongFocus);
  setLocale(QLocale::c());
}

void NumberField::setUnit(const QString& unit) {
  unit_ = unit;
  setSuffix(unitAfter(unit));
}

void NumberField::beginPull() { pull_ = Session::newGesture(); }

double NumberField::valueFromText(const QString& text) const {
  const auto typed = read(text, unit_);
  return typed ? *typed : value();
}

QString NumberField::textFromValue(double value) const {
  QString text = QString::number(value, 'f', decimals());
  return text.replace('.', QLocale().decimalPoint());
}

/// Anything may be typed on the way; what it comes to is told at the end.
QValidator::State NumberField::validate(QString& text, int&) const {
  const auto typed = read(text, unit_);
  return typed && *typed >= minimum() && *typed <= maximum() ? QValidator::Acceptable
                                                             : QValidator::Intermediate;
}

/// What cannot be used goes back to the value there was; what lies beyond the range to its end.
void NumberField::fixup(QString& text) const {
  const auto typed = read(text, unit_);
  if (!typed && isVisible())
    QToolTip::showText(mapToGlobal(QPoint(0, height())), QString::fromStdString(typed.error().message));
  const double kept = typed ? std::clamp(*typed, minimum(), maximum()) : value();
  text = textFromValue(kept) + suffix();
}

void NumberField::wheelEvent(QWheelEvent* e) {
  // The desk scrolls under the pointer; only the field in hand turns.
  if (!hasFocus()) return e->ignore();
  QDoubleSpinBox::wheelEvent(e);
}

void NumberField::keyPressEvent(QKeyEvent* e) {
  const int steps = e->key() == Qt::Key_Up         ? 1
                    : e->key() == Qt::Key_Down     ? -1
                    : e->key() == Qt::Key_PageUp   ? 10
                    : e->key() == Qt::Key_PageDown ? -10
                                                   : 0;
  if (steps) {
    interpretText();
    const double fine = std::max(singleStep() * 0.1, std::pow(10.0, -decimals()));
    return setValue(value() + steps * (e->modifiers() & Qt::ShiftModifier ? fine : singleStep()));
  }
  if (e->key() == Qt::Key_Escape) {
    lineEdit()->setText(textFromValue(value()) + suffix());
    selectAll();
    return;
  }
  // What is typed is a step of its own, beside the runs of small ones.
  const bool typed = e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter;
  if (typed) run_.end();
  QDoubleSpinBox::keyPressEvent(e);
  if (typed) run_.end();
}

void NumberField::focusOutEvent(QFocusEvent* e) {
  run_.end();
  QDoubleSpinBox::focusOutEvent(e);
}

void NumberField::focusInEvent(QFocusEvent* e) {
  QDoubleSpinBox::focusInEvent(e);
  run_.end();  // another visit, another step
}

ScrubLabel::ScrubLabel(const QString& text, NumberField* field) : QLabel(text), field_(field) {
  setCursor(Qt::SizeHorCursor);
  setBuddy(field);
}

void ScrubLabel::mousePressEvent(QMouseEvent* e) {
  if (e->button() != Qt::LeftButton || !field_->isEnabled()) return;
  pulling_ = true;
  from_ = at_ = e->globalPosition().x();
  field_->beginPull();
}

void ScrubLabel::mouseMoveEvent(QMouseEvent* e) {
  if (!pulling_) return;
  const double x = e->globalPosition().x();
  // A hand that only means to click does not change anything.
  if (std::abs(x - from_) < 3 && at_ == from_) return;
  const double steps = (x - at_) / 4 * (e->modifiers() & Qt::ShiftModifier ? 0.1 : 1);
  const double grain = std::pow(10.0, -field_->decimals());
  if (std::abs(steps * field_->singleStep()) < grain) return;
  at_ = x;
  field_->setValue(field_->value() + steps * field_->singleStep());
}

void ScrubLabel::mouseReleaseEvent(QMouseEvent*) {
  if (std::exchange(pulling_, false)) field_->endPull();
}

void ScrubLabel::mouseDoubleClickEvent(QMouseEvent*) {
  if (usual_) field_->setValue(*usual_);
}

}  // namespace dusk
