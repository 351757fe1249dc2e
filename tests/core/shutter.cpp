// An open shutter against closed forms: how an edge that moves is spread, and what its shadow does.
#include <QtTest>

#include "core/deliver/shutter.h"
#include "core/light/panorama.h"
#include "core/motion/edit.h"
#include "tests/handed_over.h"
#include "tests/program.h"
#include "tests/stage.h"

using namespace dusk;

class TestShutter : public QObject {
  Q_OBJECT
  /// A square plate that faces the camera two metres away, and slides to its right.
  static constexpr int size = 96;
  static Camera camera() {
    Camera c = lookAt(size, size, size, {0, -2, 0}, {0, 0, 0});
    return c;
  }
  static Mesh square() {
    Mesh m;
    m.positions = {{-0.3f, 0, -0.3f}, {0.3f, 0, -0.3f}, {0.3f, 0, 0.3f}, {-0.3f, 0, 0.3f}};
    m.normals.assign(4, {0, -1, 0});
    m.indices = {0, 1, 2, 0, 2, 3};
    return m;
  }
  /// The scene at so many moments while it slides by `metres`, in the order passes see them.
  static void slide(Stage& stage, double metres, int moments) {
    stage.scene.samples = 1024;
    const auto& still = stage.scene.geometry->instances()[0];
    for (const int i : spreadOrder(moments)) {
      Scene then = stage.scene;
      auto instance = still;
      instance.worldFromModel.shift.x = metres * ((i + 0.5) / moments - 0.5);
      then.geometry = std::make_shared<PlacedGeometry>(stage.cache.device(),
                                                       std::vector<PlacedGeometry::Instance>{instance});
      then.during.clear();
      stage.scene.during.push_back(std::make_shared<const Scene>(then));
    }
  }

 private slots:
  void momentsAreSpread();
  void anEdgeIsSpreadOverItsWay();
  void whatStandsStillStaysSharp();
  void aDocumentOpensItsShutter();
};

void TestShutter::momentsAreSpread() {
  for (const int count : {1, 2, 7, 16, 96, 128}) {
    const auto order = spreadOrder(count);
    QCOMPARE(order.size(), size_t(count));
    QCOMPARE(std::set<int>(order.begin(), order.end()).size(), size_t(count));
    // Any number of the first leave no gap much wider than if they were even.
    for (int first = 1; first <= count; ++first) {
      std::set<int> seen(order.begin(), order.begin() + first);
      int gap = 0, before = -1;
      for (const int i : seen) gap = std::max(gap, i - before), before = i;
      gap = std::max(gap, count - before);
      QVERIFY2(gap <= 2 * count / first + 2,
               qPrintable(QString("%1 of %2: %3").arg(first).arg(count).arg(gap)));
    }
  }
  QVERIFY(spreadOrder(0).empty());
}

void TestShutter::anEdgeIsSpreadOverItsWay() {
  Stage stage(square(), black(), evenSky(), camera(), false);
  const double metres = 0.5, pxPerM = size / 2.0;
  slide(stage, metres, 128);
  Passes passes = traced(stage, camera(), 1024);
  double worst = 0, sum = 0;
  int count = 0;
  for (int x = 0; x < size; ++x) {
    // The share of the time for which each point of the pixel is covered, over the pixel: the trapezoid of
    // two ramps, as wide as the way, averaged over a pixel by many points.
    double share = 0;
    constexpr int points = 1000;
    for (int k = 0; k < points; ++k) {
      const double at = (x + (k + 0.5) / points - size / 2.0) / pxPerM;
      share += std::max(0.0, std::min(at + 0.3, metres / 2) - std::max(at - 0.3, -metres / 2)) / metres;
    }
    share /= points;
    const double is = passes.alpha.at(x, size / 2)[0], off = std::abs(is - share);
    worst = std::max(worst, off), sum += off, ++count;
  }
  qInfo() << "alpha of a moving edge against its closed form: worst" << worst << "mean" << sum / count;
  QVERIFY(worst <= 0.01);
}

void TestShutter::whatStandsStillStaysSharp() {
  Stage still(square(), black(), evenSky(), camera(), false),
      open(square(), black(), evenSky(), camera(), false);
  slide(open, 0, 8), slide(still, 0, 1);
  const Passes a = traced(still, camera(), 16), b = traced(open, camera(), 16);
  QVERIFY(a.alpha.pixels == b.alpha.pixels);
  QVERIFY(a.beauty.pixels == b.beauty.pixels);
}

void TestShutter::aDocumentOpensItsShutter() {
  HandedOver quay("brackwater", "brackwater.dusk");
  Project p = quay.project();
  Shot& shot = p.shots[0];
  const Thing thing = thingOf("/shots/" + shot.id + "/placements/" + shot.placements[0].id + "/xM");
  putKeyOf(shot, p, thing, 0);
  Project moved = p;
  moved.shots[0].placements[0].xM += 0.24;
  putKeyOf(shot, moved, thing, 1);
  for (MotionKey& key : shot.motion.tracks[0].keys) key.easing = Easing::even;
  const auto opened = [&](double seconds) {
    const Project shown = at(p, 0, seconds).project;
    auto compiled = compile(shown, 0, quay.assets, quay.cache, quay.progress);
    compiled->scene.samples = 8;
    (void)openShutter(p, shown, 0, seconds, quay.assets, quay.cache, compiled->scene, quay.progress);
    return compiled->scene;
  };
  const Scene moving = opened(0.5);
  QCOMPARE(moving.during.size(), size_t(8));
  // Half a picture's time at 24 a second: 5 mm of 24 cm, and the moments lie within.
  double low = 1e9, high = -1e9;
  const double now = moving.geometry->instances()[0].worldFromModel.shift.x;
  for (const auto& then : moving.during) {
    const double x = then->geometry->instances()[0].worldFromModel.shift.x - now;
    low = std::min(low, x), high = std::max(high, x);
    QVERIFY(then->materials == moving.materials);  // shared
    QVERIFY(then->lights == moving.lights);
    QVERIFY(then->camera == moving.camera);
  }
  QVERIFY(std::abs(low + 0.0025 * 7 / 8) < 1e-6 && std::abs(high - 0.0025 * 7 / 8) < 1e-6);
  QVERIFY(opened(2).during.empty());  // after its last key nothing moves
  shot.motion.shutterDegrees = 0;
  QVERIFY(opened(0.5).during.empty());
  // A lamp that turns, and a surface that changes, are seen at all moments, too.
  shot.motion.shutterDegrees = 180;
  shot.motion.tracks = {{"t",
                         "/shots/" + shot.id + "/surroundings/turnDegrees",
                         MotionLoop::once,
                         {{0, "0.0", Easing::even}, {1, "90.0"}}}};
  const Scene turning = opened(0.5);
  QCOMPARE(turning.during.size(), size_t(8));
  QVERIFY(turning.during[0]->lights != turning.lights);
}

DUSK_TEST(TestShutter, QCoreApplication);
#include "shutter.moc"
