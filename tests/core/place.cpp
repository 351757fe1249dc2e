#include <QtTest>
#include <random>

#include "core/product/stand.h"
#include "core/proof/prove.h"
#include "tests/program.h"
#include "tests/stage.h"

using namespace dusk;

namespace {

StandIn standIn(StandInKind kind, const Vec3d& at, const Vec3d& size) {
  StandIn s;
  s.id = s.name = "it", s.kind = kind, s.positionM = at, s.sizeM = size;
  return s;
}

std::shared_ptr<const Lights> onlySun(double azimuth, double elevation) {
  Lamp sun;
  sun.id = "sun", sun.azimuthDegrees = azimuth, sun.elevationDegrees = elevation, sun.discDegrees = 0.1;
  return std::make_shared<Lights>(nullptr, Surroundings{}, std::vector<Lamp>{sun}, Rgb(0));
}

BsdfParameters mirror() {
  BsdfParameters p;
  p.base = Rgb(1), p.metalness = 1, p.roughness = 0;
  return p;
}

}  // namespace

class TestPlace : public QObject {
  Q_OBJECT
 private slots:
  void raysMeetShapesWhereTheyAre();
  void sweepIsMetOnce();
  void topCatchesAsTheGroundDoes();
  void untouchedStaysExactlyOneAmongStandIns();
  void whatIsInTheShadowAlreadyGetsNoDarker();
  void standInHidesAndShadesTheProduct();
  void mirrorShowsThePhotoOnAStandIn();
  void mirrorShowsThePhotoOnTheGround();
  void standsOnTheHighestTopUnderIt();
  void shadowsEndBeforeTheBorder();
  void theBorderIsProved();
  void cutOutsAreLitAndSeenPast();
  void cutOutsThrowShadowsAsTheyAre();
};

void TestPlace::raysMeetShapesWhereTheyAre() {
  std::mt19937 random(4);
  std::uniform_real_distribution<float> u(-1, 1);
  for (const auto kind : {StandInKind::box, StandInKind::cylinder, StandInKind::ball, StandInKind::sheet}) {
    StandIn s = standIn(kind, {0.2, -0.1, 0.3}, {0.8, 0.5, 0.6});
    s.turnDegrees = 25, s.leanDegrees = kind == StandInKind::sheet ? 70 : 0;
    Place place;
    place.ground = false;
    place.add(s);
    // Inside by the shape's own definition, away from its frame.
    const double a = radians(25), lean = radians(s.leanDegrees);
    const auto depth = [&](const Vec3d& p) {  // below 0 inside
      const Vec3d o = p - s.positionM;
      const Vec3d l(std::cos(a) * o.x + std::sin(a) * o.y, -std::sin(a) * o.x + std::cos(a) * o.y, o.z);
      if (kind == StandInKind::box)
        return std::max({std::abs(l.x) - 0.4, std::abs(l.y) - 0.25, std::abs(l.z - 0.3) - 0.3});
      if (kind == StandInKind::cylinder)
        return std::max(std::hypot(l.x, l.y) - 0.4, std::abs(l.z - 0.3) - 0.3);
      if (kind == StandInKind::ball) return (l - Vec3d(0, 0, 0.4)).length() - 0.4;
      const double y = std::cos(lean) * l.y + std::sin(lean) * l.z,
                   z = -std::sin(lean) * l.y + std::cos(lean) * l.z;
      return std::max({std::abs(l.x) - 0.4, std::abs(y) - 0.25, std::abs(z)});
    };
    int met = 0;
    for (int i = 0; i < 4000; ++i) {
      const Vec3f from = Vec3f(u(random), u(random), u(random)) * 3.0f;
      const Ray ray{
          from,
          (Vec3f(0.2f, -0.1f, 0.5f) + Vec3f(u(random), u(random), u(random)) * 0.6f - from).normalized()};
      if (depth(toDouble(from)) < 0.01) continue;
      const PlaceHit hit = place.closest(ray, 1e30f);
      if (hit.found()) {
        ++met;
        QVERIFY(std::abs(depth(toDouble(ray.origin + ray.direction * hit.distance))) < 1e-4);
        QVERIFY(hit.normal.dot(ray.direction) < 1e-5f && std::abs(hit.normal.length() - 1) < 1e-4f);
      }
      const float end = hit.found() ? hit.distance - 2e-3f : 8.0f;
      for (float t = 0; t < end; t += 0.004f)
        if (kind != StandInKind::sheet) QVERIFY(depth(toDouble(ray.origin + ray.direction * t)) > -1e-3);
      QVERIFY(!place.closest(ray, hit.found() ? hit.distance * 0.999f : 1e30f).found());
    }
    QVERIFY2(met > 500, qPrintable(QString::number(met)));
  }
}

void TestPlace::sweepIsMetOnce() {
  Place place;
  place.addSweep(0, 0.5f, 2);
  const auto meet = [&](const Vec3f& direction) {
    return place.closest({{0, 0, 1}, direction.normalized()}, 1e30f);
  };
  // Floor before the bend, the bend at 45 degrees, the wall above.
  QVERIFY(std::abs(meet({0, 1, -1}).distance - std::sqrt(2.0f)) < 1e-5f);
  QVERIFY(std::abs(meet({0, 2, 0.5f}).distance - std::hypot(2.0f, 0.5f)) < 1e-5f);
  const Vec3f onBend(0, 1.5f + 0.5f * std::sqrt(0.5f), 0.5f - 0.5f * std::sqrt(0.5f));
  const PlaceHit bend = meet(onBend - Vec3f(0, 0, 1));
  QVERIFY(std::abs(bend.distance - (onBend - Vec3f(0, 0, 1)).length()) < 1e-4f);
  QVERIFY((bend.normal - Vec3f(0, -std::sqrt(0.5f), std::sqrt(0.5f))).length() < 1e-4f);
  // All of it is one surface: no direction that goes away from the camera slips through.
  for (int i = 0; i < 400; ++i) {
    const float down = -1.2f + 0.008f * i;
    QVERIFY(meet({0.2f, 1, down}).found());
  }
}

void TestPlace::topCatchesAsTheGroundDoes() {
  // A disc over the ground, and the same over a table: the same ratio below its middle.
  const auto ratioUnder = [](bool table) {
    const float top = table ? 0.7f : 0.0f;
    Stage stage(disc(0.3f, top + 0.4f), black(), evenSky(),
                lookAt(5, 5, 900, {0, -2, top + 0.35}, {0, 0, top}), true);
    if (table) stage.scene.place.add(standIn(StandInKind::box, {0, 0, 0}, {4, 4, 0.7}));
    return traced(stage, 5, 4096).ratio.at(2, 2)[1];
  };
  const double closedForm = 1 - 0.09 / (0.09 + 0.16);
  QVERIFY2(std::abs(ratioUnder(false) - closedForm) < 0.01, qPrintable(QString::number(ratioUnder(false))));
  QVERIFY2(std::abs(ratioUnder(true) - closedForm) < 0.01, qPrintable(QString::number(ratioUnder(true))));
}

void TestPlace::untouchedStaysExactlyOneAmongStandIns() {
  Stage stage(disc(0.05f, 0.1f), black(), onlySun(90, 40), lookAt(64, 48, 60, {0, -4, 1.6}, {0, 0, 0}), true);
  stage.scene.place.add(standIn(StandInKind::box, {-0.9, 0.4, 0}, {0.5, 0.5, 0.8}));
  stage.scene.place.add(standIn(StandInKind::ball, {0.9, 0.2, 0}, {0.5, 0.5, 0.5}));
  const Integrator integrator(stage.scene);
  int box = 0;
  for (int y = 0; y < 48; ++y)
    for (int x = 0; x < 20; ++x)
      for (uint32_t i = 0; i < 8; ++i) {
        const PixelSample s = integrator.sample(x, y, i);
        QVERIFY(!Film::influences(s));
        box += s.without() != Rgb(0);
      }
  QVERIFY(box > 100);
}

void TestPlace::whatIsInTheShadowAlreadyGetsNoDarker() {
  // Sun from +X at 45 degrees; a wall at x = 1 keeps it from the ground between; the disc hangs over that.
  Stage stage(disc(0.2f, 0.3f), black(), onlySun(90, 45), lookAt(9, 9, 60, {0, -3, 1}, {0, 0, 0}), true);
  QVERIFY(traced(stage, 9, 64).ratio.pixels[40 * 3] <= 1);
  const auto darkest = [](const Passes& p) {
    return *std::min_element(p.ratio.pixels.begin(), p.ratio.pixels.end());
  };
  QVERIFY(darkest(traced(stage, 9, 64)) < 0.5f);
  stage.scene.place.add(standIn(StandInKind::box, {1.2, 0, 0}, {0.2, 12, 6}));
  QVERIFY(darkest(traced(stage, 9, 64)) == 1.0f);
}

void TestPlace::standInHidesAndShadesTheProduct() {
  BsdfParameters white;
  white.base = Rgb(0.8f), white.roughness = 1, white.ior = 1;
  Stage stage(uprightSheet(-0.5f, 0.5f, 0, 1), white, onlySun(180, 30),
              lookAt(9, 9, 20, {0, -3, 0.5}, {0, 0, 0.5}), true);
  QVERIFY(traced(stage, 9, 32).alpha.at(4, 4)[0] == 1);
  QVERIFY(traced(stage, 9, 32).beauty.at(4, 4)[1] > 0.3f);
  // High up towards the sun: it only shades.
  stage.scene.place.add(standIn(StandInKind::box, {0, -3, 1.2}, {4, 0.2, 3}));
  QCOMPARE(traced(stage, 9, 32).alpha.at(4, 4)[0], 1.0f);
  QVERIFY(traced(stage, 9, 32).beauty.at(4, 4)[1] < 0.05f);
  // Before it: it hides.
  stage.scene.place.add(standIn(StandInKind::box, {0, -1, 0}, {4, 0.2, 3}));
  QCOMPARE(traced(stage, 9, 32).alpha.at(4, 4)[0], 0.0f);
}

void TestPlace::mirrorShowsThePhotoOnAStandIn() {
  // Under an even white sky a mirror shows a photographed table before it as bright as the photo is there.
  Stage stage(uprightSheet(-1, 1, 0, 2), mirror(), evenSky(), lookAt(5, 5, 900, {0, -3, 1}, {0, 0, 0.68}),
              false);
  auto plate = std::make_shared<Picture>(Picture::rgb(5, 5));
  std::fill(plate->pixels.begin(), plate->pixels.end(), 0.3f);
  stage.scene.plate = plate;
  QVERIFY(std::abs(traced(stage, 5, 16).beauty.at(2, 2)[1] - 1) < 0.02f);
  stage.scene.place.add(standIn(StandInKind::box, {0, -1.2, 0}, {3, 1.6, 0.6}));
  // What is mirrored lies out of this narrow frame: the panorama tells it, and no ground gives all back.
  const float outside = traced(stage, 5, 256).beauty.at(2, 2)[1];
  QVERIFY2(std::abs(outside - 0.95f) < 0.03f, qPrintable(QString::number(outside)));
  stage.scene.camera = lookAt(801, 801, 900, {0, -3, 1}, {0, 0, 0.68});
  const Integrator integrator(stage.scene);
  Rgb sum(0);
  // The mirror hides half the sky from the table and gives it back: that is drawn, and evens out.
  for (uint32_t i = 0; i < 8192; ++i) sum += integrator.sample(400, 400, i).beauty() / 8192.0f;
  QVERIFY2(std::abs(sum.y - 0.3f) < 0.005f, qPrintable(QString::number(sum.y)));
}

void TestPlace::mirrorShowsThePhotoOnTheGround() {
  Stage stage(uprightSheet(-1, 1, 0, 2), mirror(), evenSky(), lookAt(801, 801, 900, {0, -3, 1}, {0, 0, 0.2}),
              true);
  auto plate = std::make_shared<Picture>(Picture::rgb(9, 9));
  std::fill(plate->pixels.begin(), plate->pixels.end(), 0.4f);
  stage.scene.plate = plate;
  const Integrator integrator(stage.scene);
  Rgb sum(0);
  for (uint32_t i = 0; i < 512; ++i) sum += integrator.sample(400, 400, i).beauty() / 512.0f;
  QVERIFY2(std::abs(sum.y - 0.4f) < 0.02f, qPrintable(QString::number(sum.y)));
}

void TestPlace::standsOnTheHighestTopUnderIt() {
  Shot shot;
  StandIn table = standIn(StandInKind::box, {1, 0, 0}, {1, 0.6, 0.75}), tray = table, ball = table;
  table.id = "table", tray.id = "tray", ball.id = "ball";
  table.turnDegrees = 90;
  tray.kind = StandInKind::sheet, tray.positionM = {1, 0.3, 0.78}, tray.sizeM = {0.3, 0.2, 0};
  ball.kind = StandInKind::ball, ball.positionM.z = 2;
  shot.standIns = {table, tray, ball};
  QVERIFY(!topUnder(shot, {0, 0}));
  QCOMPARE(topUnder(shot, {1, 0})->id, "table");
  QVERIFY(!topUnder(shot, {1.4, 0}));  // turned: it is narrow along X
  QCOMPARE(topUnder(shot, {1, 0.3})->id, "tray");
  QCOMPARE(topUnder(shot, {1, 0.3}, 0.76)->id, "table");
  Placement p{"p", "x", 1, 0.3};
  p.levelId = "tray";
  QCOMPARE(planeHeightM(shot, p), 0.78);
  QCOMPARE(placeOf(shot).groundM, 0.0f);
}

void TestPlace::shadowsEndBeforeTheBorder() {
  // A box on a white table, small in the picture.
  Project p;
  p.shots.emplace_back();
  Shot& shot = p.shots[0];
  shot.backdrop.kind = BackdropKind::plain;
  shot.vantage.solved = true;
  shot.placements.emplace_back();
  const Camera camera = lookAt(96, 64, 140, {0, -1.6, 0.6}, {0, 0, 0.1});
  Stage stage(sphere(0.1f), black(), evenSky(), camera, true);
  stage.scene.place.groundM = -0.1f;
  const auto border = [&](const Passes& passes) {
    float most = 0;
    for (int y = 0; y < 64; ++y)
      for (int x = 0; x < 96; ++x)
        if (x == 0 || y == 0 || x == 95 || y == 63)
          most = std::max(most, std::abs(1 - passes.ratio.at(x, y)[1]));
    return most;
  };
  const Passes endless = traced(stage, camera, 64);
  QVERIFY(border(endless) > 0.002f);
  stage.scene.reach = reachOf(shot, *stage.scene.geometry, stage.scene.place, camera);
  QVERIFY(stage.scene.reach.hasEnd());
  const Passes fitted = traced(stage, camera, 64);
  QCOMPARE(border(fitted), 0.0f);
  // Under the product all is as it was, and between it never jumps.
  const Vec3d foot(0, -0.02, -0.1);
  const auto pixel = projected(camera, foot);
  QCOMPARE(fitted.ratio.at(int(pixel->x), int(pixel->y))[1],
           endless.ratio.at(int(pixel->x), int(pixel->y))[1]);
  float before = 1;
  for (double away = 0; away < 2; away += 0.01) {
    const float kept = stage.scene.reach.at(Vec3f(0.1f + float(away), 0, -0.1f));
    QVERIFY(kept <= before && before - kept < 0.1f);
    before = kept;
  }
  QCOMPARE(before, 0.0f);
  // A photo's shadows have no end; those of a product across the border neither; and a hand's word counts.
  shot.backdrop.kind = BackdropKind::photo;
  QVERIFY(!reachOf(shot, *stage.scene.geometry, stage.scene.place, camera).hasEnd());
  shot.backdrop.kind = BackdropKind::gradient;
  const Camera near = lookAt(96, 64, 140, {0, -0.4, 0.2}, {0.25, 0, 0});
  QVERIFY(!reachOf(shot, *stage.scene.geometry, stage.scene.place, near).hasEnd());
  shot.contact.reach = ShadowReach::endless;
  QVERIFY(!reachOf(shot, *stage.scene.geometry, stage.scene.place, camera).hasEnd());
  shot.contact.reach = ShadowReach::given, shot.contact.reachFromM = 0.2, shot.contact.reachToM = 0.4;
  const Reach given = reachOf(shot, *stage.scene.geometry, stage.scene.place, camera);
  QCOMPARE(given.at({0.29f, 0, 0}), 1.0f);
  QVERIFY(std::abs(given.at({0.4f, 0, 0}) - 0.5f) < 0.01f);
  QCOMPARE(given.at({0.51f, 0, 0}), 0.0f);
}

void TestPlace::theBorderIsProved() {
  Shot shot;
  shot.backdrop.kind = BackdropKind::plain;
  shot.placements.emplace_back();
  Picture white = Picture::rgb(8, 6);
  std::fill(white.pixels.begin(), white.pixels.end(), 1.0f);
  Picture shown = white;
  shown.at(4, 3)[1] = 0.2f;  // the product
  QVERIFY(borderFinding(shot, shown, white)->ok());
  shown.at(7, 2)[2] = 254 / 255.0f;
  QVERIFY(!borderFinding(shot, shown, white)->ok());
  QCOMPARE(borderFinding(shot, shown, white)->value, 1.0);
  shot.backdrop.kind = BackdropKind::photo;
  QVERIFY(!borderFinding(shot, shown, white));
}

namespace {

/// A thing whose left half the photo shows.
Silhouette leftHalf(const Camera& camera) {
  auto made = std::make_shared<CutOutPicture>();
  made->light = Picture(camera.width, camera.height, {"R", "G", "B", "A"});
  made->area = {0, 0, camera.width, camera.height};
  for (int y = 0; y < camera.height; ++y)
    for (int x = 0; x < camera.width / 2; ++x) made->light.at(x, y)[3] = 1;
  return {made, camera};
}

}  // namespace

// What is cut out takes the product's shadow where it stands, and hides nothing from the film: the blend
// draws it over all.
void TestPlace::cutOutsAreLitAndSeenPast() {
  const Camera camera = lookAt(64, 64, 60, {0, -6, 0}, {0, 0, 0});
  StandIn sheet = standIn(StandInKind::sheet, {0, 1.5, 0}, {6, 6, 0});
  sheet.leanDegrees = 90;
  Stage stage(sphere(0.5f), black(), onlySun(180, 45), camera, false);
  stage.scene.place.add(sheet, true);
  const auto ratioAt = [&](const Passes& p, const Vec3d& point) {
    const Vec2d at = *projected(camera, point);
    return p.ratio.at(int(at.x), int(at.y))[1];
  };
  const Passes behind = traced(stage, 64, 16);
  QVERIFY(ratioAt(behind, {0, 1.5, -1.5}) < 0.02f);  // the middle of the shadow
  QCOMPARE(ratioAt(behind, {0, 1.5, 1.5}), 1.0f);
  QCOMPARE(ratioAt(behind, {1.2, 1.5, -1.5}), 1.0f);
  // In front: all of the product is there, and the same without the sheet.
  stage.scene.place = {};
  stage.scene.place.ground = false;
  const Passes alone = traced(stage, 64, 16);
  sheet.positionM.y = -2;
  stage.scene.place.add(sheet, true);
  const Passes before = traced(stage, 64, 16);
  QVERIFY(before.alpha.at(32, 32)[0] == 1 && before.depth.at(32, 32)[0] > 5);
  QVERIFY(before.alpha.pixels == alone.alpha.pixels);
  // One that is no cut-out hides it.
  stage.scene.place = {};
  stage.scene.place.ground = false;
  stage.scene.place.add(sheet);
  QCOMPARE(traced(stage, 64, 4).alpha.at(32, 32)[0], 0.0f);
}

void TestPlace::cutOutsThrowShadowsAsTheyAre() {
  const Camera camera = lookAt(64, 64, 60, {0, -6, 0}, {0, 0, 0});
  StandIn sheet = standIn(StandInKind::sheet, {0, -2, 0}, {6, 6, 0});
  sheet.leanDegrees = 90;
  Place place;
  place.ground = false;
  place.add(sheet, true, leftHalf(camera));
  for (const float x : {-1.0f, -0.1f, 0.1f, 1.0f}) {
    const Ray ray{{x, 1, 0}, {0, -1, 0}};
    QCOMPARE(place.blocks(ray, 10), x < 0);
    QCOMPARE(place.closest(ray, 10, PlaceRay::photo).found(), x < 0);
    QVERIFY(!place.closest(ray, 10, PlaceRay::film).found());
    QCOMPARE(place.inFront(ray, 10).found(), x < 0);
  }
  // A white wall behind it, lit from the camera: dark where the thing is before it.
  BsdfParameters white;
  white.base = Rgb(1), white.specular = 0;
  Stage stage(uprightSheet(-2, 2, 0, 2), white, onlySun(180, 0.01), camera, false);
  stage.scene.place = place;
  const Passes p = traced(stage, 64, 16);
  const auto shown = [&](double x) {
    const Vec2d at = *projected(camera, {x, 0, 1});
    return p.beauty.at(int(at.x), int(at.y))[1];
  };
  QVERIFY2(shown(0.8) > 0.2f && shown(-0.8) < 0.02f * shown(0.8),
           qPrintable(QString("%1 %2").arg(double(shown(-0.8))).arg(double(shown(0.8)))));
}

DUSK_TEST(TestPlace, NoApplication);
#include "place.moc"
