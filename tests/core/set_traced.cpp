#include <QtTest>

#include "core/project/file.h"
#include "core/set/furnish.h"
#include "core/trace/compile.h"
#include "core/trace/denoise.h"
#include "core/trace/film.h"
#include "core/trace/render.h"
#include "core/vantage/camera.h"
#include "tests/program.h"

using namespace dusk;

/// Sets as the tracer sees them: what stands before a light throws its shadow and is not seen, and a set
/// covers its picture.
class TestSetTraced : public QObject {
  Q_OBJECT
  static constexpr int width = 96, height = 64;
  AssetStore assets_{DUSK_SOURCE "/demo/table"};
  GeometryCache cache_;

  std::optional<Passes> traced(const Project& p) {
    Progress progress;
    auto compiled = compile(p, 0, assets_, cache_, progress);
    if (!compiled) return {};
    Scene& scene = compiled->scene;
    scene.camera = resized(scene.camera, width, height);
    scene.noiseTarget = 0;
    Film film(width, height, scene.lights->groups());
    if (!render(scene, film, 24, progress)) return {};
    return film.resolve();
  }
  static double mean(const Picture& p) {
    double sum = 0;
    for (const float v : p.pixels) sum += double(v);
    return sum / double(p.pixels.size());
  }
  static Project with(const SetRecipe& recipe) {
    Project p = *loadProject(DUSK_SOURCE "/demo/table/table.dusk");
    furnish(p, 0, recipe);
    return p;
  }

  /// Of the picture that has next to nothing of its mean light.
  static double blackShare(const Passes& passes) {
    const Picture& beauty = passes.beauty;
    const double least = 0.003 * mean(beauty);
    size_t black = 0;
    for (int y = 0; y < beauty.height; ++y)
      for (int x = 0; x < beauty.width; ++x) {
        const float* p = beauty.at(x, y);
        black += *passes.alpha.at(x, y) > 0.5f && double(p[0] + p[1] + p[2]) / 3 < least;
      }
    return double(black) / (double(beauty.width) * beauty.height);
  }

 private slots:
  void whatThrowsIsNotSeen_data();
  void whatThrowsIsNotSeen();
  void theSunShinesThroughTheWindow();
  void aSetCoversItsPicture_data();
  void aSetCoversItsPicture();
};

void TestSetTraced::whatThrowsIsNotSeen_data() {
  QTest::addColumn<double>("pattern");
  QTest::newRow("window") << 0.0;
  QTest::newRow("leaves") << 1.0;
}

void TestSetTraced::whatThrowsIsNotSeen() {
  QFETCH(double, pattern);
  Project shaded = with({"plinths", 5, {{"pattern", pattern}}}), open = shaded;
  const std::string kind = pattern > 0.5 ? "leaves" : "window";
  std::erase_if(open.shots[0].placements, [&](const Placement& placed) {
    return byId(open.products, placed.productId)->piece.kind == kind;
  });
  QCOMPARE(open.shots[0].placements.size() + 1, shaded.shots[0].placements.size());
  const auto a = traced(shaded), b = traced(open);
  QVERIFY(a && b);
  // The camera sees the same things at the same places, in less light.
  double off = 0;
  for (size_t i = 0; i < a->depth.pixels.size(); ++i)
    off += std::abs(a->depth.pixels[i] - b->depth.pixels[i]) > 0.02f * b->depth.pixels[i];
  QVERIFY2(off / double(a->depth.pixels.size()) < 0.03, qPrintable(QString::number(off)));
  const double darker = mean(a->beauty) / mean(b->beauty);
  QVERIFY2(darker < 0.97 && darker > 0.2, qPrintable(QString::number(darker)));
}

void TestSetTraced::theSunShinesThroughTheWindow() {
  // From what stands on the stage, the way to the sun goes through the opening, at any time of the day.
  for (const int seed : {1, 2, 3, 4})
    for (const double time : {0.0, 0.5, 1.0}) {
      const Project p = with({"plinths", seed, {{"pattern", 0.0}, {"time", time}}});
      const Shot& shot = p.shots[0];
      const auto placed = std::find_if(
          shot.placements.begin(), shot.placements.end(),
          [&](const Placement& at) { return byId(p.products, at.productId)->piece.kind == "window"; });
      const auto sun = std::find_if(shot.lamps.begin(), shot.lamps.end(),
                                    [](const Lamp& lamp) { return lamp.kind == LampKind::sun; });
      QVERIFY(placed != shot.placements.end() && sun != shot.lamps.end());
      const auto& measures = byId(p.products, placed->productId)->piece.measures;
      const double a = radians(sun->azimuthDegrees), t = radians(placed->turnDegrees);
      const Vec2d along(std::cos(t), std::sin(t)), away(placed->xM, placed->yM);
      const Vec2d toSun(std::sin(a), std::cos(a));
      QVERIFY(std::abs(along.dot(toSun)) < 0.02);  // square to it
      const double high = 0.25 + away.length() * std::tan(radians(sun->elevationDegrees));
      const double sill = measures.at("sill");
      QVERIFY2(
          std::abs(along.dot(away)) < 0.1 && high > sill && high < sill + measures.at("height"),
          qPrintable(QString("seed %1, time %2: %3 m above %4 m").arg(seed).arg(time).arg(high).arg(sill)));
    }
}

void TestSetTraced::aSetCoversItsPicture_data() {
  QTest::addColumn<QString>("kind");
  for (const SetKind& k : setKinds()) QTest::newRow(k.name) << k.name;
}

void TestSetTraced::aSetCoversItsPicture() {
  QFETCH(QString, kind);
  for (const int seed : {2, 9}) {
    const auto passes = traced(with({kind.toStdString(), seed}));
    QVERIFY(passes);
    // Nothing of the empty backdrop is left, and it is neither night nor white-out.
    // A loft has a view.
    QVERIFY2(mean(passes->alpha) > (kind == "net-loft" ? 0.8 : 0.97),
             qPrintable(QString::number(mean(passes->alpha))));
    const double light = mean(passes->beauty);
    QVERIFY2(light > 0.02 && light < 1.1, qPrintable(QString::number(light)));
    // No thing that is not seen stands in what is: no light would get there.
    const double black = blackShare(*passes);
    QVERIFY2(black < 0.005, qPrintable(QString::number(black)));
  }
}

DUSK_TEST(TestSetTraced, QCoreApplication);
#include "set_traced.moc"
