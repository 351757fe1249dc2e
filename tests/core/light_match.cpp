// The light of the place, found: by the photo, by a shadow, by the clock, from brackets.
#include "core/light/align.h"

#include <QtTest>
#include <random>

#include "core/assets/asset_store.h"
#include "core/light/lights.h"
#include "core/light/merge.h"
#include "core/light/sun.h"
#include "core/project/file.h"
#include "core/trace/compile.h"
#include "core/vantage/camera.h"
#include "tests/program.h"

using namespace dusk;

namespace {

const std::filesystem::path demo = std::filesystem::path(DUSK_SOURCE) / "demo/brackwater";

/// A panorama that has to be turned, mirrored and brightened as `s` says to be `truth`.
Picture disturbed(const Panorama& truth, const Surroundings& s, int width) {
  Picture p = Picture::rgb(width, width / 2);
  for (int y = 0; y < p.height; ++y)
    for (int x = 0; x < width; ++x) {
      const Vec3f d =
          panoramaDirection({(float(x) + 0.5f) / float(width), (float(y) + 0.5f) / float(p.height)});
      const Rgb c = truth.radiance(worldFromPanorama(s, d)) * float(std::exp2(-s.gainEv));
      std::copy_n(&c.x, 3, p.at(x, y));
    }
  return p;
}

/// Light on a surface that faces `to`, from everywhere.
Vec3d irradiance(const Picture& p, const Vec3f& to) {
  Vec3d sum(0, 0, 0);
  for (int y = 0; y < p.height; ++y) {
    const double solid = 2 * pi / p.width * (std::cos(pi * y / p.height) - std::cos(pi * (y + 1) / p.height));
    for (int x = 0; x < p.width; ++x) {
      const float cosine = panoramaDirection({(x + 0.5f) / p.width, (y + 0.5f) / p.height}).dot(to);
      if (cosine > 0) sum += toDouble(p.rgbAt(x, y)) * (double(cosine) * solid);
    }
  }
  return sum;
}

Picture skyWithSun(const Vec3f& sun, float strength) {
  Picture p = Picture::rgb(720, 360);
  for (int y = 0; y < p.height; ++y)
    for (int x = 0; x < p.width; ++x) {
      const Vec3f d = panoramaDirection({(x + 0.5f) / 720, (y + 0.5f) / 360});
      const Rgb c = Rgb(0.3f, 0.4f, 0.6f) * (1 + 0.3f * d.x) +
                    (d.dot(sun) > std::cos(0.012f) ? Rgb(1, 0.9f, 0.7f) * strength : Rgb(0));
      std::copy_n(&c.x, 3, p.at(x, y));
    }
  return p;
}

}  // namespace

class TestLightMatch : public QObject {
  Q_OBJECT
 private slots:
  void panoramaIsAlignedWithThePhoto();
  void evenThingsAreNotAligned();
  void gnomonSaysWhereTheSunStands();
  void sunByTheClock_data();
  void sunByTheClock();
  void sunIsSplitOffWithItsLight();
  void noSunWhereThereIsNone();
  void gradingKeepsTheLight();
  void tiltAndTurnGoBothWays();
  void bracketsBecomeLight();
  void sixteenBitsAreKept();
  void whatMovedIsLeftOut();
  void badBracketsAreRefused();
};

void TestLightMatch::panoramaIsAlignedWithThePhoto() {
  const Project project = *loadProject(demo / "brackwater.dusk");
  const Shot& shot = project.shots[0];
  AssetStore assets(demo);
  const auto plate = *assets.plate(shot);
  const auto truth = *assets.panorama(shot.surroundings.panorama);
  std::mt19937 random(4);
  std::uniform_real_distribution<> turn(-180, 180), gain(-3, 3);
  for (int i = 0; i < 3; ++i) {  // dusk-bench-light does many
    Surroundings s;
    s.turnDegrees = turn(random), s.gainEv = gain(random), s.mirrored = i % 2;
    const auto panorama = Panorama::make(disturbed(*truth, s, 1024));
    Progress progress;
    const auto found = align(*plate, shot.vantage.camera, *panorama, {{0.17, 0.02, 0}, 1, {}}, progress);
    QVERIFY(progress.fraction() > 0.5);
    QVERIFY(found.ok());
    const Alignment::Peak& best = found->best();
    const QString what = QString("%1 of %2, gain %3 of %4, score %5, next %6")
                             .arg(best.turnDegrees)
                             .arg(s.turnDegrees)
                             .arg(best.gainEv)
                             .arg(s.gainEv + 3)
                             .arg(best.score)
                             .arg(found->peaks.size() > 1 ? found->peaks[1].score : 0);
    QVERIFY2(best.mirrored == s.mirrored, qPrintable(what));
    QVERIFY2(std::abs(wrapDegrees(best.turnDegrees - s.turnDegrees)) < 1, qPrintable(what));
    // The demo's panorama is stored 3 EV darker than its photo.
    QVERIFY2(std::abs(best.gainEv - (s.gainEv + 3)) < 0.12, qPrintable(what));
    QVERIFY(!found->ambiguous);
    // It was taken half a metre above the ground.
    QVERIFY2((best.captureM - Vec3d(0.1, 0.2, 0.5)).length() < 0.15, qPrintable(what));
  }
}

void TestLightMatch::evenThingsAreNotAligned() {
  Picture grey = Picture::rgb(120, 80);
  std::fill(grey.pixels.begin(), grey.pixels.end(), 0.3f);
  const Camera camera = lookAt(120, 80, 100, {0, -3, 1.5}, {0, 0, 0.5});
  const auto panorama = Panorama::make(skyWithSun({0, 1, 0}, 100));
  Progress progress;
  const auto found = align(grey, camera, *panorama, {}, progress);
  QVERIFY(!found || found->ambiguous);
  QVERIFY(!align(grey, Camera(), *panorama, {}, progress));
}

void TestLightMatch::gnomonSaysWhereTheSunStands() {
  const Camera camera = lookAt(1600, 1067, 1300, {0.5, -4, 1.6}, {0, 1, 0.3});
  const double azimuth = 130, elevation = 35, height = 1.2;
  const double run = height / std::tan(radians(elevation));
  const Vec3d foot(-0.4, 1.1, 0),
      top = foot + Vec3d(0, 0, height),
      tip = foot - Vec3d(std::sin(radians(azimuth)), std::cos(radians(azimuth)), 0) * run;
  const Gnomon exact{*projected(camera, foot), *projected(camera, tip), *projected(camera, top)};
  const auto read = readGnomon(camera, exact);
  QVERIFY(read && read->hasElevation);
  QVERIFY(std::abs(read->sun.azimuthDegrees - azimuth) < 1e-6);
  QVERIFY(std::abs(read->sun.elevationDegrees - elevation) < 1e-6);
  // The margins are those that noise of a pixel shows.
  std::mt19937 random(8);
  std::normal_distribution<> pixel;
  double azimuths = 0, elevations = 0;
  constexpr int rounds = 2000;
  for (int i = 0; i < rounds; ++i) {
    Gnomon off = exact;
    for (Vec2d* p : {&off.base, &off.shadowTip, &*off.top}) *p += Vec2d(pixel(random), pixel(random));
    const auto r = readGnomon(camera, off);
    QVERIFY(r);
    azimuths += std::pow(r->sun.azimuthDegrees - azimuth, 2);
    elevations += std::pow(r->sun.elevationDegrees - elevation, 2);
  }
  const double a = std::sqrt(azimuths / rounds), e = std::sqrt(elevations / rounds);
  QVERIFY2(a < 1 && e < 1, qPrintable(QString("%1 %2").arg(a).arg(e)));
  QVERIFY(std::abs(read->azimuthSigma / a - 1) < 0.1 && std::abs(read->elevationSigma / e - 1) < 0.1);
  // Two that disagree are told apart, two that agree are not.
  Gnomon wrong = exact;
  wrong.shadowTip += Vec2d(60, 25);
  QVERIFY(apart(*read, *readGnomon(camera, wrong)).disagree);
  Gnomon near = exact;
  near.shadowTip += Vec2d(0.7, -0.5);
  QVERIFY(!apart(*read, *readGnomon(camera, near)).disagree);
  QVERIFY(!readGnomon(camera, Gnomon{{800, 10}, {810, 12}}));  // in the sky
}

void TestLightMatch::sunByTheClock_data() {
  QTest::addColumn<int>("month");
  QTest::addColumn<int>("day");
  QTest::addColumn<double>("hour");
  QTest::addColumn<double>("latitude");
  QTest::addColumn<double>("longitude");
  QTest::addColumn<double>("elevation");
  // At culmination the sun stands 90 degrees less the latitude plus its declination.
  QTest::newRow("June, tropic, noon") << 6 << 21 << 12.03 << 23.44 << 0.0 << 90.0;
  QTest::newRow("June, north") << 6 << 21 << 12.03 << 55.0 << 0.0 << 58.44;
  QTest::newRow("December, north") << 12 << 21 << 11.97 << 55.0 << 0.0 << 11.56;
  QTest::newRow("equinox, equator") << 3 << 20 << 12.125 << 0.0 << 0.0 << 90.0;
  QTest::newRow("June, further east, earlier") << 6 << 21 << 6.03 << 40.0 << 90.0 << 73.44;
  QTest::newRow("polar night") << 12 << 21 << 12.0 << 80.0 << 0.0 << -13.44;
}

void TestLightMatch::sunByTheClock() {
  QFETCH(int, month);
  QFETCH(int, day);
  QFETCH(double, hour);
  QFETCH(double, latitude);
  QFETCH(double, longitude);
  QFETCH(double, elevation);
  const SunAngles noon = sunAt(2026, month, day, hour, latitude, longitude);
  QVERIFY2(std::abs(noon.elevationDegrees - elevation) < 0.25,
           qPrintable(QString::number(noon.elevationDegrees)));
  // In the morning in the east, in the evening in the west, as high.
  const SunAngles early = sunAt(2026, month, day, hour - 3, latitude, longitude),
                  late = sunAt(2026, month, day, hour + 3, latitude, longitude);
  QVERIFY(early.azimuthDegrees < 180 && late.azimuthDegrees > 180);
  QVERIFY(std::abs(early.elevationDegrees - late.elevationDegrees) < 0.3);
}

void TestLightMatch::sunIsSplitOffWithItsLight() {
  const Vec3f sun = Vec3f(0.4f, 0.6f, 0.5f).normalized();
  const Picture sky = skyWithSun(sun, 5000);
  const auto split = splitSun(sky);
  QVERIFY(split.has_value());
  QVERIFY(std::acos(std::min(1.0f, split->direction.dot(sun))) < radians(0.15));
  // Whichever way a surface faces, it gets what it got.
  for (const Vec3f& to : {sun, Vec3f(0, 0, 1), Vec3f(0, 1, 0), Vec3f(1, 0, 0)}) {
    const Vec3d before = irradiance(sky, to),
                after = irradiance(split->rest, to) +
                        toDouble(split->irradiance) * double(split->direction.dot(to));
    for (int c = 0; c < 3; ++c) QVERIFY(std::abs(after[c] / before[c] - 1) < 0.005);
  }
  QVERIFY(split->share > 0.3 && split->share < 1);

  // In the tracer's hands, too: apart, moved, and as bright on the ground it shines on.
  Surroundings s;
  s.turnDegrees = 40, s.gainEv = -2, s.mirrored = true;
  const Lights whole(Panorama::make(sky), s, {}, Rgb(0));
  const Lights apart(Panorama::make(split->rest), s, {}, Rgb(0), {},
                     SunApart{worldFromPanorama(s, split->direction), split->irradiance, 0.53});
  const Rgb a = whole.groundIrradiance({0, 0, 0}), b = apart.groundIrradiance({0, 0, 0});
  for (int c = 0; c < 3; ++c)
    QVERIFY2(std::abs(a[c] / b[c] - 1) < 0.01f, qPrintable(QString("%1 %2").arg(a[c]).arg(b[c])));
  QCOMPARE(apart.groups(), (std::vector<std::string>{"surroundings", "sun"}));
}

void TestLightMatch::noSunWhereThereIsNone() {
  QVERIFY(!splitSun(skyWithSun({0, 0, 1}, 0)));
  QVERIFY(!splitSun(skyWithSun({0, 0.6f, 0.8f}, 3)));  // clipped: no brighter than a cloud
}

void TestLightMatch::gradingKeepsTheLight() {
  const Picture sky = skyWithSun({0, 0.6f, 0.8f}, 50);
  Surroundings s;
  s.contrast = 1.4, s.saturation = 0.5;
  const Picture out = graded(sky, s);
  double before = 0, after = 0;
  for (int y = 0; y < sky.height; ++y)
    for (int x = 0; x < sky.width; ++x) {
      const double solid = std::sin((y + 0.5) / sky.height * pi);
      before += double(luminance(sky.rgbAt(x, y))) * solid,
          after += double(luminance(out.rgbAt(x, y))) * solid;
    }
  QVERIFY(std::abs(after / before - 1) < 1e-3);
  const Rgb was = sky.rgbAt(10, 200), is = out.rgbAt(10, 200);
  QVERIFY((is.z - is.x) / luminance(is) < 0.6f * (was.z - was.x) / luminance(was));
  QVERIFY(!isGraded(Surroundings{}) && isGraded(s));
  s = {};
  s.white = {2, 1, 1};
  QVERIFY(std::abs(graded(sky, s).rgbAt(10, 200).x / was.x - 2) < 1e-4f);
}

void TestLightMatch::tiltAndTurnGoBothWays() {
  Surroundings s;
  s.tiltDegrees = 10;
  QVERIFY(
      (worldFromPanorama(s, {0, 0, 1}) - Vec3f(0, float(std::sin(radians(10))), float(std::cos(radians(10)))))
          .length() < 1e-6f);
  // The roll comes first, and what was rolled upright is tilted then.
  s.rollDegrees = 5;
  QVERIFY(std::abs(degrees(std::asin(double(worldFromPanorama(s, {0, 0, 1}).x))) - 5) < 1e-4);
  s.turnDegrees = 35, s.mirrored = true;
  const Vec3f sun = Vec3f(0.3f, 0.5f, 0.6f).normalized();
  const Lights lights(Panorama::make(skyWithSun(sun, 800)), s, {}, Rgb(0));
  QVERIFY(lights.sky(worldFromPanorama(s, sun)).x > 100);
}

namespace {
/// What a made-up camera writes: a response of its own, eight bits, some noise.
std::vector<Exposure> bracketOf(const Picture& light, int count, double stepEv, bool hand) {
  std::vector<Exposure> photos;
  std::mt19937 random(1);
  std::normal_distribution<float> bell;
  for (int i = 0; i < count; ++i) {
    Exposure e;
    e.seconds = 0.01 * std::exp2((i - count / 2) * stepEv);
    e.codes = Picture::rgb(light.width, light.height);
    const int dx = hand ? i % 3 - 1 : 0, dy = hand ? (i / 2) % 3 - 1 : 0;
    for (int y = 0; y < light.height; ++y)
      for (int x = 0; x < light.width; ++x)
        for (int c = 0; c < 3; ++c) {
          const int sx = std::clamp(x + dx, 0, light.width - 1), sy = std::clamp(y + dy, 0, light.height - 1);
          const float v = light.at(sx, sy)[c] * float(e.seconds / 0.01);
          const float noisy = std::max(0.0f, v + bell(random) * std::sqrt(1e-6f + 1e-4f * v));
          const float t = std::min(1.0f, noisy);
          e.codes.at(x, y)[c] = std::round(std::pow(t, 1 / 2.1f) * (1.12f - 0.12f * t) * 255) / 255;
        }
    photos.push_back(std::move(e));
  }
  return photos;
}

Picture widePlace() {
  Picture light = Picture::rgb(160, 120);
  for (int y = 0; y < light.height; ++y)
    for (int x = 0; x < light.width; ++x) {
      // Patches and a slope over some sixteen EV.
      const float ev =
          16.0f * float(x / 8) / 20 - 9 + 0.6f * float((x / 8 + y / 8) % 2) + 0.2f * float(y) / 120;
      for (int c = 0; c < 3; ++c) light.at(x, y)[c] = std::exp2(ev) * (1 + 0.2f * float(c - 1));
    }
  return light;
}
}  // namespace

void TestLightMatch::bracketsBecomeLight() {
  const Picture truth = widePlace();
  Progress progress;
  for (const bool hand : {false, true}) {
    const auto merged = mergeBracket(bracketOf(truth, 9, 2, hand), progress);
    QVERIFY2(merged.ok(), merged.ok() ? "" : merged.error().message.c_str());
    if (hand) QVERIFY(merged->shifts[0] != std::pair(0, 0) || merged->shifts[8] != std::pair(0, 0));
    // Up to one factor for all, the light is right to three per cent in the middle of the patches.
    std::vector<double> ratio;
    for (int y = 4; y < truth.height; y += 8)
      for (int x = 12; x + 12 < truth.width; x += 8)
        for (int c = 0; c < 3; ++c)
          ratio.push_back(std::log(double(merged->light.at(x, y)[c]) / double(truth.at(x, y)[c])));
    std::vector<double> sorted = ratio;
    std::sort(sorted.begin(), sorted.end());
    const double middle = sorted[sorted.size() / 2];
    double off = 0;
    for (const double r : ratio) off += std::abs(r - middle);
    off /= double(ratio.size());
    QVERIFY2(off < 0.03, qPrintable(QString("mean %1 %").arg(off * 100)));
    QVERIFY2(merged->rangeEv > 15, qPrintable(QString::number(merged->rangeEv)));
  }
}

void TestLightMatch::sixteenBitsAreKept() {
  // A slope so gentle that 256 codes make steps of it.
  Picture truth = Picture::rgb(400, 64);
  for (int y = 0; y < truth.height; ++y)
    for (int x = 0; x < truth.width; ++x)
      for (int c = 0; c < 3; ++c)
        truth.at(x, y)[c] = y < 32 ? 0.05f + 0.02f * float(x) / 400 : std::exp2(float(x / 20) * 0.7f - 9);
  double off[2];
  for (const int codes : {255, 65535}) {
    std::vector<Exposure> photos;
    for (const double seconds : {0.25, 1.0, 4.0, 16.0}) {
      Exposure e{truth, seconds};
      for (float& v : e.codes.pixels)
        v = std::round(std::pow(std::min(1.0f, v * float(seconds)), 1 / 2.2f) * float(codes)) / float(codes);
      photos.push_back(std::move(e));
    }
    Progress progress;
    const auto merged = mergeBracket(photos, progress);
    QVERIFY(merged.ok());
    // Off a straight line, as a share of the whole slope.
    double worst = 0;
    const float a = merged->light.at(20, 10)[1], b = merged->light.at(379, 10)[1];
    for (int x = 20; x < 380; ++x)
      worst =
          std::max(worst, std::abs(double(merged->light.at(x, 10)[1]) - std::lerp(a, b, (x - 20) / 359.0)) /
                              std::abs(double(b) - a));
    off[codes > 255] = worst;
  }
  QVERIFY2(off[1] < 0.4 * off[0], qPrintable(QString("%1 of 8 bits, %2 of 16").arg(off[0]).arg(off[1])));
}

void TestLightMatch::whatMovedIsLeftOut() {
  const Picture truth = widePlace();
  auto photos = bracketOf(truth, 7, 2, false);
  // Somebody in white walks through one photo.
  for (int y = 40; y < 80; ++y)
    for (int x = 60; x < 75; ++x) std::fill_n(photos[4].codes.at(x, y), 3, 0.8f);
  Progress progress;
  const auto with = mergeBracket(photos, progress),
             without = mergeBracket(bracketOf(truth, 7, 2, false), progress);
  QVERIFY(with && without);
  QVERIFY(with->ghostShare > without->ghostShare);
  double off = 0;
  for (int y = 44; y < 76; ++y)
    for (int x = 62; x < 73; ++x)
      off += std::abs(std::log(double(with->light.at(x, y)[1]) / double(without->light.at(x, y)[1])));
  QVERIFY2(off / (32 * 11) < 0.15, qPrintable(QString::number(off / (32 * 11))));
}

void TestLightMatch::badBracketsAreRefused() {
  Progress progress;
  QVERIFY(!mergeBracket({}, progress));
  const Picture light = widePlace();
  auto photos = bracketOf(light, 3, 0, false);
  QVERIFY(mergeBracket(photos, progress).error().message.find("same exposure") != std::string::npos);
  photos = bracketOf(light, 3, 2, false);
  photos[1].codes = Picture::rgb(10, 10);
  QVERIFY(mergeBracket(photos, progress).error().message.find("same size") != std::string::npos);
  photos = bracketOf(light, 3, 2, false);
  photos[1].seconds = 0;
  QVERIFY(!mergeBracket(photos, progress));
}

DUSK_TEST(TestLightMatch, NoApplication);
#include "light_match.moc"
