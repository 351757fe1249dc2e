#include <QtTest>

#include "bench/box_world.h"
#include "core/base/median.h"
#include "core/light/align.h"
#include "core/light/lean.h"
#include "core/light/level_lines.h"
#include "core/light/lights.h"
#include "core/light/sightings.h"
#include "tests/program.h"

using namespace dusk;
using bench::BoxWorld;

/// Panoramas taken among near things: what the light alone gets wrong, landmarks and level edges get right.
class TestAlignNear : public QObject {
  Q_OBJECT
  struct Taken {
    Camera camera;
    Picture photo;
    std::shared_ptr<const Panorama> panorama;
    Surroundings truth;
    Vec3d captureM;
  };
  static Taken taken(BoxWorld::Kind kind, unsigned seed, bool mirrored, double off, double height,
                     double tilt = 0, double roll = 0, int width = 1000) {
    const BoxWorld world(kind, seed);
    const bool table = kind == BoxWorld::Kind::table;
    Taken t;
    for (double azimuth = seed; azimuth < seed + 6; azimuth += 0.1) {
      const double away = table ? 1.2 : 2.0;
      t.camera = lookAt(720, 480, focalPxFromMm35(28, 720, 480),
                        {away * std::sin(azimuth), away * std::cos(azimuth), table ? 0.5 : 1.2}, {0, 0, 0.2});
      if (!world.isTaken(toFloat(t.camera.position))) break;
    }
    for (double azimuth = 1; azimuth < 7; azimuth += 0.1) {
      t.captureM = {off * std::sin(azimuth), off * std::cos(azimuth), height};
      if (!world.isTaken(toFloat(t.captureM))) break;
    }
    t.photo = world.photo(t.camera);
    for (float& v : t.photo.pixels) v = std::min(v, 1.0f);
    t.truth.turnDegrees = 77, t.truth.gainEv = 1.3, t.truth.mirrored = mirrored;
    t.truth.tiltDegrees = tilt, t.truth.rollDegrees = roll;
    Picture p = world.panorama(toFloat(t.captureM), width,
                               [&](const Vec3f& d) { return worldFromPanorama(t.truth, d); });
    for (float& v : p.pixels) v *= float(std::exp2(-t.truth.gainEv));
    t.panorama = Panorama::make(std::move(p));
    return t;
  }

 private slots:
  void levelEdgesTellTheTurnUpToAQuarter();
  void landmarksAreMostLikelyFromWhereTheyWereSeen();
  void thingsAreSeenAsLargeAndAsUprightAsTheyAreFarOff();
  void whatLooksAlikeIsToldBySizeAndTilt();
  void panoramasAmongNearThingsAreFound_data();
  void panoramasAmongNearThingsAreFound();
  void whatAStepAsideExplainsAsWellIsDoubted();
  void uprightsTellHowItLeans();
  void whatLeansIsAlignedUpright();
};

void TestAlignNear::levelEdgesTellTheTurnUpToAQuarter() {
  for (const unsigned seed : {3u}) {
    const Taken t = taken(BoxWorld::Kind::interior, seed, false, 0.5, 0.8);
    const auto mine = levelDirections(segmentsOf({cutOf(t.photo, t.camera)})),
               theirs = levelDirections(segmentsOf(cutsOf(*t.panorama)));
    QVERIFY(mine && theirs);
    const double off = std::remainder(mine->degrees - theirs->degrees - t.truth.turnDegrees, 90.0);
    QVERIFY2(std::abs(off) < 0.5, qPrintable(QString::number(off)));
  }
  // Nothing runs anywhere in particular in a fog.
  Picture fog = Picture::rgb(512, 256);
  std::fill(fog.pixels.begin(), fog.pixels.end(), 0.4f);
  QVERIFY(!levelDirections(segmentsOf(cutsOf(*Panorama::make(std::move(fog))))));
}

void TestAlignNear::uprightsTellHowItLeans() {
  const double tilt = -1.5, roll = 3;
  const Taken t = taken(BoxWorld::Kind::street, 12, false, 0.5, 1.4, tilt, roll, 2000);
  const auto lean = leanOf(cutsOf(*t.panorama));
  QVERIFY(lean);
  const double off = std::hypot(lean->tiltDegrees - tilt, lean->rollDegrees - roll);
  QVERIFY2(off < 0.4 && off < 4 * lean->sigmaDegrees, qPrintable(QString::number(off)));
  // Set upright by what is true, it does not lean any more.
  const auto left = leanOf(cutsOf(*straightened(*t.panorama, {tilt, roll, 0})));
  QVERIFY(left && left->degrees() < 0.4);
  Picture fog = Picture::rgb(512, 256);
  std::fill(fog.pixels.begin(), fog.pixels.end(), 0.4f);
  QVERIFY(!leanOf(cutsOf(*Panorama::make(std::move(fog)))));
}

void TestAlignNear::whatLeansIsAlignedUpright() {
  Progress progress;
  CaptureGuess guess;
  guess.reachM = 1.5;
  // Mirrored, it leans to the other side.
  const Taken t = taken(BoxWorld::Kind::interior, 5, true, 0.5, 1.2, 2, -3, 2000);
  const auto found = align(t.photo, t.camera, *t.panorama, guess, progress);
  QVERIFY(found);
  const Alignment::Peak& best = found->best();
  QVERIFY(best.mirrored && found->leanIsTold);
  QVERIFY(std::abs(wrapDegrees(best.turnDegrees - t.truth.turnDegrees)) < 1);
  const double off = std::hypot(best.tiltDegrees - 2, best.rollDegrees + 3);
  QVERIFY2(off < 0.6, qPrintable(QString::number(off)));
}

void TestAlignNear::landmarksAreMostLikelyFromWhereTheyWereSeen() {
  for (const bool mirrored : {false, true}) {
    const Taken t = taken(BoxWorld::Kind::table, 21, mirrored, 0.4, 0.4);
    auto found = landmarks(cutOf(t.photo, t.camera), cutsOf(*t.panorama));
    const double away = t.camera.position.length();
    const Sightings right(std::move(found[mirrored]), t.camera.position, away),
        wrong(std::move(found[!mirrored]), t.camera.position, away);
    const double turn = radians(t.truth.turnDegrees), sigma = radians(0.5),
                 truth = right.likelihood(turn, t.captureM, sigma);
    QVERIFY2(truth > 30, qPrintable(QString::number(truth)));
    QVERIFY(right.closely(turn, t.captureM) > truth);  // the camera is exact, and so are bearings
    QVERIFY(right.fitting(turn, t.captureM).size() * 4 > right.size());
    for (const double by : {-0.3, 0.1, 2.0})
      QVERIFY(right.likelihood(turn + by, t.captureM, sigma) < truth - 10);
    for (const Vec3d& by : {Vec3d(0.3, 0, 0), Vec3d(0, -0.3, 0), Vec3d(0, 0, 0.3)})
      QVERIFY(right.likelihood(turn, t.captureM + by, sigma) < truth);
    QVERIFY(wrong.likelihood(turn, t.captureM, sigma) < 10);
  }
}

// What the detector says of size and direction is what the geometry of the place says.
void TestAlignNear::thingsAreSeenAsLargeAndAsUprightAsTheyAreFarOff() {
  for (const bool mirrored : {false, true}) {
    const Taken t = taken(BoxWorld::Kind::table, 21, mirrored, 0.6, 0.5);
    auto found = landmarks(cutOf(t.photo, t.camera), cutsOf(*t.panorama));
    const Sightings sightings(std::move(found[mirrored]), t.camera.position, t.camera.position.length());
    const double turn = radians(t.truth.turnDegrees);
    std::vector<double> octavesOff, tilts;
    for (const size_t i : sightings.fitting(turn, t.captureM)) {
      const Landmark& l = sightings.at(i);
      const Vec3d& p = l.panorama;
      const Vec3d q(std::cos(turn) * p.x + std::sin(turn) * p.y, -std::sin(turn) * p.x + std::cos(turn) * p.y,
                    p.z),
          base = (t.camera.position - t.captureM).normalized();
      if (q.cross(l.photo).length() < 0.1) continue;  // too far off to say
      octavesOff.push_back(
          std::abs(l.octaves - std::log2(l.photo.cross(base).length() / q.cross(base).length())));
      tilts.push_back(std::abs(degrees(l.tilt)));
    }
    QVERIFY(octavesOff.size() > 15);
    QVERIFY2(medianInPlace(octavesOff) < 0.25, qPrintable(QString::number(medianInPlace(octavesOff))));
    QVERIFY2(medianInPlace(tilts) < 10, qPrintable(QString::number(medianInPlace(tilts))));
  }
}

// The same bearings, of which a part is the same thing and the rest only looks alike.
void TestAlignNear::whatLooksAlikeIsToldBySizeAndTilt() {
  std::mt19937 random(4);
  std::uniform_real_distribution<> u(0, 1);
  const Vec3d eye(0, -2, 1.2), captureM(0.6, 0.4, 0.5);
  std::vector<Landmark> same;
  for (int i = 0; i < 30; ++i) {
    const Vec3d thing(3 * u(random) - 1.5, 1 + 3 * u(random), 0.3 + 1.5 * u(random));
    Landmark l{(thing - eye).normalized(), (thing - captureM).normalized()};
    l.octaves = std::log2((thing - captureM).length() / (thing - eye).length());
    same.push_back(l);
  }
  const auto likelihood = [&](double octaves, double tilt, const Vec3d& from) {
    std::vector<Landmark> some = same;
    for (Landmark& l : some) l.octaves += octaves, l.tilt = tilt;
    return Sightings(std::move(some), eye, eye.length()).closely(0, from);
  };
  const double truth = likelihood(0, 0, captureM);
  QVERIFY(truth > 150);
  QVERIFY(likelihood(0.1, radians(5), captureM) > 0.9 * truth);
  for (const double octaves : {-1.0, 1.0}) QVERIFY(likelihood(octaves, 0, captureM) < truth - 30);
  for (const double tilt : {45.0, 90.0, 180.0}) QVERIFY(likelihood(0, radians(tilt), captureM) < truth - 60);
  for (const Vec3d& by : {Vec3d(0.2, 0, 0), Vec3d(0, 0.3, 0), Vec3d(0, 0, -0.2)})
    QVERIFY(likelihood(0, 0, captureM + by) < truth - 10);
}

void TestAlignNear::panoramasAmongNearThingsAreFound_data() {
  QTest::addColumn<int>("kind");
  QTest::addColumn<bool>("mirrored");
  QTest::addColumn<double>("off");
  QTest::newRow("a room, at the spot") << int(BoxWorld::Kind::interior) << false << 0.0;
  QTest::newRow("a room, a metre off") << int(BoxWorld::Kind::interior) << true << 1.0;
  QTest::newRow("a street, half a metre off") << int(BoxWorld::Kind::street) << true << 0.5;
  QTest::newRow("a table, among its things") << int(BoxWorld::Kind::table) << false << 0.35;
}

void TestAlignNear::panoramasAmongNearThingsAreFound() {
  QFETCH(int, kind);
  QFETCH(bool, mirrored);
  QFETCH(double, off);
  const Taken t = taken(BoxWorld::Kind(kind), 31, mirrored, off, 0.6);
  CaptureGuess guess;
  guess.reachM = 0.7 * t.camera.position.length();
  Progress progress;
  const auto found = align(t.photo, t.camera, *t.panorama, guess, progress);
  QVERIFY(found.ok());
  const Alignment::Peak& best = found->best();
  const double turn = std::abs(wrapDegrees(best.turnDegrees - t.truth.turnDegrees)),
               ev = std::abs(best.gainEv - t.truth.gainEv);
  const QString what =
      QString("%1 deg, %2 EV, %3").arg(turn).arg(ev).arg(best.mirrored == mirrored ? "" : "mirrored");
  QVERIFY2(best.mirrored == mirrored && turn < 1 && ev < 0.15, qPrintable(what));
  QVERIFY(found->turnSigma > 0.05 && found->turnSigma < 2.5);
}

// Near the camera's own place, a metre from where the panorama was taken, most of a table is seen in the same
// directions once that is turned by so much: landmarks hold no turn there.
void TestAlignNear::whatAStepAsideExplainsAsWellIsDoubted() {
  const Taken t = taken(BoxWorld::Kind::table, 6, false, 0.9, 0.3);
  CaptureGuess guess;
  guess.reachM = 0.7 * t.camera.position.length();
  Progress progress;
  const auto found = align(t.photo, t.camera, *t.panorama, guess, progress);
  QVERIFY(found.ok());
  const double off = std::abs(wrapDegrees(found->best().turnDegrees - t.truth.turnDegrees));
  QVERIFY2(off < 1 || (found->ambiguous && off < 4 * found->turnSigma), qPrintable(QString::number(off)));
}

DUSK_TEST(TestAlignNear, NoApplication);
#include "align_near.moc"
