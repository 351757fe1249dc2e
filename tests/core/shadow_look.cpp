// The photo's shadow beside the one that the shot's lights throw: darkness, softness, colour.
#include <QtTest>

#include "core/proof/mend.h"
#include "core/proof/shadow_look.h"
#include "tests/lit_post.h"

using namespace dusk;
namespace fs = std::filesystem;

class TestShadowLook : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  fs::path in(const char* name) { return fs::path(folder_.path().toStdString()) / name; }

 private slots:
  void aShapeIsFoundAgain_data();
  void aShapeIsFoundAgain();
  void openGroundHasNone();
  void thePhotosShadowIsRead_data();
  void thePhotosShadowIsRead();
};

void TestShadowLook::aShapeIsFoundAgain_data() {
  QTest::addColumn<double>("left");
  QTest::addColumn<double>("disc");
  QTest::addColumn<double>("halfWidth");
  QTest::addColumn<double>("middle");
  QTest::newRow("hard and deep") << 0.2 << 0.5 << 0.04 << 0.0;
  QTest::newRow("soft") << 0.5 << 4.0 << 0.06 << 0.03;
  QTest::newRow("wide and faint") << 0.8 << 2.0 << 0.12 << -0.08;
}

void TestShadowLook::aShapeIsFoundAgain() {
  QFETCH(double, left);
  QFETCH(double, disc);
  QFETCH(double, halfWidth);
  QFETCH(double, middle);
  std::mt19937 any(3);
  std::normal_distribution<double> noise(0, 0.03);
  ShadowRows rows;
  rows.reachM = 0.4;
  ShadowShape truth;
  truth.left = Rgb(float(left)), truth.discDegrees = disc, truth.halfWidthM = halfWidth,
  truth.middleM = middle, truth.driftM = 0.02;
  for (size_t r = 0; r < 24; ++r) {
    rows.rows.push_back({0.4 + 0.05 * double(r), 0.001});
    rows.rows.back().light.resize(101);
  }
  for (size_t r = 0; r < 24; ++r)
    for (size_t i = 0; i < 101; ++i) {
      const double x = rows.offsetM(i), level = (0.3 + 0.2 * std::sin(double(r))) * (1 + 0.3 * x),
                   light = level * truth.leftAt(rows, r, x) * (1 + noise(any));
      rows.rows[r].light[i] = Rgb(float(light), float(light), float(light * 1.2));
    }
  const auto found = fitShadow(rows, true);
  QVERIFY(found);
  QVERIFY2(std::abs(double(luminance(found->left)) / left - 1) < 0.04,
           qPrintable(QString::number(double(luminance(found->left)))));
  QVERIFY2(std::abs(found->discDegrees - disc) < 0.08 * disc + 0.1,
           qPrintable(QString::number(found->discDegrees)));
  QVERIFY(std::abs(found->halfWidthM - halfWidth) < 0.003 && std::abs(found->middleM - middle) < 0.003);
  QVERIFY(found->leftEv > 0 && found->leftEv < 0.1 && found->discSigmaDegrees < 0.3 * disc);
}

void TestShadowLook::openGroundHasNone() {
  std::mt19937 any(5);
  std::normal_distribution<float> noise(0.4f, 0.03f);
  ShadowRows rows;
  rows.reachM = 0.4;
  for (size_t r = 0; r < 24; ++r) {
    rows.rows.push_back({1, 0.001});
    for (size_t i = 0; i < 101; ++i) rows.rows.back().light.push_back(Rgb(noise(any)));
  }
  QVERIFY(!fitShadow(rows));
  rows.rows.resize(4);
  QVERIFY(!fitShadow(rows));
}

void TestShadowLook::thePhotosShadowIsRead_data() {
  QTest::addColumn<double>("elevation");
  QTest::addColumn<double>("strength");
  QTest::addColumn<double>("disc");
  QTest::newRow("clear day") << 38.0 << 6.0 << 0.53;
  QTest::newRow("high haze") << 50.0 << 3.0 << 4.0;
  QTest::newRow("low sun") << 24.0 << 8.0 << 1.0;
}

void TestShadowLook::thePhotosShadowIsRead() {
  QFETCH(double, elevation);
  QFETCH(double, strength);
  QFETCH(double, disc);
  const LitPost post{-70, elevation, Rgb(1.1f, 1.0f, 0.8f) * float(strength), 1e9f, 0.03f, disc};
  LitPlace place = makeLitPlace(post, in(""));
  AssetStore assets(in(""));
  QElapsedTimer timer;
  timer.start();
  (void)compareShadowLooks(place.shot, assets);
  timer.restart();
  const auto look = compareShadowLooks(place.shot, assets);
  qInfo("%lld ms", timer.elapsed());
  QVERIFY2(look.ok(), look.ok() ? "" : look.error().message.c_str());
  qInfo(
      "left %.3f (ours %.3f, true %.3f), disc %.2f (ours %.2f, %.2f), half %.3f %.3f sure %.3f, %.2f, "
      "explained %.2f; darker %.2f softer %.2f tint %.1f",
      double(luminance(look->photo.left)), double(luminance(look->ours.left)),
      double(luminance(place.sky) / luminance(place.sky + place.sun)), look->photo.discDegrees,
      look->ours.discDegrees, disc, look->photo.halfWidthM, look->ours.halfWidthM, look->photo.leftEv,
      look->photo.discSigmaDegrees, look->photo.explained, look->darkerEv(), look->softer(),
      look->tintPercent());
}

QTEST_APPLESS_MAIN(TestShadowLook)
#include "shadow_look.moc"
