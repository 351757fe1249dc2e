// Footage behind a product: what lights is its first picture, and what stands still is traced once.
#include <QGuiApplication>
#include <QImage>
#include <QtTest>

#include "core/base/files.h"
#include "core/deliver/film.h"
#include "core/deliver/names.h"
#include "core/motion/edit.h"
#include "core/motion/sequence.h"
#include "core/project/blend_edit.h"
#include "core/trace/render.h"
#include "tests/handed_over.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

class TestHeldPlate : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  HandedOver quay_{"brackwater", "brackwater.dusk"};
  int traced_ = 0;
  fs::path in(const std::string& name) { return fs::path(folder_.path().toStdString()) / name; }

  /// The quay, then the same with something bright beside the product, then at dusk.
  Project filmed() {
    QImage photo(QString(DUSK_SOURCE "/demo/brackwater/quay-plate.jpg"));
    fs::create_directories(in("plates"));
    const auto name = [&](int n) { return in("plates") / ("quay_" + pictureNumber(n) + ".jpg"); };
    for (int n = 0; n < 3; ++n) {
      if (n == 1)
        for (int y = 0; y < photo.height() / 4; ++y)
          for (int x = 0; x < photo.width() / 4; ++x) photo.setPixelColor(x, y, Qt::white);
      if (n == 2) photo.fill(QColor(40, 60, 80));
      if (!photo.save(QString::fromStdString(name(n).string()))) qFatal("not saved");
    }
    Project p = quay_.project();
    Shot& shot = p.shots[0];
    shot.render.noiseTarget = 0, shot.motion.picturesPerSecond = 24;
    shot.blend = viewOnly(shot.blend);  // what is cut out of a photo is not in the next
    std::vector<AssetRef> links;
    for (int n = 0; n < 3; ++n) links.push_back(*quay_.assets.refer(name(n)));
    movePlate(shot, *sequenceOf(name(0)), links);
    return p;
  }
  FilmOptions options(const std::string& folder) {
    FilmOptions o;
    o.each.folder = in(folder), o.each.size = std::pair(96, 64), o.each.samples = 4;
    o.each.trace = [this](const Project&, const TraceCall& c) {
      ++traced_;
      return render(c.scene, c.film, c.passes, c.progress, c.afterPass);
    };
    return o;
  }
  /// How often something was traced for the film.
  int made(const Project& p, const std::string& folder) {
    traced_ = 0;
    const auto report = deliverFilm(p, 0, quay_.assets, quay_.cache, options(folder), quay_.progress);
    if (!report) qFatal("%s", report.error().message.c_str());
    return traced_;
  }

 private slots:
  void theFirstPictureLights();
  void whatStandsStillIsTracedOnce();
};

void TestHeldPlate::theFirstPictureLights() {
  Project p = filmed();
  Shot& shot = p.shots[0];
  QVERIFY(onlyPlateMoves(shot));
  Shot held = shot;
  QVERIFY(holdPlate(held) && !holdPlate(held) && held.motion.tracks.empty());
  QVERIFY(held.plate.path.find("quay_0001") != std::string::npos);
  // Without the place behind it the product is the same in all pictures, though the place is white and dark.
  shot.deliverables = {usualOf(DeliverableKind::png, "alone-{picture}")};
  shot.deliverables[0].alpha = DeliveredAlpha::straight;
  made(p, "alone");
  const Picture first = readAsIs(in("alone") / "alone-0001.png");
  QVERIFY(*std::max_element(first.pixels.begin(), first.pixels.end()) > 0.2f);
  for (const char* other : {"alone-0002.png", "alone-0003.png"}) {
    const Picture now = readAsIs(in("alone") / other);
    int product = 0;
    for (int y = 0; y < now.height; ++y)
      for (int x = 0; x < now.width; ++x) {
        // Beside it the light it throws lies on another ground.
        if (first.at(x, y)[3] < 1) continue;
        QVERIFY(std::equal(now.at(x, y), now.at(x, y) + 4, first.at(x, y)));
        ++product;
      }
    QVERIFY(product > 100);
  }
}

void TestHeldPlate::whatStandsStillIsTracedOnce() {
  Project p = filmed();
  Shot& shot = p.shots[0];
  shot.deliverables = {usualOf(DeliverableKind::png, "{picture}")};
  const int whole = made(p, "film");
  Project two = p;
  two.shots[0].motion.seconds = 2.0 / 24;
  QCOMPARE(whole, made(two, "two"));
  QCOMPARE(*readFile(in("film") / "0002.png"), *readFile(in("two") / "0002.png"));
  // As each is when it is made alone.
  DeliverOptions alone = options("alone too").each;
  alone.momentSeconds = 2.0 / 24;
  shot.deliverables = {usualOf(DeliverableKind::png, "third")};
  QVERIFY(deliver(p, 0, quay_.assets, quay_.cache, alone, quay_.progress));
  QCOMPARE(readAsIs(in("alone too") / "third.png").pixels, readAsIs(in("film") / "0003.png").pixels);
  shot.deliverables = {usualOf(DeliverableKind::png, "{picture}")};
  for (const auto& entry : fs::directory_iterator(in("film")))
    QVERIFY2(!entry.path().filename().string().starts_with('.'), entry.path().c_str());
  // The places are there: dusk is darker.
  QVERIFY(readAsIs(in("film") / "0001.png").at(3, 60)[0] >
          readAsIs(in("film") / "0003.png").at(3, 60)[0] + 0.1f);
  // So it is where the view, by which the photo becomes light, changes: each is traced by itself.
  Project viewed = p;
  for (const double seconds : {0.0, 1.0 / 24})
    putKeyOf(viewed.shots[0], viewed, thingOf("/shots/" + shot.id + "/blend/view"), seconds);
  QVERIFY(!onlyPlateMoves(viewed.shots[0]));
  QCOMPARE(made(viewed, "viewed"), 2 * 3);  // where it matters, and then what it is
  // A product that moves is traced in each.
  const Thing turn = thingOf("/shots/" + shot.id + "/placements/" + shot.placements[0].id + "/turnDegrees");
  putKeyOf(shot, p, turn, 0);
  Project turned = p;
  turned.shots[0].placements[0].turnDegrees += 30;
  putKeyOf(shot, turned, turn, shot.motion.seconds);
  QVERIFY(!onlyPlateMoves(shot));
  QCOMPARE(made(p, "moving"), 2 * 3);
}

DUSK_TEST(TestHeldPlate, QGuiApplication);
#include "held_plate.moc"
