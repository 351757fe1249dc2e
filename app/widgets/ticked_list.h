#pragma once
#include <QListWidget>

#include "app/widgets/rows.h"
#include "app/widgets/words.h"

namespace dusk {

/// Fills a list with things that have an id, a name to be changed and a tick; away where there are none. Says
/// nothing of it to anyone.
template <class Things>
void showTicked(QListWidget* list, const Things& things, const std::string& inHand) {
  const QSignalBlocker quiet(list);
  list->clear();
  for (const auto& thing : things) {
    auto* item = new QListWidgetItem(shown(thing.name), list);
    item->setData(Qt::UserRole, shown(thing.id));
    item->setFlags(item->flags() | Qt::ItemIsEditable);
    item->setCheckState(thing.on ? Qt::Checked : Qt::Unchecked);
    if (thing.id == inHand) list->setCurrentItem(item);
  }
  list->setVisible(list->count() > 0);
  fitToRows(*list);
}

}  // namespace dusk
