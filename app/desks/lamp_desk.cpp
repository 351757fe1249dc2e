#include "app/desks/lamp_desk.h"

#include <QtWidgets>

#include "core/light/sun.h"
#include "core/light/units.h"

namespace dusk {
namespace {

const char* kindName(LampKind kind) {
  static const char* names[] = {"Sun", "Area light", "Disc", "Ball", "Spot", "Picture lamp", "Card"};
  return names[int(kind)];
}

class LampDesk : public Desk {
  using NextDrag = Session::NextDrag;

 public:
  LampDesk(Session& session, Errands& errands) : Desk(session, {}, {}), errands_(errands) {
    heading("Lamps");
    beginRow();
    button("Add a sun", "A distant light; its direction is two angles",
           [this] { addLamp(session_, LampKind::sun); });
    button("Add an area light", "A glowing rectangle that faces its target",
           [this] { addLamp(session_, LampKind::area); });
    auto* more = new QPushButton("…");
    more->setToolTip(
        "Other kinds: disc, ball, spot, one that shines with a picture, cards seen in reflections");
    more->setAccessibleName("Add another kind of lamp");
    more->setFixedWidth(48);
    auto* menu = new QMenu(more);
    for (const LampKind kind :
         {LampKind::disc, LampKind::sphere, LampKind::spot, LampKind::photo, LampKind::card})
      menu->addAction(kindName(kind), this, [this, kind] { addLamp(session_, kind); });
    menu->addAction("Black flag", this, [this] {
      addLamp(session_, LampKind::card);
      session_.editShot("make it a flag", [this](Shot& shot) {
        if (Lamp* l = byId(shot.lamps, session_.selectedLamp())) l->shade = 0, l->name = "Black flag";
      });
    });
    more->setMenu(menu);
    add(more);
    endRow();
    which_ = note();
    onRefresh([this] {
      const Lamp* lamp = now(session_.project());
      which_->setText(lamp ? "<b>" + QString::fromStdString(lamp->name).toHtmlEscaped() + "</b>"
                           : "Choose a lamp in the cast to set it.");
    });
    body_ = new Part(*this);
    add(body_);
    onRefresh([this] { body_->setVisible(now(session_.project()) != nullptr); });
  }

 private:
  template <typename P>
  auto now(P& p) const -> decltype(&p.shots[0].lamps[0]) {
    return byId(p.shots[0].lamps, session_.selectedLamp());
  }

  /// What is there only while a lamp is in hand.
  class Part : public Desk {
   public:
    explicit Part(LampDesk& all) : Desk(all.session_, {}, {}), all_(all) {
      placing();
      flag("Lit", "Whether the lamp shines", &Lamp::on);
      choice(
          "Shape", {"sun", "rectangle", "disc", "ball", "spot", "rectangle with a picture", "card"},
          "What gives the light off; a card is only seen in reflections",
          [this](const Project& p) { return lamp(p) ? int(lamp(p)->kind) : -1; },
          [this](Project& p, int kind) {
            if (Lamp* l = lamp(p)) l->kind = LampKind(kind);
          });
      power();
      light();
      const std::vector<LampKind> flat{LampKind::area, LampKind::photo, LampKind::card},
          round{LampKind::disc, LampKind::sphere, LampKind::spot};
      field("Azimuth", {-360, 360, 1, 1, "°"}, "Clockwise from run b (+Y), seen from above",
            &Lamp::azimuthDegrees, {LampKind::sun});
      field("Elevation", {-10, 90, 1, 1, "°"}, "Above the horizon", &Lamp::elevationDegrees, {LampKind::sun});
      field("Disc", {0.05, 30, 0.05, 2, "°"}, "Apparent size: larger is softer", &Lamp::discDegrees,
            {LampKind::sun});
      field("Width", {0.01, 100, 0.05, 2, "m"}, "Width of the rectangle", &Lamp::widthM, flat);
      field("Height", {0.01, 100, 0.05, 2, "m"}, "Height of the rectangle", &Lamp::heightM, flat);
      field("Radius", {0.001, 100, 0.05, 3, "m"}, "Larger is softer", &Lamp::radiusM, round);
      field("Cone", {1, 179, 1, 0, "°"}, "Whole angle of the spot", &Lamp::coneDegrees, {LampKind::spot});
      field("Soft rim", {0, 1, 0.05, 2, "", true}, "Share of the cone that fades out", &Lamp::coneSoftness,
            {LampKind::spot});
      place();
      who();
      button("Take the lamp away", "Deletes the selected lamp", [this] {
        const std::string id = session_.selectedLamp();
        session_.editShot("take a lamp away", [&](Shot& shot) {
          std::erase_if(shot.lamps, [&](const Lamp& l) { return l.id == id; });
        });
      });
    }

   private:
    template <typename P>
    auto lamp(P& p) const -> decltype(&p.shots[0].lamps[0]) {
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
               const std::vector<LampKind>& only = {}) {
      number(label, range, tip, get([=](const Lamp& l) -> std::optional<double> {
               if (!only.empty() && std::find(only.begin(), only.end(), l.kind) == only.end()) return {};
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
      forNextDrag("Drag its highlight",
                  "In the picture: the lamp goes where its reflection falls where you point",
                  NextDrag::highlight);
      forNextDrag("Drag its shadow",
                  "In the picture: the lamp goes where the product's top throws its shadow there",
                  NextDrag::shadowTip);
      endRow();
      button("Look along it", "Shows the products as the lamp sees them",
             [this] { emit all_.errands_.lookAlong(QString::fromStdString(session_.selectedLamp())); });
    }
    void power() {
      number("Power", {-12, 12, 0.1, 2, "EV", true},
             "Sun: 0 makes a white sheet that faces it photo white. Others: radiance over photo white",
             get([](const Lamp& l) {
               return l.kind == LampKind::card ? std::nullopt : std::optional(l.powerEv);
             }),
             set([](Lamp& l, double v) { l.powerEv = v; }));
      number(
          "Shade", {0, 1, 0.02, 2, "", true}, "How bright the card looks: 0 a black flag, 1 photo white",
          get([](const Lamp& l) { return l.kind == LampKind::card ? std::optional(l.shade) : std::nullopt; }),
          set([](Lamp& l, double v) { l.shade = v; }));
      QWidget* row = beginRow();
      auto* value = number(
          "That is", {0, 1e9, 10, 1, ""},
          "The same in the unit at the right; photo white is what the exposure says",
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
      units->addItems({"lm", "lx there", "W/m²"});
      units->setToolTip("Lumen in all; lux at its target; what its surface gives off");
      units->setAccessibleName("Unit of the power");
      connect(units, &QComboBox::activated, this, [this](int i) {
        unit_ = LampUnit(i + 1);
        refreshAll();
      });
      add(units);
      endRow();
      onRefresh([this, row] {
        row->setVisible(lamp(session_.project()) && lamp(session_.project())->kind != LampKind::card);
      });
      number("Photo white", {0.01, 1e7, 50, 1, "cd/m²"},
             "Luminance that the photo shows as white: by its EXIF exposure, or as you say",
             get([this](const Lamp&) { return std::optional(whiteNitsOf(session_)); }),
             [](Project& p, double v) { p.shots[0].whiteNits = v; });
    }
    static Lamp resolved(const Project& p, Lamp l) {
      l.targetM = targetOf(p.shots[0], l);
      return l;
    }

    void light() {
      number("Colour", {1700, 20000, 50, 0, "K"}, "Colour temperature",
             get([](const Lamp& l) { return l.colour ? std::nullopt : std::optional(l.kelvin); }),
             set([](Lamp& l, double v) { l.kelvin = v; }));
      beginRow();
      forNextDrag("Take from the photo", "Click a place in the photo: the lamp gets its colour",
                  NextDrag::lampColour);
      auto* plain = button("By kelvin", "Back to a colour temperature", [this] {
        session_.edit("colour by kelvin", [this](Project& p) {
          if (Lamp* l = lamp(p)) l->colour.reset();
        });
      });
      endRow();
      auto* own = colour(
          "Own colour", "The lamp's colour; its strength is the power",
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
      button("Choose a picture…", "What it shines with; without one, a crop of the photo itself", [this] {
        emit all_.errands_.chooseLampPicture(QString::fromStdString(session_.selectedLamp()));
      });
      button("The photo", "It shines with a crop of the photo: a window made of the real window", [this] {
        session_.edit("shine with the photo", [this](Project& p) {
          if (Lamp* l = lamp(p)) l->picture = {};
        });
      });
      endRow();
      onRefresh([this, row] { row->setVisible(isPicture()); });
      const char* sides[] = {"Crop left", "Crop top", "Crop right", "Crop bottom"};
      for (size_t i = 0; i < 4; ++i)
        number(sides[i], {0, 100, 1, 1, "%"}, "Which part of the picture it shows", get([i](const Lamp& l) {
                 return l.kind == LampKind::photo ? std::optional(100 * l.crop[i]) : std::nullopt;
               }),
               set([i](Lamp& l, double v) { l.crop[i] = v / 100; }));
    }
    bool isPicture() const {
      const Lamp* l = lamp(session_.project());
      return l && l->kind == LampKind::photo;
    }

    void place() {
      const char* axes[] = {"Along a", "Along b", "Up"};
      for (int axis = 0; axis < 3; ++axis)
        number(axes[axis], {-1000, 1000, 0.05, 2, "m"}, "Where the lamp hangs; drag it in the plan too",
               get([axis](const Lamp& l) {
                 return l.kind == LampKind::sun ? std::nullopt : std::optional(l.positionM[axis]);
               }),
               set([axis](Lamp& l, double v) { l.positionM[axis] = v; }));
      auto* aim = new QComboBox;
      aim->setToolTip("A lamp aimed at a product turns along when that is moved");
      connect(aim, &QComboBox::activated, this, [this, aim](int i) {
        session_.edit("aim the lamp", [&](Project& p) {
          Lamp* l = lamp(p);
          if (!l) return;
          const Vec3d at = targetOf(p.shots[0], *l);
          l->aimedAt = aim->itemData(i).toString().toStdString();
          // At a product: a hand above its foot; away from one: where it pointed.
          l->targetM = l->aimedAt.empty() ? at : Vec3d(0, 0, 0.1);
        });
      });
      auto* row = labelled("Aimed at", aim);
      add(row);
      onRefresh([this, aim, row] {
        const Lamp* l = lamp(session_.project());
        row->setVisible(l && l->kind != LampKind::sun);
        const QSignalBlocker quiet(aim);
        aim->clear();
        aim->addItem("a fixed point", "");
        for (const Placement& p : session_.shot().placements)
          if (const Product* of = byId(session_.project().products, p.productId))
            aim->addItem(QString::fromStdString(of->name), QString::fromStdString(p.id));
        if (l) aim->setCurrentIndex(std::max(0, aim->findData(QString::fromStdString(l->aimedAt))));
      });
    }

    void who() {
      beginFold("Who sees it", false);
      flag("Casts shadows", "Off: light that nothing stands in the way of", &Lamp::castsShadows);
      flag("In reflections", "Whether polished things show the lamp itself", &Lamp::seenInReflections);
      flag("In the picture", "Whether the lamp itself shows in the picture", &Lamp::seenByCamera);
      auto* part = toggle(
          "Lights what is in hand", "Off: the part or product in hand gets none of this lamp's light",
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
      part->setAccessibleName("Lights what is in hand");
      auto* left = note();
      onRefresh([this, left] {
        const Lamp* l = lamp(session_.project());
        left->setVisible(l && !l->leavesOut.empty());
        if (l) left->setText(QString("It leaves out %1.").arg(l->leavesOut.size()));
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

  Errands& errands_;
  QLabel* which_;
  Part* body_;
};

}  // namespace

Desk* makeLampDesk(Session& session, Errands& errands) { return new LampDesk(session, errands); }

double whiteNitsOf(const Session& session) {
  const auto photo = session.assets()->loadedPhoto(session.shot().plate);
  return whiteNits(session.shot(), photo ? photo->info : PhotoInfo{});
}

void addLamp(Session& session, LampKind kind) {
  std::string id;
  session.editShot(QString("add: ") + QString(kindName(kind)).toLower(), [&](Shot& shot) {
    Lamp lamp;
    lamp.id = id = freshId(shot.lamps, "lamp");
    lamp.kind = kind;
    lamp.name = kindName(kind);
    if (!shot.placements.empty()) {
      const Placement& p = shot.placements[0];
      lamp.targetM = {p.xM, p.yM, planeHeightM(shot, p) + 0.15};
      lamp.positionM = {p.xM - 0.8, p.yM - 0.6, planeHeightM(shot, p) + 1.2};
    }
    if (kind != LampKind::sun) lamp.powerEv = 2;
    if (kind == LampKind::sphere) lamp.radiusM = 0.08, lamp.powerEv = 5;
    if (kind == LampKind::spot) lamp.radiusM = 0.04, lamp.powerEv = 7;
    if (kind == LampKind::sun && shot.gnomon && shot.vantage.solved) {
      if (const auto read = readGnomon(shot.vantage.camera, *shot.gnomon)) {
        lamp.azimuthDegrees = read->sun.azimuthDegrees;
        if (read->hasElevation) lamp.elevationDegrees = read->sun.elevationDegrees;
      }
    }
    shot.lamps.push_back(lamp);
  });
  session.selectLamp(id);
}

}  // namespace dusk
