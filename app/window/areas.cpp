#include "app/window/areas.h"

#include <QApplication>
#include <QCheckBox>
#include <QDialog>
#include <QKeyEvent>
#include <QPushButton>
#include <QScrollArea>

namespace dusk {
namespace {

bool takesKeys(const QWidget& w) {
  return w.isEnabled() && w.isVisible() && (w.focusPolicy() & Qt::TabFocus) == Qt::TabFocus &&
         !qobject_cast<const QScrollArea*>(&w);  // which only holds what takes them
}

/// What had the keyboard there last, or the first that takes it, in the order of Tab.
QWidget* entranceOf(QWidget& area) {
  if (QWidget* last = area.focusWidget(); last && area.isAncestorOf(last) && takesKeys(*last)) return last;
  if (area.focusPolicy() != Qt::NoFocus && !area.focusProxy()) return &area;
  for (QWidget* w = area.nextInFocusChain(); w && w != &area; w = w->nextInFocusChain())
    if (area.isAncestorOf(w) && takesKeys(*w)) return w;
  return nullptr;
}

class EnterPresses : public QObject {
 public:
  using QObject::QObject;

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override {
    if (event->type() != QEvent::KeyPress) return false;
    const auto* key = static_cast<QKeyEvent*>(event);
    auto* button = qobject_cast<QAbstractButton*>(watched);
    if (!button || qobject_cast<QCheckBox*>(button) ||
        (key->key() != Qt::Key_Return && key->key() != Qt::Key_Enter) ||
        (key->modifiers() & ~Qt::KeypadModifier) || qobject_cast<QDialog*>(button->window()))
      return false;
    if (!key->isAutoRepeat()) button->click();  // held down, it presses once
    return true;
  }
};

}  // namespace

void focusNextArea(const QList<QWidget*>& areas, int by) {
  const qsizetype count = areas.size();
  qsizetype at = by > 0 ? -1 : count;
  for (qsizetype i = 0; i < count; ++i)
    if (QWidget* focus = QApplication::focusWidget();
        focus && (areas[i] == focus || areas[i]->isAncestorOf(focus)))
      at = i;
  for (qsizetype tries = 0; tries < count; ++tries) {
    at = (at + by + count) % count;
    if (!areas[at]->isVisible()) continue;
    if (QWidget* to = entranceOf(*areas[at]))
      return to->setFocus(by > 0 ? Qt::TabFocusReason : Qt::BacktabFocusReason);
  }
}

void letEnterPress(QApplication& app) { app.installEventFilter(new EnterPresses(&app)); }

}  // namespace dusk
