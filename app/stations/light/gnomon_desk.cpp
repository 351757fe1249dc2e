#include "app/stations/light/gnomon_desk.h"

#include <QtWidgets>

#include "app/stations/light/lamp_desk.h"
#include "app/stations/light/shadow_curve.h"
#include "core/base/words.h"
#include "core/light/sun.h"
#include "core/project/lamp_kinds.h"
#include "core/proof/find_shadow.h"
#include "core/proof/lost_sun.h"
#include "core/proof/prove.h"

namespace dusk {
namespace {

class GnomonDesk : public Desk {
 public:
  explicit GnomonDesk(Workbench& bench) : Desk(bench.session, {}, {}), bench_(bench) {
    heading(words("Gnomon"));
    sun_ = note();
    onRefresh([this] { showSun(); });
    toggle(
        words("With its top"),
        words("A third point that throws the shadow's tip: so the sun's height is known, too"),
        [this](const Project& p) {
          const auto& g = session_.shotIn(p).gnomon;
          return g ? std::optional(g->top.has_value()) : std::nullopt;
        },
        [this](Project& p, bool on) {
          auto& g = session_.shotIn(p).gnomon;
          if (!g) return;
          const double up = 0.08 * session_.shotIn(p).vantage.camera.height;
          g->top = on ? std::optional(g->base - Vec2d(0, up)) : std::nullopt;
        });
    button(
        words("Find a shadow"),
        words(
            "Looks for the shadow of what is known to stand upright: stand-ins, heights and upright strokes, "
            "and marks the clearest"),
        [this] { findAShadow(); });
    beginRow();
    button(words("Turn to gnomon"),
           words("Turns the panorama so that its sun casts shadows along the gnomon"),
           [this] { turnToGnomon(); });
    button(words("Sun from gnomon"),
           words("Moves the panorama's sun, where that is apart, or else a sun lamp"),
           [this] { sunByGnomon(); });
    endRow();
    button(
        words("Sun by its shadow's depth"),
        words(
            "Reads how dark the gnomon's shadow is, and adds what the panorama's sun lacks: cameras clip it"),
        [this] { sunByShadow(); });
    curve_ = new ShadowCurve;
    add(curve_);
    shadow_ = note();
    match_ =
        button(words("Match the shadow"),
               words("Sets the sun's strength, colour and width so that a shadow comes out as the photo's"),
               [this] { matchShadow(); });
    showShadow({});
    connect(&bench.preview, &Preview::proofsReady, this, [this](const std::shared_ptr<const Proofs>& proofs) {
      if (proofs && proofs->shotId == session_.shot().id) showShadow(*proofs);
    });
    connect(&session_, &Session::shotChanged, this, [this] { showShadow({}); });
    connect(&session_, &Session::documentChanged, this, [this] { showShadow({}); });
    beginFold(words("Sun from time and place"), false);
    when_ = new QDateTimeEdit(QDateTime::currentDateTime());
    when_->setDisplayFormat("yyyy-MM-dd  HH:mm");
    when_->setToolTip(words("When the photo was taken, by the clock there"));
    const auto plain = [this](const char* label, double low, double high, double value, const char* tip) {
      auto* field = new NumberField;
      field->setRange(low, high);
      field->setDecimals(3);
      field->setValue(value);
      field->setToolTip(tip);
      field->setUnit(label == std::string(words("Clock")) ? "h" : "°");
      add(labelled(label, field));
      return field;
    };
    add(labelled(words("Taken"), when_));
    clock_ = plain(words("Clock"), -14, 14, 0, words("By how many hours that clock is ahead of UTC"));
    clock_->setDecimals(1);
    latitude_ = plain(words("Latitude"), -90, 90, 54.0, words("Above 0: north"));
    longitude_ = plain(words("Longitude"), -180, 180, 10.0, words("Above 0: east"));
    north_ = plain(words("North"), -180, 180, 0, words("Where north lies, clockwise from run b (+Y)"));
    button(words("Sun from time and place"), words("Computes where the sun stood"), [this] { sunByClock(); });
    endFold();
  }

 private:
  std::optional<GnomonReading> reading() const {
    const Shot& shot = session_.shot();
    return shot.gnomon && shot.vantage.solved ? readGnomon(shot.vantage.camera, *shot.gnomon) : std::nullopt;
  }

  void showSun() {
    const Shot& shot = session_.shot();
    const auto read = reading();
    if (!read)
      return sun_->setText(
          words("Drag in the picture from the foot of something upright to its shadow's tip."));
    QString text = QString(words("Sun at %1 ± %2°"))
                       .arg(read->sun.azimuthDegrees, 0, 'f', 1)
                       .arg(read->azimuthSigma, 0, 'f', 1);
    if (read->hasElevation)
      text += QString(words(", %1 ± %2° up"))
                  .arg(read->sun.elevationDegrees, 0, 'f', 1)
                  .arg(read->elevationSigma, 0, 'f', 1);
    if (shot.otherGnomon)
      if (const auto other = readGnomon(shot.vantage.camera, *shot.otherGnomon)) {
        const GnomonsApart off = apart(*read, *other);
        text += QString(words("<br>%1 the second by %2°"))
                    .arg(off.disagree ? words("✕ <b>contradicts</b>") : words("agrees with"))
                    .arg(off.degrees, 0, 'f', 1);
      }
    sun_->setText(text);
  }

  /// The shadow's numbers, ours against the photo's; a cross marks what is off.
  void showShadow(const Proofs& proofs) {
    curve_->setLook(proofs.shadow);
    for (QWidget* w :
         {static_cast<QWidget*>(curve_), static_cast<QWidget*>(shadow_), static_cast<QWidget*>(match_)})
      w->setVisible(proofs.shadow != nullptr);
    if (!proofs.shadow) return;
    QStringList rows;
    bool isOff = false;
    const auto row = [&](const char* id, auto told) {
      const Finding* f = proofs.find(id);
      if (!f) return;
      // A mark stays with its number.
      rows << QString((f->ok() ? "✓ " : "✕ ") + told(f->value)).replace(' ', QChar::Nbsp);
      isOff = isOff || !f->ok();
    };
    const auto number = [](double v, int decimals) { return QLocale().toString(v, 'f', decimals); };
    row("shadow-darkness", [&](double ev) {
      return number(std::abs(ev), 2) + (ev < 0 ? words(" EV paler") : words(" EV darker"));
    });
    row("shadow-softness", [&](double x) { return words("edges ") + number(x, 2) + words(" × as wide"); });
    row("shadow-colour",
        [&](double percent) { return words("tint ") + number(percent, 0) + words(" % off"); });
    if (proofs.shadow->throwsNone) rows << words("This light throws no shadow to speak of.");
    shadow_->setText(words("Against the photo's shadow: ") + rows.join(", "));
    match_->setEnabled(isOff);
  }

  void matchShadow() {
    bench_.jobs.run<Shot>(
        {words("Matching the shadow"), "match-shadow"},
        [shot = session_.shot(), assets = session_.assets()](Progress&) -> Result<Shot> {
          Shot lit = shot;
          if (const auto outcome = mendShadow(lit, *assets); !outcome) return outcome.error();
          return lit;
        },
        [this, id = session_.shot().id](Shot& lit) {
          if (session_.shot().id != id) return;
          session_.editShot(words("match the shadow"), [&](Shot& shot) {
            shot.lamps = lit.lamps, shot.surroundings.sunDiscDegrees = lit.surroundings.sunDiscDegrees;
          });
        });
  }

  void turnToGnomon() {
    const ShadowComparison c = compareShadows(session_.shot(), *session_.assets());
    if (!c.photoDegrees || !c.productDegrees) return sayNoGnomon();
    session_.editShot(words("turn to the gnomon"), [&](Shot& shot) {
      shot.surroundings.turnDegrees =
          std::round(wrapDegrees(shot.surroundings.turnDegrees + *c.photoDegrees - *c.productDegrees) * 10) /
          10;
    });
  }

  void findAShadow() {
    bench_.jobs.run<Gnomon>(
        {words("Looking for a shadow"), "find-shadow"},
        [shot = session_.shot(), assets = session_.assets()](Progress&) { return findGnomon(shot, *assets); },
        [this, id = session_.shot().id](Gnomon& found) {
          session_.editShotOf(id, words("mark a shadow that was found"),
                              [&](Shot& shot) { shot.gnomon = found; });
        });
  }

  void sayNoGnomon() {
    session_.refuse(
        words("Mark a gnomon first: drag in the picture from the foot of something upright to its "
              "shadow's tip."));
  }

  void sunByGnomon() {
    const auto read = reading();
    if (!read) return sayNoGnomon();
    setSun(words("sun from gnomon"), read->sun, read->hasElevation);
  }

  void sunByShadow() {
    bench_.jobs.run<LostSun>(
        {words("Reading the shadow"), "lost-sun"},
        [shot = session_.shot(), assets = session_.assets()](Progress&) {
          return findLostSun(shot, *assets);
        },
        [this, id = session_.shot().id](LostSun& sun) {
          if (session_.shot().id == id) winBack(sun);
        });
  }

  void winBack(const LostSun& sun) {
    const QString read =
        QString(words("The shadow keeps %1 % of the ground's light; the panorama's sun sends %2 % of "
                      "what that asks for"))
            .arg(100 * double(luminance(sun.shadow)), 0, 'f', 0)
            .arg(100 * sun.givenShare, 0, 'f', sun.givenShare < 0.1 ? 1 : 0);
    if (!sun.isMissed()) return session_.say(read + words(": nothing is missing."));
    const int gesture = Session::newGesture();
    const std::string id = sunLamp(gesture);
    session_.editShot(
        words("sun by its shadow's depth"),
        [&](Shot& shot) {
          Lamp& lamp = *byId(shot.lamps, id);
          lamp = sunLampFor(sun, lamp);
        },
        gesture);
    session_.selectLamp(id);
    session_.say(read + QString(words(". A sun lamp of %1 ± %2 EV gives the rest."))
                            .arg(byId(session_.shot().lamps, id)->powerEv, 0, 'f', 1)
                            .arg(sun.marginEv, 0, 'f', 1));
  }

  /// The first sun lamp; added where there is none.
  std::string sunLamp(int gesture) {
    const auto& lamps = session_.shot().lamps;
    const auto sun = std::find_if(lamps.begin(), lamps.end(), isDistant);
    return sun == lamps.end() ? addLamp(session_, LampKind::sun, gesture) : sun->id;
  }

  void sunByClock() {
    // A clock ahead of UTC may put the moment into the day before.
    const double hour = when_->time().msecsSinceStartOfDay() / 3.6e6 - clock_->value();
    const QDate day = when_->date().addDays(int(std::floor(hour / 24)));
    SunAngles at = sunAt(day.year(), day.month(), day.day(), hour - 24 * std::floor(hour / 24),
                         latitude_->value(), longitude_->value());
    if (at.elevationDegrees < 0)
      return session_.refuse(words("The sun was below the horizon then and there."));
    at.azimuthDegrees = wrapDegrees(at.azimuthDegrees + north_->value());
    setSun(words("sun from time and place"), at, true);
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
    const int gesture = Session::newGesture();
    const std::string id = sunLamp(gesture);
    session_.editShot(
        what,
        [&](Shot& shot) {
          Lamp& lamp = *byId(shot.lamps, id);
          lamp.on = true, lamp.azimuthDegrees = to.azimuthDegrees;
          if (height) lamp.elevationDegrees = to.elevationDegrees;
        },
        gesture);
    session_.selectLamp(id);
  }

  Workbench& bench_;
  QLabel *sun_, *shadow_;
  ShadowCurve* curve_;
  QPushButton* match_;
  QDateTimeEdit* when_;
  NumberField *clock_, *latitude_, *longitude_, *north_;
};

}  // namespace

Desk* makeGnomonDesk(Workbench& bench) { return new GnomonDesk(bench); }

}  // namespace dusk
