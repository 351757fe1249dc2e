#include <QtConcurrent>
#include <QtWidgets>

#include "app/desks/desks.h"
#include "app/turn_curve.h"
#include "core/light/align.h"
#include "core/light/sun.h"
#include "core/proof/prove.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

class LightDesk : public Desk {
 public:
  ~LightDesk() override {
    if (aligning_) aligning_->cancel();
  }
  LightDesk(Session& session, Errands& errands)
      : Desk(session, "Light", "Light it as the place was lit: a panorama from the same spot, and lamps.") {
    button(
        "Choose a panorama…",
        "EXR or HDR all round, from the same spot if there is one; or drop it on the picture",
        [&errands] { emit errands.choosePanorama(); }, true);
    button("Merge brackets…", "Makes a panorama of photos of one view at different exposures",
           [&errands] { emit errands.chooseBrackets(); });
    facts_ = note();
    onRefresh([this] { showFacts(); });
    matching();
    setting();
    gnomons();
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
  void around(const char* label, const Range& range, const char* tip, double Surroundings::*member) {
    number(
        label, range, tip,
        [=](const Project& p) {
          return p.shots[0].surroundings.panorama.empty() ? std::nullopt
                                                          : std::optional(p.shots[0].surroundings.*member);
        },
        [=](Project& p, double v) { p.shots[0].surroundings.*member = v; });
  }
  void around(const char* label, const char* tip, bool Surroundings::*member) {
    toggle(
        label, tip,
        [=](const Project& p) {
          return p.shots[0].surroundings.panorama.empty() ? std::nullopt
                                                          : std::optional(p.shots[0].surroundings.*member);
        },
        [=](Project& p, bool on) { p.shots[0].surroundings.*member = on; });
  }

  /// Turn, mirrored or not, gain and white, found by comparing the panorama with the photo.
  void matching() {
    beginRow();
    align_ = button("Align with the photo",
                    "Tries every turn, mirrored and not, and takes the one that agrees best with the photo",
                    [this] { alignOrCancel(); });
    matchWhite_ = new QCheckBox("with white");
    matchWhite_->setToolTip("Takes over the white balance, too, not only turn and gain");
    add(matchWhite_);
    endRow();
    curve_ = new TurnCurve;
    add(curve_);
    verdict_ = note();
    verdict_->hide();
    connect(curve_, &TurnCurve::peakChosen, this, [this](int i) { takePeak(i); });
    onRefresh([this] {
      const Surroundings& s = session_.shot().surroundings;
      curve_->setVisible(!s.panorama.empty());
      curve_->setNow(s.turnDegrees, s.mirrored);
      if (aligned_ && alignedOf_ != s.panorama) {
        aligned_.reset(), curve_->setAlignment({});
        verdict_->hide();
      }
    });
  }

  void setting() {
    around("Turn", {-180, 180, 1, 1, "°", true}, "Turns the panorama clockwise from above",
           &Surroundings::turnDegrees);
    around("Gain", {-12, 12, 0.1, 2, "EV", true}, "Brightness of the panorama against the photo",
           &Surroundings::gainEv);
    around("Mirrored", "Flips the panorama left to right", &Surroundings::mirrored);
    beginFold("Its sun and colours", false);
    around("Sun apart", "Takes the sun out as a light of its own, as bright in all: sharper, and to be moved",
           &Surroundings::sunApart);
    around("Sun's disc", {0.05, 30, 0.05, 2, "°"}, "Apparent size of that sun: larger is softer",
           &Surroundings::sunDiscDegrees);
    around("Tilt", {-90, 90, 0.5, 1, "°"}, "Leans the panorama's upright", &Surroundings::tiltDegrees);
    around("Contrast", {0.2, 3, 0.05, 2, "×", true}, "Of the lighting alone; its light in all stays",
           &Surroundings::contrast);
    around("Saturation", {0, 2, 0.05, 2, "×", true}, "Of the lighting alone", &Surroundings::saturation);
    colour(
        "White", "What the panorama's light is multiplied by",
        [](const Project& p) {
          return p.shots[0].surroundings.panorama.empty() ? std::nullopt
                                                          : std::optional(p.shots[0].surroundings.white);
        },
        [](Project& p, const Vec3d& c) { p.shots[0].surroundings.white = c; });
    number(
        "Taken at height", {0.05, 20, 0.05, 2, "m"},
        "Height of the panorama's camera: its floor then lies where the ground is",
        [](const Project& p) {
          const auto& at = p.shots[0].surroundings.captureM;
          return at ? std::optional(at->z) : std::nullopt;
        },
        [](Project& p, double v) {
          if (auto& at = p.shots[0].surroundings.captureM) at->z = v;
        });
    endFold();
  }

  void gnomons() {
    heading("Gnomon");
    sun_ = note();
    onRefresh([this] { showSun(); });
    toggle(
        "With its top", "A third point that throws the shadow's tip: so the sun's height is known, too",
        [](const Project& p) {
          const auto& g = p.shots[0].gnomon;
          return g ? std::optional(g->top.has_value()) : std::nullopt;
        },
        [](Project& p, bool on) {
          auto& g = p.shots[0].gnomon;
          if (!g) return;
          const double up = 0.08 * p.shots[0].vantage.camera.height;
          g->top = on ? std::optional(g->base - Vec2d(0, up)) : std::nullopt;
        });
    beginRow();
    button("Turn to it", "Turns the panorama so that its sun casts shadows along the gnomon",
           [this] { turnToGnomon(); });
    button("Set the sun by it", "Moves the panorama's sun, where that is apart, or else a sun lamp",
           [this] { sunByGnomon(); });
    endRow();
    beginFold("By time and place", false);
    when_ = new QDateTimeEdit(QDateTime::currentDateTime());
    when_->setDisplayFormat("yyyy-MM-dd  HH:mm");
    when_->setToolTip("When the photo was taken, by the clock there");
    const auto plain = [this](const char* label, double low, double high, double value, const char* tip) {
      auto* field = new QDoubleSpinBox;
      field->setRange(low, high);
      field->setDecimals(3);
      field->setValue(value);
      field->setToolTip(tip);
      field->setSuffix(label == std::string("Clock") ? " h" : " °");
      add(labelled(label, field));
      return field;
    };
    add(labelled("Taken", when_));
    clock_ = plain("Clock", -14, 14, 0, "By how many hours that clock is ahead of UTC");
    clock_->setDecimals(1);
    latitude_ = plain("Latitude", -90, 90, 54.0, "Above 0: north");
    longitude_ = plain("Longitude", -180, 180, 10.0, "Above 0: east");
    north_ = plain("North", -180, 180, 0, "Where north lies, clockwise from run b (+Y)");
    button("Set the sun by them", "Computes where the sun stood", [this] { sunByClock(); });
    endFold();
  }

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

  void alignOrCancel() {
    if (aligning_) return aligning_->cancel();
    const Shot& shot = session_.shot();
    if (shot.plate.empty() || shot.surroundings.panorama.empty() || !shot.vantage.solved)
      return session_.say("It takes a photo, a solved vantage and a panorama to compare.", true);
    aligning_ = std::make_shared<Progress>();
    align_->setText("Cancel");
    QtConcurrent::run([shot, assets = session_.assets(), progress = aligning_]() -> Result<Alignment> {
      const auto plate = assets->plate(shot);
      if (!plate) return plate.error();
      const auto panorama = assets->panorama(shot.surroundings.panorama);
      if (!panorama) return panorama.error();
      return align(**plate, workingCamera(shot.vantage), **panorama, captureGuess(shot), *progress);
    }).then(this, [this, of = shot.surroundings.panorama](const Result<Alignment>& found) {
      aligning_.reset();
      align_->setText("Align with the photo");
      if (!found) {
        if (found.error().kind != ErrorKind::cancelled)
          session_.say(QString::fromStdString(found.error().message), true);
        return;
      }
      aligned_ = *found, alignedOf_ = of;
      curve_->setAlignment(aligned_);
      takePeak(0);
    });
  }

  void takePeak(int index) {
    if (!aligned_) return;
    const Alignment::Peak p = aligned_->peaks[size_t(index)];
    const bool white = matchWhite_->isChecked();
    session_.editShot("align the panorama", [&](Shot& shot) {
      Surroundings& s = shot.surroundings;
      s.turnDegrees = std::round(p.turnDegrees * 10) / 10, s.mirrored = p.mirrored;
      s.gainEv = std::round(p.gainEv * 100) / 100, s.captureM = p.captureM;
      if (white) s.white = p.white;
    });
    verdict_->show();
    verdict_->setText(QString("%1Agreement %2, taken %3 m above the ground.")
                          .arg(aligned_->ambiguous
                                   ? "<b>Ambiguous</b>: other turns agree about as well; try the peaks, or "
                                     "mark a gnomon. "
                                   : "")
                          .arg(p.score, 0, 'f', 2)
                          .arg(p.captureM.z, 0, 'f', 2));
  }

  std::optional<GnomonReading> reading() const {
    const Shot& shot = session_.shot();
    return shot.gnomon && shot.vantage.solved ? readGnomon(shot.vantage.camera, *shot.gnomon) : std::nullopt;
  }

  void showSun() {
    const Shot& shot = session_.shot();
    const auto read = reading();
    if (!read)
      return sun_->setText("Drag in the picture from the foot of something upright to its shadow's tip.");
    QString text = QString("Sun at %1 ± %2°")
                       .arg(read->sun.azimuthDegrees, 0, 'f', 1)
                       .arg(read->azimuthSigma, 0, 'f', 1);
    if (read->hasElevation)
      text += QString(", %1 ± %2° up")
                  .arg(read->sun.elevationDegrees, 0, 'f', 1)
                  .arg(read->elevationSigma, 0, 'f', 1);
    if (shot.otherGnomon)
      if (const auto other = readGnomon(shot.vantage.camera, *shot.otherGnomon)) {
        const GnomonsApart off = apart(*read, *other);
        text += QString("<br>%1 the second by %2°")
                    .arg(off.disagree ? "✕ <b>contradicts</b>" : "agrees with")
                    .arg(off.degrees, 0, 'f', 1);
      }
    sun_->setText(text);
  }

  void turnToGnomon() {
    const ShadowComparison c = compareShadows(session_.shot(), *session_.assets());
    if (!c.photoDegrees || !c.productDegrees) return sayNoGnomon();
    session_.editShot("turn to the gnomon", [&](Shot& shot) {
      shot.surroundings.turnDegrees =
          std::round(wrapDegrees(shot.surroundings.turnDegrees + *c.photoDegrees - *c.productDegrees) * 10) /
          10;
    });
  }

  void sayNoGnomon() {
    session_.say(
        "Mark a gnomon first: drag in the picture from the foot of something upright to its shadow's tip.",
        true);
  }

  void sunByGnomon() {
    const auto read = reading();
    if (!read) return sayNoGnomon();
    setSun("set the sun by the gnomon", read->sun, read->hasElevation);
  }

  void sunByClock() {
    // A clock ahead of UTC may put the moment into the day before.
    const double hour = when_->time().msecsSinceStartOfDay() / 3.6e6 - clock_->value();
    const QDate day = when_->date().addDays(int(std::floor(hour / 24)));
    SunAngles at = sunAt(day.year(), day.month(), day.day(), hour - 24 * std::floor(hour / 24),
                         latitude_->value(), longitude_->value());
    if (at.elevationDegrees < 0) return session_.say("The sun was below the horizon then and there.", true);
    at.azimuthDegrees = wrapDegrees(at.azimuthDegrees + north_->value());
    setSun("set the sun by time and place", at, true);
  }

  /// Moves the panorama's sun where that is apart, else the first sun lamp, which is added where there is
  /// none.
  void setSun(const QString& what, const SunAngles& to, bool height) {
    if (session_.shot().surroundings.sunApart && !session_.shot().surroundings.panorama.empty()) {
      double elevation = to.elevationDegrees;
      if (!height)
        if (const auto dome = session_.assets()->dome(session_.shot().surroundings); dome && dome->sun)
          elevation = degrees(std::asin(double(dome->sun->direction.z)));
      return session_.editShot(
          what, [&](Shot& shot) { shot.surroundings.sunMovedDegrees = Vec2d(to.azimuthDegrees, elevation); });
    }
    const auto& lamps = session_.shot().lamps;
    const auto sun =
        std::find_if(lamps.begin(), lamps.end(), [](const Lamp& l) { return l.kind == LampKind::sun; });
    if (sun == lamps.end()) return addLamp(LampKind::sun);
    const std::string id = sun->id;
    session_.editShot(what, [&](Shot& shot) {
      Lamp& lamp = *byId(shot.lamps, id);
      lamp.on = true, lamp.azimuthDegrees = to.azimuthDegrees;
      if (height) lamp.elevationDegrees = to.elevationDegrees;
    });
    session_.selectLamp(id);
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
        if (const auto read = readGnomon(shot.vantage.camera, *shot.gnomon)) {
          lamp.azimuthDegrees = read->sun.azimuthDegrees;
          if (read->hasElevation) lamp.elevationDegrees = read->sun.elevationDegrees;
        }
      }
      shot.lamps.push_back(lamp);
    });
    session_.selectLamp(id);
  }

  QLabel *facts_, *which_, *sun_, *verdict_;
  TurnCurve* curve_;
  QPushButton* align_;
  QCheckBox* matchWhite_;
  QDateTimeEdit* when_;
  QDoubleSpinBox *clock_, *latitude_, *longitude_, *north_;
  std::shared_ptr<Progress> aligning_;
  std::optional<Alignment> aligned_;
  AssetRef alignedOf_;
};

}  // namespace

Desk* makeLightDesk(Session& session, Errands& errands) { return new LightDesk(session, errands); }

}  // namespace dusk
