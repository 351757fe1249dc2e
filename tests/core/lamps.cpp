#include <QtTest>

#include "core/light/backdrop.h"
#include "core/light/placing.h"
#include "core/light/reshape.h"
#include "core/light/units.h"
#include "core/proof/balance.h"
#include "core/trace/compile.h"
#include "tests/program.h"
#include "tests/stage.h"

using namespace dusk;

namespace {

Lamp rectangle(LampKind kind, const Vec3d& at, const Vec3d& target, double width, double height) {
  Lamp lamp;
  lamp.id = "lamp", lamp.kind = kind, lamp.positionM = at, lamp.targetM = target;
  lamp.widthM = width, lamp.heightM = height, lamp.kelvin = 6504;
  return lamp;
}

/// Irradiance on a surface, by drawing from the lights.
Rgb irradiance(const Lights& lights, const Vec3f& point, const Vec3f& normal, int count) {
  Rgb sum(0);
  for (int i = 0; i < count; ++i) {
    Sampler sampler(1, 0, 0, uint32_t(i), 18);
    const Vec2f u = sampler.next2();
    const LightSample s = lights.sample(point, u, sampler.next1());
    const float facing = s.direction.dot(normal);
    if (s.pdf > 0 && facing > 0) sum += s.radiance() * (facing / s.pdf);
  }
  return sum / float(count);
}

Picture testPanorama(int width) {
  Picture p = Picture::rgb(width, width / 2);
  for (int y = 0; y < p.height; ++y)
    for (int x = 0; x < width; ++x) {
      const Vec3f d = panoramaDirection({(x + 0.5f) / width, (y + 0.5f) / p.height});
      const Rgb c(0.3f + 0.2f * d.x, 0.4f + 0.3f * d.z, 0.5f + 0.2f * d.y * d.z);
      std::copy_n(&c.x, 3, p.at(x, y));
    }
  return p;
}

}  // namespace

class TestLamps : public QObject {
  Q_OBJECT
 private slots:
  void pictureLampShinesWhatItShows();
  void flagIsSeenInMirrorsOnly();
  void leftOutPartsGetNoLightAndCastShadows();
  void targetGoesAlong();
  void unitsAgreeWithTheLightThatArrives_data();
  void unitsAgreeWithTheLightThatArrives();
  void whiteByExposure();
  void harmonicsTellTheIrradiance();
  void domeOfTheRoomGivesWhatItsWallsShow();
  void blurKeepsTheLight();
  void ballAndFisheyesUnwrapToWhatTheySaw();
  void guessedRangeRaisesWhatIsClipped();
  void backdropHoldsItsCodes();
  void panoramaAsTheBackdropShowsWhatItShows();
  void thePanoramaIsWalkedAbout();
  void lampsComeToTheirHighlightAndShadow();
  void patchesAreBroughtTogether();
};

void TestLamps::pictureLampShinesWhatItShows() {
  auto picture = std::make_shared<Picture>(Picture::rgb(40, 20));
  for (int y = 0; y < 20; ++y)
    for (int x = 0; x < 40; ++x) picture->at(x, y)[x < 20 ? 0 : 1] = 1;  // left red, right green
  Lamp lamp = rectangle(LampKind::photo, {0, 0, 1}, {0, 0, 0}, 0.4, 0.2);
  const auto light = [&](const Lamp& l) {
    return Lights(nullptr, {}, {l}, Rgb(0), {}, {}, {{"lamp", picture}});
  };
  const Lights plain(nullptr, {}, {[&] {
                       Lamp l = lamp;
                       l.kind = LampKind::area;
                       return l;
                     }()},
                     Rgb(0));
  const Rgb all = irradiance(plain, Vec3f(0), {0, 0, 1}, 4096),
            shown = irradiance(light(lamp), Vec3f(0), {0, 0, 1}, 4096);
  QVERIFY(std::abs(shown.x / all.x - 0.5f) < 0.02f && std::abs(shown.y / all.y - 0.5f) < 0.02f &&
          shown.z == 0);
  lamp.crop = {0.5, 0, 1, 1};
  const Rgb right = irradiance(light(lamp), Vec3f(0), {0, 0, 1}, 4096);
  QVERIFY(right.x < 0.02f * all.x && std::abs(right.y / all.y - 1) < 0.03f);
  // Who looks at it sees it the right way round: it hangs before +Y and looks back.
  lamp = rectangle(LampKind::photo, {0, 2, 1}, {0, 0, 1}, 0.4, 0.2);
  const auto seen = [&](float x) {
    const Vec3f from(0, 0, 1);
    return light(lamp).seen(from, (Vec3f(x, 2, 1) - from).normalized()).radiance();
  };
  QVERIFY(seen(-0.1f).x > 0.9f && seen(0.1f).y > 0.9f);
}

void TestLamps::flagIsSeenInMirrorsOnly() {
  Lamp flag = rectangle(LampKind::card, {0, -2, 1}, {0, 0, 1}, 1.5, 1.5);
  flag.shade = 0;
  const auto sky = std::make_shared<Lights>(nullptr, Surroundings{}, std::vector<Lamp>{flag}, Rgb(1));
  QVERIFY(std::abs(irradiance(*sky, Vec3f(0), {0, 0, 1}, 8192).y / pif - 1) < 0.01f);
  for (const bool mirrors : {true, false}) {
    BsdfParameters p;
    p.base = Rgb(1), p.roughness = mirrors ? 0 : 1, p.metalness = mirrors, p.ior = mirrors ? 1.5f : 1.0f;
    Stage stage(uprightSheet(-1, 1, 0, 2), p, sky, lookAt(5, 5, 60, {0, -4, 1}, {0, 0, 1}), false);
    const float seen = traced(stage, 5, 512).beauty.at(2, 2)[1];
    QVERIFY2(std::abs(seen - (mirrors ? 0 : 1)) < 0.03f, qPrintable(QString::number(seen)));
  }
}

void TestLamps::leftOutPartsGetNoLightAndCastShadows() {
  Lamp lamp = rectangle(LampKind::sphere, {0.2, -0.3, 2}, {0, 0, 0}, 1, 1);
  BsdfParameters white;
  white.base = Rgb(0.8f);
  Stage stage(disc(0.3f, 0.2f), white,
              std::make_shared<Lights>(nullptr, Surroundings{}, std::vector<Lamp>{lamp}, Rgb(0)),
              lookAt(24, 24, 40, {0, -2, 1.2}, {0, 0, 0.1}), true);
  const Passes lit = traced(stage, 24, 16);
  stage.scene.lightMasks = {{1u << 1}};
  const Passes without = traced(stage, 24, 16);
  QVERIFY(*std::max_element(lit.beauty.pixels.begin(), lit.beauty.pixels.end()) > 0.01f);
  // What the ground sends back to it is not the lamp's own light on it.
  float direct = 0;
  Film film(24, 24, stage.scene.lights->groups());
  Progress progress;
  QVERIFY(render(stage.scene, film, 16, progress));
  for (const GroupPasses& g : film.resolve(true).groups)
    for (const Component c : {diffuseDirect, specularDirect})
      for (const float v : g.part[c].pixels) direct = std::max(direct, v);
  QCOMPARE(direct, 0.0f);
  // It stands in that lamp's light all the same: its shadow is on the ground.
  QVERIFY(*std::min_element(without.ratio.pixels.begin(), without.ratio.pixels.end()) < 0.3f);
}

void TestLamps::targetGoesAlong() {
  Shot shot;
  shot.placements.push_back({"p", "x", 1, 2, 0.1});
  Lamp lamp;
  lamp.targetM = {0, 0, 0.2};
  QCOMPARE(targetOf(shot, lamp), Vec3d(0, 0, 0.2));
  lamp.aimedAt = "p";
  QVERIFY((targetOf(shot, lamp) - Vec3d(1, 2, 0.3)).length() < 1e-12);
}

void TestLamps::unitsAgreeWithTheLightThatArrives_data() {
  QTest::addColumn<int>("kind");
  for (const auto& [name, kind] : {std::pair("rectangle", LampKind::area),
                                   {"disc", LampKind::disc},
                                   {"ball", LampKind::sphere},
                                   {"spot", LampKind::spot},
                                   {"sun", LampKind::sun}})
    QTest::newRow(name) << int(kind);
}

void TestLamps::unitsAgreeWithTheLightThatArrives() {
  QFETCH(int, kind);
  constexpr double white = 500;
  Lamp lamp = rectangle(LampKind(kind), {0, 0, 3}, {0, 0, 0}, 0.3, 0.2);
  lamp.radiusM = 0.15, lamp.coneDegrees = 60, lamp.coneSoftness = 0, lamp.elevationDegrees = 90,
  lamp.powerEv = 1.5;
  const Lights lights(nullptr, {}, {lamp}, Rgb(0));
  const double lux = luminance(irradiance(lights, Vec3f(0), {0, 0, 1}, 8192)) * white;
  const auto said = powerIn(LampUnit::lux, lamp, white);
  QVERIFY(said && std::abs(*said / lux - 1) < 0.02);
  for (const LampUnit unit : {LampUnit::lumen, LampUnit::lux, LampUnit::wattPerM2})
    if (const auto there = powerIn(unit, lamp, white))
      QVERIFY(std::abs(*powerEvFor(unit, *there, lamp, white) - 1.5) < 1e-9);
  const auto lumen = powerIn(LampUnit::lumen, lamp, white);
  QCOMPARE(lumen.has_value(), LampKind(kind) != LampKind::sun);
  if (!lumen) return;
  // All that goes through a large sphere around it.
  double flux = 0;
  constexpr int steps = 60;
  for (int i = 0; i < steps; ++i)
    for (int k = 0; k < steps; ++k) {
      const float z = -1 + 2 * (i + 0.5f) / steps, r = std::sqrt(1 - z * z), a = 2 * pif * (k + 0.5f) / steps;
      const Vec3f d(r * std::cos(a), r * std::sin(a), z);
      flux += luminance(irradiance(lights, Vec3f(0, 0, 3) + d * 20.0f, -d, 16)) * white * 4 * pi * 400 /
              (steps * steps);
    }
  QVERIFY2(std::abs(flux / *lumen - 1) < 0.03, qPrintable(QString("%1 of %2").arg(flux).arg(*lumen)));
}

void TestLamps::whiteByExposure() {
  Shot shot;
  PhotoInfo info;
  QCOMPARE(whiteNits(shot, info), 1000.0);
  info.fNumber = 8, info.exposureSeconds = 1.0 / 125, info.iso = 100;
  QCOMPARE(whiteNits(shot, info), 120.0 * 64 * 125 / 100);
  shot.whiteNits = 42;
  QCOMPARE(whiteNits(shot, info), 42.0);
}

void TestLamps::harmonicsTellTheIrradiance() {
  const auto panorama = Panorama::make(testPanorama(256));
  const Lights lights(panorama, {}, {}, Rgb(0));
  for (const Vec3f& n :
       {Vec3f(0, 0, 1), Vec3f(1, 0, 0), Vec3f(0, -1, 0), Vec3f(0.5f, 0.5f, -0.7f).normalized()}) {
    const Rgb told = panorama->irradiance(n), drawn = irradiance(lights, Vec3f(0), n, 16384);
    for (int c = 0; c < 3; ++c) QVERIFY(std::abs(told[c] / drawn[c] - 1) < 0.02f);
  }
}

void TestLamps::domeOfTheRoomGivesWhatItsWallsShow() {
  Surroundings s;
  s.captureM = Vec3d(0, 0, 1.5), s.domeRadiusM = 4;
  const Lights room(Panorama::make(testPanorama(512)), s, {}, Rgb(0));
  // From its middle nothing changes; off it, the walls are where they are.
  const Vec3f wall = Vec3f(0, 0, 1.5f) + panoramaDirection({0.62f, 0.4f}) * 4.0f, point(1.5f, -0.5f, 0.3f);
  const Rgb middle = room.seen({0, 0, 1.5f}, (wall - Vec3f(0, 0, 1.5f)).normalized()).radiance(),
            aside = room.seen(point, (wall - point).normalized()).radiance();
  QVERIFY((middle - aside).length() < 1e-3f);
  // Drawing by likelihood and going evenly over the half sphere agree.
  const Vec3f n(0, 0, 1);
  Rgb even(0);
  constexpr int count = 40000;
  double chance = 0;
  for (int i = 0; i < count; ++i) {
    Sampler sampler(3, 0, 0, uint32_t(i), 16);
    const Vec3f d = cosineDirection(sampler.next2());
    even += room.seen(point, d).radiance() * (pif / count);
    const Vec2f u = sampler.next2();
    const float z = 1 - 2 * u.x, r = std::sqrt(std::max(0.0f, 1 - z * z));
    chance +=
        room.seen(point, {r * std::cos(2 * pif * u.y), r * std::sin(2 * pif * u.y), z}).pdf * 4 * pi / count;
  }
  QVERIFY2(std::abs(chance - 1) < 0.01, qPrintable(QString::number(chance)));
  const Rgb drawn = irradiance(room, point, n, count);
  for (int c = 0; c < 3; ++c) QVERIFY(std::abs(drawn[c] / even[c] - 1) < 0.01f);
}

void TestLamps::blurKeepsTheLight() {
  Picture p = Picture::rgb(512, 256);
  for (int y = 20; y < 40; ++y)
    for (int x = 100; x < 160; ++x) p.at(x, y)[0] = 50;
  const auto sharp = Panorama::make(p), soft = Panorama::make(blurredPanorama(p, 8));
  QVERIFY(std::abs(soft->meanLuminance() / sharp->meanLuminance() - 1) < 0.03);
  const Vec3f at = panoramaDirection({130.0f / 512, 30.0f / 256});
  QVERIFY(soft->radiance(at).x < 0.8f * sharp->radiance(at).x);
  QVERIFY(blurredPanorama(p, 0) == p);
}

void TestLamps::ballAndFisheyesUnwrapToWhatTheySaw() {
  const auto world = Panorama::make(testPanorama(512));
  Progress progress;
  // A mirror ball seen from afar, looking along +Y, and from the other side.
  const auto ball = [&](double lookDegrees) {
    BallPhoto photo{Picture::rgb(400, 400), Vec2d(205, 190), 150, lookDegrees};
    const float a = float(radians(lookDegrees));
    const Vec3f look(std::sin(a), std::cos(a), 0), right(std::cos(a), -std::sin(a), 0);
    for (int y = 0; y < 400; ++y)
      for (int x = 0; x < 400; ++x) {
        const float nx = (x + 0.5f - 205) / 150, ny = -(y + 0.5f - 190) / 150, r2 = nx * nx + ny * ny;
        if (r2 >= 1) {
          photo.light.at(x, y)[0] = photo.light.at(x, y)[1] = photo.light.at(x, y)[2] = 0.02f;
          continue;
        }
        const Vec3f n = right * nx + Vec3f(0, 0, ny) - look * std::sqrt(1 - r2);
        const Rgb c = world->radiance(look - n * (2 * look.dot(n)));
        std::copy_n(&c.x, 3, photo.light.at(x, y));
      }
    return photo;
  };
  const auto off = [&](const Picture& got) {
    double sum = 0;
    for (int y = 4; y < got.height - 4; ++y)
      for (int x = 0; x < got.width; ++x)
        sum += (got.rgbAt(x, y) -
                world->radiance(panoramaDirection({(x + 0.5f) / got.width, (y + 0.5f) / got.height})))
                   .length();
    return sum / double(got.width * (got.height - 8));
  };
  const auto found = findBall(ball(0).light);
  QVERIFY(found.ok());
  QVERIFY2((found->centre - Vec2d(205, 190)).length() < 4 && std::abs(found->radius - 150) < 4,
           qPrintable(QString("%1 %2 %3").arg(found->centre.x).arg(found->centre.y).arg(found->radius)));
  const auto one = fromBalls({ball(0)}, 256, progress), two = fromBalls({ball(0), ball(120)}, 256, progress);
  QVERIFY(one.ok() && two.ok());
  QVERIFY2(off(*one) < 0.02 && off(*two) < 0.012, qPrintable(QString("%1 %2").arg(off(*one)).arg(off(*two))));
  QVERIFY(!fromBalls({}, 256, progress).ok());

  const auto fisheye = [&](bool back) {
    Picture p = Picture::rgb(400, 400);
    for (int y = 0; y < 400; ++y)
      for (int x = 0; x < 400; ++x) {
        const float dx = (x + 0.5f - 200) / 200, dy = -(y + 0.5f - 200) / 200, r = std::hypot(dx, dy),
                    theta = r * float(radians(95.0));
        if (r >= 1) continue;
        Vec3f d(std::sin(theta) * dx / std::max(r, 1e-6f), std::cos(theta),
                std::sin(theta) * dy / std::max(r, 1e-6f));
        if (back) d.x = -d.x, d.y = -d.y;
        const Rgb c = world->radiance(d);
        std::copy_n(&c.x, 3, p.at(x, y));
      }
    return p;
  };
  const auto joined = fromFisheyes(fisheye(false), fisheye(true), 190, 256, progress);
  QVERIFY(joined.ok());
  QVERIFY2(off(*joined) < 0.01, qPrintable(QString::number(off(*joined))));
  QVERIFY(!fromFisheyes(fisheye(false), fisheye(true), 150, 256, progress).ok());
}

void TestLamps::guessedRangeRaisesWhatIsClipped() {
  Picture p = Picture::rgb(64, 32);
  std::fill(p.pixels.begin(), p.pixels.end(), 0.4f);
  for (int x = 0; x < 8; ++x) std::fill_n(p.at(x, 8), 3, 1.0f);
  const auto plain = Panorama::make(p);
  QVERIFY(plain->isLowRange() && plain->clippedShare() > 0.001f && plain->clippedShare() < 0.02f);
  // The top of a bright cloud is none that was cut off; a sun that lost its strength is.
  Picture sky = Picture::rgb(256, 128);
  for (int y = 0; y < 128; ++y)
    for (int x = 0; x < 256; ++x)
      std::fill_n(sky.at(x, y), 3,
                  1 + 2 * std::exp(-float((x - 90) * (x - 90) + (y - 30) * (y - 30)) / 2000));
  QCOMPARE(Panorama::make(sky)->clippedShare(), 0.0f);
  for (float& v : sky.pixels) v = std::min(v, 2.9f);
  QVERIFY(Panorama::make(sky)->clippedShare() > 0.001f);
  const Picture guessed = withGuessedRange(p, 5);
  QCOMPARE(guessed.at(0, 8)[0], 32.0f);
  QCOMPARE(guessed.at(20, 20)[0], 0.4f);
}

void TestLamps::backdropHoldsItsCodes() {
  QVERIFY(!codesOf("fff") && !codesOf("#12345g") && !codesOf("#1234567"));
  QCOMPARE((*codesOf("#FF8000"))[1], 128.0f / 255);
  Backdrop b;
  b.kind = BackdropKind::gradient, b.colour = "#204060", b.upper = "#ffffff";
  const Camera camera = handCamera(b, 32, 24);
  QVERIFY(std::abs(focalMm35(camera) - b.focalMm35) < 1e-9);
  QVERIFY((*projected(camera, {0, 0, b.aimHeightM}) - Vec2d(16, 12)).length() < 1e-9);
  const Photo photo =
      backdropPhoto(b, camera, Lights({}, {}, {}, Rgb(0)), {0, 0, camera.width, camera.height});
  QCOMPARE(photo.picture.rgbAt(3, 0), Rgb(1));
  QCOMPARE(photo.picture.rgbAt(3, 23)[0], 32.0f / 255);
  QVERIFY(!photo.sceneLinear);
}

void TestLamps::panoramaAsTheBackdropShowsWhatItShows() {
  Surroundings s;
  s.turnDegrees = 35, s.gainEv = 1, s.captureM = Vec3d(0, 0, 1.2);
  const auto panorama = Panorama::make(testPanorama(512));
  const Lights lights(panorama, s, {}, Rgb(0));
  Backdrop b;
  b.kind = BackdropKind::panorama;
  Camera camera = handCamera(b, 48, 32);
  camera.position = *s.captureM;  // from where it was taken, ground and sky are its own pixels
  const Photo photo = backdropPhoto(b, camera, lights, {0, 0, camera.width, camera.height});
  QVERIFY(photo.sceneLinear);
  for (const auto& [x, y] : {std::pair(5, 3), {24, 16}, {40, 30}}) {
    const Vec3f d = toFloat(rayThrough(camera, {x + 0.5, y + 0.5}));
    QVERIFY((photo.picture.rgbAt(x, y) - lights.sky(d)).length() < 2e-3f);
  }
}

// With walls it is a room: what is on them moves as things so far away do, and nothing does where it was
// taken.
void TestLamps::thePanoramaIsWalkedAbout() {
  Shot shot;
  shot.backdrop.kind = BackdropKind::panorama, shot.backdrop.cameraHeightM = 1.2;
  shot.backdrop.focalMm35 = 24, shot.backdrop.aimHeightM = 1.4;
  shot.surroundings.turnDegrees = 35;
  placeByHand(shot, 96, 64);
  QCOMPARE(*shot.surroundings.captureM, Vec3d(0, 0, 1.2));
  const auto panorama = Panorama::make(testPanorama(1024));
  const auto seen = [&](const Shot& of) {
    const Camera& c = of.vantage.camera;
    return backdropPhoto(of.backdrop, c, Lights(panorama, of.surroundings, {}, Rgb(0)),
                         {0, 0, c.width, c.height})
        .picture.whole();
  };
  Shot walls = shot;
  setWalls(walls, 4);
  placeByHand(walls, 96, 64);
  QVERIFY(walksInPanorama(walls) && !walksInPanorama(shot));
  QVERIFY((walls.vantage.camera.position - shot.vantage.camera.position).length() < 1e-9);
  const Picture far = seen(shot), near = seen(walls);
  for (size_t i = 0; i < far.pixels.size(); ++i) QVERIFY(std::abs(far.pixels[i] - near.pixels[i]) < 4e-3f);

  walk(walls.backdrop, 1.1, 0.6, 0.3);
  placeByHand(walls, 96, 64);
  QCOMPARE(*walls.surroundings.captureM, Vec3d(0, 0, 1.2));  // it stays where it was taken
  const Camera& camera = walls.vantage.camera;
  const Lights lights(panorama, walls.surroundings, {}, Rgb(0));
  const Picture moved = seen(walls);
  int marks = 0;
  for (double azimuth = -30; azimuth <= 30; azimuth += 6)
    for (double up = -12; up <= 30; up += 6) {
      const double a = radians(azimuth), e = radians(up);
      const Vec3d to(std::sin(a) * std::cos(e), std::cos(a) * std::cos(e), std::sin(e));
      const auto pixel = projected(camera, *walls.surroundings.captureM + to * 4.0);
      if (!pixel || pixel->x < 1 || pixel->y < 1 || pixel->x > 95 || pixel->y > 63) continue;
      if ((*walls.surroundings.captureM + to * 4.0).z < 0) continue;  // below the floor
      const Rgb off = sampleBilinear(moved, float(pixel->x), float(pixel->y)) - lights.sky(toFloat(to));
      QVERIFY2(off.length() < 0.03f * (1 + lights.sky(toFloat(to)).length()),
               qPrintable(QString("%1, %2 deg: off by %3").arg(azimuth).arg(up).arg(double(off.length()))));
      ++marks;
    }
  QVERIFY(marks > 20);

  walk(walls.backdrop, 30, 0, 0);  // not through them
  placeByHand(walls, 96, 64);
  QVERIFY((walls.vantage.camera.position - *walls.surroundings.captureM).length() < 0.9 * 4 + 1e-9);
}

void TestLamps::lampsComeToTheirHighlightAndShadow() {
  Shot shot;
  Lamp lamp = rectangle(LampKind::area, {1, -1, 2}, {0, 0, 0}, 0.2, 0.2);
  const Vec3d point(0.1, 0.2, 0.4), normal = Vec3d(0.2, -0.7, 0.6).normalized(), eye(0.3, -2, 1.1);
  const auto moved = lampMirroredAt(shot, lamp, point, normal, eye);
  QVERIFY(moved.has_value());
  // As far away as it was, and the half way between eye and lamp is the normal.
  QVERIFY(std::abs((moved->positionM - point).length() - (lamp.positionM - point).length()) < 1e-9);
  const Vec3d half = ((eye - point).normalized() + (moved->positionM - point).normalized()).normalized();
  QVERIFY((half - normal).length() < 1e-9);
  QCOMPARE(moved->targetM, point);
  QVERIFY(!lampMirroredAt(shot, lamp, point, -normal, eye));
  Lamp sun;
  const auto shining = lampMirroredAt(shot, sun, point, normal, eye);
  QVERIFY((toDouble(sunDirection(*shining)) - (moved->positionM - point).normalized()).length() < 1e-6);
  // The shadow of a top falls where it was put, for a sun and for a lamp.
  const Vec3d top(0, 0, 0.5), tip(0.4, 0.3, 0);
  const Vec3d to = toDouble(sunDirection(*lampCasting(shot, sun, top, tip)));
  QVERIFY((top - to * (top.z / to.z) - tip).length() < 1e-6);
  const Vec3d at = lampCasting(shot, lamp, top, tip)->positionM;
  QVERIFY((top + (top - at) * (top.z / (at.z - top.z)) - tip).length() < 1e-9);
  QVERIFY(!lampCasting(shot, sun, top, Vec3d(1, 0, 0.6)));
}

void TestLamps::patchesAreBroughtTogether() {
  Picture p = Picture::rgb(20, 20);
  for (int y = 0; y < 20; ++y)
    for (int x = 0; x < 20; ++x)
      p.at(x, y)[0] = 0.2f, p.at(x, y)[1] = 0.4f, p.at(x, y)[2] = x < 10 ? 0.1f : 0.3f;
  const auto left = patchMean(p, {5, 10}, 4), right = patchMean(p, {15, 10}, 4);
  QVERIFY(left && right && std::abs(left->z - 0.1f) < 1e-6f && std::abs(right->z - 0.3f) < 1e-6f);
  QVERIFY(!patchMean(p, {-30, 10}, 4));
  const auto b = balanceBetween(*left, *right);
  for (int c = 0; c < 3; ++c)
    QVERIFY(std::abs((*left)[c] * std::exp2(b->ev) * b->white[c] - (*right)[c]) < 1e-6);
  QVERIFY(!balanceBetween(Rgb(0.1f, 0, 0.1f), Rgb(1)));
  const auto same = balanceBetween(Rgb(0.18f), Rgb(0.36f));
  QVERIFY(std::abs(same->ev - 1) < 1e-6 && (same->white - Vec3d(1, 1, 1)).length() < 1e-6);
}

DUSK_TEST(TestLamps, NoApplication);
#include "lamps.moc"
