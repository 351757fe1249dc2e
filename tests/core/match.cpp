#include "core/proof/match.h"

#include <QTemporaryDir>
#include <QtTest>

#include "bench/made_up_photos.h"
#include "core/base/srgb.h"
#include "core/light/align.h"
#include "core/picture/write.h"
#include "core/project/file.h"
#include "tests/program.h"

using namespace dusk;

namespace {

/// A character as measured, without a photo's file.
PhotoCharacter characterOf(const MadeUpPhoto& photo) {
  PhotoCharacter c;
  Progress progress;
  c.grain = grainOf(photo.codes);
  const auto edges = cleanEdges(photo.light, c.grain.sigma / 255 * 0.89, progress);
  c.softness = softnessOf(edges, photo.light, {}, 0);
  c.fringes = fringesOf(edges, photo.light.width, photo.light.height);
  return c;
}

}  // namespace

class TestMatch : public QObject {
  Q_OBJECT
 private slots:
  void grainIsFoundAtEachBrightness();
  void cleanPhotosHaveNoGrain();
  void edgesAndFringesAreFound();
  void matchingClosesTheGapAndCanBeTakenBack();
  void whatTheRenderHasIsNotAddedAgain();
  void blurIsChosenByWhatItMeasures();
  void vignettesAreReadFromEvenPlaces_data();
  void vignettesAreReadFromEvenPlaces();
  void blackIsWhereDarknessEnds();
  void toneIsToldByThePlacesOwnPanorama();
  void strongerColoursAreFound_data();
  void strongerColoursAreFound();
};

void TestMatch::grainIsFoundAtEachBrightness() {
  const MadeUpPhoto photo = madeUpPhoto(9, 700, 500);
  const GrainFound found = grainOf(photo.codes);
  QVERIFY(!found.look.sigma.empty() && found.patches > 50);
  for (const int code : {80, 128, 176})
    for (int c = 0; c < 3; ++c) {
      const double got = found.look.sigma[size_t(code / 16)][c], truth = photo.sigmaAt(code, c);
      QVERIFY2(std::abs(got / truth - 1) < 0.15,
               qPrintable(QString("%1 %2: %3 of %4").arg(code).arg(c).arg(got).arg(truth)));
    }
  constexpr int side = 2 * GrainLook::reach + 1, middle = GrainLook::lags / 2;
  QCOMPARE(found.look.correlation[middle], 1.0);
  for (const int next : {middle + 1, middle + side})
    QVERIFY(std::abs(found.look.correlation[size_t(next)] - photo.correlation[size_t(next)]) < 0.08);
}

void TestMatch::cleanPhotosHaveNoGrain() {
  const MadeUpPhoto photo = madeUpPhoto(11, 700, 500);
  QCOMPARE(photo.grain, 0.0);
  QVERIFY(grainOf(photo.codes).look.sigma.empty());
  const BlendSettings b = matched({}, MatchKind::grain, characterOf(photo), {});
  QVERIFY(b.grain.sigma.empty());
}

void TestMatch::edgesAndFringesAreFound() {
  for (const unsigned seed : {0u, 2u}) {
    const MadeUpPhoto photo = madeUpPhoto(seed, 900, 600);
    const PhotoCharacter c = characterOf(photo);
    QVERIFY(c.softness && c.fringes);
    for (size_t k = 0; k < 3; ++k)
      QVERIFY2(std::abs(c.softness->sigma[k] / photo.edgeSigma[k] - 1) < 0.07,
               qPrintable(QString("%1 of %2").arg(c.softness->sigma[k]).arg(photo.edgeSigma[k])));
    const double corner = std::hypot(900, 600) / 2 / 1000;
    QVERIFY(std::abs(c.fringes->scale.x - photo.fringe.x) * corner < 0.15);
    QVERIFY(std::abs(c.fringes->scale.y - photo.fringe.y) * corner < 0.15);
  }
}

void TestMatch::matchingClosesTheGapAndCanBeTakenBack() {
  const PhotoCharacter photo = characterOf(madeUpPhoto(2, 900, 600));
  const RenderCharacter render;
  BlendSettings all;
  for (const MatchRow& row : matchRows(photo, render, all)) {
    if (!row.photo) continue;
    const BlendSettings one = matched({}, row.kind, photo, render);
    for (const MatchRow& after : matchRows(photo, render, one))
      if (after.kind == row.kind) QVERIFY2(after.holds(), after.title);
    if (one == BlendSettings{}) continue;
    QVERIFY(isMatched(one, row.kind));
    BlendSettings back = unmatched(one, row.kind);
    back.rows.clear();
    QVERIFY(back == BlendSettings{});
    all = matched(all, row.kind, photo, render);
  }
  QVERIFY(!all.grain.sigma.empty() && all.lens.softPx.y > 0.3 && all.lens.fringe != Vec2d(0));
}

void TestMatch::whatTheRenderHasIsNotAddedAgain() {
  PhotoCharacter photo = characterOf(madeUpPhoto(2, 900, 600));
  RenderCharacter noisy;
  noisy.grain = Vec3d(100), noisy.sigmaPx = 50;
  const BlendSettings b =
      matched(matched({}, MatchKind::grain, photo, noisy), MatchKind::softness, photo, noisy);
  for (const Vec3d& s : b.grain.sigma) QCOMPARE(s, Vec3d(0));
  QCOMPARE(b.lens.softPx, Vec3d(0));
}

void TestMatch::blurIsChosenByWhatItMeasures() {
  // An edge of a render, blurred by the answer, is as soft as was asked for.
  for (const double wanted : {0.4, 0.55, 0.8, 1.4}) {
    const double blur = blurFor(wanted, 0.29);
    QVERIFY(blur > 0 && blur < wanted);
    QVERIFY2(std::abs(softnessAfter(blur) / wanted - 1) < 0.03,
             qPrintable(QString("%1: %2").arg(wanted).arg(softnessAfter(blur))));
  }
  QCOMPARE(blurFor(0.2, 0.29), 0.0);
}

void TestMatch::vignettesAreReadFromEvenPlaces_data() {
  QTest::addColumn<unsigned>("seed");
  QTest::addColumn<double>("loss");
  for (const unsigned seed : {2u, 16u})
    for (const double loss : {0.0, 0.2, 0.4}) QTest::addRow("%u %.1f", seed, loss) << seed << loss;
}
void TestMatch::vignettesAreReadFromEvenPlaces() {
  QFETCH(unsigned, seed);
  QFETCH(double, loss);
  const auto found = measureVignette(madeUpPhoto(seed, 900, 600, loss).light);
  QVERIFY(found);
  QVERIFY2(std::abs(found->loss - loss) <= std::max(0.012, 3 * found->margin) && found->margin < 0.03,
           qPrintable(QString("%1 ± %2").arg(found->loss).arg(found->margin)));
  QVERIFY((loss == 0) == (found->look == Vec3d(0)));
  if (loss == 0) return;
  // What is lost is less everywhere nearer to the middle.
  for (double r = 0.1; r < 1; r += 0.1) {
    const double left = 1 + r * r * (found->look.x + r * r * (found->look.y + r * r * found->look.z));
    QVERIFY(left < 1.003 && left > 1 - loss - 3 * found->margin);
  }
}

void TestMatch::blackIsWhereDarknessEnds() {
  // Greys from dark to white; below the darkest there is nothing.
  const auto blackAt = [](const std::function<double(double)>& codeAt) {
    Picture p = Picture::rgb(200, 100);
    for (int i = 0; i < 20'000; ++i)
      std::fill_n(&p.pixels[size_t(i) * 3], 3, float(srgbDecoded(codeAt(i / 20'000.0) / 255)));
    const auto black = blackOf(p);
    return black ? 255 * srgbEncoded(black->y) : -1;
  };
  // A veil: a third of the picture is black behind it.
  const double veiled = blackAt([](double share) { return 30 + 220 * std::max(0.0, share - 0.33); });
  QVERIFY2(std::abs(veiled - 30) < 1, qPrintable(QString::number(veiled)));
  // A bright place: something in it is the darkest, at the same code.
  QCOMPARE(blackAt([](double share) { return 30 + std::min(225.0, 3000 * share); }), -1.0);
  // And a plain photo, whose black is black, however little of it there is.
  const double plain = blackAt([](double share) { return 2 + std::min(225.0, 3000 * share); });
  QVERIFY2(plain > 1 && plain < 8, qPrintable(QString::number(plain)));
  QCOMPARE(blackAt([](double) { return 60; }), -1.0);
}

void TestMatch::toneIsToldByThePlacesOwnPanorama() {
  const std::filesystem::path demo = std::filesystem::path(DUSK_SOURCE) / "demo/boathouse";
  Project p = *loadProject(demo / "boathouse.dusk");
  AssetStore assets(demo);
  Shot& shot = p.shots[0];
  const auto usual = suggestedBalance(shot, assets);
  QVERIFY(usual && std::abs(usual->ev) < 0.3);
  // Another white and exposure is a camera's.
  shot.surroundings.white = {1.4, 1, 0.8}, shot.surroundings.gainEv += 2;
  const auto other = suggestedBalance(shot, assets);
  QVERIFY(other && std::abs(other->ev - usual->ev + 2) < 0.2 && other->white.x < 0.9 * usual->white.x);
  // Floors as unlike as cork and tiles are two floors.
  shot.surroundings.white = {4, 1, 0.4};
  const auto unlike = suggestedBalance(shot, assets);
  QVERIFY(unlike && !isWhiteOfOnePlace(unlike->white) && isWhiteOfOnePlace(other->white));
  // And one that lies as its file has it was never compared with the photo.
  shot.surroundings = [&] {
    Surroundings asItCame;
    asItCame.panorama = shot.surroundings.panorama;
    return asItCame;
  }();
  Progress progress;
  const auto photo = measurePhoto(shot, assets, progress);
  QVERIFY(photo.ok() && !photo->tone);
}

void TestMatch::strongerColoursAreFound_data() {
  QTest::addColumn<double>("amount");
  QTest::newRow("paler") << 0.75;
  QTest::newRow("stronger") << 1.3;
}
void TestMatch::strongerColoursAreFound() {
  QFETCH(double, amount);
  const QTemporaryDir folder;
  // A room of coloured things, which its panorama shows from near by.
  const std::filesystem::path demo = std::filesystem::path(DUSK_SOURCE) / "demo/boathouse";
  Project p = *loadProject(demo / "boathouse.dusk");
  AssetStore assets(demo);
  Shot& shot = p.shots[0];
  const auto usual = measureSaturation(shot, assets, Vec3d(0));
  QVERIFY(usual && usual->margin < 0.08);
  QVERIFY2(std::abs(usual->ratio - 1) < 0.12, qPrintable(QString::number(usual->ratio)));
  Picture plate = **assets.plate(shot);
  for (size_t i = 0; i < plate.pixels.size(); i += 3) {
    const float y = luminance(Rgb(plate.pixels[i], plate.pixels[i + 1], plate.pixels[i + 2]));
    for (size_t c = 0; c < 3; ++c)
      plate.pixels[i + c] = std::max(0.0f, y + (plate.pixels[i + c] - y) * float(amount));
  }
  const auto file = std::filesystem::path(folder.path().toStdString()) / "stronger.exr";
  QVERIFY(writeExr(file, {{"", &plate}}).ok());
  shot.plate = *assets.refer(file);
  const auto found = measureSaturation(shot, assets, Vec3d(0));
  QVERIFY(found);
  QVERIFY2(std::abs(found->ratio / usual->ratio / amount - 1) < 0.06,
           qPrintable(QString::number(found->ratio)));
  // It is put on the product as a correction that can be seen, and taken back.
  PhotoCharacter photo;
  photo.saturation = found;
  const BlendSettings with = matched({}, MatchKind::saturation, photo, {});
  QVERIFY(isMatched(with, MatchKind::saturation));
  QVERIFY(unmatched(with, MatchKind::saturation) == BlendSettings{});
  for (const MatchRow& row : matchRows(photo, {}, with))
    if (row.kind == MatchKind::saturation) QVERIFY(std::abs(row.gap()) < 1e-6);
}

DUSK_TEST(TestMatch, NoApplication);
#include "match.moc"
