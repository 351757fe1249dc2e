#include <QtTest>

#include "core/project/feed_kinds.h"
#include "core/surface/edit.h"
#include "tests/core/sheet.h"
#include "tests/program.h"

using namespace dusk;

/// What a surface comes to at a spot: feeds, masks, coats and mappings, by their laws.
class TestSurface : public QObject {
  Q_OBJECT
 private slots:
  void feedsLieOnEachOther();
  void masksSayWhere();
  void rangesTurnOver();
  void whatIsShutDoesNotCount();
  void mappingsKeepMillimetres_data();
  void mappingsKeepMillimetres();
  void boxesShowTheSideThatFaces();
  void partsAreScattered();
  void bumpsLeanByTheirSlope();
  void coatsCover();
  void glowIsMeasured();
};

void TestSurface::feedsLieOnEachOther() {
  const LitSheet sheet;
  QVERIFY(close(sheet.value(withFeeds({}), 0, 0), 0.5));
  QVERIFY(close(sheet.value(withFeeds({plain(0.8)}), 0, 0), 0.8));
  QVERIFY(close(sheet.value(withFeeds({plain(0.5, FeedJoin::multiply)}), 0, 0), 0.25));
  QVERIFY(close(sheet.value(withFeeds({plain(0.2, FeedJoin::add)}), 0, 0), 0.7));
  // The first lies on top; strength is a share of the way.
  QVERIFY(close(sheet.value(withFeeds({plain(0.5, FeedJoin::multiply), plain(0.8)}), 0, 0), 0.4));
  QVERIFY(close(sheet.value(withFeeds({plain(0.8), plain(0.5, FeedJoin::multiply)}), 0, 0), 0.8));
  Feed half = plain(0.9);
  half.strength = 0.25;
  QVERIFY(close(sheet.value(withFeeds({half}), 0, 0), 0.5 + 0.25 * 0.4));
  // Shares stay shares.
  QVERIFY(close(sheet.value(withFeeds({plain(5, FeedJoin::add)}), 0, 0), 1));
  QVERIFY(close(sheet.value(withFeeds({plain(-5, FeedJoin::add)}), 0, 0), 0));
}

void TestSurface::masksSayWhere() {
  const LitSheet sheet;
  Feed mask = newFeed(FeedKind::stripes);
  mask.sizeMm = 20, mask.indent = 1, mask.mapping.kind = MappingKind::flat;
  const Surface s = withFeeds({plain(1), mask, plain(0)});
  // Stripes begin at the part's middle: on for the first half of each 20 mm.
  QVERIFY(close(sheet.value(s, 5, 0), 1) && close(sheet.value(s, 15, 0), 0) &&
          close(sheet.value(s, -15, 0), 1));
  // A mask of a mask, and one that is shut: then the row counts everywhere.
  Feed inner = plain(0);
  inner.indent = 2;
  QVERIFY(close(sheet.value(withFeeds({plain(1), mask, inner, plain(0)}), 15, 0), 1));
  mask.on = false;
  QVERIFY(close(sheet.value(withFeeds({plain(1), mask, plain(0)}), 15, 0), 1));
  // An indent that nothing is above is a row like others.
  Feed lost = plain(0.3);
  lost.indent = 4;
  QVERIFY(close(sheet.value(withFeeds({lost}), 0, 0), 0.3));
}

void TestSurface::rangesTurnOver() {
  const LitSheet sheet;
  Feed f = newFeed(FeedKind::gradient);
  f.sizeMm = 100, f.mapping.axis = MappingAxis::x;
  QVERIFY(close(sheet.value(withFeeds({f}), 25, 0), 0.75, 1e-3));
  f.from = 1, f.to = 0;
  QVERIFY(close(sheet.value(withFeeds({f}), 25, 0), 0.25, 1e-3));
  f.from = 0.5, f.to = 0.75;
  QVERIFY(close(sheet.value(withFeeds({f}), 12.5, 0), 0.5, 1e-3));
  f.from = f.to = 0.5;
  QVERIFY(close(sheet.value(withFeeds({f}), 1, 0), 1) && close(sheet.value(withFeeds({f}), -1, 0), 0));
  f.from = 0, f.to = 1, f.low = Vec3d(0.9), f.high = Vec3d(0.1);
  QVERIFY(close(sheet.value(withFeeds({f}), 25, 0), 0.3, 1e-3));
}

void TestSurface::whatIsShutDoesNotCount() {
  const LitSheet sheet;
  Feed off = plain(1), none = plain(1), lost = newFeed(FeedKind::picture);
  off.on = false, none.strength = 0;
  QVERIFY(
      close(sheet.value(withFeeds({off, none, lost}), 0, 0), 0.5));  // nor a picture that none was chosen for
  QVERIFY(isEven(Surface{}) && !isEven(withFeeds({off})));
  Surface tidied = withFeeds({});
  QVERIFY(!(tidied == Surface{}));
  tidy(tidied);
  QVERIFY(tidied == Surface{});
}

void TestSurface::mappingsKeepMillimetres_data() {
  QTest::addColumn<double>("unit");
  QTest::addColumn<int>("kind");
  for (const double unit : {0.001, 0.0254, 1.0})
    for (const MappingKind kind :
         {MappingKind::solid, MappingKind::box, MappingKind::flat, MappingKind::coordinates})
      QTest::addRow("%g, %d", unit, int(kind)) << unit << int(kind);
}

void TestSurface::mappingsKeepMillimetres() {
  QFETCH(double, unit);
  QFETCH(int, kind);
  const LitSheet sheet(unit);
  Feed f = newFeed(FeedKind::stripes);
  f.sizeMm = 7, f.mapping.kind = MappingKind(kind), f.mapping.sizeMm = {1, 1};
  const MadeSurface made = sheet.made(withFeeds({f}, 0));
  int rises = 0;
  double first = 0, last = 0;
  float was = 1;
  for (double x = -49; x < 49; x += 0.01) {
    const float is = made.valueAt(SurfaceValue::roughness, sheet.at(x, 3)).x;
    if (is > 0.5f && was < 0.5f) (rises++ ? last : first) = x;
    was = is;
  }
  QVERIFY(rises > 10);
  QVERIFY2(std::abs((last - first) / (rises - 1) / 7 - 1) < 0.005,
           qPrintable(QString::number((last - first) / (rises - 1))));
  // Turned by a quarter it runs the other way; shifted, it is elsewhere by so much.
  f.mapping.turnDegrees = 90;
  const MadeSurface turned = sheet.made(withFeeds({f}, 0));
  if (MappingKind(kind) != MappingKind::coordinates)
    QVERIFY(close(turned.valueAt(SurfaceValue::roughness, sheet.at(-20, 3)).x,
                  turned.valueAt(SurfaceValue::roughness, sheet.at(20, 3)).x));
  f.mapping.turnDegrees = 0, f.mapping.shiftMm = {2.5, 0};
  const MadeSurface moved = sheet.made(withFeeds({f}, 0));
  for (const double x : {-31.0, -3.0, 11.0})
    QVERIFY(close(moved.valueAt(SurfaceValue::roughness, sheet.at(x + 2.5, 3)).x,
                  made.valueAt(SurfaceValue::roughness, sheet.at(x, 3)).x));
}

void TestSurface::boxesShowTheSideThatFaces() {
  PartFacts part;
  part.boxMm.low = Vec3d(-50), part.boxMm.high = Vec3d(50);
  Mapping box;
  box.kind = MappingKind::box;
  Site site;
  site.mm = {10, 20, 30};
  site.normal = {0, -1, 0};  // looked at from the front: X to the right, Z up
  OnPlanes on = onPlanes(box, part, site);
  QCOMPARE(on.count, 1);
  QCOMPARE(on.list[0].mm, Vec2f(10, 30));
  site.normal = {0, 1, 0};  // from behind, right is the other way
  on = onPlanes(box, part, site);
  QCOMPARE(on.list[0].mm, Vec2f(-10, 30));
  site.normal = Vec3f(1, 1, 0).normalized();
  on = onPlanes(box, part, site);
  QCOMPARE(on.count, 2);
  QVERIFY(close(on.list[0].weight + on.list[1].weight, 1) && close(on.list[0].weight, 0.5));
  // Round an axis: as far as the arc, on a cylinder as wide as the part.
  Mapping round;
  round.kind = MappingKind::cylinder;
  site.mm = {50, 0, 7}, site.normal = {1, 0, 0};
  on = onPlanes(round, part, site);
  QVERIFY(close(on.list[0].mm.x, 50 * pi / 2, 1e-3) && close(on.list[0].mm.y, 7));
  round.kind = MappingKind::ball;
  site.mm = {0, 0, 50};
  on = onPlanes(round, part, site);
  QVERIFY(close(on.list[0].mm.y, 50 * pi / 2, 1e-2));
}

void TestSurface::partsAreScattered() {
  PartFacts a, b;
  a.path = "Box/Board", b.path = "Box/Board 2";
  Mapping m;
  m.scatterMm = 100;
  const PatternPoint one = inSpace(m, a, {}), two = inSpace(m, b, {}), again = inSpace(m, a, {});
  QVERIFY((one.mm - two.mm).length() > 5 && one.mm == again.mm);
  for (int i = 0; i < 3; ++i) QVERIFY(std::abs(one.mm[i]) <= 100);
}

void TestSurface::bumpsLeanByTheirSlope() {
  const LitSheet sheet;
  Feed f = newFeed(FeedKind::gradient);
  f.sizeMm = 100, f.mapping.axis = MappingAxis::x, f.join = FeedJoin::add;
  f.high = Vec3d(20);  // rises 20 mm in 100
  Surface s;
  s.feeds[SurfaceValue::bump] = {f};
  const auto lean = [&](const Surface& surface, bool inside) {
    SurfacePoint p = sheet.at(3, 4);
    p.inside = inside;
    if (inside) p.geometricNormal = p.view = {0, 0, -1};
    BsdfParameters out;
    Vec3f n = p.geometricNormal;
    sheet.made(surface).at(p, out, n);
    return n;
  };
  const Vec3f n = lean(s, false);
  QVERIFY(close(n.length(), 1) && close(-n.x / n.z, 0.2, 2e-3) && close(n.y, 0, 1e-4));
  // From within the body the same surface is seen from its other side.
  const Vec3f within = lean(s, true);
  QVERIFY((within + n).length() < 1e-3f);
  QVERIFY(lean(Surface{}, false) == Vec3f(0, 0, 1));
  // Raised print, the same way: flat in its middle.
  QVERIFY(close(sheet.made(s).valueAt(SurfaceValue::bump, sheet.at(25, 0)).x, 15, 1e-2));
}

void TestSurface::coatsCover() {
  const LitSheet sheet;
  Surface s;
  s.baseColour = Vec3d(0.1), s.metalness = 1;
  Coat paint;
  paint.surface.baseColour = Vec3d(0.7), paint.surface.metalness = 0;
  s.coats = {paint};
  const auto colour = [&](const Surface& of, double x) {
    return sheet.made(of).valueAt(SurfaceValue::baseColour, sheet.at(x, 0)).x;
  };
  QVERIFY(close(colour(s, 0), 0.7));
  s.coats[0].strength = 0.5;
  QVERIFY(close(colour(s, 0), 0.4));
  s.coats[0].on = false;
  QVERIFY(close(colour(s, 0), 0.1));
  s.coats[0] = paint;
  Feed where = newFeed(FeedKind::stripes);
  where.sizeMm = 20, where.mapping.kind = MappingKind::flat;
  s.coats[0].mask = {where};
  QVERIFY(close(colour(s, 5), 0.7) && close(colour(s, 15), 0.1));
  // The first lies on top of the second.
  Coat dust;
  dust.surface.baseColour = Vec3d(0.3);
  s.coats.insert(s.coats.begin(), dust);
  QVERIFY(close(colour(s, 5), 0.3) && close(colour(s, 15), 0.3));
}

void TestSurface::glowIsMeasured() {
  const LitSheet sheet;
  Surface s;
  Feed f = newFeed(FeedKind::stripes);
  f.sizeMm = 10, f.share = 0.25, f.mapping.kind = MappingKind::flat, f.high = Vec3d(8);
  s.feeds[SurfaceValue::emission] = {f};
  const MadeSurface made = sheet.made(s);
  QVERIFY(made.emitsUnevenly());
  QVERIFY2(std::abs(made.emission().x - 2) < 0.35f, qPrintable(QString::number(double(made.emission().x))));
  QVERIFY(close(made.valueAt(SurfaceValue::emission, sheet.at(1, 0)).x, 8) &&
          close(made.valueAt(SurfaceValue::emission, sheet.at(6, 0)).x, 0));
  Surface even;
  even.emission = Vec3d(3);
  QVERIFY(!sheet.made(even).emitsUnevenly() && close(sheet.made(even).emission().x, 3));
}

DUSK_TEST(TestSurface, NoApplication);
#include "surface.moc"
