#include <QtWidgets>

#include "app/stations/light/gnomon_desk.h"
#include "app/stations/light/lamp_desk.h"
#include "app/stations/light/light_jobs.h"
#include "app/stations/light/light_sets.h"
#include "app/stations/light/turn_curve.h"
#include "app/stations/light/watch_desk.h"
#include "app/stations/parts.h"
#include "app/stations/shelf_panel.h"
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"
#include "core/base/words.h"
#include "core/light/align.h"
#include "core/light/hand_camera.h"
#include "core/light/sun.h"
#include "core/project/lamp_kinds.h"
#include "core/proof/balance.h"
#include "core/proof/prove.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

class LightDesk : public Desk {
 public:
  explicit LightDesk(Workbench& bench)
      : Desk(bench.session, words("Light"),
             words("Light it as the place was lit: a panorama from the same spot, and lamps.")),
        bench_(bench) {
    button(
        words("Choose a panorama…"),
        words("EXR or HDR all round, from the same spot if there is one; or drop it on the picture"),
        [&bench] { choosePanorama(bench); }, true);
    auto* from = new QPushButton(words("Make one of photos…"));
    from->setToolTip(words("A panorama out of brackets, of a mirror ball, or of a pair of fisheye pictures"));
    auto* ways = new QMenu(from);
    ways->addAction(words("Merge brackets…"), this, [&bench] { chooseBrackets(bench); });
    ways->addAction(words("Unwrap mirror balls…"), this, [&bench] { chooseBalls(bench); });
    ways->addAction(words("Join two fisheyes…"), this, [&bench] { chooseFisheyes(bench); });
    from->setMenu(ways);
    add(from);
    beginFold(words("Light sets"), false);
    add(new LightSets(bench));
    endFold();
    beginFold(words("A shelf on the network"), false);
    add(new ShelfPanel(bench, ShelfKind::panorama,
                       [&bench](const QString& file, int gesture) { takePanorama(bench, file, gesture); }));
    endFold();
    add(new WatchDesk(bench));
    facts_ = note();
    onRefresh([this] { showFacts(); });
    buildAlignment();
    buildSettings();
    add(makeGnomonDesk(bench));
    add(makeLampDesk(bench));
    buildRigs();
    stretch();
  }

 private:
  void around(const char* label, const Range& range, const char* tip, double Surroundings::*member) {
    number(
        label, range, tip,
        [=, this](const Project& p) {
          return session_.shotIn(p).surroundings.panorama.empty()
                     ? std::nullopt
                     : std::optional(session_.shotIn(p).surroundings.*member);
        },
        [=, this](Project& p, double v) { session_.shotIn(p).surroundings.*member = v; });
  }
  void around(const char* label, const char* tip, bool Surroundings::*member) {
    toggle(
        label, tip,
        [=, this](const Project& p) {
          return session_.shotIn(p).surroundings.panorama.empty()
                     ? std::nullopt
                     : std::optional(session_.shotIn(p).surroundings.*member);
        },
        [=, this](Project& p, bool on) { session_.shotIn(p).surroundings.*member = on; });
  }

  /// Turn, mirrored or not, gain and white, found by comparing the panorama with the photo.
  void buildAlignment() {
    beginRow();
    align_ = button(
        words("Align with the photo"),
        words("Finds how it stands by light, landmarks and level edges that both show, mirrored or not"),
        [this] { alignOrCancel(); });
    matchWhite_ = new QCheckBox(words("with white"));
    matchWhite_->setToolTip(words("Takes over the white balance, too, not only turn and gain"));
    add(matchWhite_);
    endRow();
    curve_ = new TurnCurve;
    add(curve_);
    verdict_ = note();
    verdict_->hide();
    connect(curve_, &TurnCurve::peakChosen, this, [this](int i) { takePeak(i); });
    connect(&bench_.jobs, &Jobs::changed, this, &Desk::refreshAll);
    onRefresh([this] {
      const Surroundings& s = session_.shot().surroundings;
      curve_->setVisible(!s.panorama.empty());
      curve_->setNow(s.turnDegrees, s.mirrored);
      align_->setText(bench_.jobs.isRunning("align") ? words("Cancel") : words("Align with the photo"));
      if (aligned_ && (alignedOf_ != s.panorama || alignedShot_ != session_.shot().id)) {
        aligned_.reset(), curve_->setAlignment({});
        verdict_->hide();
      }
    });
  }

  void buildSettings() {
    around(words("Turn"), {-180, 180, 1, 1, "°", true}, words("Turns the panorama clockwise from above"),
           &Surroundings::turnDegrees);
    around(words("Gain"), {-12, 12, 0.1, 2, "EV", true},
           words("Brightness of the panorama against the photo"), &Surroundings::gainEv);
    around(words("Mirrored"), words("Flips the panorama left to right"), &Surroundings::mirrored);
    beginFold(words("Its sun and colours"), false);
    around(
        words("Sun apart"),
        words(
            "Takes the sun out as a light of its own, with the same total energy: sharper, and to be moved"),
        &Surroundings::sunApart);
    around(words("Sun's disc"), {0.05, 30, 0.05, 2, "°"},
           words("Apparent size of that sun: larger is softer"), &Surroundings::sunDiscDegrees);
    around(words("Lost range"), {0, 12, 0.25, 2, "EV", true},
           words("An estimate, for 8-bit panoramas: how far above white their brightest parts really were"),
           &Surroundings::lostRangeEv);
    around(words("Blur"), {0, 40, 0.5, 1, "°", true},
           words("Smooths what mirrors show of it; its light stays as it is"),
           &Surroundings::reflectionBlurDegrees);
    around(words("Tilt"), {-90, 90, 0.5, 1, "°"}, words("Leans the panorama's upright"),
           &Surroundings::tiltDegrees);
    around(words("Roll"), {-90, 90, 0.5, 1, "°"}, words("Leans the panorama's upright to the side"),
           &Surroundings::rollDegrees);
    around(words("Contrast"), {0.2, 3, 0.05, 2, "×", true},
           words("Of the lighting alone; its total energy stays"), &Surroundings::contrast);
    around(words("Saturation"), {0, 2, 0.05, 2, "×", true}, words("Of the lighting alone"),
           &Surroundings::saturation);
    colour(
        words("White"), words("What the panorama's light is multiplied by"),
        [this](const Project& p) {
          return session_.shotIn(p).surroundings.panorama.empty()
                     ? std::nullopt
                     : std::optional(session_.shotIn(p).surroundings.white);
        },
        [this](Project& p, const Vec3d& c) { session_.shotIn(p).surroundings.white = c; });
    number(
        words("Taken at height"), {0.05, 20, 0.05, 2, "m"},
        words("Height of the panorama's camera: its floor then lies where the ground is"),
        [this](const Project& p) {
          const auto& at = session_.shotIn(p).surroundings.captureM;
          return at ? std::optional(at->z) : std::nullopt;
        },
        [this](Project& p, double v) {
          Surroundings& s = session_.shotIn(p).surroundings;
          if (s.captureM) s.captureM->z = v, s.captureFound = false;
        });
    toggle(
        words("Taken at a known spot"),
        words("Then its floor lies where the ground is, and its walls as far as you say"),
        [this](const Project& p) {
          const Surroundings& s = session_.shotIn(p).surroundings;
          return s.panorama.empty() ? std::nullopt : std::optional(s.captureM.has_value());
        },
        [this](Project& p, bool on) {
          Surroundings& s = session_.shotIn(p).surroundings;
          s.captureFound = false;
          if (!on)
            s.captureM.reset();
          else if (!s.captureM)
            s.captureM = Vec3d(0, 0, 1.5);
        });
    number(
        words("Walls at"), {0, 500, 0.5, 1, "m"},
        words("How far its walls are from where it was taken; 0: far away"),
        [this](const Project& p) {
          const Surroundings& s = session_.shotIn(p).surroundings;
          return s.panorama.empty() ? std::nullopt : std::optional(s.domeRadiusM);
        },
        [this](Project& p, double metres) {
          Shot& shot = session_.shotIn(p);
          setWalls(shot, metres);
          if (shot.backdrop.kind == BackdropKind::panorama) setCameraByHand(shot);
        });
    button(words("Match the ground"),
           words("Gain and white so that the panorama shows the ground as the photo does"),
           [this] { matchGround(); });
    endFold();
  }

  /// Surroundings and lamps under a name, for other shots.
  void buildRigs() {
    beginFold(words("Rigs"), false);
    note(words("Lamps and surroundings kept under a name."));
    auto* list = new QComboBox;
    list->setAccessibleName(words("Rig"));
    list->setToolTip(words("Rigs kept in this project"));
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
    name->setPlaceholderText(words("name of the rig"));
    name->setToolTip(words("What the light of now is to be kept as"));
    add(labelled(words("Keep as"), name));
    beginRow();
    button(words("Keep"),
           words("Keeps lamps and surroundings under that name; one of the same name is replaced"),
           [this, name] {
             const std::string text = name->text().trimmed().toStdString();
             if (text.empty()) return session_.refuse(words("Give the rig a name first."));
             session_.edit(words("keep a rig"), [&](Project& p) {
               std::erase_if(p.rigs, [&](const Rig& r) { return r.name == text; });
               Rig rig;
               rig.id = freshId(p.rigs, "rig"), rig.name = text;
               rig.surroundings = session_.shotIn(p).surroundings, rig.lamps = session_.shotIn(p).lamps;
               p.rigs.push_back(std::move(rig));
             });
           });
    button(words("Use it"), words("Lights the shot with the rig"), [this, list] {
      const std::string id = list->currentData().toString().toStdString();
      session_.edit(words("use a rig"), [&](Project& p) {
        const Rig* rig = byId(p.rigs, id);
        if (rig) session_.shotIn(p).surroundings = rig->surroundings, session_.shotIn(p).lamps = rig->lamps;
      });
    });
    button(words("Drop it"), words("Takes the rig off the list"), [this, list] {
      const std::string id = list->currentData().toString().toStdString();
      session_.edit(words("drop a rig"),
                    [&](Project& p) { std::erase_if(p.rigs, [&](const Rig& r) { return r.id == id; }); });
    });
    endRow();
    endFold();
  }

  void matchGround() {
    bench_.jobs.run<Balance>(
        {words("Matching the ground"), words("match the ground")},
        [shot = session_.shot(), assets = session_.assets()](Progress&) -> Result<Balance> {
          const auto balance = suggestedBalance(shot, *assets);
          if (!balance)
            return Error{words("Needs a photo, a solved vantage, a panorama, and ground about the product.")};
          return *balance;
        },
        [this, id = session_.shot().id](Balance& b) {
          // A panorama from elsewhere tells how bright it is at most.
          const bool isOnePlace = isWhiteOfOnePlace(b.white);
          session_.editShotOf(id, words("match the ground"), [&](Shot& shot) {
            shot.surroundings.gainEv = std::round((shot.surroundings.gainEv + b.ev) * 100) / 100;
            for (int c = 0; c < 3 && isOnePlace; ++c) shot.surroundings.white[c] *= b.white[c];
          });
          session_.say(
              QString(words("The panorama's ground was %1 EV from the photo's.")).arg(decimal(b.ev, 2)) +
              (isOnePlace ? QString()
                          : " " + QString(words("Its colour is another ground's: its white stays."))));
        });
  }

  void showFacts() {
    const Surroundings& s = session_.shot().surroundings;
    if (s.panorama.empty()) return facts_->setText(words("No panorama yet: an even sky stands in."));
    QString text =
        "<b>" +
        QString::fromStdString(std::filesystem::path(s.panorama.path).filename().string()).toHtmlEscaped() +
        "</b>";
    if (const auto panorama = session_.assets()->loadedPanorama(s.panorama)) {
      text += QString(words("<br>%1 × %2, range %3 EV"))
                  .arg(panorama->picture().width)
                  .arg(panorama->picture().height)
                  .arg(panorama->rangeEv(), 0, 'f', 1);
      if (panorama->isLowRange())
        text += words(
            "<br>✕ no brighter than white anywhere: its lamps and sun were lost. \"Lost range\" is a guess.");
      else if (panorama->clippedShare() > 2e-5f)
        text += QString(words("<br>✕ %1 % of it is clipped: shadows will be too soft."))
                    .arg(100 * panorama->clippedShare(), 0, 'g', 2);
      else if (panorama->brightest().timesMean < 20)
        text += words("<br>no sun in it: overcast, or indoors");
    }
    facts_->setText(text);
  }

  void alignOrCancel() {
    if (Job* running = bench_.jobs.find("align")) return running->cancel();
    const Shot& shot = session_.shot();
    if (shot.plate.empty()) return session_.refuse(words("Choose the photo first."));
    if (shot.surroundings.panorama.empty())
      return session_.refuse(words("Choose a panorama first: it is what the photo is compared with."));
    if (!shot.vantage.solved)
      return session_.refuse(words("Solve the vantage first: then photo and panorama can be compared."));
    bench_.jobs.run<Alignment>(
        {words("Aligning the panorama"), "align"},
        [shot, assets = session_.assets()](Progress& progress) -> Result<Alignment> {
          const auto plate = assets->plate(shot);
          if (!plate) return plate.error();
          const auto panorama = assets->panorama(shot.surroundings.panorama);
          if (!panorama) return panorama.error();
          return align(**plate, workingCamera(shot.vantage), **panorama, captureGuess(shot), progress);
        },
        [this, id = shot.id, of = shot.surroundings.panorama](Alignment& found) {
          // Another shot, or another panorama by now: the answer is to a question nobody asks any more.
          const Shot* asked = byId(session_.project().shots, id);
          if (!asked || asked->surroundings.panorama != of) return;
          aligned_ = found, alignedOf_ = of, alignedShot_ = id;
          curve_->setAlignment(aligned_);
          if (!aligned_->isElsewhere) return takePeak(0);
          verdict_->show();
          verdict_->setText(words(
              "<b>From elsewhere</b>: nothing of the photo is found in this panorama, which stays as it "
              "was. Turn it by a gnomon or by hand, and match the ground."));
        });
  }

  void takePeak(int index) {
    if (!aligned_) return;
    const Alignment::Peak p = aligned_->peaks[size_t(index)];
    const bool white = matchWhite_->isChecked();
    session_.editShotOf(alignedShot_, words("align the panorama"), [&](Shot& shot) {
      Surroundings& s = shot.surroundings;
      s.turnDegrees = std::round(p.turnDegrees * 10) / 10, s.mirrored = p.mirrored;
      s.tiltDegrees = std::round(p.tiltDegrees * 10) / 10,
      s.rollDegrees = std::round(p.rollDegrees * 10) / 10;
      s.gainEv = std::round(p.gainEv * 100) / 100, s.captureM = p.captureM;
      s.captureFound = true;
      if (white && isWhiteOfOnePlace(p.white)) s.white = p.white;
    });
    verdict_->show();
    // The margin is that of the best; another peak is a choice of the person's.
    const QString margin = index == 0 ? QString(" ± %L1°").arg(aligned_->turnSigma, 0, 'f', 1) : QString("°");
    const double leans = std::hypot(p.tiltDegrees, p.rollDegrees);
    verdict_->setText(
        QString(words("%1Turn %4%5, agreement %2, taken %3 m above the ground."))
            .arg(aligned_->ambiguous
                     ? words("<b>Ambiguous</b>: other turns agree about as well; try the peaks, or "
                             "mark a gnomon. ")
                     : "")
            .arg(p.score, 0, 'f', 2)
            .arg(p.captureM.z, 0, 'f', 2)
            .arg(decimal(p.turnDegrees, 1))
            .arg(margin) +
        (leans > 0 ? " " + QString(words("It leans by %1°.")).arg(leans, 0, 'f', 1) : QString()));
  }

  QLabel *facts_, *verdict_;
  TurnCurve* curve_;
  QPushButton* align_;
  QCheckBox* matchWhite_;
  Workbench& bench_;
  std::optional<Alignment> aligned_;
  AssetRef alignedOf_;
  std::string alignedShot_;
};

}  // namespace

Desk* makeLightDesk(Workbench& bench) { return new LightDesk(bench); }

}  // namespace dusk
