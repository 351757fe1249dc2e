#include "app/stations/light/lamp_desk.h"

#include <QtWidgets>

#include "app/stations/light/light_jobs.h"
#include "app/widgets/words.h"
#include "core/base/words.h"
#include "core/light/sun.h"
#include "core/light/units.h"
#include "core/project/lamp_kinds.h"

namespace dusk {
namespace {

class LampDesk : public Desk {
  using NextDrag = Session::NextDrag;

 public:
  explicit LampDesk(Workbench& bench) : Desk(bench.session, {}, {}), bench_(bench) {
    heading(words("Lamps"));
    beginRow();
    button(words("Add a sun"), words("A distant light; its direction is two angles"),
           [this] { addLamp(session_, LampKind::sun); });
    button(words("Add an area light"), words("A glowing rectangle that faces its target"),
           [this] { addLamp(session_, LampKind::area); });
    auto* more = new QPushButton("…");
    more->setToolTip(
        words("Other kinds: disc, ball, spot, one that shines with a picture, cards seen in reflections"));
    more->setAccessibleName(words("Add another kind of lamp"));
    more->setFixedWidth(48);
    auto* menu = new QMenu(more);
    for (const LampKindInfo& info : lampKinds())
      if (info.kind != LampKind::sun && info.kind != LampKind::area)  // they have buttons
        menu->addAction(words(info.title), this, [this, kind = info.kind] { addLamp(session_, kind); });
    menu->addAction(words("Black flag"), this, [this] {
      addLamp(session_, LampKind::card);
      session_.editShot(words("make it a flag"), [this](Shot& shot) {
        if (Lamp* l = byId(shot.lamps, session_.selectedLamp())) l->shade = 0, l->name = words("Black flag");
      });
    });
    more->setMenu(menu);
    add(more);
    endRow();
    which_ = note();
    onRefresh([this] {
      const Lamp* lamp = now(session_.project());
      which_->setText(lamp ? "<b>" + QString::fromStdString(lamp->name).toHtmlEscaped() + "</b>"
                           : words("Choose a lamp in the cast to set it."));
    });
    body_ = new Part(*this);
    add(body_);
    onRefresh([this] { body_->setVisible(now(session_.project()) != nullptr); });
  }

 private:
  template <typename P>
  auto now(P& p) const -> decltype(&session_.shotIn(p).lamps[0]) {
    return byId(session_.shotIn(p).lamps, session_.selectedLamp());
  }

  /// What is there only while a lamp is in hand.
  class Part : public Desk {
   public:
    explicit Part(LampDesk& all) : Desk(all.session_, {}, {}), all_(all) {
      placing();
      flag(words("Lit"), words("Whether the lamp shines"), &Lamp::on);
      choice(
          words("Shape"), shapes(), words("What gives the light off; a card is only seen in reflections"),
          [this](const Project& p) {
            return lamp(p) ? int(&infoOf(lamp(p)->kind) - lampKinds().data()) : -1;
          },
          [this](Project& p, int row) {
            if (Lamp* l = lamp(p)) l->kind = lampKinds()[size_t(row)].kind;
          });
      power();
      light();
      const auto distant = [](const LampKindInfo& k) { return k.body == LampBody::distant; };
      const auto flat = [](const LampKindInfo& k) { return k.body == LampBody::rectangle; };
      const auto round = [](const LampKindInfo& k) {
        return k.body == LampBody::disc || k.body == LampBody::ball;
      };
      const auto coned = [](const LampKindInfo& k) { return k.hasCone; };
      field(words("Azimuth"), {-360, 360, 1, 1, "°"}, words("Clockwise from run b (+Y), seen from above"),
            &Lamp::azimuthDegrees, distant);
      field(words("Elevation"), {-10, 90, 1, 1, "°"}, words("Above the horizon"), &Lamp::elevationDegrees,
            distant);
      field(words("Disc"), {0.05, 30, 0.05, 2, "°"}, words("Apparent size: larger is softer"),
            &Lamp::discDegrees, distant);
      field(words("Width"), {0.01, 100, 0.05, 2, "m"}, words("Width of the rectangle"), &Lamp::widthM, flat);
      field(words("Height"), {0.01, 100, 0.05, 2, "m"}, words("Height of the rectangle"), &Lamp::heightM,
            flat);
      field(words("Radius"), {0.001, 100, 0.05, 3, "m"}, words("Larger is softer"), &Lamp::radiusM, round);
      field(words("Cone"), {1, 179, 1, 0, "°"}, words("Whole angle of the spot"), &Lamp::coneDegrees, coned);
      field(words("Soft rim"), {0, 1, 0.05, 2, "", true}, words("Share of the cone that fades out"),
            &Lamp::coneSoftness, coned);
      place();
      who();
      button(words("Take the lamp away"), words("Deletes the selected lamp (Delete in the cast)"), [this] {
        const std::string id = session_.selectedLamp();
        session_.editShot(words("take a lamp away"), [&](Shot& shot) {
          std::erase_if(shot.lamps, [&](const Lamp& l) { return l.id == id; });
        });
      });
    }

   private:
    static QStringList shapes() {
      QStringList all;
      for (const LampKindInfo& info : lampKinds()) all << words(info.shape);
      return all;
    }
    template <typename P>
    auto lamp(P& p) const -> decltype(&session_.shotIn(p).lamps[0]) {
      return all_.now(p);
    }

    Get get(std::function<std::optional<double>(const Lamp&)> value) const {
      return [this, value](const Project& p) { return lamp(p) ? value(*lamp(p)) : std::nullopt; };
    }
    Set set(std::function<void(Lamp&, double)> value) const {
      return [this, value](Project& p, double v) {
        if (Lamp* l = lamp(p)) value(*l, v);
      };
    }
    void field(const char* label, const Range& range, const char* tip, double Lamp::*member,
               bool (*only)(const LampKindInfo&)) {
      number(label, range, tip, get([=](const Lamp& l) -> std::optional<double> {
               if (!only(infoOf(l.kind))) return {};
               return l.*member;
             }),
             set([=](Lamp& l, double v) { l.*member = v; }));
    }
    void flag(const char* label, const char* tip, bool Lamp::*member) {
      toggle(
          label, tip,
          [=, this](const Project& p) { return lamp(p) ? std::optional(lamp(p)->*member) : std::nullopt; },
          [=, this](Project& p, bool on) {
            if (Lamp* l = lamp(p)) l->*member = on;
          });
    }

    void placing() {
      beginRow();
      forNextDrag(words("Drag its highlight"),
                  words("In the picture: the lamp goes where its reflection falls where you point"),
                  NextDrag::highlight);
      forNextDrag(words("Drag its shadow"),
                  words("In the picture: the lamp goes where the product's top throws its shadow there"),
                  NextDrag::shadowTip);
      endRow();
      button(words("Look along it"), words("Shows the products as the lamp sees them"),
             [this] { lookAlongLamp(all_.bench_); });
    }
    void power() {
      number(
          words("Power"), {-12, 12, 0.1, 2, "EV", true},
          words("Sun: 0 makes a white sheet that faces it photo white. Others: radiance over photo white"),
          get([](const Lamp& l) { return infoOf(l.kind).lights ? std::optional(l.powerEv) : std::nullopt; }),
          set([](Lamp& l, double v) { l.powerEv = v; }));
      number(words("Shade"), {0, 1, 0.02, 2, "", true},
             words("How bright the card looks: 0 a black flag, 1 photo white"),
             get([](const Lamp& l) { return infoOf(l.kind).lights ? std::nullopt : std::optional(l.shade); }),
             set([](Lamp& l, double v) { l.shade = v; }));
      QWidget* row = beginRow();
      auto* value = number(
          words("Equals"), {0, 1e9, 10, 1, ""},
          words("The same in the unit at the right; photo white is what the exposure says"),
          [this](const Project& p) {
            const Lamp* l = lamp(p);
            return l ? powerIn(unit_, resolved(p, *l), whiteNitsOf(session_)).value_or(0)
                     : std::optional<double>();
          },
          [this](Project& p, double v) {
            if (Lamp* l = lamp(p))
              if (const auto ev = powerEvFor(unit_, v, resolved(p, *l), whiteNitsOf(session_)))
                l->powerEv = *ev;
          });
      value->setGroupSeparatorShown(true);
      auto* units = new QComboBox;
      units->addItems({"lm", words("lx there"), "W/m²"});
      units->setToolTip(words("Lumen in all; lux at its target; what its surface gives off"));
      units->setAccessibleName(words("Unit of the power"));
      connect(units, &QComboBox::activated, this, [this](int i) {
        unit_ = LampUnit(i + 1);
        refreshAll();
      });
      add(units);
      endRow();
      onRefresh([this, row] {
        row->setVisible(lamp(session_.project()) && infoOf(lamp(session_.project())->kind).lights);
      });
      number(words("Photo white"), {0.01, 1e7, 50, 1, "cd/m²"},
             words("Luminance that the photo shows as white: by its EXIF exposure, or as you say"),
             get([this](const Lamp&) { return std::optional(whiteNitsOf(session_)); }),
             [this](Project& p, double v) { session_.shotIn(p).whiteNits = v; });
    }
    Lamp resolved(const Project& p, Lamp l) const {
      l.targetM = targetOf(session_.shotIn(p), l);
      return l;
    }

    void light() {
      number(words("Colour"), {1700, 20000, 50, 0, "K"}, words("Colour temperature"),
             get([](const Lamp& l) { return l.colour ? std::nullopt : std::optional(l.kelvin); }),
             set([](Lamp& l, double v) { l.kelvin = v; }));
      forNextDrag(words("Take from the photo"), words("Click a place in the photo: the lamp gets its colour"),
                  NextDrag::lampColour);
      auto* plain = button(words("Use colour temperature"), words("Back to a colour temperature"), [this] {
        session_.edit(words("use colour temperature"), [this](Project& p) {
          if (Lamp* l = lamp(p)) l->colour.reset();
        });
      });
      auto* own = colour(
          words("Own colour"), words("The lamp's colour; its strength is the power"),
          [this](const Project& p) { return lamp(p) ? lamp(p)->colour : std::nullopt; },
          [this](Project& p, const Vec3d& c) {
            const double light = double(luminance(toFloat(c)));
            if (Lamp* l = lamp(p); l && light > 1e-4) l->colour = c / light;
          });
      onRefresh([this, own, plain] {
        const Lamp* l = lamp(session_.project());
        own->parentWidget()->setVisible(l && l->colour);
        plain->setEnabled(l && l->colour);
      });
      QWidget* row = beginRow();
      button(words("Choose a picture…"),
             words("What it shines with; without one, a crop of the photo itself"),
             [this] { chooseLampPicture(all_.bench_); });
      button(words("The photo"),
             words("It shines with a crop of the photo: a window made of the real window"), [this] {
               session_.edit(words("shine with the photo"), [this](Project& p) {
                 if (Lamp* l = lamp(p)) l->picture = {};
               });
             });
      endRow();
      onRefresh([this, row] { row->setVisible(isPicture()); });
      const char* sides[] = {words("Crop left"), words("Crop top"), words("Crop right"),
                             words("Crop bottom")};
      for (size_t i = 0; i < 4; ++i)
        number(sides[i], {0, 100, 1, 1, "%"}, words("Which part of the picture it shows"),
               get([i](const Lamp& l) {
                 return infoOf(l.kind).hasPicture ? std::optional(100 * l.crop[i]) : std::nullopt;
               }),
               set([i](Lamp& l, double v) { l.crop[i] = v / 100; }));
    }
    bool isPicture() const {
      const Lamp* l = lamp(session_.project());
      return l && infoOf(l->kind).hasPicture;
    }

    void place() {
      const char* axes[] = {words("Position a"), words("Position b"), words("Up")};
      for (int axis = 0; axis < 3; ++axis)
        number(axes[axis], {-1000, 1000, 0.05, 2, "m"},
               words("Where the lamp hangs; drag it in the plan too"), get([axis](const Lamp& l) {
                 return isDistant(l) ? std::nullopt : std::optional(l.positionM[axis]);
               }),
               set([axis](Lamp& l, double v) { l.positionM[axis] = v; }));
      auto* aim = new QComboBox;
      aim->setToolTip(words("A lamp aimed at a product turns along when that is moved"));
      connect(aim, &QComboBox::activated, this, [this, aim](int i) {
        session_.edit(words("aim the lamp"), [&](Project& p) {
          Lamp* l = lamp(p);
          if (!l) return;
          const Vec3d at = targetOf(session_.shotIn(p), *l);
          l->aimedAt = aim->itemData(i).toString().toStdString();
          // At a product: a hand above its foot; away from one: where it pointed.
          l->targetM = l->aimedAt.empty() ? at : Vec3d(0, 0, 0.1);
        });
      });
      auto* row = labelled(words("Aimed at"), aim);
      add(row);
      onRefresh([this, aim, row] {
        const Lamp* l = lamp(session_.project());
        row->setVisible(l && !isDistant(*l));
        const QSignalBlocker quiet(aim);
        aim->clear();
        aim->addItem(words("a fixed point"), "");
        for (const Placement& p : session_.shot().placements)
          if (const Product* of = byId(session_.project().products, p.productId))
            aim->addItem(QString::fromStdString(of->name), QString::fromStdString(p.id));
        if (l) aim->setCurrentIndex(std::max(0, aim->findData(QString::fromStdString(l->aimedAt))));
      });
    }

    void who() {
      beginFold(words("Visibility"), false);
      flag(words("Casts shadows"), words("Off: light that nothing stands in the way of"),
           &Lamp::castsShadows);
      flag(words("In reflections"), words("Whether polished things show the lamp itself"),
           &Lamp::seenInReflections);
      flag(words("In the picture"), words("Whether the lamp itself shows in the picture"),
           &Lamp::seenByCamera);
      auto* part = toggle(
          words("Lights the selection"),
          words("Off: the part or product in hand gets none of this lamp's light"),
          [this](const Project& p) {
            const std::string key = inHand();
            return lamp(p) && !key.empty() ? std::optional(!lamp(p)->leavesOut.contains(key)) : std::nullopt;
          },
          [this](Project& p, bool on) {
            Lamp* l = lamp(p);
            if (!l) return;
            l->leavesOut.erase(inHand());
            if (!on) l->leavesOut.insert(inHand());
          });
      part->setAccessibleName(words("Lights the selection"));
      auto* left = note();
      onRefresh([this, left] {
        const Lamp* l = lamp(session_.project());
        left->setVisible(l && !l->leavesOut.empty());
        if (l) left->setText(QString(words("It leaves out %1.")).arg(l->leavesOut.size()));
      });
      endFold();
    }
    std::string inHand() const {
      const Placement* p = session_.placement();
      if (!p) return {};
      return session_.selectedPart().empty() ? p->id : p->id + "/" + session_.selectedPart();
    }

    LampDesk& all_;
    LampUnit unit_ = LampUnit::lumen;
  };

  Workbench& bench_;
  QLabel* which_;
  Part* body_;
};

}  // namespace

Desk* makeLampDesk(Workbench& bench) { return new LampDesk(bench); }

double whiteNitsOf(const Session& session) {
  const auto photo = session.assets()->loadedPhoto(session.shot().plate);
  return whiteNits(session.shot(), photo ? photo->info : PhotoInfo{});
}

std::string addLamp(Session& session, LampKind kind, int gesture) {
  std::string id;
  const LampKindInfo& info = infoOf(kind);
  session.editShot(
      QString(words("add: ")) + inSentence(words(info.title)),
      [&](Shot& shot) {
        Lamp lamp;
        lamp.id = id = freshId(shot.lamps, "lamp");
        lamp.kind = kind;
        lamp.name = words(info.title);
        lamp.powerEv = info.powerEv, lamp.radiusM = info.radiusM;
        if (!shot.placements.empty()) {
          const Placement& p = shot.placements[0];
          lamp.targetM = {p.xM, p.yM, planeHeightM(shot, p) + 0.15};
          lamp.positionM = {p.xM - 0.8, p.yM - 0.6, planeHeightM(shot, p) + 1.2};
        }
        if (info.body == LampBody::distant && shot.gnomon && shot.vantage.solved) {
          if (const auto read = readGnomon(shot.vantage.camera, *shot.gnomon)) {
            lamp.azimuthDegrees = read->sun.azimuthDegrees;
            if (read->hasElevation) lamp.elevationDegrees = read->sun.elevationDegrees;
          }
        }
        shot.lamps.push_back(lamp);
      },
      gesture);
  session.selectLamp(id);
  return id;
}

}  // namespace dusk
