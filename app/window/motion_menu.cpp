// What the Motion drawer's menus offer.
#include <QtWidgets>

#include "app/widgets/menu_heading.h"
#include "app/widgets/words.h"
#include "app/window/footage.h"
#include "app/window/motion_drawer.h"
#include "app/window/motion_rows.h"
#include "core/base/words.h"
#include "core/motion/drop.h"
#include "core/motion/ready.h"
#include "core/project/deliverable_kinds.h"
#include "core/project/hand_over_edit.h"

namespace dusk {

/// A thing as it is now begins to move: with a key at this moment.
void MotionDrawer::keyThing(const std::string& place) {
  const Thing thing = thingOf(place);
  if (!valueOf(thing, session_.project())) return;
  session_.editShot(
      words("let ") + shown(nameOf(thing, session_.project(), session_.shot())) + words(" move"),
      [&](Shot& shot) { putKeyOf(shot, session_.project(), thing, session_.moment()); });
}

void MotionDrawer::fillMoveMenu(QMenu* menu) {
  const Shot& shot = session_.shot();
  const std::string own = "/shots/" + shot.id + "/";
  addHeading(menu, words("Set a key of"));
  const auto offer = [&](const QString& text, const std::string& place) {
    menu->addAction(text, this, [this, place] { keyThing(place); })
        ->setToolTip(words("As it is at this moment; go to another one, change it, and it moves"));
  };
  if (const Placement* p = session_.placement(); p && session_.product()) {
    offer(shown(session_.product()->name), placeOfPlacement(shot, p->id));
    const std::string& part = session_.selectedPart();
    if (!part.empty() && session_.product()->moves.contains(part))
      offer(words("Part ") + shown(part.substr(part.rfind('/') + 1)),
            placeOfMove(session_.product()->id, part));
  }
  if (shot.backdrop.kind != BackdropKind::photo) offer(words("Camera"), own + "backdrop");
  if (shot.focus.on) offer(words("Focus"), own + "focus");
  if (!shot.surroundings.panorama.empty())
    offer(words("The panorama's turn"), own + "surroundings/turnDegrees");
  if (const Lamp* lamp = byId(shot.lamps, session_.selectedLamp()))
    offer(shown(lamp->name), own + "lamps/" + lamp->id + "/powerEv");
  for (const VariantAxis& axis : session_.base().axes)
    menu->addAction(words("Variant: ") + shown(axis.name), this,
                    [this, id = axis.id] {
                      session_.editShot(words("let a variant change"), [&](Shot& s) {
                        const VariantAxis* of = byId(session_.base().axes, id);
                        const VariantOption* now = of ? chosenOf(*of, s.choice) : nullptr;
                        if (!now) return;
                        s.choice[id] = now->id;
                        Project shown = session_.project();
                        session_.shotIn(shown).choice[id] = now->id;
                        putKeyOf(s, shown, thingOf("/shots/" + s.id + "/choice/" + id), session_.moment());
                      });
                    })
        ->setToolTip(words("The option that is chosen now; go to another moment and choose another"));
  menu->addAction(words("Plate: a film or a sequence…"), this, [this] { chooseFootage(bench_); })
      ->setToolTip(
          words("What a camera that stood still took: a film, or numbered photos, one for each picture"));
  addHeading(menu, words("Ready made"));
  addReady(menu);
}

void MotionDrawer::addReady(QMenu* menu) {
  const auto ready = [&](const QString& text, const QString& tip, bool can,
                         std::function<void(Project&)> make) {
    QAction* action = menu->addAction(
        text, this, [this, text, make = std::move(make)] { session_.edit(inSentence(text), make); });
    action->setToolTip(tip), action->setEnabled(can);
  };
  const Placement* p = session_.placement();
  const auto placed = [this, id = p ? p->id : std::string()](Project& project) {
    return byId(session_.shotIn(project).placements, id);
  };
  ready(words("Turn once round"), words("The product turns once, evenly; the film plays on"), p,
        [=, this](Project& project) {
          if (const Placement* at = placed(project)) turnRound(session_.shotIn(project), Placement(*at));
        });
  ready(words("Slide in"), words("The product comes in from the side and stops where it stands"), p,
        [=, this](Project& project) {
          Shot& shot = session_.shotIn(project);
          if (const Placement* at = placed(project)) slideIn(shot, Placement(*at), shot.vantage.camera);
        });
  const std::string part = session_.selectedPart(),
                    product = session_.product() ? session_.product()->id : "";
  ready(words("Open and shut"),
        words("The part in hand turns about its hinge, stays, and turns back; its hinge is told at Product"),
        session_.product() && session_.product()->moves.contains(part),
        [=, this](Project& project) { openAndShut(project, session_.shotIndex(), product, part); });
  ready(words("Camera goes round"), words("By 60°, and back"),
        session_.shot().backdrop.kind != BackdropKind::photo,
        [this](Project& project) { goRound(session_.shotIn(project), 60); });
  QAction* falls = menu->addAction(words("Drop and settle"), this, &MotionDrawer::drop);
  falls->setToolTip(words(
      "The product falls from where it is at this moment, onto the ground, stand-ins and what stands there; "
      "one that stands is let go from half its height above"));
  falls->setEnabled(p);
}

void MotionDrawer::drop() {
  const Placement* p = session_.placement();
  if (!p) return;
  bench_.jobs.run<Drop>(
      {words("Letting it fall"), "drop", Lane::incoming},
      [project = session_.project(), shot = session_.shotIndex(), placement = *p, assets = session_.assets(),
       from = session_.moment()](Progress&) {
        return droppedFromAbove(project, shot, placement,
                                [&](const Product& product) { return assets->loadedModel(product); }, {from});
      },
      [this, placement = *p, shotId = session_.shot().id, from = session_.moment()](Drop& drop) {
        session_.editShotOf(shotId, words("drop and settle"),
                            [&](Shot& shot) { bake(shot, placement, drop, from); });
        session_.say(
            drop.rests
                ? QString(words("It lies still after %1 s."))
                      .arg(double(drop.pictures.size()) / session_.shot().motion.picturesPerSecond, 0, 'f', 1)
                : QString(words("It does not come to rest within ten seconds: it rolls on, or falls off.")),
            !drop.rests);
      });
}

void MotionDrawer::fillMoreMenu(QMenu* menu) {
  const auto edit = [&](const QString& text, const QString& tip, std::function<void(Motion&)> how) {
    QAction* action = menu->addAction(text, this, [this, text, how = std::move(how)] {
      session_.editShot(inSentence(text), [&](Shot& shot) { how(shot.motion); });
    });
    action->setToolTip(tip);
    return action;
  };
  edit(words("Stills show this moment"), words("Single pictures are handed over as it is now"),
       [at = session_.moment()](Motion& m) { m.stillAtSeconds = at; });
  QAction* on = edit(words("Plays on at its end"), words("GIF and WebP begin again"),
                     [](Motion& m) { m.loops = !m.loops; });
  on->setCheckable(true), on->setChecked(session_.shot().motion.loops);
  menu->addSeparator();
  const auto mark = [&](const QString& text, const QString& tip, const MotionRows::Stretch& stretch) {
    menu->addAction(text, this, [this, stretch] { rows_->markStretch(stretch); })->setToolTip(tip);
  };
  const double at = session_.moment(), end = session_.shot().motion.seconds;
  mark(words("Play from here"), words("What plays begins at this moment; or drag on the ruler with Shift"),
       {at, std::max(rows_->stretch().second, at)});
  mark(words("Play up to here"), words("What plays ends at this moment"),
       {std::min(rows_->stretch().first, at), at});
  mark(words("Play all of it"), words("From the beginning to the end"), {0, end});
  menu->addSeparator();
  edit(words("Half as fast"), words("All keys and the film take twice as long"),
       [](Motion& m) { stretch(m, 2); });
  edit(words("Twice as fast"), words("All keys and the film take half as long"),
       [](Motion& m) { stretch(m, 0.5); });
  menu->addSeparator();
  const auto film = [&](const QString& text, const QString& tip, DeliverableKind kind, bool numbered) {
    menu->addAction(text, this,
                    [this, kind, numbered] {
                      session_.editShot(words("ask for a film"), [&](Shot& shot) {
                        const size_t at = addDeliverable(shot, kind, {});
                        if (!numbered) return;
                        std::string& name = shot.deliverables[at].fileName;
                        name.insert(name.rfind('.'), std::string("-") + pictureWord);
                      });
                      emit filmWanted();
                    })
        ->setToolTip(tip);
  };
  film(words("Hand over as MP4"), words("One file more at the Hand over station"), DeliverableKind::mp4,
       false);
  film(words("Hand over as pictures"), words("A PNG of each, numbered"), DeliverableKind::png, true);
}

}  // namespace dusk
