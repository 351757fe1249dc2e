// Drawn directions fall as densely as their densities say: Pearson's chi-square, for surfaces and lights.
#include <QtTest>

#include "core/light/lights.h"
#include "core/trace/bsdf.h"
#include "core/trace/sampler.h"
#include "tests/program.h"

using namespace dusk;

namespace {

/// Counts drawn directions in cells of equal angles about an axis and compares with a density.
class Cells {
 public:
  /// Out to `reach` radians from `axis`; what lies beyond is one cell of its own.
  Cells(const Vec3f& axis, double reach, int rings = 16, int slices = 32)
      : frame_(triadAround(axis)),
        reach_(reach),
        rings_(rings),
        slices_(slices),
        counts_(size_t(rings * slices) + 1) {}

  void count(const Vec3f& direction) {
    const Vec3f d = frame_.toLocal(direction);
    const double angle = std::acos(std::clamp(double(d.z), -1.0, 1.0));
    double turn = std::atan2(double(d.y), double(d.x)) / (2 * pi);
    turn -= std::floor(turn);
    const int ring = int(angle / reach_ * rings_);
    if (ring >= rings_) return countBeyond();
    ++counts_[size_t(ring * slices_ + std::min(int(turn * slices_), slices_ - 1))];
    ++all_;
  }
  void countBeyond() { ++counts_.back(), ++all_; }

  /// By how many standard deviations the sum of squares is above what chance gives (Wilson & Hilferty 1931).
  template <typename Density>
  double deviation(const Density& density, int fine = 24) const {
    double inside = 0, square = 0, looseExpected = 0, looseCount = 0;
    int cells = 0;
    const auto compare = [&](double expected, double count) {
      square += (count - expected) * (count - expected) / expected, ++cells;
    };
    const auto meet = [&](double expected, double count) {
      looseExpected += expected, looseCount += count;  // cells too thin to compare are thrown together
      if (looseExpected < 10) return;
      compare(looseExpected, looseCount);
      looseExpected = looseCount = 0;
    };
    for (int r = 0; r < rings_; ++r)
      for (int s = 0; s < slices_; ++s) {
        double sum = 0;
        for (int i = 0; i < fine; ++i)
          for (int k = 0; k < fine; ++k) {
            const double angle = (r + (i + 0.5) / fine) * reach_ / rings_,
                         turn = (s + (k + 0.5) / fine) / slices_ * 2 * pi;
            const Vec3f d(float(std::sin(angle) * std::cos(turn)), float(std::sin(angle) * std::sin(turn)),
                          float(std::cos(angle)));
            sum += density(frame_.toWorld(d)) * std::sin(angle);
          }
        const double share = sum * reach_ / rings_ * 2 * pi / slices_ / (fine * fine);
        inside += share;
        meet(share * all_, counts_[size_t(r * slices_ + s)]);
      }
    meet(std::max(0.0, 1 - inside) * all_, counts_.back());
    if (inside > 1.01) return 1e9;  // no density integrates to more than one
    if (looseExpected > 0 || looseCount > 0) compare(std::max(looseExpected, 1.0), looseCount);
    const double k = std::max(1, cells - 1);
    return (std::cbrt(square / k) - (1 - 2 / (9 * k))) / std::sqrt(2 / (9 * k));
  }

 private:
  Triadf frame_;
  double reach_;
  int rings_, slices_;
  std::vector<double> counts_;
  double all_ = 0;
};

constexpr int draws = 200'000;
/// One in some thirty thousand sets of true draws lies beyond.
constexpr double unlikely = 4;

}  // namespace

class TestChances : public QObject {
  Q_OBJECT
 private slots:
  void reflectionsFallAsTheirDensitySays_data();
  void reflectionsFallAsTheirDensitySays();
  void lightsAreDrawnAsTheirDensitySays_data();
  void lightsAreDrawnAsTheirDensitySays();
  void emittingPartsAreDrawnAsTheirDensitySays();
  void aWrongDensityIsFound();
};

void TestChances::reflectionsFallAsTheirDensitySays_data() {
  QTest::addColumn<BsdfParameters>("surface");
  BsdfParameters p;
  p.roughness = 0.35f;
  QTest::newRow("plastic") << p;
  p.base = Rgb(0), p.ior = 1.8f;
  QTest::newRow("mirror-like side alone") << p;
  p = {}, p.metalness = 1, p.roughness = 0.4f;
  QTest::newRow("metal") << p;
  p.anisotropy = 0.8f, p.anisotropyTurn = 0.6f, p.roughness = 0.5f;
  QTest::newRow("brushed metal") << p;
  p = {}, p.metalness = 1, p.roughness = 0.6f, p.clearcoat = 1, p.clearcoatRoughness = 0.3f;
  QTest::newRow("lacquered metal") << p;
  p = {}, p.sheen = 1, p.sheenRoughness = 0.5f, p.roughness = 0.9f;
  QTest::newRow("cloth") << p;
  p = {}, p.ior = 1, p.roughness = 1;
  QTest::newRow("matte") << p;
}

void TestChances::reflectionsFallAsTheirDensitySays() {
  QFETCH(BsdfParameters, surface);
  for (const double lean : {0.1, 0.9, 1.4}) {
    const Bsdf bsdf(surface, Vec3f(float(std::sin(lean)), 0, float(std::cos(lean))));
    Cells cells({0, 0, 1}, pi / 2);
    for (int i = 0; i < draws; ++i) {
      Sampler sampler(11, i, i >> 16, 0);
      const Vec2f u = sampler.next2();
      const Bsdf::Sample s = bsdf.sample(u, sampler.next1());
      if (s.pdf > 0)
        cells.count(s.wi);
      else
        cells.countBeyond();
    }
    const double off = cells.deviation([&](const Vec3f& wi) { return double(bsdf.pdf(wi)); });
    QVERIFY2(off < unlikely, qPrintable(QString("lean %1: %2").arg(lean).arg(off)));
  }
}

void TestChances::lightsAreDrawnAsTheirDensitySays_data() {
  QTest::addColumn<int>("what");
  for (const auto& [name, kind] : {std::pair("panorama", 0),
                                   {"sun", 1},
                                   {"rectangle", 2},
                                   {"disc", 3},
                                   {"sphere", 4},
                                   {"spot", 5},
                                   {"all together", 6}})
    QTest::newRow(name) << kind;
}

void TestChances::lightsAreDrawnAsTheirDensitySays() {
  QFETCH(int, what);
  std::shared_ptr<const Panorama> panorama;
  if (what == 0 || what == 6) {
    Picture sky = Picture::rgb(16, 8);
    for (size_t i = 0; i < sky.pixels.size(); ++i) sky.pixels[i] = float(i / 3 * 37 % 11) * 0.1f + 0.02f;
    std::fill_n(sky.at(5, 2), 3, 20.0f);
    panorama = Panorama::make(std::move(sky));
  }
  std::vector<Lamp> lamps;
  const LampKind kinds[] = {LampKind::sun, LampKind::area, LampKind::disc, LampKind::sphere, LampKind::spot};
  for (int k = 0; k < 5; ++k) {
    if (what != k + 1 && what != 6) continue;
    Lamp lamp;
    lamp.id = std::to_string(k), lamp.kind = kinds[k];
    lamp.azimuthDegrees = 70, lamp.elevationDegrees = 40, lamp.discDegrees = 8;
    lamp.positionM = {k - 2.0, 1.5, 2}, lamp.targetM = {0.2, 0.1, 0};
    lamp.widthM = 0.9, lamp.heightM = 0.5, lamp.radiusM = 0.4, lamp.coneDegrees = 80;
    lamps.push_back(lamp);
  }
  const Lights lights(panorama, {}, lamps, Rgb(0));
  const Vec3f from(0.3f, -0.2f, 0.1f);
  // Small lights are looked at closely, the dome as a whole.
  Vec3f axis(0, 0, 1);
  double reach = pi;
  if (what >= 1 && what <= 5) {
    axis = lights.sample(from, {0.5f, 0.5f}, 0.5f).direction;
    reach = what == 1 ? 0.14 : 0.5;
  }
  Cells cells(axis, reach, 16, what == 6 ? 64 : 32);
  for (int i = 0; i < draws; ++i) {
    Sampler sampler(5, i, i >> 16, 0);
    const Vec2f u = sampler.next2();
    const LightSample s = lights.sample(from, u, sampler.next1());
    if (s.pdf <= 0) {
      cells.countBeyond();
      continue;
    }
    cells.count(s.direction);
    // Drawn and looked up, it is the same number: the weights of both ways add up to one.
    const float seen = lights.seen(from, s.direction).pdf;
    if (i % 64 == 0)
      QVERIFY2(std::abs(seen - s.pdf) <= 2e-3f * s.pdf, qPrintable(QString("%1 %2").arg(seen).arg(s.pdf)));
  }
  const double off =
      cells.deviation([&](const Vec3f& d) { return double(lights.seen(from, d).pdf); }, what == 6 ? 64 : 48);
  QVERIFY2(off < unlikely, qPrintable(QString::number(off)));
}

void TestChances::emittingPartsAreDrawnAsTheirDensitySays() {
  const std::vector<EmittingTriangle> both = {{{1, 0, 1}, {1, 1, 1}, {1, 0, 2}, Rgb(2)},
                                              {{-1, 0.5f, 1}, {-0.5f, 1, 2}, {-1, 1.5f, 1}, Rgb(5)}};
  const Lights lights(nullptr, {}, {}, Rgb(0), both);
  const Vec3f from(0, 0, 0);
  const auto density = [&](const Vec3f& d) {
    double sum = 0;
    for (const EmittingTriangle& t : both) {  // Moeller & Trumbore 1997
      const Vec3f e = t.b - t.a, f = t.c - t.a, p = d.cross(f), s = from - t.a, q = s.cross(e);
      const float det = e.dot(p);
      const float u = s.dot(p) / det, v = d.dot(q) / det, distance = f.dot(q) / det;
      if (u < 0 || v < 0 || u + v > 1 || distance <= 0) continue;
      const Vec3f normal = e.cross(f).normalized();
      sum += lights.emitterPdf(t.radiance, distance, std::max(0.0f, -normal.dot(d)));
    }
    return sum;
  };
  Cells cells({0, 0, 1}, pi / 2, 24, 48);
  for (int i = 0; i < draws; ++i) {
    Sampler sampler(6, i, i >> 16, 0);
    const Vec2f u = sampler.next2();
    const LightSample s = lights.sample(from, u, sampler.next1());
    if (s.pdf > 0)
      cells.count(s.direction);
    else
      cells.countBeyond();
  }
  const double off = cells.deviation(density, 64);
  QVERIFY2(off < unlikely, qPrintable(QString::number(off)));
}

/// The test itself can fail: densities a twentieth off are told apart.
void TestChances::aWrongDensityIsFound() {
  Cells cells({0, 0, 1}, pi / 2);
  for (int i = 0; i < draws; ++i) {
    Sampler sampler(11, i, i >> 16, 0);
    cells.count(cosineDirection(sampler.next2()));
  }
  QVERIFY(cells.deviation([](const Vec3f& d) { return d.z / pi; }) < unlikely);
  QVERIFY(cells.deviation([](const Vec3f& d) { return d.z / pi * (0.95 + 0.1 * (d.x > 0)); }) > 3 * unlikely);
}

DUSK_TEST(TestChances, NoApplication);
#include "chances.moc"
