#include <QtTest>

#include "core/project/feed_kinds.h"
#include "core/surface/print.h"
#include "core/trace/geometry_probe.h"
#include "tests/core/sheet.h"
#include "tests/program.h"

using namespace dusk;

/// What is printed on parts, and what feeds ask the shape.
class TestPrints : public QObject {
  Q_OBJECT
 private slots:
  void decalsAreWhereTheyWerePut();
  void wrapsAreAsLongAsAsked();
  void decalsKnowTheirSide();
  void inkHidesWhatIsBelow();
  void theShapeIsAsked();
};

void TestPrints::decalsAreWhereTheyWerePut() {
  const LitSheet sheet(0.0254);  // a model in inches
  Decal d;
  d.picture.path = "halves", d.normal = {0, 0, 1}, d.axis = {0, 1, 0};
  d.at = Vec3d(10, 5, 0) / 25.4, d.widthMm = 30;  // so 15 high
  Surface s;
  s.baseColour = Vec3d(0);
  const MadeSurface made = sheet.made(s, {d});
  const auto colour = [&](double x, double y) {
    return made.valueAt(SurfaceValue::baseColour, sheet.at(x, y));
  };
  QCOMPARE(colour(10 - 14.95, 8), Vec3f(1, 0, 0));
  QCOMPARE(colour(10 - 15.05, 8), Vec3f(0, 0, 0));
  QCOMPARE(colour(10 + 14.95, 8), Vec3f(0, 1, 0));
  QCOMPARE(colour(10 + 15.05, 8), Vec3f(0, 0, 0));
  QCOMPARE(colour(9.95, 8), Vec3f(1, 0, 0));
  QCOMPARE(colour(10.05, 8), Vec3f(0, 1, 0));
  QCOMPARE(colour(10, 5 + 7.55), Vec3f(0, 0, 0));
  QCOMPARE(colour(12, 5 + 7.45), Vec3f(0, 1, 0));
  QCOMPARE(colour(12, 5 - 3.7), Vec3f(0, 1, 0));  // above the clear quarter of 3.75 mm
  QCOMPARE(colour(12, 5 - 3.8), Vec3f(0, 0, 0));
  // Turned by a half, left is right; mirrored, too, but not upside down.
  d.turnDegrees = 180;
  QCOMPARE(sheet.made(s, {d}).valueAt(SurfaceValue::baseColour, sheet.at(0, 4)), Vec3f(0, 1, 0));
  d.turnDegrees = 0, d.mirrored = true;
  QCOMPARE(sheet.made(s, {d}).valueAt(SurfaceValue::baseColour, sheet.at(0, 8)), Vec3f(0, 1, 0));
  QCOMPARE(sheet.made(s, {d}).valueAt(SurfaceValue::baseColour, sheet.at(0, -1)), Vec3f(0, 0, 0));
}

void TestPrints::wrapsAreAsLongAsAsked() {
  Decal d;
  d.lay = DecalLay::wrapped, d.axis = {0, 0, 1}, d.at = {0, -30, 12}, d.widthMm = 80, d.heightMm = 20;
  const DecalFrame f = frameOf(d, 1, 0.5f);
  QVERIFY(close(f.radius, 30) && (f.normal - Vec3f(0, -1, 0)).length() < 1e-6f);
  for (const double arc : {-39.9, -20.0, 0.0, 15.0, 39.9}) {
    const double a = arc / 30;
    const Vec3f at(float(30 * std::sin(a)), float(-30 * std::cos(a)), 15),
        out(float(std::sin(a)), float(-std::cos(a)), 0);
    const auto on = onDecal(d, f, at, out);
    QVERIFY(on && close(on->x, arc, 1e-3) && close(on->y, 3, 1e-4));
    Vec3f outward;
    QVERIFY((pointOf(d, f, *on, &outward) - at).length() < 1e-3f && (outward - out).length() < 1e-5f);
  }
  const double past = 40.1 / 30;
  QVERIFY(!onDecal(d, f, {float(30 * std::sin(past)), float(-30 * std::cos(past)), 12},
                   {float(std::sin(past)), float(-std::cos(past)), 0}));
  QVERIFY(!onDecal(d, f, {0, -30, 22.1f}, {0, -1, 0}));
  d.turnDegrees = 90;  // then its width runs along the axis
  const DecalFrame turned = frameOf(d, 1, 0.5f);
  const auto on = onDecal(d, turned, {0, -30, 12 + 39.9f}, {0, -1, 0});
  QVERIFY(on && close(std::abs(on->x), 39.9, 1e-2));
  QVERIFY((pointOf(d, turned, *on) - Vec3f(0, -30, 51.9f)).length() < 1e-3f);
}

void TestPrints::decalsKnowTheirSide() {
  Decal d;
  d.normal = {0, 0, 1}, d.axis = {0, 1, 0}, d.widthMm = 20, d.heightMm = 20, d.reachMm = 3,
  d.steepDegrees = 60;
  const DecalFrame f = frameOf(d, 1, 1);
  QVERIFY(onDecal(d, f, {1, 1, 2.9f}, {0, 0, 1}) && !onDecal(d, f, {1, 1, 3.1f}, {0, 0, 1}));
  QVERIFY(onDecal(d, f, {1, 1, 0}, {0, 0, -1}));
  d.side = DecalSide::outside;
  QVERIFY(onDecal(d, f, {1, 1, 0}, {0, 0, 1}) && !onDecal(d, f, {1, 1, 0}, {0, 0, -1}));
  d.side = DecalSide::inside;
  QVERIFY(!onDecal(d, f, {1, 1, 0}, {0, 0, 1}) && onDecal(d, f, {1, 1, 0}, {0, 0, -1}));
  d.side = DecalSide::outside;
  const auto leaning = [](double by) {
    return Vec3f(float(std::sin(radians(by))), 0, float(std::cos(radians(by))));
  };
  QVERIFY(onDecal(d, f, {1, 1, 0}, leaning(59)) && !onDecal(d, f, {1, 1, 0}, leaning(61)));
}

void TestPrints::inkHidesWhatIsBelow() {
  const LitSheet sheet;
  Surface glass;
  glass.transmission = 1, glass.metalness = 1, glass.roughness = 0.02, glass.emission = Vec3d(1);
  Decal d;
  d.picture.path = "halves", d.normal = {0, 0, 1}, d.axis = {0, 1, 0}, d.widthMm = 40;
  d.roughness = 0.6, d.clearcoat = 0.8;
  const auto at = [&](const Decal& decal, double y) {
    BsdfParameters p;
    Vec3f n(0, 0, 1);
    sheet.made(glass, {decal}).at(sheet.at(-5, y), p, n);
    return p;
  };
  const BsdfParameters ink = at(d, 5), clear = at(d, -8);
  QVERIFY(close(ink.transmission, 0) && close(ink.metalness, 0) && close(ink.roughness, 0.6) &&
          close(ink.clearcoat, 0.8) && close(ink.emission.x, 0));
  QVERIFY(close(clear.transmission, 1) && close(clear.roughness, 0.02) && close(clear.emission.x, 1));
  d.opacity = 0.5, d.metalness = 1;
  const BsdfParameters half = at(d, 5);
  QVERIFY(close(half.transmission, 0.5) && close(half.metalness, 1) && close(half.base.x, 0.75) &&
          close(half.base.y, 0.25));
  d.on = false;
  QVERIFY(close(at(d, 5).transmission, 1));
}

void TestPrints::theShapeIsAsked() {
  // A cube of 40 mm, and a smaller one standing on its middle.
  auto model = std::make_shared<Model>();
  const auto cube = [&](const char* name, float half, float z) {
    Mesh mesh;
    for (int axis = 0; axis < 3; ++axis)
      for (const float side : {-1.0f, 1.0f}) {
        const uint32_t first = uint32_t(mesh.positions.size());
        for (const Vec2f& c : {Vec2f(-1, -1), Vec2f(1, -1), Vec2f(1, 1), Vec2f(-1, 1)}) {
          Vec3f p, n(0);
          p[axis] = side, p[(axis + 1) % 3] = c.x * side, p[(axis + 2) % 3] = c.y;
          n[axis] = side;
          mesh.positions.push_back(p * half + Vec3f(0, 0, z)), mesh.normals.push_back(n);
        }
        for (const uint32_t i : {0u, 1u, 2u, 0u, 2u, 3u}) mesh.indices.push_back(first + i);
      }
    model->add({name, name}, std::move(mesh));
  };
  cube("large", 0.02f, 0.02f), cube("small", 0.005f, 0.045f);
  model->metresPerUnit = 1;
  GeometryCache cache;
  const auto placed = std::make_shared<PlacedGeometry>(
      cache.device(), std::vector<PlacedGeometry::Instance>{{cache.get(model, {}), Similarity{}}});
  const GeometryProbe probe(placed);
  const Vec3f up(0, 0, 1);
  QCOMPARE(probe.exposed({0.012f, 0.012f, 0.04f}, up, 0.003f), 0.0f);  // far from every edge
  QVERIFY(probe.exposed({0.0198f, 0.0f, 0.04f}, up, 0.003f) > 0.35f);  // at one
  QVERIFY(probe.exposed({0.0198f, 0.0198f, 0.04f}, up, 0.003f) >
          probe.exposed({0.0198f, 0.0f, 0.04f}, up, 0.003f));
  QVERIFY(probe.covered({0.0053f, 0, 0.04f}, up, 0.01f) > 0.3f);  // where the small one stands
  QCOMPARE(probe.covered({0.018f, 0.018f, 0.04f}, up, 0.01f), 0.0f);
  QVERIFY(close(probe.thickness({0.012f, 0, 0.04f}, up, 1), 0.04, 1e-3));
  QVERIFY(close(probe.thickness({0.012f, 0, 0.04f}, up, 0.01f), 0.01));
  // As feeds: edges 1 at the edge and 0 inside; up, height and ground by where it is.
  Product product;
  product.metresPerUnit = 1;
  const auto shapes = cache.shapes(model);
  const auto value = [&](FeedKind kind, double sizeMm, const Vec3f& at, const Vec3f& normal) {
    Feed f = newFeed(kind);
    f.sizeMm = sizeMm, f.share = 0;
    const MadeSurface made(layerOf(withFeeds({f}, 0), {}), {}, model->meshes[0],
                           factsOf(model->parts[0], shapes->parts[0], product, shapes->whole, 0), 1000, {});
    SurfacePoint p{};
    p.position = p.onMesh = at, p.geometricNormal = normal, p.view = Vec3f(0.6f, 0, 0.8f), p.probe = &probe;
    return made.valueAt(SurfaceValue::roughness, p).x;
  };
  QVERIFY(close(value(FeedKind::edges, 3, {0.012f, 0, 0.04f}, up), 0) &&
          value(FeedKind::edges, 3, {0.0199f, 0, 0.04f}, up) > 0.8f);
  QVERIFY(close(value(FeedKind::facingUp, 1, {0, 0, 0.04f}, up), 1) &&
          close(value(FeedKind::facingUp, 1, {0, -0.02f, 0.02f}, {0, -1, 0}), 0));
  QVERIFY(close(value(FeedKind::height, 40, {0, -0.02f, 0.01f}, {0, -1, 0}), 0.25, 1e-4));
  QVERIFY(close(value(FeedKind::nearGround, 40, {0, -0.02f, 0.01f}, {0, -1, 0}), 0.75, 1e-4));
  QVERIFY(close(value(FeedKind::facing, 1, {0, 0, 0.04f}, up), 0.8, 1e-4));
  QVERIFY(close(value(FeedKind::thickness, 80, {0.012f, 0, 0.04f}, up), 0.5, 1e-2));
}

DUSK_TEST(TestPrints, NoApplication);
#include "prints.moc"
