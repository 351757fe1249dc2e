#include "core/motion/drop.h"

#include <QtTest>
#include <random>

#include "core/motion/ready.h"
#include "core/product/hull.h"
#include "core/product/settle.h"
#include "tests/program.h"

using namespace dusk;

/// Things that fall: they come to rest as the static solver says is stable, and the same way each time.
class TestDrop : public QObject {
  Q_OBJECT
  /// A body with a box's eight corners, put elsewhere.
  static std::shared_ptr<const Model> modelOf(const std::vector<Vec3d>& corners) {
    auto model = std::make_shared<Model>();
    model->metresPerUnit = 1;
    Mesh mesh;
    for (const Vec3d& c : corners) mesh.positions.push_back(toFloat(c)), mesh.normals.push_back({0, 0, 1});
    mesh.indices = {0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4,
                    2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5};
    model->add({"body", "body"}, std::move(mesh));
    model->rest = restOf(*model);
    return model;
  }
  static std::vector<Vec3d> box(double x, double y, double z) {
    std::vector<Vec3d> all;
    for (int i = 0; i < 8; ++i)
      all.push_back({(i & 1 ? x : -x) / 2, (i & 2 ? y : -y) / 2, (i & 4 ? z : -z) / 2});
    return all;
  }
  struct Hung {
    Project project;
    std::shared_ptr<const Model> model;
    const Placement& placement() const { return project.shots[0].placements[0]; }
    Result<Drop> fall(const DropSettings& settings = {}) const {
      return dropped(
          project, 0, placement(), [&](const Product&) { return model; }, settings);
    }
  };
  static Hung hung(std::shared_ptr<const Model> model, double lift, double leanX, double leanY, double turn) {
    Hung h;
    h.model = std::move(model);
    Product product;
    product.id = "product-1", product.name = "Thing";
    product.metresPerUnit = 1;
    h.project.products = {product};
    Shot shot;
    shot.id = "shot-1", shot.motion.picturesPerSecond = 24;
    shot.placements = {{"placement-1", "product-1", 0.2, -0.1, lift, turn, leanX, leanY}};
    h.project.shots = {shot};
    return h;
  }

 private slots:
  void tenDropsEndStable();
  void theSameWayEachTime();
  void itFallsAsFastAsThingsFall();
  void itLandsOnWhatIsInTheWay();
  void whatStandsIsLetGoAbove();
  void keysAreBaked();
  void whatCannotFallIsSaid();
  void readyMotions();
};

void TestDrop::whatStandsIsLetGoAbove() {
  const auto from = [](const Hung& h) {
    return droppedFromAbove(h.project, 0, h.placement(), [&](const Product&) { return h.model; });
  };
  const auto model = modelOf(box(0.3, 0.2, 0.1));
  const auto standing = from(hung(model, 0, 0, 0, 20));
  QVERIFY(standing && standing->rests);
  QVERIFY(std::abs(standing->pictures.front().liftM - 0.05) < 1e-6);
  QVERIFY(std::abs(standing->pictures.back().liftM) < 1e-3);
  // A fall of five centimetres takes a tenth of a second, and it bounces once or twice: no trembling after.
  QVERIFY2(standing->pictures.size() < 24, qPrintable(QString::number(standing->pictures.size())));
  // The still of the shot showed it standing, and does.
  Shot shot = hung(model, 0, 0, 0, 20).project.shots[0];
  bake(shot, shot.placements[0], *standing, 0);
  QCOMPARE(shot.motion.stillAtSeconds, shot.motion.tracks[0].keys.back().seconds);
  // What hangs already falls from there.
  const Hung above = hung(model, 0.4, 0, 0, 20);
  const auto hanging = from(above);
  QVERIFY(hanging && hanging->pictures == above.fall()->pictures);
}

void TestDrop::tenDropsEndStable() {
  std::mt19937 random(3);
  std::uniform_real_distribution<double> u(-1, 1);
  double worst = 0;
  for (int i = 0; i < 10; ++i) {
    // Boxes, a wedge, and lumps; from a centimetre to a metre across.
    const double size = std::pow(10, -2 + 2 * i / 9.0);
    std::vector<Vec3d> corners = box(1, 0.7, 0.4);
    if (i % 3 == 1) corners[5].x = corners[4].x, corners[7].x = corners[6].x;
    if (i % 3 == 2)
      for (Vec3d& c : corners)
        c = {c.x * (1 + 0.3 * u(random)), c.y * (1 + 0.3 * u(random)), c.z * (1.2 + 0.3 * u(random))};
    for (Vec3d& c : corners) c *= size;
    const Hung h = hung(modelOf(corners), 0.6 * size, 70 * u(random), 70 * u(random), 180 * u(random));
    const auto drop = h.fall();
    QVERIFY2(drop, drop ? "" : drop.error().message.c_str());
    QVERIFY2(drop->rests, qPrintable(QString::number(i)));
    worst = std::max(worst, drop->tiltedDegrees);
    const Placement& end = drop->pictures.back();
    // Where it lies, the static solver has nothing more to turn.
    const Placement settled = settledPlacement(h.project.products[0], end, *h.model);
    QVERIFY(std::abs(settled.leanXDegrees - end.leanXDegrees) < 0.01 &&
            std::abs(settled.leanYDegrees - end.leanYDegrees) < 0.01);
    QVERIFY(std::abs(gapM(h.project.products[0], end, *h.model)) < 1e-5 * size);
    // It does not sink in on its way by more than a hundredth of its size.
    for (const Placement& p : drop->pictures)
      QVERIFY2(gapM(h.project.products[0], p, *h.model) > -0.01 * size,
               qPrintable(QString("%1: %2").arg(i).arg(gapM(h.project.products[0], p, *h.model) / size)));
  }
  qInfo() << "where it came to rest against the stable pose: at most" << worst << "degrees";
  QVERIFY(worst < 1.5);
}

void TestDrop::theSameWayEachTime() {
  const Hung h = hung(modelOf(box(0.1, 0.2, 0.3)), 0.2, 30, -50, 20);
  const auto one = h.fall(), other = h.fall();
  QVERIFY(one && other);
  QVERIFY(one->pictures == other->pictures);
  QVERIFY(one->pictures.front() == h.placement());
  DropSettings dead;
  dead.bounce = 0;
  QVERIFY(h.fall(dead)->pictures.size() < one->pictures.size() + 12);
  QVERIFY(!(h.fall(dead)->pictures == one->pictures));
}

void TestDrop::itFallsAsFastAsThingsFall() {
  const Hung h = hung(modelOf(box(0.1, 0.1, 0.1)), 2, 0, 0, 0);
  const auto drop = h.fall();
  QVERIFY(drop);
  for (int picture = 1; picture < 12; ++picture) {
    const double t = picture / 24.0;
    QVERIFY2(std::abs(drop->pictures[size_t(picture)].liftM - (2 - 0.5 * 9.80665 * t * t)) < 0.02,
             qPrintable(QString::number(drop->pictures[size_t(picture)].liftM)));
  }
}

void TestDrop::itLandsOnWhatIsInTheWay() {
  Hung h = hung(modelOf(box(0.1, 0.1, 0.1)), 0.8, 0, 0, 0);
  StandIn crate;
  crate.id = "crate", crate.positionM = {0.2, -0.1, 0}, crate.sizeM = {0.5, 0.5, 0.3};
  h.project.shots[0].standIns = {crate};
  auto drop = h.fall();
  QVERIFY(drop && drop->rests);
  QVERIFY(std::abs(drop->pictures.back().liftM - 0.3) < 0.003);
  // Another product of the shot: here the same cube, a metre wide, below.
  h.project.shots[0].standIns.clear();
  h.project.products.push_back(h.project.products[0]);
  h.project.products[1].id = "product-2", h.project.products[1].metresPerUnit = 10;
  h.project.shots[0].placements.push_back({"placement-2", "product-2", 0.2, -0.1, -0.5});
  drop = h.fall();
  QVERIFY(drop && drop->rests);
  QVERIFY2(std::abs(drop->pictures.back().liftM - 0.5) < 0.003,
           qPrintable(QString::number(drop->pictures.back().liftM)));
}

void TestDrop::keysAreBaked() {
  Hung h = hung(modelOf(box(0.1, 0.2, 0.1)), 0.3, 25, 10, 170);
  const auto drop = h.fall();
  QVERIFY(drop);
  Shot& shot = h.project.shots[0];
  bake(shot, h.placement(), *drop, 0.5);
  QCOMPARE(shot.motion.tracks.size(), size_t(1));
  QCOMPARE(shot.motion.tracks[0].keys.size(), drop->pictures.size());
  for (size_t i = 0; i < drop->pictures.size(); ++i) {
    const Placement now = at(h.project, 0, 0.5 + double(i) / 24).project.shots[0].placements[0];
    QVERIFY(std::abs(now.turnDegrees - drop->pictures[i].turnDegrees) < 1e-6);
    QVERIFY(std::abs(now.liftM - drop->pictures[i].liftM) < 1e-6);
  }
  QVERIFY(at(h.project, 0, 0).project.shots[0].placements[0] == h.placement());
  QVERIFY(shot.motion.seconds >= shot.motion.tracks[0].keys.back().seconds);
  bake(shot, h.placement(), *drop, 0.5);  // again: in place of it
  QCOMPARE(shot.motion.tracks[0].keys.size(), drop->pictures.size());
}

void TestDrop::whatCannotFallIsSaid() {
  Hung h = hung(nullptr, 1, 0, 0, 0);
  QVERIFY(!h.fall());
  h = hung(modelOf(box(1, 1, 1)), 1, 0, 0, 0);
  h.project.products[0].hiddenParts = {"body"};
  QVERIFY(!h.fall());
}

void TestDrop::readyMotions() {
  Hung h = hung(modelOf(box(0.1, 0.2, 0.1)), 0, 0, 0, 30);
  Project& p = h.project;
  Shot& shot = p.shots[0];
  const Placement stands = h.placement();
  const auto placed = [&](double seconds) { return at(p, 0, seconds).project.shots[0].placements[0]; };
  turnRound(shot, stands);
  QVERIFY(std::abs(placed(1).turnDegrees - 150) < 1e-9 && shot.motion.loops);
  QCOMPARE(shot.motion.tracks.size(), size_t(1));
  const Camera camera = [] {
    Camera c;
    c.width = 300, c.height = 200, c.focalPx = 300, c.position = {0, -2, 1};
    return c;
  }();
  slideIn(shot, stands, camera);
  QCOMPARE(shot.motion.tracks.size(), size_t(1));
  QVERIFY(placed(3) == stands);
  QVERIFY(placed(0).xM < -1);
  openAndShut(p, 0, "product-1", "lid/hinge");
  const auto lid = [&](double seconds) {
    return at(p, 0, seconds).project.products[0].moves.at("lid/hinge").turnDegrees;
  };
  QCOMPARE(lid(0), 0.0);
  QCOMPARE(lid(1.5), 90.0);
  QCOMPARE(lid(3), 0.0);
  goRound(shot, 60);
  QCOMPARE(at(p, 0, 0).project.shots[0].backdrop.azimuthDegrees, -30.0);
  QCOMPARE(at(p, 0, 1.5).project.shots[0].backdrop.azimuthDegrees, 30.0);
}

DUSK_TEST(TestDrop, QCoreApplication);
#include "drop.moc"
