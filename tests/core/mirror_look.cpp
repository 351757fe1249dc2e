#include <QtTest>

#include "tests/board_on_ground.h"
#include "tests/program.h"

using namespace dusk;

class TestMirrorLook : public QObject {
  Q_OBJECT
 private slots:
  void tellsStrengthAndRoughness_data();
  void tellsStrengthAndRoughness();
  void marksThatAreNoMirrorImagesAreRefused();
};

void TestMirrorLook::tellsStrengthAndRoughness_data() {
  QTest::addColumn<float>("strength");
  QTest::addColumn<float>("roughness");
  QTest::newRow("polish") << 1.0f << 0.05f;
  QTest::newRow("satin") << 1.0f << 0.2f;
  QTest::newRow("faint") << 0.5f << 0.12f;
}

void TestMirrorLook::tellsStrengthAndRoughness() {
  QFETCH(float, strength);
  QFETCH(float, roughness);
  const BoardOnGround made(strength, roughness);
  const auto look = measureMirror(made.photo, made.camera, 0, 1.5, made.marked());
  QVERIFY2(look.ok(), look.ok() ? "" : look.error().message.c_str());
  const QString told = QString("strength %1 +- %2, index %3, roughness %4, contrast %5, at %6 %7 %8")
                           .arg(look->strength)
                           .arg(look->strengthSigma)
                           .arg(look->ior)
                           .arg(look->roughness)
                           .arg(look->contrast)
                           .arg(look->thingM.x)
                           .arg(look->thingM.y)
                           .arg(look->thingM.z);
  QVERIFY2(std::abs(look->strength * std::pow((look->ior - 1) / (look->ior + 1), 2) / 0.04 - strength) <
               0.15 * strength,
           qPrintable(told));
  QVERIFY2(std::abs(look->roughness - roughness) < 0.05, qPrintable(told));
  QVERIFY2(std::abs(look->thingM.y - 0.5) < 0.05, qPrintable(told));
}

void TestMirrorLook::marksThatAreNoMirrorImagesAreRefused() {
  const BoardOnGround made(1, 0.05f);
  MirroredEdge beside = made.marked(), upwards = beside, even = beside;
  beside.mirrored.x += 45;
  std::swap(upwards.thing, upwards.mirrored);
  even.thing = *projected(made.camera, {0.3, 0.5, 0.17}),
  even.mirrored = *projected(made.camera, {0.3, 0.5, -0.17});
  for (const MirroredEdge& wrong : {beside, upwards, even}) {
    const auto look = measureMirror(made.photo, made.camera, 0, 1.5, wrong);
    QVERIFY(!look.ok());
    QVERIFY(look.error().message.ends_with("."));
  }
}

DUSK_TEST(TestMirrorLook, NoApplication);
#include "mirror_look.moc"
