#include <QtTest>

#include "core/project/feed_kinds.h"
#include "core/project/file.h"
#include "core/surface/edit.h"
#include "core/surface/library.h"
#include "core/surface/made_surface.h"
#include "core/surface/print.h"
#include "core/trace/bsdf.h"
#include "core/trace/geometry_probe.h"
#include "core/trace/sampler.h"
#include "core/trace/thin_film.h"

using namespace dusk;

namespace {

/// A texture that is red on its left half and green on its right, clear in its lower quarter.
class Halves : public Texture {
 public:
  Halves() { width = 200, height = 100; }
  Texel at(const Vec2f& uv, const Vec2f&, const Vec2f&, bool repeats) const override {
    const float u = repeats ? uv.x - std::floor(uv.x) : uv.x, v = repeats ? uv.y - std::floor(uv.y) : uv.y;
    if (u < 0 || u > 1 || v < 0.25f || v > 1) return {Rgb(0), 0};
    return {u < 0.5f ? Rgb(1, 0, 0) : Rgb(0, 1, 0), 1};
  }
};
std::shared_ptr<const Texture> halves(const AssetRef&, bool, int, int) { return std::make_shared<Halves>(); }

/// A level square of 100 mm about the origin in a model of that unit.
struct Sheet {
  Model model;
  Product product;
  explicit Sheet(double metresPerUnit = 0.001) {
    const float half = float(0.05 / metresPerUnit);
    Mesh mesh;
    for (const Vec2f& c : {Vec2f(-1, -1), Vec2f(1, -1), Vec2f(1, 1), Vec2f(-1, 1)}) {
      mesh.positions.push_back({c.x * half, c.y * half, 0}), mesh.normals.push_back({0, 0, 1});
      mesh.uvs.push_back((c + Vec2f(1)) / 2);
    }
    mesh.indices = {0, 1, 2, 0, 2, 3};
    model.add({"sheet", "sheet"}, std::move(mesh));
    product.metresPerUnit = metresPerUnit;
  }
  MadeSurface made(const Surface& surface, const std::vector<Decal>& decals = {}) const {
    const auto shapes = shapesOf(model);
    return MadeSurface(layerOf(surface, halves), decals, model.meshes[0],
                       factsOf(model.parts[0], shapes[0], product, model.box(), 0),
                       product.metresPerUnit * 1000, halves);
  }
  /// Millimetres from the middle.
  SurfacePoint at(double x, double y) const {
    const float unit = float(product.metresPerUnit * 1000);
    SurfacePoint p{};
    p.onMesh = Vec3f(float(x), float(y), 0) / unit;
    p.position = p.onMesh * float(product.metresPerUnit);
    p.geometricNormal = p.view = {0, 0, 1};
    p.uv = {float(x / 100 + 0.5), float(y / 100 + 0.5)};
    p.alongU = {1, 0, 0}, p.alongV = {0, 1, 0};
    p.perUv = Vec2f(100 / unit);
    static const Triadf straight;
    p.worldFromMesh = &straight;
    return p;
  }
  float value(const Surface& s, double x, double y, SurfaceValue of = SurfaceValue::roughness) const {
    return made(s).valueAt(of, at(x, y)).x;
  }
};

Feed plain(double value, FeedJoin join = FeedJoin::mix) {
  Feed f;
  f.high = Vec3d(value), f.join = join;
  return f;
}
Surface withFeeds(std::vector<Feed> feeds, double ground = 0.5) {
  Surface s;
  s.roughness = ground;
  s.feeds[SurfaceValue::roughness] = std::move(feeds);
  return s;
}
bool close(double a, double b, double by = 1e-5) { return std::abs(a - b) <= by; }

}  // namespace

/// What a surface comes to at a spot: feeds, coats, mappings and prints, by their laws.
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
  void decalsAreWhereTheyWerePut();
  void wrapsAreAsLongAsAsked();
  void decalsKnowTheirSide();
  void inkHidesWhatIsBelow();
  void theShapeIsAsked();
  void shineGoesThereAndBack();
  void useIsPutOnAndTakenOff();
  void oneValueIsShownAlone();
  void theLibraryIsSound();
  void filesKeepThemAll();
  void filmsStayWithinLight();
  void specularScalesTheMirror();
};

void TestSurface::feedsLieOnEachOther() {
  const Sheet sheet;
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
  const Sheet sheet;
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
  const Sheet sheet;
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
  const Sheet sheet;
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
  const Sheet sheet(unit);
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
  const Sheet sheet;
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
  const Sheet sheet;
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
  const Sheet sheet;
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

void TestSurface::decalsAreWhereTheyWerePut() {
  const Sheet sheet(0.0254);  // a model in inches
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

void TestSurface::wrapsAreAsLongAsAsked() {
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

void TestSurface::decalsKnowTheirSide() {
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

void TestSurface::inkHidesWhatIsBelow() {
  const Sheet sheet;
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

void TestSurface::theShapeIsAsked() {
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

void TestSurface::shineGoesThereAndBack() {
  for (const LibrarySurface& entry : surfaceLibrary()) {
    const Surface& s = entry.surface;
    for (const double to : {0.1, 0.5, 0.9}) {
      const Surface moved = withShine(s, to);
      QVERIFY2(std::abs(shineOf(moved) - to) < 0.02,
               qPrintable(QString("%1: %2 for %3").arg(s.name.c_str()).arg(shineOf(moved)).arg(to)));
      QCOMPARE(moved.baseColour, s.baseColour);
      QCOMPARE(moved.metalness, s.metalness);
    }
    QVERIFY(std::abs(shineOf(withShine(s, shineOf(s))) - shineOf(s)) < 1e-6);
  }
}

void TestSurface::useIsPutOnAndTakenOff() {
  Surface s = *librarySurface("preset-harbour-enamel");
  const Surface fresh = s;
  QVERIFY(useOf(s) == Use{});
  const Use use{0.5, 0.3, 0.8, 0.4};
  s = withUse(s, use);
  QCOMPARE(s.coats.size(), size_t(4));
  const Use read = useOf(s);
  QVERIFY(close(read.edges, 0.5) && close(read.dust, 0.3) && close(read.smudges, 0.8) &&
          close(read.waves, 0.4));
  QCOMPARE(s.coats.front().name, std::string("Settled dust"));  // what fell last lies on top
  // What was changed by hand stays when the amount is.
  s.coats.front().surface.baseColour = Vec3d(0.9, 0.1, 0.1);
  s = withUse(s, {0.5, 0.9, 0.8, 0.4});
  QCOMPARE(s.coats.front().surface.baseColour, Vec3d(0.9, 0.1, 0.1));
  QVERIFY(withUse(s, {}) == fresh);
}

void TestSurface::oneValueIsShownAlone() {
  Project p;
  p.surfaces = {withFeeds({plain(0.8), newFeed(FeedKind::cloud)}), Surface{}};
  p.surfaces[0].id = "a", p.surfaces[1].id = "b", p.surfaces[1].emission = Vec3d(4);
  p.shots.emplace_back();
  const Sheet sheet;
  FeedPlace place;
  place.value = SurfaceValue::roughness;
  const Project alone = shownAlone(p, "a", place);
  const auto glow = [&](const Project& of, size_t i) {
    return sheet.made(of.surfaces[i]).valueAt(SurfaceValue::emission, sheet.at(3, 3)).x;
  };
  QVERIFY(close(glow(alone, 0), 0.8) && close(glow(alone, 1), 0));
  place.row = 1;
  Feed cloud = newFeed(FeedKind::cloud);
  QVERIFY(close(glow(shownAlone(p, "a", place), 0), sheet.value(withFeeds({cloud}, 0), 3, 3)));
  place.row = 0, place.coat = 7;  // a coat that is gone
  QVERIFY(close(glow(shownAlone(p, "a", place), 0), 0));
}

void TestSurface::theLibraryIsSound() {
  std::set<std::string> ids, families;
  for (const LibrarySurface& entry : surfaceLibrary()) {
    QVERIFY(ids.insert(entry.surface.id).second);
    families.insert(entry.family);
    Project p;
    p.surfaces = {entry.surface};
    p.shots.emplace_back();
    const auto again = fromText(toText(p));
    QVERIFY2(again, again ? "" : again.error().message.c_str());
    QVERIFY(again->surfaces == p.surfaces);
    const Sheet sheet;
    const MadeSurface made = sheet.made(entry.surface);
    for (int i = 0; i < 40; ++i) {
      BsdfParameters out;
      SurfacePoint at = sheet.at(-45 + 2.2 * i, 40 - 1.9 * i);
      at.width = i % 2 ? 0.0f : 0.0005f;
      Vec3f n(0, 0, 1);
      made.at(at, out, n);
      for (const float v :
           {out.base.x, out.roughness, out.metalness, out.clearcoat, out.transmission, out.sheen})
        QVERIFY2(v >= 0 && v <= 1, entry.surface.name.c_str());
      QVERIFY2(close(n.length(), 1, 1e-3) && n.z > 0.05f, entry.surface.name.c_str());
    }
  }
  QVERIFY(ids.size() >= 120 && families.size() >= 10);
  QVERIFY(!librarySurface("preset-none"));
}

void TestSurface::filesKeepThemAll() {
  Project p;
  p.shots.emplace_back();
  Surface s = *librarySurface("preset-worn-enamel");
  Feed f = newFeed(FeedKind::picture);
  f.picture = {"grain.png", "abc"}, f.channel = PictureChannel::green, f.texture = 2, f.indent = 1;
  f.mapping = {MappingKind::cylinder, MappingAxis::y, {12, 3}, {1, 2}, 33, 4};
  s.feeds[SurfaceValue::normal] = {newFeed(FeedKind::plain), f};
  p.surfaces = {s};
  Product product;
  Decal d;
  d.id = "decal-1", d.picture = {"label.svg", "def"}, d.parts = {"a/b"}, d.lay = DecalLay::wrapped,
  d.side = DecalSide::inside;
  d.roughness = 0.2, d.turnDegrees = 12;
  product.decals = {d};
  p.products = {product};
  const auto again = fromText(toText(p));
  QVERIFY2(again, again ? "" : again.error().message.c_str());
  QVERIFY(*again == p);
  // Numbers out of their range, and words nobody knows, are one sentence.
  Project bad = p;
  bad.surfaces[0].feeds[SurfaceValue::normal][0].sizeMm = -1;
  QVERIFY(!fromText(toText(bad)));
  bad = p;
  bad.products[0].decals[0].normal = Vec3d(0);
  QVERIFY(!fromText(toText(bad)));
  std::string text = toText(p);
  text.replace(text.find("\"cylinder\""), 10, "\"sideways\"");
  const auto refused = fromText(text);
  QVERIFY(!refused && refused.error().message.find("cylinder") != std::string::npos);
}

void TestSurface::filmsStayWithinLight() {
  for (const float base : {0.04f, 0.5f, 0.95f})
    for (float nm = 0; nm < 1500; nm += 37)
      for (const float cosine : {0.05f, 0.4f, 1.0f}) {
        const Rgb r = filmedReflectance(Rgb(base), nm, 1.4f, cosine);
        for (int c = 0; c < 3; ++c) QVERIFY(r[c] >= 0 && r[c] <= 1);
      }
  // Nothing of a film is no film; a thick one has lost its colour.
  QVERIFY((filmedReflectance(Rgb(0.5f), 0, 1.4f, 1) - Rgb(0.5f)).length() < 0.05f);
  const Rgb thick = filmedReflectance(Rgb(0.5f), 20000, 1.4f, 1);
  QVERIFY(std::abs(thick.x - thick.y) < 0.02f && std::abs(thick.y - thick.z) < 0.02f);
  const Rgb thin = filmedReflectance(Rgb(0.04f), 350, 2.0f, 1);
  QVERIFY(maxComponent(thin) - std::min({thin.x, thin.y, thin.z}) > 0.05f);
}

void TestSurface::specularScalesTheMirror() {
  BsdfParameters p;
  p.base = Rgb(0), p.roughness = 0.3f;
  const auto returned = [](const BsdfParameters& of) {
    const Bsdf bsdf(of, Vec3f(0.3f, 0, 0.954f));
    Rgb sum(0);
    for (uint32_t i = 0; i < 20000; ++i) {
      Sampler sampler(1, 2, 0, i);
      const Vec2f u = sampler.next2();
      const auto drawn = bsdf.sample(u, sampler.next1());
      if (drawn.pdf > 0) sum += drawn.weight.sum() / 20000.0f;
    }
    return sum;
  };
  const float whole = returned(p).x;
  p.specular = 0.5f;
  QVERIFY(std::abs(returned(p).x / whole - 0.5f) < 0.03f);
  p.specular = 0;
  QVERIFY(returned(p).x < 1e-4f);
  // White furnace: with a film or less mirror, nothing comes back that was not sent, and matte white loses
  // none.
  p.base = Rgb(1), p.roughness = 1, p.specular = 0;
  QVERIFY(std::abs(returned(p).x - 1) < 0.01f);
  for (const float nm : {200.0f, 450.0f}) {
    p = {};
    p.base = Rgb(1), p.metalness = 1, p.roughness = 0.4f, p.filmNm = nm;
    const float ofMetal = maxComponent(returned(p));
    QVERIFY2(ofMetal <= 1.02f, qPrintable(QString::number(double(ofMetal))));
    p.metalness = 0, p.specular = 1;
    const float ofPaint = maxComponent(returned(p));
    QVERIFY2(ofPaint <= 1.01f, qPrintable(QString::number(double(ofPaint))));
  }
}

QTEST_APPLESS_MAIN(TestSurface)
#include "surface.moc"
