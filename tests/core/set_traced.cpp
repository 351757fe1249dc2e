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

 private slots:
  void whatThrowsIsNotSeen_data();
  void whatThrowsIsNotSeen();
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
  }
}

DUSK_TEST(TestSetTraced, QCoreApplication);
#include "set_traced.moc"
