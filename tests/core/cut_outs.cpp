#include "core/assets/cut_out.h"

#include <QtTest>

#include <random>

#include "core/picture/matte.h"
#include "core/vantage/camera.h"
#include "tests/program.h"

using namespace dusk;

namespace {

/// A thing over a background of its own slow pattern: `alpha` says how much of each pixel it covers.
struct RopeScene {
  Picture light = Picture::rgb(220, 160);
  std::vector<float> alpha = std::vector<float>(220 * 160);
  CutOut what;
};

/// Cover of pixels by lines of a width, 36 looks a pixel.
void cover(RopeScene& s, const std::function<bool(double x, double y)>& inside, const Rgb& near,
           const Rgb& far) {
  std::mt19937 random(4);
  std::normal_distribution<float> noise(0, 0.004f);
  for (int y = 0; y < s.light.height; ++y)
    for (int x = 0; x < s.light.width; ++x) {
      int n = 0;
      for (int k = 0; k < 36; ++k) n += inside(x + (k % 6 + 0.5) / 6, y + (k / 6 + 0.5) / 6);
      const float a = float(n) / 36;
      s.alpha[size_t(y * s.light.width + x)] = a;
      for (int c = 0; c < 3; ++c) {
        const float back = far[c] * (0.8f + 0.3f * std::sin(float(x) * 0.05f + float(y) * 0.03f)),
                    front = near[c] * (0.9f + 0.002f * float(y));
        s.light.at(x, y)[c] = front * a + back * (1 - a) + noise(random);
      }
    }
}

double meanError(const RopeScene& s, const CutOutPicture& made) {
  double sum = 0;
  for (int y = 0; y < s.light.height; ++y)
    for (int x = 0; x < s.light.width; ++x) {
      const PixelArea& a = made.area;
      const bool in = x >= a.x0 && x < a.x1 && y >= a.y0 && y < a.y1;
      const float got = in ? made.light.at(x - a.x0, y - a.y0)[3] : 0;
      sum += std::abs(got - s.alpha[size_t(y * s.light.width + x)]);
    }
  return sum / double(s.alpha.size());
}

}  // namespace

class TestCutOuts : public QObject {
  Q_OBJECT
 private slots:
  void aRopeIsFoundToItsEdge();
  void hairIsFoundStrandByStrand();
  void coloursAreFreedOfTheBackground();
  void nothingIsSaid();
  void itsSheetHoldsAllOfIt();
};

void TestCutOuts::aRopeIsFoundToItsEdge() {
  RopeScene s;
  cover(s,
        [](double x, double y) {
          const double middle = 80 + 30 * std::sin(x * 0.03),
                       off = (y - middle) / std::hypot(1, 0.9 * std::cos(x * 0.03));
          return std::abs(off) < 7 + 0.8 * std::sin(x * 0.9 + y * 0.7);
        },
        {0.55f, 0.42f, 0.22f}, {0.12f, 0.16f, 0.2f});
  for (int i = 0; i <= 20; ++i) s.what.loop.emplace_back(i * 11, 60 + 30 * std::sin(i * 11 * 0.03));
  for (int i = 20; i >= 0; --i) s.what.loop.emplace_back(i * 11, 100 + 30 * std::sin(i * 11 * 0.03));
  const auto made = cutOut(s.what, s.light, 1);
  QVERIFY2(made.ok(), made.ok() ? "" : made.error().message.c_str());
  QVERIFY2(meanError(s, **made) < 0.02, qPrintable(QString::number(meanError(s, **made))));
}

void TestCutOuts::hairIsFoundStrandByStrand() {
  RopeScene s;
  cover(s,
        [](double x, double y) {
          if (std::hypot(x - 110, y - 120) < 42) return true;
          for (int i = 0; i < 26; ++i) {
            const double base = 72 + i * 3.0, bend = (i - 13) * 0.02;
            const double strand = base + bend * (90 - y) * 4 + 3 * std::sin(y * 0.07 + i);
            if (y < 100 && y > 30 + (i * 7) % 20 && std::abs(x - strand) < 0.55) return true;
          }
          return false;
        },
        {0.06f, 0.04f, 0.03f}, {0.6f, 0.62f, 0.66f});
  s.what.loop = {{30, 20}, {190, 20}, {190, 158}, {30, 158}};
  s.what.softPx = 30;
  const auto made = cutOut(s.what, s.light, 1);
  QVERIFY(made.ok());
  QVERIFY2(meanError(s, **made) < 0.02, qPrintable(QString::number(meanError(s, **made))));
}

void TestCutOuts::coloursAreFreedOfTheBackground() {
  RopeScene s;
  cover(s, [](double x, double y) { return std::hypot(x - 110, y - 80) < 40.3; }, {0.7f, 0.1f, 0.05f},
        {0.05f, 0.3f, 0.6f});
  const Picture front = foregroundOf(s.light, s.alpha);
  int looked = 0;
  for (int y = 0; y < 160; ++y)
    for (int x = 0; x < 220; ++x) {
      const float a = s.alpha[size_t(y * 220 + x)];
      if (a < 0.3f || a > 0.7f) continue;
      ++looked;
      // On the border as well it is red, with nothing of the blue behind.
      QVERIFY(front.at(x, y)[0] > 0.5f && front.at(x, y)[2] < 0.15f);
    }
  QVERIFY(looked > 60);
}

void TestCutOuts::nothingIsSaid() {
  RopeScene s;
  cover(s, [](double, double) { return false; }, {}, {0.3f, 0.3f, 0.3f});
  s.what.name = "Ghost";
  for (const std::vector<Vec2d>& loop : {std::vector<Vec2d>{},
                                         {{10, 10}, {20, 20}},
                                         {{500, 500}, {600, 500}, {600, 600}},
                                         {{50, 50}, {50, 50}, {50, 50}}}) {
    s.what.loop = loop;
    const auto made = cutOut(s.what, s.light, 1);
    QVERIFY(!made.ok() && made.error().message.find("Ghost") != std::string::npos);
  }
}

// Seen through the camera, the sheet is where the loop is, upright, and as far as its foot or as is said.
void TestCutOuts::itsSheetHoldsAllOfIt() {
  Shot shot;
  CutOut post;
  post.name = "Post", post.loop = {{300, 200}, {340, 190}, {352, 430}, {310, 440}};
  QVERIFY(!standInFor(post, shot));  // without a camera nobody knows where it stands
  shot.vantage.solved = true;
  shot.vantage.camera = lookAt(640, 480, 700, {1, -5, 1.6}, {0.2, 0, 0.4});
  for (const double stands : {0.0, 3.0}) {
    post.standsAtM = stands;
    const auto sheet = standInFor(post, shot);
    QVERIFY(sheet && sheet->kind == StandInKind::sheet && sheet->leanDegrees == 90);
    QVERIFY(sheet->catches && sheet->blocks);
    const double a = radians(sheet->turnDegrees);
    const auto corner = [&](double across, double up) {
      return *projected(shot.vantage.camera,
                        sheet->positionM +
                            Vec3d(std::cos(a), std::sin(a), 0) * (across * sheet->sizeM.x / 2) +
                            Vec3d(0, 0, up * sheet->sizeM.y / 2));
    };
    Vec2d least(1e9), most(-1e9);
    for (const auto& [x, y] : {std::pair(-1, -1), {1, -1}, {1, 1}, {-1, 1}}) {
      const Vec2d p = corner(x, y);
      least = {std::min(least.x, p.x), std::min(least.y, p.y)},
      most = {std::max(most.x, p.x), std::max(most.y, p.y)};
    }
    for (const Vec2d& p : post.loop)
      QVERIFY(p.x > least.x - 1 && p.x < most.x + 1 && p.y > least.y - 1 && p.y < most.y + 1);
    QVERIFY(most.x - least.x < 65 && most.y - least.y < 270);
    const Vec3d foot = sheet->positionM - Vec3d(0, 0, sheet->sizeM.y / 2);
    if (stands == 0)
      QVERIFY(std::abs(foot.z) < 1e-6);
    else
      QVERIFY(std::abs((foot - shot.vantage.camera.position).dot(shot.vantage.camera.axes.z) - stands) <
              0.05);
  }
  post.standsAtM = 0;
  post.loop = {{300, 20}, {340, 20}, {340, 60}};  // it hangs in the sky
  QVERIFY(!standInFor(post, shot));
}

DUSK_TEST(TestCutOuts, NoApplication);
#include "cut_outs.moc"
