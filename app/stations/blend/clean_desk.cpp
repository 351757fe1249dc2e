#include "app/stations/blend/clean_desk.h"

#include <QtWidgets>

#include "app/stations/blend/clean_hands.h"
#include "app/widgets/ticked_list.h"
#include "core/base/words.h"
#include "core/project/by_id.h"

namespace dusk {

CleanDesk::CleanDesk(Workbench& bench) : Desk(bench.session, {}, {}), bench_(bench), list_(new QListWidget) {
  setAccessibleName(words("Clean plate"));
  note(words("What must go where the product or its shadow will stand. The photo's file stays as it is."));
  list_->setAccessibleName(words("Cleaned spots"));
  list_->setToolTip(
      words("Spots that are filled with the photo's own texture. A tick cleans one; F2 renames it"));
  connect(list_, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
    if (item) session_.selectCleanUp(item->data(Qt::UserRole).toString().toStdString());
  });
  connect(list_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
    const std::string id = item->data(Qt::UserRole).toString().toStdString(),
                      name = item->text().toStdString();
    const bool on = item->checkState() == Qt::Checked;
    session_.editShot(words("change a clean-up"), [&](Shot& shot) {
      if (CleanUp* c = byId(shot.cleanUps, id)) c->on = on, c->name = name;
    });
  });
  add(list_);
  auto* loop =
      forNextDrag(words("Loop what must go"),
                  words("Drag a loop round it in the picture, with its shadow: it is filled with what lies "
                        "round it"),
                  NextDrag::cleanUp);
  beginRow();
  auto* there =
      forNextDrag(words("Fill it from…"), words("Click in the picture on what it is to be filled with"),
                  NextDrag::cleanUpFrom);
  auto* other = button(words("Another way"), words("Looks for other pieces to fill it with"), [this] {
    if (!inHand()) return;
    CleanUp next = *inHand();
    next.from.reset(), ++next.choice;
    fillAndKeep(bench_, next, words("fill it another way"));
  });
  endRow();
  number(
      words("Margin"), {0, 60, 1, 0, "px", true, 4.0}, words("How far beyond the loop the photo is replaced"),
      [this](const Project& p) {
        const CleanUp* c = byId(session_.shotIn(p).cleanUps, session_.selectedCleanUp());
        return c ? std::optional(c->marginPx) : std::nullopt;
      },
      [this](Project& p, double v) {
        byId(session_.shotIn(p).cleanUps, session_.selectedCleanUp())->marginPx = v;
      });
  auto* away = button(words("Take the clean-up away"), words("The photo is as it was there"), [this] {
    session_.editShot(words("take a clean-up away"), [id = session_.selectedCleanUp()](Shot& shot) {
      std::erase_if(shot.cleanUps, [&](const CleanUp& c) { return c.id == id; });
    });
  });
  onRefresh([=, this] {
    showTicked(list_, session_.shot().cleanUps, session_.selectedCleanUp());
    loop->setEnabled(session_.shot().backdrop.kind == BackdropKind::photo && hasPlate(session_.shot()));
    for (QPushButton* b : {there, other, away}) b->setEnabled(inHand());
    away->setVisible(inHand());
  });
}

const CleanUp* CleanDesk::inHand() const {
  return byId(session_.shot().cleanUps, session_.selectedCleanUp());
}

void CleanDesk::hideEvent(QHideEvent* e) {
  session_.selectCleanUp({});
  Desk::hideEvent(e);
}

}  // namespace dusk
