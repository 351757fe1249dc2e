#include "core/light/panorama.h"
#include "tests/program.h"
#include "tests/stage.h"

using namespace dusk;

/// What stands before a bright panorama hides its sun, and goes on beyond what the picture shows of it.
class TestHiddenSun : public QObject {
  Q_OBJECT
  /// Even, but for a pixel as bright as a sun, 39 degrees high behind what the camera looks at.
  static std::shared_ptr<const Lights> lights() {
    Picture sky = Picture::rgb(64, 32);
    std::fill(sky.pixels.begin(), sky.pixels.end(), 0.3f);
    std::fill_n(sky.at(32, 9), 3, 2e4f);
    return std::make_shared<Lights>(Panorama::make(std::move(sky)), Surroundings{}, std::vector<Lamp>{},
                                    Rgb(0));
  }
  struct Before : Stage {
    explicit Before(bool goesOn)
        : Stage(disc(0.2f, 0.15f), black(), lights(), lookAt(32, 24, 40, {0, -3, 1.2}, {0, 0, 0}), true) {
      auto plate = std::make_shared<Picture>(Picture::rgb(32, 24));
      std::fill(plate->pixels.begin(), plate->pixels.end(), 0.5f);
      scene.plate = plate, scene.plateGoesOn = goesOn;
    }
  };
  /// The most that one sample says of the light on the ground, over what all say of it.
  static float worst(const Stage& stage) {
    const Integrator integrator(stage.scene);
    float most = 0, sum = 0;
    int count = 0;
    for (int y = 8; y < 20; ++y)
      for (int x = 4; x < 28; ++x)
        for (uint32_t i = 0; i < 64; ++i) {
          const float light = integrator.sample(x, y, i).without().y;
          if (light > 0) most = std::max(most, light), sum += light, ++count;
        }
    return count < 1000 ? 1e9f : most / (sum / float(count));
  }

 private slots:
  void aSweepHidesIt();
  void aWallOfThePhotoHidesIt();
  void aPanoramaHasNoSweep();
  void theFloorGoesOnBeyondThePicture();
};

void TestHiddenSun::aSweepHidesIt() {
  for (const bool goesOn : {true, false}) {
    Before s(goesOn);
    s.scene.place.addSweep(0, 0.5f, 2);
    QVERIFY2(worst(s) < 10, qPrintable(QString::number(worst(s))));
  }
}

void TestHiddenSun::aWallOfThePhotoHidesIt() {
  Before s(false);
  StandIn wall;
  wall.kind = StandInKind::box, wall.positionM = {0, 2, 0}, wall.sizeM = {8, 0.2, 5};
  s.scene.place.add(wall);
  QVERIFY2(worst(s) < 10, qPrintable(QString::number(worst(s))));
}

void TestHiddenSun::aPanoramaHasNoSweep() {
  Shot shot;
  shot.backdrop.sweepRadiusM = 0.5;
  for (const auto kind :
       {BackdropKind::plain, BackdropKind::gradient, BackdropKind::panorama, BackdropKind::photo}) {
    shot.backdrop.kind = kind;
    QCOMPARE(placeOf(shot).isPlain(), kind == BackdropKind::panorama || kind == BackdropKind::photo);
  }
}

void TestHiddenSun::theFloorGoesOnBeyondThePicture() {
  // A mirror shows the floor behind the camera. The sky is white, the floor is not.
  BsdfParameters mirror;
  mirror.base = Rgb(1), mirror.metalness = 1, mirror.roughness = 0;
  Stage s(uprightSheet(-1, 1, 0, 2), mirror, evenSky(), lookAt(5, 5, 900, {0, -3, 1}, {0, 0, 0.68}), true);
  auto plate = std::make_shared<Picture>(Picture::rgb(5, 5));
  std::fill(plate->pixels.begin(), plate->pixels.end(), 0.4f);
  s.scene.plate = plate;
  QVERIFY(std::abs(traced(s, s.scene.camera, 64).beauty.at(2, 2)[1] - 0.95f) < 0.03f);
  s.scene.plateGoesOn = true;
  QVERIFY(std::abs(traced(s, s.scene.camera, 64).beauty.at(2, 2)[1] - 0.4f) < 0.02f);
}

DUSK_TEST(TestHiddenSun, NoApplication);
#include "hidden_sun.moc"
