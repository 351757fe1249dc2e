#include "core/product/settle.h"

#include <QtTest>
#include <random>

#include "core/product/hull.h"
#include "tests/program.h"

using namespace dusk;

namespace {

std::vector<Vec3d> boxCorners(const Vec3d& size) {
  std::vector<Vec3d> corners;
  for (int i = 0; i < 8; ++i)
    corners.push_back(
        {(i & 1 ? 0.5 : -0.5) * size.x, (i & 2 ? 0.5 : -0.5) * size.y, (i & 4 ? 0.5 : -0.5) * size.z});
  return corners;
}

Vec3d about(const Vec3d& v, const Vec3d& axis, double angle) {
  return v * std::cos(angle) + axis.cross(v) * std::sin(angle) + axis * (axis.dot(v) * (1 - std::cos(angle)));
}

Mesh meshOf(const Vec3d& low, const Vec3d& high) {
  Mesh m;
  for (int i = 0; i < 8; ++i)
    m.positions.push_back(toFloat({i & 1 ? high.x : low.x, i & 2 ? high.y : low.y, i & 4 ? high.z : low.z}));
  m.normals.assign(8, {0, 0, 1});
  m.indices = {0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4,
               2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5};
  return m;
}

/// A table top on four legs, one of them `shorter`, weighted by a block towards that leg.
Model unevenTable(double shorter) {
  Model m;
  m.metresPerUnit = 1;
  const auto add = [&](const char* name, const Vec3d& low, const Vec3d& high) {
    m.add({name, name}, meshOf(low, high));
  };
  add("top", {-0.5, -0.3, 0.7}, {0.5, 0.3, 0.74});
  add("weight", {0.2, 0.1, 0.74}, {0.4, 0.25, 0.9});
  for (int i = 0; i < 4; ++i) {
    const Vec3d at((i & 1 ? 1 : -1) * 0.45, (i & 2 ? 1 : -1) * 0.25, i == 3 ? shorter : 0);
    add("leg", at, at + Vec3d(1e-6, 1e-6, 0.7 - at.z));  // feet as points
  }
  m.rest = restOf(m);
  return m;
}

}  // namespace

class TestSettle : public QObject {
  Q_OBJECT
 private slots:
  void tiltedBoxComesDownFlat();
  void topHeavyBoxFallsOnItsSide();
  void randomBodiesEndStable();
  void hullAndCentreOfMass();
  void unevenTableLeansOnItsShortLeg();
  void placementSaysHowItLies();
  void landsOnWhatIsUnderIt();
};

void TestSettle::tiltedBoxComesDownFlat() {
  std::vector<Vec3d> box = boxCorners({0.4, 0.3, 0.2});
  const Vec3d axis = Vec3d(1, 0.4, 0).normalized();
  for (Vec3d& p : box) p = about(p, axis, radians(20));
  const Settled s = settled(box, {0, 0, 0}, 1e-6);
  QCOMPARE(s.contacts.size(), size_t(4));
  QVERIFY(std::abs(s.tiltedDegrees - 20) < 1e-6);
  for (const Vec3d& c : s.contacts) QVERIFY(std::abs(c.z + 0.1) < 1e-9);  // half its height under the centre
}

void TestSettle::topHeavyBoxFallsOnItsSide() {
  // The centre of mass hangs over the right side: it goes over that edge by a right angle.
  const Settled s = settled(boxCorners({1, 1, 4}), {0.6, 0, 1}, 1e-6);
  QVERIFY(std::abs(s.tiltedDegrees - 90) < 1e-6);
  QVERIFY(s.rotation.z.x > 0.999);  // its top points to the right now
  QVERIFY(std::abs(settled(boxCorners({1, 1, 4}), {0.4, 0, 1}, 1e-6).tiltedDegrees) < 1e-9);
}

void TestSettle::randomBodiesEndStable() {
  std::mt19937 random(1);
  std::normal_distribution<double> bell(0, 1);
  for (int i = 0; i < 40; ++i) {
    std::vector<Vec3d> body;
    Vec3d centre(0, 0, 0);
    for (int k = 0; k < 30; ++k)
      body.push_back({bell(random), 0.6 * bell(random), 0.8 * bell(random)}), centre += body.back() / 30.0;
    const auto height = [&](const Settled& s) { return -s.contacts[0].z; };
    double before = 1e300;
    for (const Vec3d& p : body) before = std::min(before, p.z - centre.z);
    const Settled s = settled(body, centre, 1e-7);
    QVERIFY(s.contacts.size() >= 3 && height(s) <= -before + 1e-6);  // the centre sank
    for (Vec3d& p : body) p = s.rotation.toWorld(p - centre);
    QVERIFY(settled(body, {0, 0, 0}, 1e-6).tiltedDegrees < 1e-4);  // and rests
  }
}

void TestSettle::hullAndCentreOfMass() {
  Model m;
  m.add({}, meshOf({0, 0, 0}, {2, 1, 1}));
  Mesh mesh = meshOf({2, 0, 0}, {3, 1, 1});
  for (size_t i = 0; i < mesh.indices.size(); i += 3)
    std::swap(mesh.indices[i], mesh.indices[i + 1]);  // inside out
  m.add({}, mesh);
  m.add({}, meshOf({0.4, 0.4, 0.4}, {0.6, 0.6, 0.6}));  // inside: no corner of the hull
  const Rest rest = restOf(m);
  QCOMPARE(rest.hull.size(), size_t(8));
  const Vec3d expected =
      (Vec3d(1, 0.5, 0.5) * 2.0 + Vec3d(2.5, 0.5, 0.5) + Vec3d(0.5, 0.5, 0.5) * 0.008) / 3.008;
  QVERIFY((toDouble(rest.centreOfMass) - expected).length() < 1e-6);
  Model flat;
  flat.add({}, Mesh{{{0, 0, 0}, {1, 0, 0}, {0, 1, 0}}, {{0, 0, 1}, {0, 0, 1}, {0, 0, 1}}, {}, {}, {0, 1, 2}});
  QVERIFY((restOf(flat).centreOfMass - Vec3f(1 / 3.0f, 1 / 3.0f, 0)).length() < 1e-6f &&
          !restOf(flat).hull.empty());
  QVERIFY(restOf(Model{}).hull.size() <= 26);
}

void TestSettle::unevenTableLeansOnItsShortLeg() {
  const double shorter = 0.02;
  const Model table = unevenTable(shorter);
  Product product;
  product.id = "t", product.metresPerUnit = 1;
  const Placement placement{"p", "t", 0.3, -0.2, 0.05, 30, 0, 0};
  QVERIFY(std::abs(gapM(product, placement, table) - 0.05) < 1e-6);
  const Placement lying = settledPlacement(product, placement, table);
  // It rocks about the diagonal of the two long legs beside the short one until that touches.
  const double toDiagonal = 2 * 0.45 * 0.25 * 2 / std::hypot(0.9, 0.5),
               expected = degrees(std::atan2(shorter, toDiagonal));
  const double leaning = std::hypot(lying.leanXDegrees, lying.leanYDegrees);
  QVERIFY2(std::abs(leaning - expected) < 0.02,
           qPrintable(QString("%1, expected %2").arg(leaning).arg(expected)));
  QVERIFY(std::abs(gapM(product, lying, table)) < 1e-6);
  const Placement again = settledPlacement(product, lying, table);
  QVERIFY(std::abs(again.leanXDegrees - lying.leanXDegrees) < 1e-3 &&
          std::abs(wrapDegrees(again.turnDegrees - lying.turnDegrees)) < 1e-3);
  QVERIFY(std::abs(settledPlacement(product, placement, unevenTable(0)).leanXDegrees) < 1e-3);
}

void TestSettle::placementSaysHowItLies() {
  // Whatever the start, the placement written down puts the corners exactly where settling left them.
  Model box;
  box.add({}, meshOf({-0.2, -0.1, 0}, {0.2, 0.1, 0.5}));
  box.rest = restOf(box);
  Product product;
  product.metresPerUnit = 1;
  std::mt19937 random(2);
  std::uniform_real_distribution<double> u(-180, 180);
  for (int i = 0; i < 50; ++i) {
    const Placement start{"p", "t", 0, 0, 0.1, u(random), u(random), u(random) / 2};
    const Placement end = settledPlacement(product, start, box);
    const Similarity world = worldFromModel(product, end, box);
    int standing = 0;
    for (const Vec3f& c : box.rest.hull) {
      const double z = world.point(toDouble(c)).z;
      QVERIFY(z > -1e-5);
      standing += z < 1e-4;
    }
    QCOMPARE(standing, 4);  // on one of its sides
  }
}

void TestSettle::landsOnWhatIsUnderIt() {
  Model box;
  box.add({}, meshOf({-0.2, -0.1, 0}, {0.2, 0.1, 0.5}));
  box.rest = restOf(box);
  Product product;
  product.id = "t", product.metresPerUnit = 1;
  Shot shot;
  StandIn table;
  table.id = "table", table.name = "Table", table.positionM = {1, 0, 0}, table.sizeM = {0.8, 0.6, 0.7};
  shot.standIns.push_back(table);
  // Over the table it comes down on that; beside it on the ground; under its top it stays on the ground.
  const Landing on = landed(shot, product, {"p", "t", 1.1, 0, 1.0}, box);
  QCOMPARE(on.placement.levelId, "table");
  QCOMPARE(on.on, "Table");
  QVERIFY(!on.tips && std::abs(on.placement.liftM) < 1e-9);
  QCOMPARE(landed(shot, product, {"p", "t", 0.3, 0, 1.0}, box).placement.levelId, "");
  QCOMPARE(landed(shot, product, {"p", "t", 1.1, 0, 0.1}, box).placement.levelId, "");
  // Half over the edge its flat foot still carries it; on four legs, two of them over the edge, it would
  // fall.
  QVERIFY(!landed(shot, product, {"p", "t", 1.35, 0, 1.0}, box).tips);
  shot.standIns[0].sizeM.x = 1.2;
  Model legs = unevenTable(0);
  legs.rest = restOf(legs);
  QVERIFY(!landed(shot, product, {"p", "t", 0.97, 0, 1.0}, legs).tips);
  QVERIFY(landed(shot, product, {"p", "t", 1.25, 0, 1.0}, legs).tips);
}

DUSK_TEST(TestSettle, NoApplication);
#include "settle.moc"
