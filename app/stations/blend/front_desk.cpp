#include "app/stations/blend/front_desk.h"

#include <QtWidgets>

#include "app/widgets/ticked_list.h"
#include "core/assets/cut_out.h"
#include "core/base/words.h"
#include "core/project/by_id.h"

namespace dusk {

FrontDesk::FrontDesk(Workbench& bench) : Desk(bench.session, {}, {}), bench_(bench), list_(new QListWidget) {
  setAccessibleName(words("In front"));
  note(words("A thing of the photo that hides the product: loop it roughly, its edge is found."));
  list_->setAccessibleName(words("Cut-outs"));
  list_->setToolTip(words("Things cut out of the photo. A tick puts one in front; F2 renames it"));
  connect(list_, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
    if (!item) return;
    session_.selectCutOut(item->data(Qt::UserRole).toString().toStdString());
    session_.takeBlend({"front", -1, -1});  // so that its loop shows
  });
  connect(list_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
    const std::string id = item->data(Qt::UserRole).toString().toStdString(),
                      name = item->text().toStdString();
    const bool on = item->checkState() == Qt::Checked;
    session_.editShot(words("change a cut-out"), [&](Shot& shot) {
      if (CutOut* c = byId(shot.blend.cutOuts, id)) c->on = on, c->name = name;
    });
  });
  add(list_);
  forNextDrag(words("Loop a thing"), words("Drag a rough loop round it in the picture"),
              Session::NextDrag::cutOut);
  beginRow();
  auto* keep = forNextDrag(words("Belongs to it"), words("Draw over what belongs to the cut-out in hand"),
                           Session::NextDrag::cutOutKeep);
  auto* leave = forNextDrag(words("Does not"), words("Draw over what does not belong to it"),
                            Session::NextDrag::cutOutLeave);
  endRow();
  const auto cut = [this](const Project& p) {
    return byId(session_.shotIn(p).blend.cutOuts, session_.selectedCutOut());
  };
  const auto cutIn = [this](Project& p) {
    return byId(session_.shotIn(p).blend.cutOuts, session_.selectedCutOut());
  };
  shows_ = new QCheckBox(words("Show what is cut out"));
  shows_->setToolTip(
      words("What the cut-out leaves alone turns grey in the picture; nothing of it is delivered"));
  connect(shows_, &QCheckBox::toggled, this, [this](bool on) {
    bench_.preview.showShare(on ? std::optional(ShownShare{{}, session_.selectedCutOut()}) : std::nullopt);
  });
  add(shows_);
  number(
      words("Soft border"), {0, 60, 0.5, 1, "px", true, 4.0},
      words("Width of the border where it may be partly there: wide for hair and rope"),
      [=](const Project& p) { return cut(p) ? std::optional(cut(p)->softPx) : std::nullopt; },
      [=](Project& p, double v) { cutIn(p)->softPx = v; });
  length(
      words("Stands at"),
      words("Distance along the optical axis: it hides only what is farther. 0: all of the product"),
      [=](const Project& p) { return cut(p) ? std::optional(cut(p)->standsAtM) : std::nullopt; },
      [=](Project& p, double v) { cutIn(p)->standsAtM = std::max(0.0, v); });
  addStandInFields();
  auto* away = button(words("Take the cut-out away"), words("Forgets it (Delete in the picture)"), [this] {
    const std::string id = session_.selectedCutOut();
    session_.editShot(words("take a cut-out away"), [&](Shot& shot) {
      std::erase_if(shot.blend.cutOuts, [&](const CutOut& c) { return c.id == id; });
    });
  });
  onRefresh([=, this] {
    const auto& all = session_.shot().blend.cutOuts;
    showTicked(list_, all, session_.selectedCutOut());
    const CutOut* inHand = byId(all, session_.selectedCutOut());
    const bool any = inHand;
    showStandIns(inHand);
    for (QPushButton* b : {keep, leave, away}) b->setEnabled(any);
    away->setVisible(any);
    shows_->setVisible(any);
    followShare(inHand);
  });
}

/// What is shown goes with the cut-out in hand; masks may have been asked for instead.
void FrontDesk::followShare(const CutOut* inHand) {
  const bool shown = showsCutOut();
  if (shown) bench_.preview.showShare(inHand ? std::optional(ShownShare{{}, inHand->id}) : std::nullopt);
  const QSignalBlocker quiet(shows_);
  shows_->setChecked(shown && inHand);
}

bool FrontDesk::showsCutOut() const {
  const auto now = bench_.preview.shownShare();
  return now && !now->cutOut.empty();
}

void FrontDesk::hideEvent(QHideEvent* e) {
  followShare(nullptr);
  Desk::hideEvent(e);
}

void FrontDesk::addStandInFields() {
  giveStandIn_ =
      button(words("Give it a stand-in"),
             words("An upright sheet where it stands, there only where the cut-out shows: it takes the "
                   "product's shadow and throws its own on the product"),
             [this] { giveStandIn(); });
  standIns_ = new QComboBox;
  standIns_->setToolTip(words("The shape that stands for it, drawn at the Contact station or made here"));
  connect(standIns_, &QComboBox::activated, this, [this](int i) {
    session_.editShot(words("choose a cut-out's stand-in"), [&](Shot& shot) {
      if (CutOut* c = byId(shot.blend.cutOuts, session_.selectedCutOut()))
        c->standInId = standIns_->itemData(i).toString().toStdString();
    });
  });
  standInRow_ = labelled(words("Its stand-in"), standIns_);
  add(standInRow_);
  const auto inHand = [this](auto& shot) {
    const CutOut* c = byId(shot.blend.cutOuts, session_.selectedCutOut());
    return byId(shot.standIns, c ? c->standInId : std::string());
  };
  const auto standIn = [=, this](const Project& p, auto of) -> std::optional<bool> {
    const StandIn* s = inHand(session_.shotIn(p));
    return s ? std::optional(s->*of) : std::nullopt;
  };
  const auto setStandIn = [=, this](Project& p, auto of, bool on) {
    if (StandIn* s = inHand(session_.shotIn(p))) s->*of = on;
  };
  toggle(
      words("Takes the product's shadow"), words("It is darker where the product keeps light from it"),
      [=](const Project& p) { return standIn(p, &StandIn::catches); },
      [=](Project& p, bool on) { setStandIn(p, &StandIn::catches, on); });
  toggle(
      words("Throws its shadow on the product"), words("It keeps light from the product, as far as it shows"),
      [=](const Project& p) { return standIn(p, &StandIn::blocks); },
      [=](Project& p, bool on) { setStandIn(p, &StandIn::blocks, on); });
}

void FrontDesk::showStandIns(const CutOut* inHand) {
  const bool any = inHand;
  const QSignalBlocker quiet(standIns_);
  standIns_->clear();
  standIns_->addItem(words("none"), "");
  for (const StandIn& s : session_.shot().standIns)
    standIns_->addItem(QString::fromStdString(s.name), QString::fromStdString(s.id));
  standIns_->setCurrentIndex(any ? std::max(0, standIns_->findData(QString::fromStdString(inHand->standInId)))
                                 : 0);
  standInRow_->setVisible(any && standIns_->count() > 1);
  giveStandIn_->setEnabled(any && session_.shot().vantage.solved);
  giveStandIn_->setVisible(any && !byId(session_.shot().standIns, inHand->standInId));
}

void FrontDesk::giveStandIn() {
  const CutOut* c = byId(session_.shot().blend.cutOuts, session_.selectedCutOut());
  if (!c) return;
  auto made = standInFor(*c, session_.shot());
  if (!made)
    return session_.refuse(
        words("It is not clear where this stands: say so under \"Stands at\", or draw the "
              "loop down to its foot."));
  made->id = freshId(session_.shot().standIns, "stand-in");
  session_.editShot(words("give a cut-out its stand-in"), [&](Shot& shot) {
    shot.standIns.push_back(*made);
    if (CutOut* own = byId(shot.blend.cutOuts, session_.selectedCutOut())) own->standInId = made->id;
  });
}

}  // namespace dusk
