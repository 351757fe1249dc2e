// What can be done to an option of the drawer of variants.
#include <QtWidgets>

#include "app/window/variant_drawer.h"
#include "core/base/words.h"
#include "core/variant/edit.h"

namespace dusk {

void VariantDrawer::showMenu(const std::string& id, const QPoint& at) {
  const Project& p = session_.base();
  const auto [axis, option] = optionIn(p, id);
  if (!option) return;
  auto* menu = new QMenu(this);
  menu->setAttribute(Qt::WA_DeleteOnClose);
  menu->addAction(words("Rename"), this, [this, id] { rename(id); });
  menu->addAction(words("Copy"), this, [this, id, of = axis->id] {
    session_.edit(words("copy an option"),
                  [&](Project& to) { session_.shotIn(to).choice[of] = dusk::addOption(to, of, id); });
  });
  menu->addAction(words("Rename the axis"), this, [this, of = axis->id] { renameAxis(of); });
  auto* changes = menu->addMenu(words("Give back what it changes"));
  changes->setEnabled(!option->changes.empty());
  for (const VariantChange& change : option->changes)
    changes->addAction(QString::fromStdString(inWords(p, change.at)), this, [this, id, place = change.at] {
      session_.edit(words("give a change back"), [&](Project& to) {
        if (VariantOption* o = optionIn(to, id).second)
          std::erase_if(o->changes, [&](const VariantChange& c) { return c.at == place; });
      });
    });
  auto* together = menu->addMenu(words("Never together with"));
  for (const VariantAxis& other : p.axes)
    for (const VariantOption& o : other.options) {
      if (&other == axis) continue;
      const auto pair = ExcludedPair{std::min(id, o.id), std::max(id, o.id)};
      const bool on = std::find(p.excluded.begin(), p.excluded.end(), pair) != p.excluded.end();
      QAction* line = together->addAction(
          QString::fromStdString(other.name + ": " + o.name), this, [this, id, other = o.id, on] {
            session_.edit(words("exclude a pair"), [&](Project& to) { setExcluded(to, id, other, !on); });
          });
      line->setCheckable(true), line->setChecked(on);
    }
  together->setEnabled(!together->isEmpty());
  menu->addSeparator();
  menu->addAction(words("Take away"), this, [this, id] { remove(id); });
  menu->popup(at);
}

}  // namespace dusk
