#include <QGuiApplication>
#include <QtTest>

#include "core/project/feed_kinds.h"
#include "core/surface/edit.h"
#include "core/surface/flakes.h"
#include "core/surface/values.h"
#include "tests/core/sheet.h"
#include "tests/program.h"

using namespace dusk;

/// What surfaces gained beside their first values: flakes, gauze, pictures thrown on, coats' own normals.
class TestFlakes : public QObject {
  Q_OBJECT
 private slots:
  void flakesCoverTheirShare_data();
  void flakesCoverTheirShare();
  void flakesLieAskewAndTheCoatEven();
  void fromAfarFlakesAreOneSheen();
  void everyValueHasItsPlace();
  void feedsGiveTheNewValues();
  void opacityMakesGaps();
  void coatNormalsBendTheCoatAlone();
  void picturesAreThrownOnFromTheEye();
  void thrownPicturesGrowWithDistance();
  void cloudsKeepWhatTheyDoNotSendOn();
};

namespace {

Surface flaked(double share) {
  Surface s;
  s.flakes = share, s.flakeMm = 0.5, s.flakeTiltDegrees = 10, s.flakeColour = {1, 0.5, 0.25};
  s.clearcoat = 1, s.baseColour = Vec3d(0.1);
  return s;
}

/// The look at a spot, `width` metres across.
std::pair<BsdfParameters, Vec3f> lookedAt(const MadeSurface& made, SurfacePoint p, float width = 0) {
  p.width = width;
  BsdfParameters out;
  Vec3f normal = p.geometricNormal;
  made.at(p, out, normal);
  return {out, normal};
}

}  // namespace

void TestFlakes::flakesCoverTheirShare_data() {
  QTest::addColumn<double>("share");
  for (const double share : {0.1, 0.5, 0.9, 1.0}) QTest::addRow("%g", share) << share;
}

void TestFlakes::flakesCoverTheirShare() {
  QFETCH(double, share);
  const LitSheet sheet;
  const MadeSurface made = sheet.made(flaked(share));
  int met = 0;
  constexpr int n = 100;
  for (int y = 0; y < n; ++y)
    for (int x = 0; x < n; ++x) {
      const auto [look, normal] = lookedAt(made, sheet.at(x * 0.9 - 45, y * 0.9 - 45));
      QVERIFY(look.metalness == 0 || look.metalness == 1);  // one or none
      met += look.metalness == 1;
      if (look.metalness == 1) QCOMPARE(look.base, Rgb(1, 0.5f, 0.25f));
    }
  QVERIFY2(std::abs(met / double(n * n) - share) < 0.02, qPrintable(QString::number(met)));
}

void TestFlakes::flakesLieAskewAndTheCoatEven() {
  const LitSheet sheet;
  const MadeSurface made = sheet.made(flaked(1));
  double squares = 0;
  Vec3d mean(0);
  constexpr int n = 80;
  for (int y = 0; y < n; ++y)
    for (int x = 0; x < n; ++x) {
      const auto [look, normal] = lookedAt(made, sheet.at(x * 1.1 - 44, y * 1.1 - 44));
      QVERIFY((look.coatNormal - Vec3f(0, 0, 1)).length() < 1e-5f);
      const double lean = double(std::hypot(normal.x, normal.y) / normal.z);
      squares += lean * lean / (n * n), mean += toDouble(normal) / double(n * n);
    }
  // Each of two slopes has the spread of the tilt.
  const double expected = 2 * std::tan(radians(10)) * std::tan(radians(10));
  QVERIFY2(std::abs(squares / expected - 1) < 0.05, qPrintable(QString::number(squares / expected)));
  QVERIFY(std::hypot(mean.x, mean.y) < 0.01);
  // The same spot is the same flake, whoever looks.
  const auto [a, first] = lookedAt(made, sheet.at(3.3, 4.4));
  const auto [b, again] = lookedAt(made, sheet.at(3.3, 4.4));
  QCOMPARE(first, again);
}

void TestFlakes::fromAfarFlakesAreOneSheen() {
  const LitSheet sheet;
  const MadeSurface made = sheet.made(flaked(0.4));
  for (const double x : {-20.0, 3.0, 31.0}) {
    const auto [look, normal] = lookedAt(made, sheet.at(x, 7), 0.02f);
    QVERIFY(close(double(look.metalness), 0.4, 1e-5) && normal == Vec3f(0, 0, 1));
    QVERIFY(look.roughness > 0.4f);  // as wide as their tilt
  }
}

void TestFlakes::everyValueHasItsPlace() {
  Surface s;
  s.baseColour = {0.1, 0.2, 0.3}, s.opacity = 0.25, s.filmNm = 410, s.sheenColour = {1, 0, 0};
  QCOMPARE(groundOf(s, SurfaceValue::baseColour), Vec3d(0.1, 0.2, 0.3));
  QCOMPARE(groundOf(s, SurfaceValue::opacity), Vec3d(0.25));
  QCOMPARE(groundOf(s, SurfaceValue::film), Vec3d(410));
  QCOMPARE(groundOf(s, SurfaceValue::bump), Vec3d(0));
  const BsdfParameters p = parametersOf(s);
  for (const ValuePlace& place : valuePlaces()) {
    QVERIFY((place.number && place.share) != (place.colour && place.light));
    // What the document holds is what light meets.
    if (place.number) QCOMPARE(p.*place.share, float(s.*place.number));
    if (place.colour) QCOMPARE(p.*place.light, toFloat(s.*place.colour));
    QCOMPARE(placeOf(place.value)->value, place.value);
  }
}

void TestFlakes::feedsGiveTheNewValues() {
  const LitSheet sheet;
  for (const SurfaceValue value : {SurfaceValue::subsurface, SurfaceValue::specular, SurfaceValue::anisotropy,
                                   SurfaceValue::sheenRoughness, SurfaceValue::opacity}) {
    Surface s;
    s.feeds[value] = {plain(0.375)};
    QVERIFY(close(double(sheet.value(s, 1, 2, value)), 0.375));
    s.feeds[value] = {plain(9)};
    QCOMPARE(sheet.value(s, 1, 2, value), 1.0f);  // shares stay shares
  }
  Surface film;
  film.feeds[SurfaceValue::film] = {plain(555)};
  QCOMPARE(sheet.value(film, 1, 2, SurfaceValue::film), 555.0f);
  QCOMPARE(begunFeed(FeedKind::noise, {-1, false, SurfaceValue::film, -1}, film).high, Vec3d(600));
}

void TestFlakes::opacityMakesGaps() {
  const LitSheet sheet;
  Surface s;
  QVERIFY(!sheet.made(s).hasGaps() && sheet.made(s).isOpaque());
  s.feeds[SurfaceValue::opacity] = {plain(0.5)};
  QVERIFY(sheet.made(s).hasGaps() && !sheet.made(s).isOpaque());
  Surface coated;
  Coat coat;
  coat.surface = s;
  coated.coats = {coat};
  QVERIFY(sheet.made(coated).hasGaps());
  BsdfParameters p;
  p.opacity = 0.9f;
  QVERIFY(PlainMaterial(p).hasGaps() && !PlainMaterial(p).isOpaque());
}

void TestFlakes::coatNormalsBendTheCoatAlone() {
  const LitSheet sheet;
  Surface s;
  s.clearcoat = 1;
  Feed map = newFeed(FeedKind::picture);  // red on its left half: leans along +x
  map.picture.path = "map.png", map.channel = PictureChannel::data,
  map.mapping.kind = MappingKind::coordinates;
  s.feeds[SurfaceValue::coatNormal] = {map};
  const MadeSurface made = sheet.made(s);
  const auto [look, normal] = lookedAt(made, sheet.at(-20, 20));
  QCOMPARE(normal, Vec3f(0, 0, 1));
  QVERIFY(look.coatNormal.x > 0.5f);
  s.clearcoat = 0;
  QCOMPARE(lookedAt(sheet.made(s), sheet.at(-20, 20)).first.coatNormal, Vec3f(0));  // nothing to lean
}

void TestFlakes::picturesAreThrownOnFromTheEye() {
  const LitSheet sheet;
  Surface s;
  Feed picture = newFeed(FeedKind::picture);  // red left, green right, clear in its lower quarter
  picture.picture.path = "p.png";
  picture.mapping.kind = MappingKind::camera;
  // From straight above, 200 mm away, up along +y: 40 mm wide there.
  picture.mapping.eyeMm = {0, 0, 200}, picture.mapping.aheadMm = {0, 0, -200}, picture.mapping.up = {0, 1, 0};
  picture.mapping.sizeMm = {40, 20};
  s.feeds[SurfaceValue::baseColour] = {picture};
  const MadeSurface made = sheet.made(s);
  const auto colour = [&](double x, double y) { return lookedAt(made, sheet.at(x, y)).first.base; };
  QVERIFY(colour(-10, 5).x > 0.9f && colour(-10, 5).y < 0.1f);
  QVERIFY(colour(10, 5).y > 0.9f && colour(10, 5).x < 0.1f);
  QVERIFY(colour(-19.9, 0).x > 0.9f);
  QVERIFY(std::abs(colour(-10, -9).x - 0.5f) < 0.01f);  // where it is clear, what is below shows
  // Moved to the right by a quarter of its width.
  picture.mapping.shiftMm = {10, 0};
  s.feeds[SurfaceValue::baseColour] = {picture};
  QVERIFY(lookedAt(sheet.made(s), sheet.at(5, 5)).first.base.x > 0.9f);
}

// The law of perspective: half as far away, half as large; and its footprint with it.
void TestFlakes::thrownPicturesGrowWithDistance() {
  Mapping m;
  m.kind = MappingKind::camera;
  m.eyeMm = {0, -1000, 0}, m.aheadMm = {0, 1000, 0}, m.up = {0, 0, 1};
  const PartFacts part{};
  Site near, far;
  near.mm = {100, -500, 50}, far.mm = {100, 0, 50};
  for (Site* s : {&near, &far}) s->normal = {0, -1, 0}, s->across = {1, 0, 0}, s->along = {0, 0, 1};
  const OnPlane a = onPlanes(m, part, near).list[0], b = onPlanes(m, part, far).list[0];
  QVERIFY((a.mm - Vec2f(200, 100)).length() < 1e-3f && (b.mm - Vec2f(100, 50)).length() < 1e-3f);
  QVERIFY((a.across - Vec2f(2, 0)).length() < 1e-5f && (b.across - Vec2f(1, 0)).length() < 1e-5f);
  // The footprint is the derivative, also along the view.
  Site deep = far;
  deep.across = {0, 1, 0};
  const Vec2f change = onPlanes(m, part, deep).list[0].across;
  Site step = far;
  step.mm += Vec3f(0, 0.1f, 0);
  const Vec2f measured = (onPlanes(m, part, step).list[0].mm - b.mm) / 0.1f;
  QVERIFY2((change - measured).length() < 2e-3f,
           qPrintable(QString("%1 %2").arg(double(change.x)).arg(double(measured.x))));
}

void TestFlakes::cloudsKeepWhatTheyDoNotSendOn() {
  Surface s;
  s.scatterDepthM = 0.01, s.scatterColour = {1, 0.5, 0}, s.absorptionDepthM = 0.1,
  s.absorptionColour = {1, 1, std::exp(-1.0)};
  const BsdfParameters p = parametersOf(s);
  QVERIFY(close(double(p.scattering.x), 100, 1e-3) && close(double(p.scattering.y), 50, 1e-3) &&
          p.scattering.z == 0);
  QVERIFY(close(double(p.absorption.x), 0, 1e-3) && close(double(p.absorption.y), 50, 1e-3));
  QVERIFY(close(double(p.absorption.z), 110, 1e-2));  // of the cloud, and of the dye
}

DUSK_TEST(TestFlakes, QGuiApplication);
#include "flakes.moc"
