#include "app/stations/blend/compare_desk.h"

#include <QtWidgets>

#include "app/widgets/look.h"
#include "core/project/by_id.h"

namespace dusk {

CompareDesk::CompareDesk(Workbench& bench)
    : Desk(bench.session, {}, {}),
      bench_(bench),
      list_(new QListWidget),
      against_(new QComboBox),
      as_(new QComboBox) {
  setAccessibleName("Compare");
  against_->setToolTip("What the present picture is looked at beside");
  against_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  add(labelled("Beside", against_));
  as_->addItems({"a curtain to pull", "what differs, eight times"});
  as_->setToolTip(
      "How both are shown. The curtain is dragged in the picture; C held there shows the other alone");
  as_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  add(labelled("Shown as", as_));
  connect(against_, &QComboBox::activated, this, [this] { follow(); });
  connect(as_, &QComboBox::activated, this, [this] { follow(); });
  list_->setAccessibleName("Kept states");
  list_->setToolTip("States of the blend that were kept. F2 renames one");
  list_->setEditTriggers(QAbstractItemView::EditKeyPressed | QAbstractItemView::DoubleClicked);
  connect(list_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
    const std::string id = item->data(Qt::UserRole).toString().toStdString(),
                      name = item->text().toStdString();
    session_.editShot("rename a kept state", [&](Shot& shot) {
      if (BlendSnapshot* s = byId(shot.snapshots, id)) s->name = name;
    });
  });
  add(list_);
  button("Keep this state",
         "Puts the blend as it is now aside under a name, to compare with and to return to", [this] {
           session_.editShot("keep a state", [](Shot& shot) {
             BlendSnapshot kept{freshId(shot.snapshots, "state"), {}, shot.blend};
             kept.name = "state " + kept.id.substr(kept.id.rfind('-') + 1);
             shot.snapshots.push_back(std::move(kept));
           });
         });
  beginRow();
  auto* back = button(
      "Return to it", "The blend becomes the kept one; the present one can be brought back by undo", [this] {
        if (const BlendSnapshot* s = inHand())
          session_.editShot("return to a kept state", [blend = s->blend](Shot& shot) { shot.blend = blend; });
      });
  auto* away = button("Let it go", "Forgets the kept state", [this] {
    if (const BlendSnapshot* s = inHand())
      session_.editShot("let a kept state go", [id = s->id](Shot& shot) {
        std::erase_if(shot.snapshots, [&](const BlendSnapshot& k) { return k.id == id; });
      });
  });
  endRow();
  const auto enable = [=, this] { back->setEnabled(inHand()), away->setEnabled(inHand()); };
  connect(list_, &QListWidget::currentItemChanged, this, enable);
  onRefresh([=, this] { refresh(), enable(); });
}

const BlendSnapshot* CompareDesk::inHand() const {
  const QListWidgetItem* item = list_->currentItem();
  return item ? byId(session_.shot().snapshots, item->data(Qt::UserRole).toString().toStdString()) : nullptr;
}

void CompareDesk::refresh() {
  const auto& kept = session_.shot().snapshots;
  const QSignalBlocker quiet(list_), quieter(against_);
  const int row = std::min(list_->currentRow(), int(kept.size()) - 1);
  const bool more = list_->count() > 0 && int(kept.size()) > list_->count();
  list_->clear();
  QStringList names{"nothing", "the bare plate", "as rendered"};
  for (const BlendSnapshot& s : kept) {
    auto* item = new QListWidgetItem(QString::fromStdString(s.name), list_);
    item->setData(Qt::UserRole, QString::fromStdString(s.id));
    item->setFlags(item->flags() | Qt::ItemIsEditable);
    names << QString::fromStdString(s.name);
  }
  list_->setCurrentRow(more || row < 0 ? list_->count() - 1 : row);
  list_->setVisible(list_->count() > 0);
  list_->setFixedHeight(std::min(list_->count(), 4) * look::px(24) + 8);
  const int chosen = against_->currentIndex();
  against_->clear();
  against_->addItems(names);
  against_->setCurrentIndex(chosen < 0 || chosen >= names.size() ? 0 : chosen);
  follow();
}

void CompareDesk::follow() {
  const int at = against_->currentIndex();
  if (at <= 0) return bench_.preview.compareWith({});
  Compared other;
  other.as = as_->currentIndex() == 1 ? Compared::As::difference : Compared::As::curtain;
  other.name = against_->currentText(), other.plate = at == 1;
  const auto& kept = session_.shot().snapshots;
  if (at >= 3 && size_t(at - 3) < kept.size()) other.blend = kept[size_t(at - 3)].blend;
  bench_.preview.compareWith(other);
}

}  // namespace dusk
