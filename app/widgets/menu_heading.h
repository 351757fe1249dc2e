#pragma once
#include <QLabel>
#include <QMenu>
#include <QWidgetAction>

#include "app/widgets/look.h"

namespace dusk {

/// A line of a menu that says what those below it are; style sheets leave the toolkit's own without a word.
inline void addHeading(QMenu* menu, const QString& text) {
  if (!menu->isEmpty()) menu->addSeparator();
  auto* label = new QLabel(text);
  look::setRole(*label, "menu-heading");
  auto* action = new QWidgetAction(menu);
  action->setDefaultWidget(label);
  action->setText(text), action->setEnabled(false);
  menu->addAction(action);
}

}  // namespace dusk
