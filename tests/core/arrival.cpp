#include <QtTest>

#include "core/project/by_id.h"
#include "core/project/file.h"
#include "core/set/arrival.h"
#include "core/set/furnish.h"
#include "tests/program.h"

using namespace dusk;

/// Where products stand when they come, and once their file is read in another unit.
class TestArrival : public QObject {
  Q_OBJECT
  static constexpr double large = 240, meant = 0.24;
  static Vec3d sized(double m) { return {m, 0.6 * m, 0.8 * m}; }

  /// A shot with one product that came in at that size.
  static Project arrived(Project p, double size, const char* id = "own") {
    Placement placement;
    placement.id = id;
    arrive(p, 0, placement, sized(size), none());
    p.shots[0].placements.push_back(placement);
    return p;
  }
  static SizeOf none() {
    return [](const Product&) { return std::nullopt; };
  }
  static Project empty() {
    Project p = *loadProject(DUSK_SOURCE "/demo/brackwater/brackwater.dusk");
    p.shots[0].placements.clear();
    return p;
  }
  static const Placement& own(const Project& p) { return *byId(p.shots[0].placements, "own"); }
  static double apart(const Project& a, const Project& b) {
    return std::hypot(own(a).xM - own(b).xM, own(a).yM - own(b).yM) +
           (a.shots[0].vantage.camera.position - b.shots[0].vantage.camera.position).length();
  }

 private slots:
  void readInAnotherUnitItStandsAsIfItHadComeSo_data();
  void readInAnotherUnitItStandsAsIfItHadComeSo();
};

void TestArrival::readInAnotherUnitItStandsAsIfItHadComeSo_data() {
  QTest::addColumn<QString>("place");
  for (const char* place : {"photo", "plain", "plinths", "net-loft"}) QTest::newRow(place) << place;
}

void TestArrival::readInAnotherUnitItStandsAsIfItHadComeSo() {
  QFETCH(QString, place);
  Project p = empty();
  if (place == "plain") p.shots[0].backdrop.kind = BackdropKind::plain;
  if (setKindNamed(place.toStdString())) QVERIFY(furnish(p, 0, {place.toStdString(), 4}));
  Project now = arrived(p, large);
  const Project then = arrived(p, meant);
  QVERIFY(apart(now, then) > 0.01);
  arriveAgain(now, 0, "own", sized(large), sized(meant), none());
  QVERIFY2(apart(now, then) < 1e-6, qPrintable(QString::number(apart(now, then))));
  // What a hand moved since stays.
  Project moved = arrived(p, large);
  if (place == "plain")
    moved.shots[0].backdrop.distanceM *= 1.5;
  else if (place == "photo")
    moved.shots[0].placements.back().xM += 0.3;
  else
    for (auto& [name, value] : moved.shots[0].set.sliders) value = 0.4;
  const Project before = moved;
  arriveAgain(moved, 0, "own", sized(large), sized(meant), none());
  QVERIFY(moved == before);
}

DUSK_TEST(TestArrival, NoApplication);
#include "arrival.moc"
