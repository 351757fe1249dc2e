#include "core/blend/scopes.h"

#include <QtTest>

#include "core/colour/difference.h"
#include "core/vantage/camera.h"
#include "tests/program.h"

using namespace dusk;

namespace {

constexpr int w = 120, h = 80;

/// A photo of one grey above and another below, a product in its middle, seen by a camera at 1.5 m.
struct Drawn {
  std::vector<uint32_t> codes = std::vector<uint32_t>(size_t(w) * h);
  Passes passes;
  Shot shot;
  Drawn() {
    passes.beauty = Picture::rgb(w, h), passes.alpha = Picture(w, h, {"A"}),
    passes.depth = Picture(w, h, {"Z"});
    passes.ratio = Picture::rgb(w, h);
    std::fill(passes.ratio.pixels.begin(), passes.ratio.pixels.end(), 1.0f);
    shot.vantage.camera = lookAt(w, h, 110, {0, -4, 1.5}, {0, 0, 0.3});
    shot.vantage.solved = true;
    for (int y = 0; y < h; ++y)
      for (int x = 0; x < w; ++x) {
        paint(x, y, y < 30 ? 0xff808080 : 0xff404040);
        if (!isProduct(x, y)) continue;
        paint(x, y, 0xffc86432);
        passes.alpha.at(x, y)[0] = 1, passes.depth.at(x, y)[0] = 4;
      }
  }
  static bool isProduct(int x, int y) { return x >= 50 && x < 70 && y >= 30 && y < 50; }
  void paint(int x, int y, uint32_t rgb) { codes[size_t(y) * w + x] = rgb; }
  CodeView view() const { return {w, h, codes.data(), w}; }
  Scopes scopes() const { return scopesOf(view(), passes, shot, w, h, {0, 0, w, h}); }
};

double sum(const auto& shares) {
  double all = 0;
  for (const float v : shares) all += double(v);
  return all;
}

}  // namespace

/// The product's tones beside the photo's, by count.
class TestScopes : public QObject {
  Q_OBJECT
 private slots:
  void sharesAddUp();
  void theProductIsCountedByItself();
  void thePhotoIsThatAsFarAway();
  void withoutAGroundAllOfThePhotoCounts();
  void anEmptyPictureHasNoScopes();
  void endsAreFoundWhereTheProductChangesThings();
};

void TestScopes::sharesAddUp() {
  const Scopes s = Drawn().scopes();
  for (const Tones* t : {&s.product, &s.photo}) {
    for (const auto& channel : t->histogram) QVERIFY(std::abs(sum(channel) - 1) < 1e-4);
    QVERIFY(std::abs(sum(t->waveform) - 1) < 1e-4 && std::abs(sum(t->circle) - 1) < 1e-4);
    QVERIFY(t->dark <= t->middle && t->middle <= t->light);
  }
}

void TestScopes::theProductIsCountedByItself() {
  const Scopes s = Drawn().scopes();
  QCOMPARE(s.product.pixels, size_t{400});
  QCOMPARE(s.product.histogram[0][200], 1.0f);
  QCOMPARE(s.product.histogram[1][100], 1.0f);
  QCOMPARE(s.product.histogram[2][50], 1.0f);
  const Vec3d lab = labOfSrgb(Vec3d(200, 100, 50) / 255.0);
  QVERIFY(std::abs(s.product.a - lab.y) < 1e-3 && std::abs(s.product.b - lab.z) < 1e-3);
  // It stands between 50 and 70 of 120: in the middle columns alone.
  for (int level = 0; level < Tones::levels; ++level)
    for (int x = 0; x < Tones::across; ++x)
      if (x < 53 || x > 74) QCOMPARE(s.product.waveform[size_t(level) * Tones::across + size_t(x)], 0.0f);
}

void TestScopes::thePhotoIsThatAsFarAway() {
  Drawn scene;
  const Scopes s = scene.scopes();
  QVERIFY(s.sameDepth && s.fromM < 4 && s.toM > 4);
  // Which pixels these are, by the camera itself.
  size_t should = 0;
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w; ++x) {
      const auto p = levelPoint(scene.shot.vantage.camera, {x + 0.5, y + 0.5});
      if (Drawn::isProduct(x, y) || !p) continue;
      const double z =
          std::abs((*p - scene.shot.vantage.camera.position).dot(scene.shot.vantage.camera.axes.z));
      should += z >= s.fromM && z <= s.toM;
    }
  QCOMPARE(s.photo.pixels, should);
  // A shadow is not the photo's own any more.
  for (int y = 0; y < h; ++y)
    for (int x = 70; x < w; ++x) scene.passes.ratio.at(x, y)[1] = 0.5f;
  QVERIFY(scene.scopes().photo.pixels < should);
}

void TestScopes::withoutAGroundAllOfThePhotoCounts() {
  Drawn scene;
  scene.shot.vantage.solved = false;
  const Scopes s = scene.scopes();
  QVERIFY(!s.sameDepth);
  QCOMPARE(s.photo.pixels, size_t(w) * h - 400);
  QVERIFY(std::abs(double(s.photo.histogram[0][0x80]) - double(w * 30) / (w * h - 400)) < 1e-4);
}

void TestScopes::anEmptyPictureHasNoScopes() {
  const Scopes s = scopesOf({}, {}, {}, 10, 10, {0, 0, 10, 10});
  QCOMPARE(s.product.pixels + s.photo.pixels, size_t{0});
  QVERIFY(codeEnds({}, {}).empty());
}

void TestScopes::endsAreFoundWhereTheProductChangesThings() {
  Drawn scene;
  scene.paint(55, 35, 0xffffffff), scene.paint(56, 35, 0xff000000), scene.paint(57, 35, 0xffff8000);
  scene.paint(5, 5, 0xffffffff);  // the photo's own
  scene.paint(6, 60, 0xff000000), scene.passes.ratio.at(6, 60)[0] = 0.2f;
  const auto ends = codeEnds(scene.view(), scene.passes);
  const auto at = [&](int x, int y) { return ends[size_t(y) * w + x]; };
  QVERIFY(at(55, 35) == CodeEnd::burnt && at(56, 35) == CodeEnd::black && at(57, 35) == CodeEnd::beyond);
  QVERIFY(at(5, 5) == CodeEnd::none && at(6, 60) == CodeEnd::black && at(60, 40) == CodeEnd::none);
}

DUSK_TEST(TestScopes, NoApplication);
#include "scopes.moc"
