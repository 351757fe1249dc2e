#include "core/picture/fill.h"

#include <QtTest>
#include <random>

#include "core/base/background.h"
#include "core/picture/fill_shifts.h"
#include "tests/program.h"

using namespace dusk;

namespace {

constexpr int side = 260;

/// A picture of `shade(x, y)` with white noise of a deviation, and a round hole in its middle.
struct TornPicture {
  Picture truth, torn;
  std::vector<unsigned char> hole;
  TornPicture(const std::function<double(double, double)>& shade, double sigma, double radius = 34) {
    truth = Picture::rgb(side, side), hole.assign(size_t(side) * side, 0);
    std::mt19937 random(3);
    std::normal_distribution<double> noise(0, sigma);
    for (int y = 0; y < side; ++y)
      for (int x = 0; x < side; ++x) {
        const double v = shade(x + 0.5, y + 0.5) + noise(random);
        for (int c = 0; c < 3; ++c) truth.at(x, y)[c] = float(v * (1 - 0.1 * c));
        hole[size_t(y) * side + x] = std::hypot(x - side / 2, y - side / 2) < radius;
      }
    torn = truth;
    for (size_t i = 0; i < hole.size(); ++i)
      for (size_t c = 0; c < 3 && hole[i]; ++c)
        torn.pixels[i * 3 + c] = c == 0 ? 1.0f : 0.0f;  // what must go
  }
  Picture filledBy(const FillHow& how = {}) const {
    Progress progress;
    auto made = filled(torn, hole, how, progress);
    return made ? *made : Picture();
  }
  /// Mean of a function of the pixels in the hole.
  double inHole(const Picture& of, const std::function<double(const Picture&, int, int)>& value) const {
    double sum = 0, n = 0;
    for (int y = 0; y < side; ++y)
      for (int x = 0; x < side; ++x)
        if (hole[size_t(y) * side + x]) sum += value(of, x, y), ++n;
    return sum / n;
  }
};

double valueAt(const Picture& p, int x, int y) { return double(p.at(x, y)[0]); }
/// What a pixel differs by from its neighbours: grain.
double grainAt(const Picture& p, int x, int y) {
  const double d = double(p.at(x, y)[0] - 0.25f * (p.at(x - 1, y)[0] + p.at(x + 1, y)[0] + p.at(x, y - 1)[0] +
                                                   p.at(x, y + 1)[0]));
  return d * d;
}

/// A dark joint across, 4 pixels wide, that leans.
double joint(double x, double y) {
  const double off = std::abs((x - side / 2.0) * 0.9 + (y - side / 2.0) * 0.44);
  return off < 2 ? 0.15 : 0.6;
}

}  // namespace

/// Holes are filled so that nobody sees where they were.
class TestFill : public QObject {
  Q_OBJECT
 private slots:
  void grainIsAsRoundIt();
  void lightGoesOnSmoothly();
  void aJointRunsThrough();
  void edgesMeet();
  void aSoftBarGoesOn();
  void whatIsRoundItStays();
  void itIsTheSameAgain();
  void anotherSeedFindsOtherPieces();
  void itIsTakenFromWhereOneSays();
  void likeSizesAreTaken();
  void holesAtTheBorderAreFilled();
  void whereNothingIsLeftThatIsSaid();
  void itCanBeCancelled();
};

void TestFill::grainIsAsRoundIt() {
  const TornPicture place([](double, double) { return 0.5; }, 0.02);
  const Picture made = place.filledBy();
  QVERIFY(!made.empty());
  const double wanted = std::sqrt(place.inHole(place.truth, grainAt)),
               grain = std::sqrt(place.inHole(made, grainAt));
  QVERIFY2(std::abs(grain / wanted - 1) < 0.1, qPrintable(QString("%1 of %2").arg(grain).arg(wanted)));
}

/// A sky from light to dark: pieces from elsewhere are as bright as here.
void TestFill::lightGoesOnSmoothly() {
  const auto sky = [](double x, double y) { return 0.3 + 0.0012 * y + 0.0005 * x; };
  const TornPicture place(sky, 0.008);
  const Picture made = place.filledBy();
  double worst = 0;
  for (int y = 0; y < side; y += 6)
    for (int x = 0; x < side; x += 6) {
      if (!place.hole[size_t(y) * side + x]) continue;
      double sum = 0;
      for (int v = -3; v <= 3; ++v)
        for (int u = -3; u <= 3; ++u) sum += double(made.at(x + u, y + v)[0]) / 49;
      worst = std::max(worst, std::abs(sum - sky(x + 0.5, y + 0.5)));
    }
  QVERIFY2(worst < 4.5 / 255, qPrintable(QString::number(worst * 255)));
}

void TestFill::aJointRunsThrough() {
  const TornPicture place(joint, 0.012);
  const Picture made = place.filledBy();
  int rows = 0, seen = 0;
  double off = 0;
  for (int y = side / 2 - 28; y <= side / 2 + 28; ++y) {
    const double should = side / 2.0 - 0.44 / 0.9 * (y + 0.5 - side / 2.0);
    double weight = 0, at = 0;
    for (int x = int(should) - 10; x <= int(should) + 10; ++x)
      if (const double dark = 0.45 - double(made.at(x, y)[0]); dark > 0)
        weight += dark, at += dark * (x + 0.5);
    ++rows;
    if (weight < 0.4) continue;  // no joint here; a whole one has some 1.2
    ++seen, off += std::abs(at / weight - should);
  }
  QVERIFY2(seen >= rows * 95 / 100, qPrintable(QString("%1 of %2 rows").arg(seen).arg(rows)));
  QVERIFY2(off / seen < 1.2, qPrintable(QString::number(off / seen)));
}

/// Two fields that meet in an edge, which goes on where it was.
void TestFill::edgesMeet() {
  const auto edge = [](double x, double y) { return y < side / 2.0 + 0.2 * (x - side / 2.0) ? 0.7 : 0.35; };
  const TornPicture place(edge, 0.01);
  const Picture made = place.filledBy();
  const double wrong = place.inHole(made, [&](const Picture& p, int x, int y) {
    return std::abs(double(p.at(x, y)[0]) - edge(x + 0.5, y + 0.5)) > 0.12 ? 1.0 : 0.0;
  });
  QVERIFY2(wrong < 0.05, qPrintable(QString::number(wrong)));
}

/// A soft bar that leans by less than a pixel of the size at which pieces are sought.
void TestFill::aSoftBarGoesOn() {
  const auto bar = [](double x, double y) {
    const double at = y + 0.035 * (x - side / 2.0) - side / 2.0;
    return 0.25 + 0.3 * std::exp(-at * at / 30);
  };
  const TornPicture place(bar, 0.006, 45);
  const Picture made = place.filledBy();
  double worst = 0;
  for (int x = side / 2 - 38; x <= side / 2 + 38; ++x) {
    double weight = 0, at = 0;
    for (int y = side / 2 - 12; y <= side / 2 + 12; ++y)
      if (const double bright = double(made.at(x, y)[0]) - 0.3; bright > 0)
        weight += bright, at += bright * (y + 0.5);
    const double should = side / 2.0 - 0.035 * (x + 0.5 - side / 2.0);
    worst = std::max(worst, weight > 0 ? std::abs(at / weight - should) : side);
  }
  QVERIFY2(worst < 1, qPrintable(QString::number(worst)));
}

void TestFill::whatIsRoundItStays() {
  const TornPicture place(joint, 0.02);
  const Picture made = place.filledBy();
  for (size_t i = 0; i < place.hole.size(); ++i)
    for (size_t c = 0; c < 3; ++c)
      if (!place.hole[i]) QCOMPARE(made.pixels[i * 3 + c], place.torn.pixels[i * 3 + c]);
  // And nothing of what was to go is left: it was red.
  const double red = place.inHole(made, [](const Picture& p, int x, int y) {
    return double(p.at(x, y)[0]) > 0.9 && p.at(x, y)[1] < 0.1f ? 1.0 : 0.0;
  });
  QCOMPARE(red, 0.0);
}

void TestFill::itIsTheSameAgain() {
  const TornPicture place(joint, 0.02);
  const Picture made = place.filledBy();
  limitThreads(1);
  const Picture alone = place.filledBy();
  limitThreads(0);
  QVERIFY(made == alone);
}

void TestFill::anotherSeedFindsOtherPieces() {
  const TornPicture place(joint, 0.02);
  FillHow other;
  other.seed = 5;
  QVERIFY(!(place.filledBy() == place.filledBy(other)));
}

void TestFill::itIsTakenFromWhereOneSays() {
  const auto shade = [](double x, double y) {
    return 0.4 + 0.001 * x + 0.05 * std::sin(x * 0.9) * std::sin(y * 0.7);
  };
  const TornPicture place(shade, 0.004);
  FillHow how;
  how.from = Shift{80, -20};
  const Picture made = place.filledBy(how);
  // Its detail is that of there, its brightness that of here: there is 80 pixels' worth brighter.
  double same = 0, n = 0, level = 0;
  for (int y = side / 2 - 20; y < side / 2 + 20; ++y)
    for (int x = side / 2 - 20; x < side / 2 + 20; ++x) {
      const auto slope = [&](const Picture& p, int u, int v) {
        return double(p.at(u + 1, v)[0] - p.at(u, v)[0]);
      };
      same += std::abs(slope(made, x, y) - slope(place.truth, x + 80, y - 20)), ++n;
      level += double(made.at(x, y)[0] - place.truth.at(x, y)[0]);
    }
  QVERIFY2(same / n < 0.002, qPrintable(QString::number(same / n)));
  QVERIFY2(std::abs(level / n) < 0.012, qPrintable(QString::number(level / n)));
}

/// Where the ground recedes, what is taken lies about as far away as what is filled.
void TestFill::likeSizesAreTaken() {
  const TornPicture place([](double, double) { return 0.5; }, 0.02);
  fill::Sized p{side / 2, side / 2, {}, {}, {}};
  p.rgb.resize(size_t(p.width) * p.height * 3), p.hole.resize(size_t(p.width) * p.height);
  for (int y = 0; y < p.height; ++y)
    for (int x = 0; x < p.width; ++x) {
      const size_t i = size_t(y) * p.width + x;
      p.hole[i] = place.hole[size_t(2 * y) * side + size_t(2 * x)];
      for (size_t c = 0; c < 3; ++c) p.rgb[i * 3 + c] = place.truth.at(2 * x, 2 * y)[c];
    }
  const auto rise = [&] {
    double sum = 0, n = 0;
    for (const Shift& s : fill::likelyShifts(p, 20, 1)) sum += std::abs(s.y), ++n;
    return sum / n;
  };
  const double without = rise();
  for (int y = 0; y < p.height; ++y)
    for (int x = 0; x < p.width; ++x) p.size.push_back(float(std::log(y + 4.0)));
  const double with = rise();
  QVERIFY2(with < 0.6 * without, qPrintable(QString("%1 against %2").arg(with).arg(without)));
}

void TestFill::holesAtTheBorderAreFilled() {
  TornPicture place([](double, double) { return 0.5; }, 0.01);
  std::fill(place.hole.begin(), place.hole.end(), 0);
  for (int y = 0; y < 40; ++y)
    for (int x = side - 50; x < side; ++x) {
      place.hole[size_t(y) * side + x] = 1;
      for (int c = 0; c < 3; ++c) place.torn.at(x, y)[c] = 0;
    }
  const Picture made = place.filledBy();
  QVERIFY(std::abs(place.inHole(made, valueAt) - 0.5) < 0.01);
}

void TestFill::whereNothingIsLeftThatIsSaid() {
  Progress progress;
  const Picture grey(Picture::rgb(40, 40));
  const auto all = filled(grey, std::vector<unsigned char>(1600, 1), {}, progress);
  QVERIFY(!all.ok() && all.error().message.find("loop less") != std::string::npos);
  FillHow far;
  far.from = Shift{4000, 0};
  const TornPicture place(joint, 0.02);
  QVERIFY(!place.filledBy(far).empty());  // from around, then
  const auto none = filled(grey, std::vector<unsigned char>(1600, 0), {}, progress);
  QVERIFY(none.ok() && *none == grey);
}

void TestFill::itCanBeCancelled() {
  const TornPicture place(joint, 0.02);
  Progress progress;
  progress.cancel();
  const auto made = filled(place.torn, place.hole, {}, progress);
  QVERIFY(!made.ok() && made.error().kind == ErrorKind::cancelled);
}

DUSK_TEST(TestFill, NoApplication);
#include "fill.moc"
