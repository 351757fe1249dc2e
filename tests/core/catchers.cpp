#include <QtTest>

#include "core/light/backdrop.h"
#include "core/product/set/piece_kinds.h"
#include "core/product/set/shapes.h"
#include "core/project/file.h"
#include "core/proof/prove.h"
#include "core/set/furnish.h"
#include "core/set/stand_in_piece.h"
#include "core/trace/compile.h"
#include "tests/program.h"
#include "tests/stage.h"

using namespace dusk;

/// Parts of models that catch instead of being rendered, stand-ins that are rendered instead of catching, and
/// the round floor of a made backdrop.
class TestCatchers : public QObject {
  Q_OBJECT
  AssetStore assets_{DUSK_SOURCE "/demo/table"};
  GeometryCache cache_;

  Passes traced(const Project& p, int samples = 16) {
    Progress progress;
    auto compiled = compile(p, 0, assets_, cache_, progress);
    Scene& scene = compiled->scene;
    scene.camera = resized(scene.camera, 96, 64);
    scene.noiseTarget = 0;
    Film film(96, 64, scene.lights->groups());
    (void)render(scene, film, samples, progress);
    return film.resolve();
  }
  /// The white table's jar, and a square plinth behind it, to one side, that its shadow falls on.
  static Project jarBeforePlinth() {
    Project p = *loadProject(DUSK_SOURCE "/demo/table/table.dusk");
    unfurnish(p, 0);
    const Placement& jar = p.shots[0].placements.front();
    addPiece(p, 0, "plinth-square", jar.xM + 0.1, jar.yM + 0.32);
    return p;
  }
  static double sum(const Picture& p) { return std::accumulate(p.pixels.begin(), p.pixels.end(), 0.0); }
  static void catchAll(Project& p, size_t product, const AssetStore& assets) {
    letCatch(p.products[product], rootsOf(*assets.loadedModel(p.products[product])), true);
  }

 private slots:
  void meshesCatchAsShapesDo();
  void whatCatchesIsNotSeen();
  void letCatchIsUndone();
  void untouchedStaysExactlyOne();
  void standInsAreRendered_data();
  void standInsAreRendered();
  void theRoundFloorIsExact();
};

// A box of triangles takes a shadow just as the closed form does.
void TestCatchers::meshesCatchAsShapesDo() {
  const auto look = [](bool asMesh) {
    Lamp sun;
    sun.id = "sun", sun.azimuthDegrees = 200, sun.elevationDegrees = 55, sun.discDegrees = 4;
    Stage stage(disc(0.25f, 0.9f), black(),
                std::make_shared<Lights>(nullptr, Surroundings{}, std::vector<Lamp>{sun}, Rgb(0.3f)),
                lookAt(48, 32, 60, {1.2, -2.5, 1.8}, {0, 0, 0.3}), true);
    if (!asMesh) {
      StandIn box;
      box.sizeM = {0.8, 0.6, 0.5};
      stage.scene.place.add(box);
    } else {
      auto model = std::make_shared<Model>();
      model->add({"box", "box"}, set::block({-0.4, -0.3, 0}, {0.4, 0.3, 0.5}, 0).mesh(20));
      stage.scene.place.take(stage.cache.catchers({{stage.cache.get(model, {}), Similarity{}}}));
    }
    return dusk::traced(stage, stage.scene.camera, 256);
  };
  const Passes shape = look(false), mesh = look(true);
  double most = 0, off = 0;
  for (size_t i = 0; i < shape.ratio.pixels.size(); ++i) {
    off += std::abs(double(shape.ratio.pixels[i] - mesh.ratio.pixels[i]));
    most = std::max(most, std::abs(1.0 - double(shape.ratio.pixels[i])));
  }
  QVERIFY2(most > 0.4, qPrintable(QString::number(most)));
  off /= double(shape.ratio.pixels.size());
  QVERIFY2(off < 2e-3, qPrintable(QString::number(off)));
}

void TestCatchers::whatCatchesIsNotSeen() {
  Project p = jarBeforePlinth();
  const Passes rendered = traced(p);
  catchAll(p, p.products.size() - 1, assets_);
  const Passes caught = traced(p);
  Project alone = p;
  alone.shots[0].placements.pop_back();
  const Passes without = traced(alone);
  // The jar covers what it covered, and the plinth nothing.
  QVERIFY(sum(rendered.alpha) > 1.5 * sum(without.alpha));
  QVERIFY2(std::abs(sum(caught.alpha) - sum(without.alpha)) < 0.02 * sum(without.alpha),
           qPrintable(QString("%1 and %2").arg(sum(caught.alpha)).arg(sum(without.alpha))));
  // It hovers over nothing, whatever its lift: the photo's thing is where it is.
  p.shots[0].placements.back().liftM = 0.05;
  for (const Finding& f : prove(p, 0, assets_, nullptr))
    QVERIFY(f.id != "contact-gap" || f.subject != p.shots[0].placements.back().id);
  // Before the jar, it hides that.
  Placement& plinth = p.shots[0].placements.back();
  const Placement& jar = p.shots[0].placements.front();
  const Vec3d away = p.shots[0].vantage.camera.position - Vec3d(jar.xM, jar.yM, 0);
  const double level = std::hypot(away.x, away.y);
  plinth.xM = jar.xM + 0.4 * away.x / level, plinth.yM = jar.yM + 0.4 * away.y / level, plinth.liftM = 0;
  QVERIFY(sum(traced(p).alpha) < 0.7 * sum(without.alpha));
}

void TestCatchers::letCatchIsUndone() {
  Product product;
  PartRole dim;
  dim.bounce = 0.5;
  product.roles["a/b/c"] = dim;
  const Product before = product;
  letCatch(product, {"a"}, true);
  QVERIFY(roleOf(product, "a/x").catcher && roleOf(product, "a/b/c").catcher &&
          !roleOf(product, "d").catcher);
  QCOMPARE(roleOf(product, "a/b/c").bounce, 0.5);
  QVERIFY(hasCatchers(product) && !isRendered(product, "a/x") && isRendered(product, "d"));
  letCatch(product, {"a"}, false);
  QVERIFY(product == before);
}

void TestCatchers::untouchedStaysExactlyOne() {
  Project p = jarBeforePlinth();
  const Placement& jar = p.shots[0].placements.front();
  p.shots[0].placements.back().xM = jar.xM + 40;  // far from it
  (void)traced(p, 1);
  catchAll(p, p.products.size() - 1, assets_);
  p.shots[0].backdrop.kind = BackdropKind::plain;
  const Passes passes = traced(p);
  for (int y = 0; y < 10; ++y)
    for (int x = 0; x < 96; ++x) QCOMPARE(passes.ratio.at(x, y)[1], 1.0f);
}

void TestCatchers::standInsAreRendered_data() {
  QTest::addColumn<int>("kind");
  QTest::addColumn<double>("lean");
  QTest::newRow("box") << int(StandInKind::box) << 0.0;
  QTest::newRow("cylinder") << int(StandInKind::cylinder) << 0.0;
  QTest::newRow("ball") << int(StandInKind::ball) << 0.0;
  QTest::newRow("table top") << int(StandInKind::sheet) << 0.0;
  QTest::newRow("wall") << int(StandInKind::sheet) << 90.0;
  QTest::newRow("leaning") << int(StandInKind::sheet) << 35.0;
}

// What is rendered in a stand-in's stead is met where that was.
void TestCatchers::standInsAreRendered() {
  QFETCH(int, kind);
  QFETCH(double, lean);
  Project p;
  p.shots.resize(1);
  StandIn s;
  s.id = "s", s.name = "Crate", s.kind = StandInKind(kind), s.leanDegrees = lean, s.turnDegrees = 30;
  s.positionM = {0.2, -0.1, lean > 0 ? 0.6 : 0.1}, s.sizeM = {0.7, 0.5, 0.4};
  p.shots[0].standIns.push_back(s);
  Place place;
  place.ground = false;
  place.add(s);
  const std::string id = renderStandIn(p, 0, "s");
  QVERIFY(!id.empty() && !p.shots[0].standIns[0].on);
  QCOMPARE(p.products.back().name, "Crate");
  Progress progress;
  const auto model = assets_.model(p.products.back(), progress);
  QVERIFY(model.ok());
  const PlacedGeometry made(cache_.device(), {placedInstance(p.products.back(), p.shots[0],
                                                             p.shots[0].placements.back(), *model, cache_)});
  int both = 0, one = 0;
  for (int i = 0; i < 60; ++i)
    for (int k = 0; k < 60; ++k) {
      const Vec3f eye(1.5f, -2, 2.2f), to(-0.4f + 0.02f * float(i), -0.1f, -0.2f + 0.02f * float(k));
      const Ray ray{eye, (to - eye).normalized()};
      const PlaceHit was = place.closest(ray, 1e30f);
      const Hit is = made.closest(ray);
      one += was.found() != is.found();
      if (!was.found() || !is.found()) continue;
      ++both;
      // The rounding of edges apart, within half a millimetre along the ray.
      if (std::abs(was.distance - is.distance) > 2e-3f) ++one;
    }
  QVERIFY2(both > 300 && one < both / 25, qPrintable(QString("%1 alike, %2 not").arg(both).arg(one)));
  QVERIFY(renderStandIn(p, 0, "none").empty());
}

void TestCatchers::theRoundFloorIsExact() {
  Backdrop b;
  b.kind = BackdropKind::plain, b.colour = "#203040", b.floorColour = "#a0b0c0";
  b.floorRadiusM = 1, b.floorSoftness = 0.5, b.floorXM = 0.2;
  const Camera camera = lookAt(160, 120, 140, {0.2, -3, 2}, {0.2, 0, 0});
  const Photo photo = backdropPhoto(b, camera, *evenSky(), {0, 0, 160, 120});
  int inside = 0, outside = 0;
  for (int y = 0; y < 120; ++y)
    for (int x = 0; x < 160; ++x) {
      const Rgb at = photo.picture.rgbAt(x, y);
      const auto ground = levelPoint(camera, {x + 0.5, y + 0.5});
      const double away = ground ? std::hypot(ground->x - 0.2, ground->y) : 1e9;
      const auto is = [&](const char* hex) {
        const auto codes = *codesOf(hex);
        return at == Rgb(codes[0], codes[1], codes[2]);
      };
      inside += away<0.5, outside += away> 1;
      QVERIFY(away >= 0.5 || is("#a0b0c0"));
      QVERIFY(away <= 1 || is("#203040"));
      QVERIFY(at.x >= 0x20 / 255.0f && at.x <= 0xa0 / 255.0f);
    }
  QVERIFY(inside > 500 && outside > 2000);
  // It is one floor from any camera: the plate is made anew for each.
  Shot shot;
  shot.backdrop = b, shot.vantage.solved = true, shot.vantage.camera = camera;
  const auto first = assets_.photo(shot);
  shot.vantage.camera = lookAt(160, 120, 140, {3, -1, 2}, {0, 0, 0});
  const auto second = assets_.photo(shot);
  QVERIFY(first.ok() && second.ok() && *first != *second);
  shot.backdrop.floorRadiusM = 0;
  QVERIFY(*assets_.photo(shot) != *second);
}

DUSK_TEST(TestCatchers, QGuiApplication);
#include "catchers.moc"
