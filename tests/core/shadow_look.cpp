// The photo's shadow beside the one that the shot's lights throw: darkness, softness, colour.
#include <QtTest>

#include "core/light/sun.h"
#include "core/proof/find_shadow.h"
#include "core/proof/shadow_look.h"
#include "tests/lit_post.h"
#include "tests/program.h"

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
  void aSunIsMadeToMatch_data();
  void aSunIsMadeToMatch();
  void whatCannotBeReadIsSaid();
  void unmarkedOnesAreFound_data();
  void unmarkedOnesAreFound();
  void noneIsFoundWhereNoneIs();
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
  const auto look = compareShadowLooks(place.shot, assets);
  QVERIFY2(look.ok(), look.ok() ? "" : look.error().message.c_str());
  const double truth = double(luminance(place.sky) / luminance(place.sky + place.sun));
  QVERIFY2(std::abs(std::log2(double(luminance(look->photo.left)) / truth)) < 0.15,
           qPrintable(QString::number(double(luminance(look->photo.left)))));
  // The panorama holds that sun; what a pixel cannot show of a disc is not told apart.
  QVERIFY2(std::abs(look->darkerEv()) < 0.08, qPrintable(QString::number(look->darkerEv())));
  QVERIFY2(look->tintPercent() < 3, qPrintable(QString::number(look->tintPercent())));
  if (disc > 2)
    QVERIFY2(std::abs(look->photo.discDegrees - disc) < 0.2 * disc,
             qPrintable(QString::number(look->photo.discDegrees)));
  QVERIFY2(disc > 2 ? look->softer() < 0.55 : std::abs(look->softer() - 1) < 0.2,
           qPrintable(QString::number(look->softer())));
  QVERIFY(std::abs(look->photo.halfWidthM - LitPost::halfWidthM) < 0.002);
  QVERIFY(look->photo.leftEv > 0 && look->photo.leftEv < 0.05);
  for (const Finding& f : shadowFindings(*look, place.shot))
    QCOMPARE(f.ok(), f.id != "shadow-softness" || disc <= 2);
}

void TestShadowLook::aSunIsMadeToMatch_data() {
  QTest::addColumn<float>("clippedAt");
  QTest::addColumn<bool>("hasLamp");
  QTest::newRow("panorama without its sun") << 2.0f << false;
  QTest::newRow("a lamp of the wrong colour, width and strength") << 2.0f << true;
  QTest::newRow("a lamp too many") << 1e9f << true;
}

void TestShadowLook::aSunIsMadeToMatch() {
  QFETCH(float, clippedAt);
  QFETCH(bool, hasLamp);
  LitPlace place = makeLitPlace({-70, 40, Rgb(6.6f, 6, 4.8f), clippedAt, 0.02f, 4}, in(""));
  Shot& shot = place.shot;
  if (hasLamp) {
    Lamp sun;
    sun.id = "sun", sun.azimuthDegrees = -70, sun.elevationDegrees = 40, sun.powerEv = 3;
    sun.colour = Vec3d(0.3, 1.2, 1.1), sun.discDegrees = 12;
    shot.lamps = {sun};
  }
  AssetStore assets(in(""));
  const auto before = compareShadowLooks(shot, assets);
  QVERIFY(before.ok() && std::abs(before->darkerEv()) > 0.5);
  QCOMPARE(before->throwsNone, !hasLamp);
  QVERIFY(!shadowFindings(*before, shot)[0].ok());
  const Outcome mended = mendShadow(shot, assets);
  QVERIFY2(mended.ok(), mended.ok() ? "" : mended.error().message.c_str());
  const auto after = compareShadowLooks(shot, assets);
  QVERIFY(after.ok());
  QVERIFY2(std::abs(after->darkerEv()) < 0.12, qPrintable(QString::number(after->darkerEv())));
  QVERIFY2(after->tintPercent() < 6, qPrintable(QString::number(after->tintPercent())));
  if (clippedAt < 1e6f)
    QVERIFY2(std::abs(after->softer() - 1) < 0.25, qPrintable(QString::number(after->softer())));
  else
    QVERIFY(!shot.lamps[0].on);  // the panorama has it all
}

void TestShadowLook::whatCannotBeReadIsSaid() {
  LitPlace place = makeLitPlace({}, in(""));
  AssetStore assets(in(""));
  Shot none = place.shot;
  none.gnomon.reset();
  QVERIFY(!compareShadowLooks(none, assets).ok() && !mendShadow(none, assets).ok());
  Shot elsewhere = place.shot;
  elsewhere.gnomon->base = *projected(none.vantage.camera, {0.8, 0.6, 0});
  elsewhere.gnomon->shadowTip = *projected(none.vantage.camera, {1.3, 0.4, 0});
  const auto nothing = compareShadowLooks(elsewhere, assets);
  QVERIFY(!nothing.ok() && nothing.error().message.find("No shadow") != std::string::npos);
  // Its own sun too strong for the photo: nobody can take that away.
  Shot strong = place.shot;
  strong.surroundings.contrast = 1.35;
  const Shot before = strong;
  if (const auto look = compareShadowLooks(strong, assets); look.ok() && look->darkerEv() > 0.45) {
    QVERIFY(!mendShadow(strong, assets).ok());
    QVERIFY(strong == before);
  }
}

void TestShadowLook::unmarkedOnesAreFound_data() {
  QTest::addColumn<double>("azimuth");
  QTest::addColumn<double>("elevation");
  QTest::addColumn<bool>("byItsBox");
  QTest::newRow("from the left") << -70.0 << 40.0 << true;
  QTest::newRow("behind the camera") << 150.0 << 55.0 << false;
  QTest::newRow("towards the camera") << 20.0 << 30.0 << true;
  QTest::newRow("low") << 100.0 << 22.0 << false;
  QTest::newRow("away to the right") << -150.0 << 35.0 << true;
}

void TestShadowLook::unmarkedOnesAreFound() {
  QFETCH(double, azimuth);
  QFETCH(double, elevation);
  QFETCH(bool, byItsBox);
  LitPost post;
  post.azimuth = azimuth, post.elevation = elevation, post.discDegrees = 0.5;
  Shot shot = makeLitPlace(post, in("")).shot;
  shot.gnomon.reset();
  const Camera& camera = shot.vantage.camera;
  if (byItsBox) {
    StandIn box;
    box.sizeM = {0.06, 0.06, LitPost::heightM}, box.positionM = Vec3d(0);
    StandIn other = box;  // one that throws none
    other.positionM = {-0.9, 0.7, 0};
    shot.standIns = {other, box};
  } else {
    Stroke upright{
        "u", Run::up, {*projected(camera, {0, 0, 0}), *projected(camera, {0, 0, LitPost::heightM})}};
    shot.evidence.strokes = {upright};
  }
  AssetStore assets(in(""));
  const auto gnomon = findGnomon(shot, assets);
  QVERIFY2(gnomon.ok(), gnomon.ok() ? "" : gnomon.error().message.c_str());
  const auto read = readGnomon(camera, *gnomon);
  QVERIFY(read && read->hasElevation);
  const double off = std::abs(wrapDegrees(read->sun.azimuthDegrees - azimuth)),
               up = std::abs(read->sun.elevationDegrees - elevation);
  QVERIFY2(off < 1 && up < 2, qPrintable(QString("%1, %2").arg(off).arg(up)));
  // Proofs compare with it as with one that is marked.
  shot.placements = {Placement{}};
  Lamp sun;
  sun.id = "sun", sun.azimuthDegrees = azimuth + 20, sun.elevationDegrees = elevation, sun.powerEv = 4;
  shot.lamps = {sun};
  shot.surroundings = {};
  Project p;
  p.shots = {shot};
  for (const Models models : {Models::loaded, Models::wait}) {
    const auto findings = prove(p, 0, assets, nullptr, models);
    const auto angle = std::find_if(findings.begin(), findings.end(),
                                    [](const Finding& f) { return f.id == "shadow-angle"; });
    QCOMPARE(angle != findings.end(), models == Models::wait);
    if (angle != findings.end()) QVERIFY(!angle->ok() && std::abs(angle->value - 20) < 1);
  }
}

// An overcast day; a thing that is not where it is said to be; a photo of tiles.
void TestShadowLook::noneIsFoundWhereNoneIs() {
  LitPost overcast;
  overcast.strength = Rgb(0);
  const auto found = [&](const LitPost& post, const Vec3d& at) {
    Shot shot = makeLitPlace(post, in("")).shot;
    StandIn box;
    box.sizeM = {0.06, 0.06, LitPost::heightM}, box.positionM = at;
    shot.standIns = {box};
    AssetStore assets(in(""));
    return findGnomon(shot, assets).ok();
  };
  QVERIFY(!found(overcast, {0, 0, 0}));
  overcast.grain = 0.08f;
  QVERIFY(!found(overcast, {0, 0, 0}));
  QVERIFY(!found({}, {0.5, 0.3, 0}));
  QVERIFY(!found({}, {-0.8, -0.4, 0}));
  Shot nothing = makeLitPlace({}, in("")).shot;
  AssetStore assets(in(""));
  QVERIFY(!findGnomon(nothing, assets).ok());
  // What runs straight towards the camera may be a mirror image on wet ground.
  LitPost towards;
  towards.azimuth = -10, towards.discDegrees = 0.5;
  QVERIFY(!found(towards, {0, 0, 0}));
  Camera camera = lookAt(600, 400, 500, {0.3, -3, 1.5}, {0, 0, 0});
  Picture tiles = Picture::rgb(600, 400);
  for (int y = 0; y < 400; ++y)
    for (int x = 0; x < 600; ++x)
      if (const auto p = levelPoint(camera, {x + 0.5, y + 0.5})) {
        const bool dark = (int(std::floor(p->x * 4)) + int(std::floor(p->y * 4))) & 1;
        std::fill_n(tiles.at(x, y), 3, dark ? 0.1f : 0.4f);
      }
  for (int i = 0; i < 8; ++i)
    QVERIFY2(!findShadow(tiles, camera, {{{-0.4 + 0.11 * i, 0.13 * i, 0}, 0.6, {0.1, 0.1}, 0}}),
             qPrintable(QString::number(i)));
}

DUSK_TEST(TestShadowLook, NoApplication);
#include "shadow_look.moc"
