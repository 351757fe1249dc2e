#include <QtConcurrent>
#include <QtWidgets>

#include "app/desks/desks.h"
#include "app/desks/lamp_desk.h"
#include "app/light_sets.h"
#include "app/turn_curve.h"
#include "core/light/align.h"
#include "core/light/sun.h"
#include "core/proof/balance.h"
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
    auto* from = new QPushButton("Make one of photos…");
    from->setToolTip("A panorama out of brackets, of a mirror ball, or of a pair of fisheye pictures");
    auto* ways = new QMenu(from);
    ways->addAction("Merge brackets…", &errands, &Errands::chooseBrackets);
    ways->addAction("Unwrap mirror balls…", &errands, &Errands::chooseBalls);
    ways->addAction("Join two fisheyes…", &errands, &Errands::chooseFisheyes);
    from->setMenu(ways);
    add(from);
    beginFold("Light sets", false);
    add(new LightSets(session, errands));
    endFold();
    facts_ = note();
    onRefresh([this] { showFacts(); });
    matching();
    setting();
    gnomons();
    add(makeLampDesk(session, errands));
    keeping();
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
    around("Lost range", {0, 12, 0.25, 2, "EV", true},
           "An estimate, for 8-bit panoramas: how far above white their brightest parts really were",
           &Surroundings::lostRangeEv);
    around("Blur", {0, 40, 0.5, 1, "°", true}, "Smooths what mirrors show of it; its light stays as it is",
           &Surroundings::reflectionBlurDegrees);
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
    toggle(
        "Taken at a known spot", "Then its floor lies where the ground is, and its walls as far as you say",
        [](const Project& p) {
          const Surroundings& s = p.shots[0].surroundings;
          return s.panorama.empty() ? std::nullopt : std::optional(s.captureM.has_value());
        },
        [](Project& p, bool on) {
          auto& at = p.shots[0].surroundings.captureM;
          if (!on)
            at.reset();
          else if (!at)
            at = Vec3d(0, 0, 1.5);
        });
    around("Walls at", {0, 500, 0.5, 1, "m"}, "How far its walls are from where it was taken; 0: far away",
           &Surroundings::domeRadiusM);
    button("Match the ground", "Gain and white so that the panorama shows the ground as the photo does",
           [this] { matchGround(); });
    endFold();
  }

  /// Surroundings and lamps under a name, for other shots.
  void keeping() {
    beginFold("Rigs", false);
    note("Lamps and surroundings kept under a name.");
    auto* list = new QComboBox;
    list->setAccessibleName("Rig");
    list->setToolTip("Rigs kept in this project");
    add(list);
    onRefresh([this, list] {
      const QSignalBlocker quiet(list);
      const QString now = list->currentData().toString();
      list->clear();
      for (const Rig& r : session_.project().rigs)
        list->addItem(QString::fromStdString(r.name), QString::fromStdString(r.id));
      list->setCurrentIndex(std::max(list->count() ? 0 : -1, list->findData(now)));
    });
    auto* name = new QLineEdit;
    name->setPlaceholderText("name of the rig");
    name->setToolTip("What the light of now is to be kept as");
    add(labelled("Keep as", name));
    beginRow();
    button("Keep", "Keeps lamps and surroundings under that name; one of the same name is replaced",
           [this, name] {
             const std::string text = name->text().trimmed().toStdString();
             if (text.empty()) return session_.say("Give the rig a name first.", true);
             session_.edit("keep a rig", [&](Project& p) {
               std::erase_if(p.rigs, [&](const Rig& r) { return r.name == text; });
               p.rigs.push_back({freshId(p.rigs, "rig"), text, p.shots[0].surroundings, p.shots[0].lamps});
             });
           });
    button("Use it", "Lights the shot with the rig", [this, list] {
      const std::string id = list->currentData().toString().toStdString();
      session_.edit("use a rig", [&](Project& p) {
        const Rig* rig = byId(p.rigs, id);
        if (rig) p.shots[0].surroundings = rig->surroundings, p.shots[0].lamps = rig->lamps;
      });
    });
    button("Drop it", "Takes the rig off the list", [this, list] {
      const std::string id = list->currentData().toString().toStdString();
      session_.edit("drop a rig",
                    [&](Project& p) { std::erase_if(p.rigs, [&](const Rig& r) { return r.id == id; }); });
    });
    endRow();
    endFold();
  }

  void matchGround() {
    QtConcurrent::run([shot = session_.shot(), assets = session_.assets()] {
      return suggestedBalance(shot, *assets);
    }).then(this, [this](const std::optional<Balance>& b) {
      if (!b)
        return session_.say("It takes a photo, a solved vantage and a panorama that shows the same ground.",
                            true);
      session_.editShot("match the ground", [&](Shot& shot) {
        shot.surroundings.gainEv = std::round((shot.surroundings.gainEv + b->ev) * 100) / 100;
        for (int c = 0; c < 3; ++c) shot.surroundings.white[c] *= b->white[c];
      });
      session_.say(QString("The panorama's ground was %1 EV from the photo's.").arg(b->ev, 0, 'f', 2));
    });
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

  void showFacts() {
    const Surroundings& s = session_.shot().surroundings;
    if (s.panorama.empty()) return facts_->setText("No panorama yet: an even sky stands in.");
    QString text =
        "<b>" +
        QString::fromStdString(std::filesystem::path(s.panorama.path).filename().string()).toHtmlEscaped() +
        "</b>";
    if (const auto panorama = session_.assets()->loadedPanorama(s.panorama)) {
      text += QString("<br>%1 × %2, range %3 EV")
                  .arg(panorama->picture().width)
                  .arg(panorama->picture().height)
                  .arg(panorama->rangeEv(), 0, 'f', 1);
      if (panorama->isLowRange())
        text +=
            "<br>✕ no brighter than white anywhere: its lamps and sun were lost. \"Lost range\" is a guess.";
      else if (panorama->clippedShare() > 2e-5f)
        text += QString("<br>✕ %1 % of it is clipped: shadows will be too soft.")
                    .arg(100 * panorama->clippedShare(), 0, 'g', 2);
      else if (panorama->brightest().timesMean < 20)
        text += "<br>no sun in it: overcast, or indoors";
    }
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
    if (sun == lamps.end()) return addLamp(session_, LampKind::sun);
    const std::string id = sun->id;
    session_.editShot(what, [&](Shot& shot) {
      Lamp& lamp = *byId(shot.lamps, id);
      lamp.on = true, lamp.azimuthDegrees = to.azimuthDegrees;
      if (height) lamp.elevationDegrees = to.elevationDegrees;
    });
    session_.selectLamp(id);
  }

  QLabel *facts_, *sun_, *verdict_;
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
