#include "core/light/hand_camera.h"

#include <QtTest>
#include <random>

#include "core/vantage/camera.h"
#include "tests/program.h"

using namespace dusk;

/// The camera set by hand: what each way of moving it keeps as it is.
class TestHandCamera : public QObject {
  Q_OBJECT
  static constexpr int width = 1200, height = 800;
  static Backdrop backdrop() {
    Backdrop b;
    b.kind = BackdropKind::plain;
    b.focalMm35 = 60, b.cameraHeightM = 0.9, b.distanceM = 2, b.aimHeightM = 0.2, b.azimuthDegrees = 25;
    b.aimXM = 0.3, b.aimYM = -0.4;
    return b;
  }
  static Camera camera(const Backdrop& b) { return handCamera(b, width, height); }
  static bool near(const Vec2d& a, const Vec2d& b, double px = 1e-6) { return (a - b).length() < px; }

 private slots:
  void whatIsLookedAtIsInTheMiddle();
  void aLookComesBackAsItWas();
  void goingRoundKeepsTheDistance();
  void whatIsTakenGoesAlongWithThePointer();
  void nearerIsByAFactor();
  void stepsAreLevel();
  void anotherLensKeepsTheSize();
  void uprightsStayStraight();
  void aThingFillsHalfThePicture();
};

// A thimble or a shed: half as tall as the picture or half as wide, in its middle, seen the same way as
// before.
void TestHandCamera::aThingFillsHalfThePicture() {
  for (const Vec3d& size : {Vec3d(0.02, 0.02, 0.03), Vec3d(0.3, 0.2, 0.5), Vec3d(5, 3, 2.4)}) {
    Backdrop b = backdrop();
    b.width = width, b.height = height;
    const Vec3d before = camera(b).axes.z;
    lookAtThing(b, size);
    const Camera c = camera(b);
    QVERIFY((c.axes.z - before).length() < 1e-9);
    double left = 1e9, right = -1e9, top = 1e9, bottom = -1e9;
    for (int corner = 0; corner < 8; ++corner) {
      const auto at = projected(
          c, Vec3d(b.aimXM, b.aimYM, 0) + Vec3d((corner & 1 ? 0.5 : -0.5) * size.x,
                                                (corner & 2 ? 0.5 : -0.5) * size.y, corner & 4 ? size.z : 0));
      QVERIFY(at);
      left = std::min(left, at->x), right = std::max(right, at->x);
      top = std::min(top, at->y), bottom = std::max(bottom, at->y);
    }
    const double share = std::max((right - left) / width, (bottom - top) / height);
    QVERIFY2(share > 0.4 && share < 0.75, qPrintable(QString::number(share)));
    QVERIFY(left > 0 && right < width && top > 0 && bottom < height);
  }
}

void TestHandCamera::whatIsLookedAtIsInTheMiddle() {
  for (const bool straight : {false, true}) {
    Backdrop b = backdrop();
    b.uprightsStraight = straight;
    const auto seen = projected(camera(b), lookOf(b).aim);
    QVERIFY(seen && near(*seen, {width / 2.0, height / 2.0}));
  }
  // As ever: over the origin, where nothing else is said.
  Backdrop plain;
  QVERIFY((camera(plain).position - Vec3d(0, -plain.distanceM, plain.cameraHeightM)).length() < 1e-12);
}

void TestHandCamera::aLookComesBackAsItWas() {
  std::mt19937 random(2);
  std::uniform_real_distribution<double> u(-3, 3);
  for (int i = 0; i < 100; ++i) {
    Backdrop b = backdrop();
    const HandLook look{{u(random), u(random), u(random)}, {u(random), u(random), u(random)}};
    const double before = b.azimuthDegrees;
    setLook(b, look);
    QVERIFY((lookOf(b).position - look.position).length() < 1e-9);
    QVERIFY((lookOf(b).aim - look.aim).length() < 1e-9);
    QVERIFY(std::abs(b.azimuthDegrees - before) <= 180 + 1e-9);  // not the long way round
  }
}

void TestHandCamera::goingRoundKeepsTheDistance() {
  const Vec3d point(0.5, 0.1, 0.3);
  Backdrop b = backdrop();
  const double before = (camera(b).position - point).length();
  const Vec2d seen = *projected(camera(b), point);
  turnAbout(b, point, 40, 15);
  QVERIFY(std::abs((camera(b).position - point).length() - before) < 1e-9);
  QVERIFY2(near(*projected(camera(b), point), seen), "it stays where it is in the picture");
  turnAbout(b, point, 0, 500);  // no farther than nearly straight above
  QVERIFY(std::abs(degrees(-tilt(camera(b))) - 85) < 1e-6);
  turnAbout(b, point, 0, -500);
  QVERIFY(std::abs(degrees(tilt(camera(b))) - 85) < 1e-6);
  // All round, a little at a time, is back where it was, one turn further.
  Backdrop round = backdrop();
  for (int i = 0; i < 36; ++i) turnAbout(round, point, 10, 0);
  QVERIFY((lookOf(round).position - lookOf(backdrop()).position).length() < 1e-9);
  QVERIFY(std::abs(std::abs(round.azimuthDegrees - backdrop().azimuthDegrees) - 360) < 1e-6);
}

void TestHandCamera::whatIsTakenGoesAlongWithThePointer() {
  Backdrop b = backdrop();
  b.cameraHeightM = b.aimHeightM;  // level, so that up is up in the picture
  const Vec3d point = lookOf(b).aim + Vec3d(0.1, 0.2, 0.05);
  const Vec2d seen = *projected(camera(b), point), by(70, -45);
  slideBy(b, camera(b), point, by);
  QVERIFY(near(*projected(camera(b), point), seen + by));
}

void TestHandCamera::nearerIsByAFactor() {
  const Vec3d point(0.4, -0.2, 0.1);
  Backdrop b = backdrop();
  const double before = (camera(b).position - point).length();
  const Vec3d gaze = camera(b).axes.z;
  goNearer(b, point, 0.5);
  QVERIFY(std::abs((camera(b).position - point).length() - before / 2) < 1e-9);
  QVERIFY((camera(b).axes.z - gaze).length() < 1e-9);
  goNearer(b, point, 2);
  QVERIFY((camera(b).position - camera(backdrop()).position).length() < 1e-9);
}

void TestHandCamera::stepsAreLevel() {
  Backdrop b = backdrop();
  const Camera before = camera(b);
  walk(b, 0.3, 0, 0);
  Vec3d by = camera(b).position - before.position;
  QVERIFY(std::abs(by.z) < 1e-12 && std::abs(by.length() - 0.3) < 1e-9);
  QVERIFY(by.dot(before.axes.z) > 0);
  walk(b, -0.3, 0.2, 0.1);
  by = camera(b).position - before.position;
  QVERIFY((by - before.axes.x * 0.2 - Vec3d(0, 0, 0.1)).length() < 1e-9);
}

void TestHandCamera::anotherLensKeepsTheSize() {
  Backdrop b = backdrop();
  const auto size = [](const Backdrop& of) {
    const Camera c = camera(of);
    const Vec3d aim = lookOf(of).aim;
    return (*projected(c, aim + c.axes.x * 0.01) - *projected(c, aim - c.axes.x * 0.01)).length();
  };
  const double before = size(b);
  swapLens(b, 135);
  QVERIFY(std::abs(size(b) / before - 1) < 1e-9);
  QCOMPARE(b.focalMm35, 135.0);
  QVERIFY((lookOf(b).aim - lookOf(backdrop()).aim).length() < 1e-12);
}

void TestHandCamera::uprightsStayStraight() {
  Backdrop b = backdrop();
  const auto lean = [](const Backdrop& of) {
    const Vec2d foot = *projected(camera(of), {0.8, 0.1, 0}), top = *projected(camera(of), {0.8, 0.1, 0.6});
    return std::abs(foot.x - top.x);
  };
  QVERIFY(lean(b) > 5);
  b.uprightsStraight = true;
  QVERIFY(lean(b) < 1e-9);
  // At any size of the picture it is the same view.
  const Vec2d small = *projected(handCamera(b, width / 2, height / 2), {0.8, 0.1, 0.6}),
              large = *projected(camera(b), {0.8, 0.1, 0.6});
  QVERIFY(near(small * 2, large, 1e-6));
}

DUSK_TEST(TestHandCamera, QCoreApplication);
#include "hand_camera.moc"
