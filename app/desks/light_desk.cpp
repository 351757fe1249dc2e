#include <QtWidgets>

#include "app/desks/desks.h"
#include "core/proof/prove.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

class LightDesk : public Desk {
 public:
  LightDesk(Session& session, Errands& errands)
      : Desk(session, "Light", "Light it as the place was lit: a panorama from the same spot, and lamps.") {
    button(
        "Choose a panorama…",
        "EXR or HDR all round, from the same spot if there is one; or drop it on the picture",
        [&errands] { emit errands.choosePanorama(); }, true);
    facts_ = note();
    onRefresh([this] { showFacts(); });
    const auto around = [this](const char* label, const Range& range, const char* tip,
                               double Surroundings::*member) {
      number(
          label, range, tip,
          [=](const Project& p) {
            return p.shots[0].surroundings.panorama.empty() ? std::nullopt
                                                            : std::optional(p.shots[0].surroundings.*member);
          },
          [=](Project& p, double v) { p.shots[0].surroundings.*member = v; });
    };
    around("Turn", {-180, 180, 1, 1, "°", true}, "Turns the panorama clockwise from above",
           &Surroundings::turnDegrees);
    around("Gain", {-12, 12, 0.1, 2, "EV", true}, "Brightness of the panorama against the photo",
           &Surroundings::gainEv);
    beginRow();
    toggle(
        "Mirrored", "Flips the panorama left to right",
        [](const Project& p) {
          return p.shots[0].surroundings.panorama.empty() ? std::nullopt
                                                          : std::optional(p.shots[0].surroundings.mirrored);
        },
        [](Project& p, bool on) { p.shots[0].surroundings.mirrored = on; });
    button("Turn to gnomon", "Turns the panorama so that its sun casts shadows along the gnomon",
           [this] { turnToGnomon(); });
    endRow();
    heading("Lamps");
    beginRow();
    button("Add a sun", "A distant light; its direction is two angles", [this] { addLamp(LampKind::sun); });
    button("Add an area light", "A glowing rectangle that faces its target",
           [this] { addLamp(LampKind::area); });
    endRow();
    which_ = note();
    onRefresh([this] {
      const Lamp* lamp = now(session_.project());
      which_->setText(lamp ? "<b>" + QString::fromStdString(lamp->name).toHtmlEscaped() + "</b>"
                           : "Choose a lamp in the cast to set it.");
    });
    toggle(
        "Lit", "Whether the lamp shines",
        [this](const Project& p) {
          const Lamp* l = now(p);
          return l ? std::optional(l->on) : std::nullopt;
        },
        [this](Project& p, bool on) {
          if (Lamp* l = now(p)) l->on = on;
        });
    choice(
        "Shape", {"sun", "rectangle", "disc", "ball", "spot"}, "What gives the light off",
        [this](const Project& p) {
          const Lamp* l = now(p);
          return l ? int(l->kind) : -1;
        },
        [this](Project& p, int kind) {
          if (Lamp* l = now(p)) l->kind = LampKind(kind);
        });
    lamp("Power", {-12, 12, 0.1, 2, "EV", true},
         "Sun: 0 makes a white sheet that faces it photo white. Area: radiance over photo white",
         &Lamp::powerEv);
    lamp("Colour", {1700, 20000, 50, 0, "K"}, "Colour temperature", &Lamp::kelvin);
    lamp("Azimuth", {-360, 360, 1, 1, "°"}, "Clockwise from run b (+Y), seen from above",
         &Lamp::azimuthDegrees, {LampKind::sun});
    lamp("Elevation", {-10, 90, 1, 1, "°"}, "Above the horizon", &Lamp::elevationDegrees, {LampKind::sun});
    lamp("Disc", {0.05, 30, 0.05, 2, "°"}, "Apparent size: larger is softer", &Lamp::discDegrees,
         {LampKind::sun});
    lamp("Width", {0.01, 100, 0.05, 2, "m"}, "Width of the rectangle", &Lamp::widthM, {LampKind::area});
    lamp("Height", {0.01, 100, 0.05, 2, "m"}, "Height of the rectangle", &Lamp::heightM, {LampKind::area});
    lamp("Radius", {0.001, 100, 0.05, 3, "m"}, "Larger is softer", &Lamp::radiusM,
         {LampKind::disc, LampKind::sphere, LampKind::spot});
    lamp("Cone", {1, 179, 1, 0, "°"}, "Whole angle of the spot", &Lamp::coneDegrees, {LampKind::spot});
    lamp("Soft rim", {0, 1, 0.05, 2, "", true}, "Share of the cone that fades out", &Lamp::coneSoftness,
         {LampKind::spot});
    const char* axes[] = {"Along a", "Along b", "Up"};
    for (int axis = 0; axis < 3; ++axis)
      number(
          axes[axis], {-1000, 1000, 0.05, 2, "m"}, "Where the lamp hangs; drag it in the plan too",
          [=, this](const Project& p) {
            const Lamp* l = now(p);
            return l && l->kind != LampKind::sun ? std::optional(l->positionM[axis]) : std::nullopt;
          },
          [=, this](Project& p, double v) {
            if (Lamp* l = now(p)) l->positionM[axis] = v;
          });
    beginFold("Who sees it", false);
    seen("Casts shadows", "Off: light that nothing stands in the way of", &Lamp::castsShadows);
    seen("In reflections", "Whether polished things show the lamp itself", &Lamp::seenInReflections);
    seen("In the picture", "Whether the lamp itself shows in the picture", &Lamp::seenByCamera);
    endFold();
    button("Take the lamp away", "Deletes the selected lamp", [this] {
      const std::string id = session_.selectedLamp();
      session_.editShot("take a lamp away", [&](Shot& shot) {
        std::erase_if(shot.lamps, [&](const Lamp& l) { return l.id == id; });
      });
    });
    stretch();
  }

 private:
  template <typename P>
  auto now(P& p) -> decltype(&p.shots[0].lamps[0]) {
    return byId(p.shots[0].lamps, session_.selectedLamp());
  }

  void lamp(const char* label, const Range& range, const char* tip, double Lamp::*member,
            const std::vector<LampKind>& only = {}) {
    number(
        label, range, tip,
        [=, this](const Project& p) -> std::optional<double> {
          const Lamp* l = now(p);
          if (!l || (!only.empty() && std::find(only.begin(), only.end(), l->kind) == only.end())) return {};
          return l->*member;
        },
        [=, this](Project& p, double v) {
          if (Lamp* l = now(p)) l->*member = v;
        });
  }

  void seen(const char* label, const char* tip, bool Lamp::*member) {
    toggle(
        label, tip,
        [=, this](const Project& p) {
          const Lamp* l = now(p);
          return l ? std::optional(l->*member) : std::nullopt;
        },
        [=, this](Project& p, bool on) {
          if (Lamp* l = now(p)) l->*member = on;
        });
  }

  void showFacts() {
    const Surroundings& s = session_.shot().surroundings;
    if (s.panorama.empty()) return facts_->setText("No panorama yet: an even sky stands in.");
    QString text =
        "<b>" +
        QString::fromStdString(std::filesystem::path(s.panorama.path).filename().string()).toHtmlEscaped() +
        "</b>";
    if (const auto panorama = session_.assets()->loadedPanorama(s.panorama))
      text += QString("<br>%1 × %2, range %3 EV")
                  .arg(panorama->picture().width)
                  .arg(panorama->picture().height)
                  .arg(panorama->rangeEv(), 0, 'f', 1);
    facts_->setText(text);
  }

  void turnToGnomon() {
    const ShadowComparison c = compareShadows(session_.shot(), *session_.assets());
    if (!c.photoDegrees || !c.productDegrees)
      return session_.say(
          "Mark a gnomon first: drag in the picture from the foot of something upright to its shadow's tip.",
          true);
    session_.editShot("turn to the gnomon", [&](Shot& shot) {
      shot.surroundings.turnDegrees =
          std::round(wrapDegrees(shot.surroundings.turnDegrees + *c.photoDegrees - *c.productDegrees) * 10) /
          10;
    });
  }

  void addLamp(LampKind kind) {
    std::string id;
    session_.editShot(kind == LampKind::sun ? "add a sun" : "add an area light", [&](Shot& shot) {
      Lamp lamp;
      lamp.id = id = freshId(shot.lamps, "lamp");
      lamp.kind = kind;
      lamp.name = kind == LampKind::sun ? "Sun" : "Area light";
      if (!shot.placements.empty()) {
        const Placement& p = shot.placements[0];
        lamp.targetM = {p.xM, p.yM, 0.15};
        lamp.positionM = {p.xM - 0.8, p.yM - 0.6, 1.2};
      }
      if (kind == LampKind::area) lamp.powerEv = 2;
      if (kind == LampKind::sun && shot.gnomon && shot.vantage.solved) {
        const auto base = levelPoint(shot.vantage.camera, shot.gnomon->base),
                   tip = levelPoint(shot.vantage.camera, shot.gnomon->shadowTip);
        if (base && tip) lamp.azimuthDegrees = degrees(std::atan2(base->x - tip->x, base->y - tip->y));
      }
      shot.lamps.push_back(lamp);
    });
    session_.selectLamp(id);
  }

  QLabel *facts_, *which_;
};

}  // namespace

Desk* makeLightDesk(Session& session, Errands& errands) { return new LightDesk(session, errands); }

}  // namespace dusk
