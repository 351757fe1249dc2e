// Variants that are traced together come out as each would alone: to the bit, with less to trace.
#include <QtTest>
#include <deque>

#include "core/base/files.h"
#include "core/deliver/together.h"
#include "core/project/by_id.h"
#include "core/trace/render_together.h"
#include "tests/handed_over.h"
#include "tests/program.h"
#include "tests/stage.h"

using namespace dusk;
namespace fs = std::filesystem;

class TestTogether : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  HandedOver quay_{"brackwater", "brackwater.dusk"};
  fs::path in(const std::string& name) { return fs::path(folder_.path().toStdString()) / name; }
  /// The quay with its body in another enamel, and files of their own.
  Project variant(const std::string& name, const std::function<void(Project&)>& change);
  DeliverOptions options(const std::string& folder, int samples) {
    DeliverOptions o;
    o.folder = in(folder), o.size = std::pair(150, 100), o.samples = samples;
    return o;
  }

 private slots:
  void samplesAreThoseOfEachAlone_data();
  void samplesAreThoseOfEachAlone();
  void whatTheyShareIsTracedOnce();
  void oneThatEndsLeavesTheOthers();
  void filesAreThoseOfEachAlone_data();
  void filesAreThoseOfEachAlone();
  void oneThatFailsLeavesTheOthersWhole();
  void cancelledAllEnd();
};

namespace {

/// Counts how often it is looked at.
class CountedLook : public PlainMaterial {
 public:
  using PlainMaterial::PlainMaterial;
  void at(const SurfacePoint& point, BsdfParameters& out, Vec3f& normal) const override {
    ++asked;
    PlainMaterial::at(point, out, normal);
  }
  mutable std::atomic<int> asked{0};
};

/// A ball beside a board on the ground: the ball may look other from scene to scene, the board may not.
struct BallAndBoard {
  GeometryCache cache;
  std::shared_ptr<const PlacedGeometry> geometry;
  std::shared_ptr<const Lights> lights = evenSky();
  DifferingParts differing{{1, 0}};

  BallAndBoard() {
    auto model = std::make_shared<Model>();
    Mesh ball = sphere(0.15f);
    for (Vec3f& p : ball.positions) p += Vec3f(-0.25f, 0, 0.15f);
    model->add({"ball", "ball"}, std::move(ball));
    model->add({"board", "board"}, uprightSheet(0.0f, 0.4f, 0.1f, 0.3f));
    geometry = std::make_shared<PlacedGeometry>(
        cache.device(), std::vector<PlacedGeometry::Instance>{{cache.get(model, {}), Similarity{}}});
  }
  Scene scene(const BsdfParameters& ball, std::shared_ptr<const Material> board) const {
    Scene s;
    s.geometry = geometry, s.lights = lights;
    s.materials = {{std::make_shared<PlainMaterial>(ball), std::move(board)}};
    s.gaps = ball.opacity < 1;
    s.camera = lookAt(72, 48, 60, {0.1, -1.2, 0.5}, {0, 0, 0.12});
    s.place.ground = true;
    s.samples = 20;
    return s;
  }
};

std::string bytesOf(const Film& film) {
  std::string bytes;
  for (int tile = 0; tile < film.tilesAcross() * film.tilesDown(); ++tile)
    if (film.isKept(tile)) film.appendTile(tile, bytes), bytes += std::to_string(tile);
  return bytes;
}

BsdfParameters painted(const Rgb& base) {
  BsdfParameters p;
  p.base = base;
  return p;
}

}  // namespace

void TestTogether::samplesAreThoseOfEachAlone_data() {
  QTest::addColumn<float>("transmission");
  QTest::addColumn<float>("opacity");
  QTest::addColumn<float>("noise");
  QTest::newRow("paints") << 0.0f << 1.0f << 0.0f;
  QTest::newRow("one of glass") << 1.0f << 1.0f << 0.0f;
  QTest::newRow("one of gauze") << 0.0f << 0.5f << 0.0f;
  QTest::newRow("with a noise target") << 0.0f << 1.0f << 0.05f;
}

void TestTogether::samplesAreThoseOfEachAlone() {
  QFETCH(float, transmission);
  QFETCH(float, opacity);
  QFETCH(float, noise);
  const BallAndBoard stage;
  BsdfParameters other = painted({0.9f, 0.8f, 0.1f}), mirror = painted(Rgb(0.9f));
  other.transmission = transmission, other.opacity = opacity;
  mirror.metalness = 1, mirror.roughness = 0.05f;
  const auto board = std::make_shared<PlainMaterial>(painted({0.2f, 0.3f, 0.6f}));
  std::deque<Scene> scenes{stage.scene(painted({0.7f, 0.1f, 0.1f}), board), stage.scene(other, board),
                           stage.scene(mirror, board)};
  std::deque<Film> films;
  std::vector<FilmOfMany> many;
  std::deque<Progress> progress(scenes.size());
  for (size_t i = 0; i < scenes.size(); ++i) {
    scenes[i].noiseTarget = noise;
    QVERIFY(isSameBut(scenes[0], scenes[i], stage.differing));
    films.emplace_back(72, 48);
    // They need not have come as far.
    QVERIFY(render(scenes[i], films[i], 3 * int(i), progress[i]));
    many.push_back({&scenes[i], &films[i], &progress[i]});
  }
  renderTogether(many, stage.differing, 20);
  for (size_t i = 0; i < scenes.size(); ++i) {
    Film alone(72, 48);
    Progress of;
    QVERIFY(many[i].isTraced && render(scenes[i], alone, 20, of));
    QCOMPARE(films[i].passesDone, alone.passesDone);
    QVERIFY(films[i].samplingMask == alone.samplingMask);
    QVERIFY2(bytesOf(films[i]) == bytesOf(alone), qPrintable(QString::number(i)));
    QCOMPARE(progress[i].fraction(), 1.0);
  }
  // A part that glows in one of them lights all.
  BsdfParameters glowing = painted({0.7f, 0.1f, 0.1f});
  glowing.emission = Rgb(3);
  QVERIFY(!isSameBut(scenes[0], stage.scene(glowing, board), stage.differing));
}

void TestTogether::whatTheyShareIsTracedOnce() {
  const BallAndBoard stage;
  const auto asked = [&](bool together) {
    const auto board = std::make_shared<CountedLook>(painted({0.2f, 0.3f, 0.6f}));
    const Scene first = stage.scene(painted({0.7f, 0.1f, 0.1f}),
                                    std::make_shared<PlainMaterial>(painted(Rgb(0.5f)))),
                second = stage.scene(painted({0.1f, 0.1f, 0.7f}), board);
    Film one(72, 48), other(72, 48);
    Progress progress;
    std::array<FilmOfMany, 2> both{{{&first, &one, &progress}, {&second, &other, &progress}}};
    if (together)
      renderTogether(both, stage.differing, 16);
    else
      both[1].isTraced = render(second, other, 16, progress);
    return both[1].isTraced ? board->asked.load() : -1;
  };
  const int alone = asked(false), shared = asked(true);
  QVERIFY2(shared >= 0 && alone > 1000 && shared < alone / 2,
           qPrintable(QString("%1 of %2").arg(shared).arg(alone)));
}

void TestTogether::oneThatEndsLeavesTheOthers() {
  const BallAndBoard stage;
  const auto board = std::make_shared<PlainMaterial>(painted({0.2f, 0.3f, 0.6f}));
  std::deque<Scene> scenes;
  std::deque<Film> films;
  std::deque<Progress> progress(3);
  std::vector<FilmOfMany> many;
  for (const float red : {0.1f, 0.5f, 0.9f}) {
    scenes.push_back(stage.scene(painted({red, 0.1f, 0.1f}), board)), films.emplace_back(72, 48);
    many.push_back({&scenes.back(), &films.back(), &progress[many.size()]});
  }
  many[0].afterPass = [&] { return films[0].passesDone < 5 || (progress[0].cancel(), false); };
  many[1].afterPass = [&] { return films[1].passesDone < 7; };
  renderTogether(many, stage.differing, 12);
  QVERIFY(!many[0].isTraced && many[1].isTraced && many[2].isTraced);
  for (const auto& [i, passes] : {std::pair(1, 7), std::pair(2, 12)}) {
    Film alone(72, 48);
    Progress of;
    QVERIFY(render(scenes[size_t(i)], alone, passes, of));
    QCOMPARE(films[size_t(i)].passesDone, passes);
    QVERIFY(bytesOf(films[size_t(i)]) == bytesOf(alone));
  }
}

Project TestTogether::variant(const std::string& name, const std::function<void(Project&)>& change) {
  Project p = quay_.project();
  p.shots[0].deliverables = {usualOf(DeliverableKind::tiff, name)};
  p.shots[0].deliverables[0].bits = 32;
  p.shots[0].render.noiseTarget = 0;
  change(p);
  return p;
}

void TestTogether::filesAreThoseOfEachAlone_data() {
  QTest::addColumn<bool>("passes");
  QTest::addColumn<bool>("banded");
  QTest::addColumn<bool>("logged");
  QTest::newRow("a picture each") << false << false << false;
  QTest::newRow("passes and clay") << true << false << false;
  QTest::newRow("in bands") << false << true << false;
  QTest::newRow("with a log, one by one") << false << false << true;
}

void TestTogether::filesAreThoseOfEachAlone() {
  QFETCH(bool, passes);
  QFETCH(bool, banded);
  QFETCH(bool, logged);
  const std::string tag = QTest::currentDataTag();
  std::vector<Project> all;
  const auto enamel = [](const Rgb& colour) {
    return [=](Project& p) {
      for (Surface& s : p.surfaces)
        if (s.name.find("namel") != std::string::npos) s.baseColour = toDouble(colour);
    };
  };
  all.push_back(variant("green", enamel({0.1f, 0.5f, 0.2f})));
  all.push_back(variant("cream", enamel({0.8f, 0.7f, 0.5f})));
  // Not of surfaces alone: it is traced by itself.
  all.push_back(variant("turned", [](Project& p) { p.shots[0].placements[0].turnDegrees += 20; }));
  QVERIFY(!(all[0].surfaces == all[1].surfaces));
  for (Project& p : all)
    if (passes) {
      p.shots[0].deliverables.push_back(usualOf(DeliverableKind::exr, p.shots[0].deliverables[0].fileName));
      p.shots[0].render.extraPasses = {"clay"};
    }
  DeliverOptions o = options("together" + tag, passes ? 4 : 12);
  if (banded) o.wholePixels = 7'500;
  if (logged) o.log = in("trace.log");
  Progress progress;
  const auto made = deliverTogether(all, 0, quay_.assets, quay_.cache, o, progress);
  QCOMPARE(made.size(), all.size());
  QCOMPARE(progress.fraction(), 1.0);
  o.log.clear();
  o.folder = in("alone" + tag);
  for (size_t i = 0; i < all.size(); ++i) {
    QVERIFY2(made[i].ok(), made[i].ok() ? "" : made[i].error().message.c_str());
    const auto alone = deliver(all[i], 0, quay_.assets, quay_.cache, o, progress);
    QVERIFY(alone.ok() && alone->files.size() == made[i]->files.size());
    for (size_t f = 0; f < alone->files.size(); ++f)
      QVERIFY2(*readFile(alone->files[f]) == *readFile(made[i]->files[f]), made[i]->files[f].c_str());
  }
  QVERIFY(*readFile(made[0]->files[0]) != *readFile(made[1]->files[0]));
}

void TestTogether::oneThatFailsLeavesTheOthersWhole() {
  std::vector<Project> all;
  for (const char* name : {"first", "second", "third"}) all.push_back(variant(name, [](Project&) {}));
  all[1].shots[0].plate.path = "/nowhere/photo.png", all[1].shots[0].plate.hash.clear();
  Progress progress;
  const auto made = deliverTogether(all, 0, quay_.assets, quay_.cache, options("failing", 2), progress);
  QCOMPARE(made.size(), size_t(3));
  QVERIFY(made[0].ok() && !made[1].ok() && made[2].ok());
  QVERIFY(made[1].error().message.find("/nowhere/photo.png") != std::string::npos);
  QVERIFY(fs::exists(in("failing/first.tif")) && !fs::exists(in("failing/second.tif")));
}

void TestTogether::cancelledAllEnd() {
  std::vector<Project> all{variant("first", [](Project&) {}), variant("second", [](Project&) {})};
  Progress progress;
  std::thread soon([&] {
    while (progress.fraction() <= 0) std::this_thread::sleep_for(std::chrono::milliseconds(5));
    progress.cancel();
  });
  const auto made = deliverTogether(all, 0, quay_.assets, quay_.cache, options("never", 4096), progress);
  soon.join();
  for (const auto& each : made) QVERIFY(!each && each.error().kind == ErrorKind::cancelled);
  QVERIFY(!fs::exists(in("never/first.tif")) && !fs::exists(in("never/second.tif")));
}

DUSK_TEST(TestTogether, QGuiApplication);
#include "together.moc"
