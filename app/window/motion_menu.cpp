// What the Motion drawer's menus offer.
#include <QtWidgets>

#include "app/widgets/file_choice.h"
#include "app/widgets/words.h"
#include "app/window/motion_drawer.h"
#include "app/window/motion_rows.h"
#include "core/motion/drop.h"
#include "core/motion/ready.h"
#include "core/motion/sequence.h"
#include "core/picture/read.h"
#include "core/project/deliverable_kinds.h"
#include "core/project/hand_over_edit.h"

namespace dusk {
namespace {}  // namespace

/// A thing as it is now begins to move: with a key at this moment.
void MotionDrawer::keyThing(const std::string& place) {
  const Thing thing = thingOf(place);
  if (!valueOf(thing, session_.project())) return;
  session_.editShot("let " + shown(nameOf(thing, session_.project(), session_.shot())) + " move",
                    [&](Shot& shot) { putKeyOf(shot, session_.project(), thing, session_.moment()); });
}

void MotionDrawer::fillMoveMenu(QMenu* menu) {
  const Shot& shot = session_.shot();
  const std::string own = "/shots/" + shot.id + "/";
  menu->addSection("Set a key of");
  const auto offer = [&](const QString& text, const std::string& place) {
    menu->addAction(text, this, [this, place] { keyThing(place); })
        ->setToolTip("As it is at this moment; go to another one, change it, and it moves");
  };
  if (const Placement* p = session_.placement(); p && session_.product()) {
    offer(shown(session_.product()->name), placeOfPlacement(shot, p->id));
    const std::string& part = session_.selectedPart();
    if (!part.empty() && session_.product()->moves.contains(part))
      offer("Part " + shown(part.substr(part.rfind('/') + 1)), placeOfMove(session_.product()->id, part));
  }
  if (shot.backdrop.kind != BackdropKind::photo) offer("Camera", own + "backdrop");
  if (shot.focus.on) offer("Focus", own + "focus");
  if (!shot.surroundings.panorama.empty()) offer("The panorama's turn", own + "surroundings/turnDegrees");
  if (const Lamp* lamp = byId(shot.lamps, session_.selectedLamp()))
    offer(shown(lamp->name), own + "lamps/" + lamp->id + "/powerEv");
  for (const VariantAxis& axis : session_.base().axes)
    menu->addAction("Variant: " + shown(axis.name), this,
                    [this, id = axis.id] {
                      session_.editShot("let a variant change", [&](Shot& s) {
                        const VariantAxis* of = byId(session_.base().axes, id);
                        const VariantOption* now = of ? chosenOf(*of, s.choice) : nullptr;
                        if (!now) return;
                        s.choice[id] = now->id;
                        Project shown = session_.project();
                        session_.shotIn(shown).choice[id] = now->id;
                        putKeyOf(s, shown, thingOf("/shots/" + s.id + "/choice/" + id), session_.moment());
                      });
                    })
        ->setToolTip("The option that is chosen now; go to another moment and choose another");
  menu->addAction("Plate: photos of a sequence…", this, &MotionDrawer::takeSequence)
      ->setToolTip("Numbered photos from a camera that stood still, one for each picture");
  menu->addSection("Ready made");
  addReady(menu);
}

void MotionDrawer::addReady(QMenu* menu) {
  const auto ready = [&](const QString& text, const QString& tip, bool can,
                         std::function<void(Project&)> make) {
    QAction* action = menu->addAction(
        text, this, [this, text, make = std::move(make)] { session_.edit(text.toLower(), make); });
    action->setToolTip(tip), action->setEnabled(can);
  };
  const Placement* p = session_.placement();
  const auto placed = [this, id = p ? p->id : std::string()](Project& project) {
    return byId(session_.shotIn(project).placements, id);
  };
  ready("Turn once round", "The product turns once, evenly; the film plays on", p,
        [=, this](Project& project) {
          if (const Placement* at = placed(project)) turnRound(session_.shotIn(project), Placement(*at));
        });
  ready("Slide in", "The product comes in from the side and stops where it stands", p,
        [=, this](Project& project) {
          Shot& shot = session_.shotIn(project);
          if (const Placement* at = placed(project)) slideIn(shot, Placement(*at), shot.vantage.camera);
        });
  const std::string part = session_.selectedPart(),
                    product = session_.product() ? session_.product()->id : "";
  ready("Open and shut",
        "The part in hand turns about its hinge, stays, and turns back; its hinge is told at Product",
        session_.product() && session_.product()->moves.contains(part),
        [=, this](Project& project) { openAndShut(project, session_.shotIndex(), product, part); });
  ready("Camera goes round", "By 60°, and back", session_.shot().backdrop.kind != BackdropKind::photo,
        [this](Project& project) { goRound(session_.shotIn(project), 60); });
  QAction* falls = menu->addAction("Drop and settle", this, &MotionDrawer::drop);
  falls->setToolTip(
      "The product falls from where it is at this moment, onto the ground, stand-ins and what stands there; "
      "lift it "
      "first");
  falls->setEnabled(p);
}

void MotionDrawer::drop() {
  const Placement* p = session_.placement();
  if (!p) return;
  bench_.jobs.run<Drop>(
      {"Letting it fall", "drop", Lane::incoming},
      [project = session_.project(), shot = session_.shotIndex(), placement = *p, assets = session_.assets(),
       from = session_.moment()](Progress&) {
        return dropped(project, shot, placement,
                       [&](const Product& product) { return assets->loadedModel(product); }, {from});
      },
      [this, placement = *p, shotId = session_.shot().id, from = session_.moment()](Drop& drop) {
        session_.editShotOf(shotId, "drop and settle",
                            [&](Shot& shot) { bake(shot, placement, drop, from); });
        session_.say(
            drop.rests
                ? QString("It lies still after %1 s.")
                      .arg(double(drop.pictures.size()) / session_.shot().motion.picturesPerSecond, 0, 'f', 1)
                : QString("It does not come to rest within ten seconds: it rolls on, or falls off."),
            !drop.rests);
      });
}

void MotionDrawer::takeSequence() {
  const QString file = chooseFile(this, "One photo of the sequence", FileKind::photo);
  if (file.isEmpty()) return;
  struct Found {
    PictureSequence sequence;
    std::vector<AssetRef> photos;
  };
  bench_.jobs.run<Found>(
      {"Linking the photos of a sequence", "sequence", Lane::incoming},
      [file, assets = session_.assets(),
       camera = session_.shot().vantage.camera](Progress& progress) -> Result<Found> {
        auto sequence = sequenceOf(file.toStdString());
        if (!sequence) return sequence.error();
        Found found{std::move(*sequence), {}};
        for (const auto& each : found.sequence.files) {
          if (progress.cancelled()) return cancelledError();
          const auto header = readPictureHeader(each);
          if (!header) return header.error();
          if (camera.width > 0 && (header->width != camera.width || header->height != camera.height))
            return Error{each.filename().string() + " is " + std::to_string(header->width) + " × " +
                         std::to_string(header->height) + ", and the shot's photo " +
                         std::to_string(camera.width) + " × " + std::to_string(camera.height) +
                         ". A sequence is of one size."};
          auto link = assets->refer(each);
          if (!link) return link.error();
          found.photos.push_back(*link);
          progress.report(double(found.photos.size()) / double(found.sequence.files.size()));
        }
        return found;
      },
      [this, shotId = session_.shot().id](Found& found) {
        session_.editShotOf(shotId, "take a sequence as the plate",
                            [&](Shot& shot) { movePlate(shot, found.sequence, found.photos); });
        const size_t gone = found.sequence.missing.size();
        if (gone)
          session_.say(QString("%1 of its photos %2 missing, from number %3 on: the one before stays there.")
                           .arg(gone)
                           .arg(gone == 1 ? "is" : "are")
                           .arg(found.sequence.missing.front()),
                       true);
      });
}

void MotionDrawer::fillMoreMenu(QMenu* menu) {
  const auto edit = [&](const QString& text, const QString& tip, std::function<void(Motion&)> how) {
    QAction* action = menu->addAction(text, this, [this, text, how = std::move(how)] {
      session_.editShot(text.toLower(), [&](Shot& shot) { how(shot.motion); });
    });
    action->setToolTip(tip);
    return action;
  };
  edit("Stills show this moment", "Single pictures are handed over as it is now",
       [at = session_.moment()](Motion& m) { m.stillAtSeconds = at; });
  QAction* on =
      edit("Plays on at its end", "GIF and WebP begin again", [](Motion& m) { m.loops = !m.loops; });
  on->setCheckable(true), on->setChecked(session_.shot().motion.loops);
  menu->addSeparator();
  const auto mark = [&](const QString& text, const QString& tip, const MotionRows::Stretch& stretch) {
    menu->addAction(text, this, [this, stretch] { rows_->markStretch(stretch); })->setToolTip(tip);
  };
  const double at = session_.moment(), end = session_.shot().motion.seconds;
  mark("Play from here", "What plays begins at this moment; or drag on the ruler with Shift",
       {at, std::max(rows_->stretch().second, at)});
  mark("Play up to here", "What plays ends at this moment", {std::min(rows_->stretch().first, at), at});
  mark("Play all of it", "From the beginning to the end", {0, end});
  menu->addSeparator();
  edit("Half as fast", "All keys and the film take twice as long", [](Motion& m) { stretch(m, 2); });
  edit("Twice as fast", "All keys and the film take half as long", [](Motion& m) { stretch(m, 0.5); });
  menu->addSeparator();
  const auto film = [&](const QString& text, const QString& tip, DeliverableKind kind, bool numbered) {
    menu->addAction(text, this,
                    [this, kind, numbered] {
                      session_.editShot("ask for a film", [&](Shot& shot) {
                        const size_t at = addDeliverable(shot, kind, {});
                        if (!numbered) return;
                        std::string& name = shot.deliverables[at].fileName;
                        name.insert(name.rfind('.'), std::string("-") + pictureWord);
                      });
                      emit filmWanted();
                    })
        ->setToolTip(tip);
  };
  film("Hand over as MP4", "One file more at the Hand over station", DeliverableKind::mp4, false);
  film("Hand over as pictures", "A PNG of each, numbered", DeliverableKind::png, true);
}

}  // namespace dusk
