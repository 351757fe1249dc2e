// A pattern on a level ground, photographed aslant under a sun, is taken off it as it is.
#include "core/light/flatten.h"

#include <QtTest>

#include "core/vantage/camera.h"
#include "tests/program.h"

using namespace dusk;

namespace {

/// Waves of 90 and 140 mm in three colours: what the ground returns at a place, metres.
Rgb albedoAt(const Vec3d& p) {
  const double a = std::sin(2 * pi * p.x / 0.09), b = std::sin(2 * pi * p.y / 0.14);
  return {float(0.4 + 0.15 * a), float(0.3 + 0.1 * b), float(0.25 + 0.1 * a * b)};
}

struct Photographed {
  Camera camera;
  Picture plate;
  std::shared_ptr<const Lights> lights;
  double heightM;

  Photographed(double azimuthDegrees, double level, bool lit, double leaning = 0) : heightM(level) {
    const double a = radians(azimuthDegrees);
    camera = lookAt(600, 400, 700, {-2 * std::sin(a), -2 * std::cos(a), 1.6 + level}, {0, 0, level});
    camera.k1 = -0.05;
    Lamp sun;
    sun.elevationDegrees = 35, sun.azimuthDegrees = 70;
    lights = std::make_shared<Lights>(nullptr, Surroundings{}, lit ? std::vector{sun} : std::vector<Lamp>{},
                                      Rgb(lit ? 0.4f : 0.0f));
    const Rgb light = lit ? lights->groundIrradiance(Vec3f(0)) : Rgb(pif * 0.2f);
    plate = Picture::rgb(600, 400);
    for (int y = 0; y < 400; ++y)
      for (int x = 0; x < 600; ++x)
        if (const auto at = levelPoint(camera, {x + 0.5, y + 0.5}, level)) {
          const Rgb seen = albedoAt(*at) * light / pif * float(1 + leaning * at->x);
          std::copy_n(&seen.x, 3, plate.at(x, y));
        }
  }
  Result<Flattened> taken(const Vec2d& a = {180, 190}, const Vec2d& b = {430, 340}) const {
    return flattened(plate, camera, lights.get(), heightM, a, b);
  }
  /// Where a texel lies in the world.
  Vec3d at(const Flattened& flat, double x, double y) const {
    const Vec3d right = Vec3d(camera.axes.x.x, camera.axes.x.y, 0).normalized(), ahead(-right.y, right.x, 0);
    return flat.middleM + right * ((x + 0.5) / flat.colour.width - 0.5) * (flat.sizeMm.x / 1000) +
           ahead * (0.5 - (y + 0.5) / flat.colour.height) * (flat.sizeMm.y / 1000);
  }
};

}  // namespace

class TestFlatten : public QObject {
  Q_OBJECT
 private slots:
  void whatLiesOnTheGroundIsTakenAsItIs_data() {
    QTest::addColumn<double>("azimuth");
    QTest::addColumn<double>("level");
    QTest::newRow("ahead") << 0.0 << 0.0;
    QTest::newRow("aslant, on a table") << 37.0 << 0.74;
  }
  void whatLiesOnTheGroundIsTakenAsItIs() {
    QFETCH(double, azimuth);
    QFETCH(double, level);
    const Photographed photo(azimuth, level, true);
    const auto flat = photo.taken();
    QVERIFY2(flat.ok(), flat.ok() ? "" : flat.error().message.c_str());
    QVERIFY(flat->isLit);
    QVERIFY(flat->sizeMm.x > 300 && flat->sizeMm.y > 300);
    // No finer than the photo, and no coarser where it is finest.
    QVERIFY(flat->colour.width > 200 && flat->colour.width <= 252);
    double worst = 0;
    for (int y = 4; y < flat->colour.height - 4; y += 3)
      for (int x = 4; x < flat->colour.width - 4; x += 3) {
        const Rgb off = flat->colour.rgbAt(x, y) - albedoAt(photo.at(*flat, x, y));
        worst = std::max(worst, double(off.length()));
      }
    // Waves that end within the frame lean a little by themselves.
    QVERIFY2(worst < 0.03, qPrintable(QString::number(worst)));
    // All of it was in the frame.
    for (const auto& [x, y] : {std::pair(0, 0), {flat->colour.width - 1, flat->colour.height - 1}}) {
      const auto pixel = projected(photo.camera, photo.at(*flat, x, y));
      QVERIFY(pixel && pixel->x > 178 && pixel->x < 432 && pixel->y > 188 && pixel->y < 342);
    }
  }
  void anEvenRiseOfLightIsTakenOut() {
    const Photographed even(0, 0, true), leaning(0, 0, true, 0.5);
    const auto a = even.taken(), b = leaning.taken();
    QVERIFY(a.ok() && b.ok());
    double off = 0;
    for (size_t i = 0; i < a->colour.pixels.size(); ++i)
      off += double(std::abs(a->colour.pixels[i] - b->colour.pixels[i]));
    QVERIFY2(off / double(a->colour.pixels.size()) < 0.01,
             qPrintable(QString::number(off / double(a->colour.pixels.size()))));
  }
  void withoutLightItIsAPaleGreyAtMost() {
    const auto flat = Photographed(0, 0, false).taken();
    QVERIFY(flat.ok() && !flat->isLit);
    float most = 0;
    for (int y = 0; y < flat->colour.height; ++y)
      for (int x = 0; x < flat->colour.width; ++x) most = std::max(most, luminance(flat->colour.rgbAt(x, y)));
    QVERIFY2(most > 0.55f && most < 0.7f, qPrintable(QString::number(double(most))));
  }
  void whatCannotBeIsSaid() {
    const Photographed photo(0, 0, true);
    const auto sky = photo.taken({100, -4000}, {300, 300});
    QVERIFY(!sky.ok() && sky.error().message.find("horizon") != std::string::npos);
    QVERIFY(!photo.taken({200, 200}, {206, 206}).ok());
    QVERIFY(!photo.taken({200, 200}, {200, 200}).ok());
  }
};

DUSK_TEST(TestFlatten, NoApplication);
#include "flatten.moc"
