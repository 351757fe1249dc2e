// Films: what they hold, and that one broken off, or made in parts, comes out as one that ran through.
#include <OpenImageIO/imagebuf.h>
#include <QtTest>

#include "core/base/files.h"
#include "core/deliver/film.h"
#include "core/deliver/film_file.h"
#include "core/deliver/film_read.h"
#include "core/deliver/names.h"
#include "core/deliver/order.h"
#include "core/motion/edit.h"
#include "core/motion/sequence.h"
#include "tests/handed_over.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

class TestFilm : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  fs::path in(const std::string& name) { return fs::path(folder_.path().toStdString()) / name; }
  HandedOver quay_{"brackwater", "brackwater.dusk"};

  /// The product turns a little; so many pictures are asked for.
  Project turning(int pictures, std::initializer_list<DeliverableKind> kinds) {
    Project p = quay_.project();
    Shot& shot = p.shots[0];
    shot.render.noiseTarget = 0;
    shot.motion.picturesPerSecond = 24, shot.motion.seconds = pictures / 24.0;
    const Placement& product = shot.placements[0];
    const Thing thing = thingOf("/shots/" + shot.id + "/placements/" + product.id + "/turnDegrees");
    putKeyOf(shot, p, thing, 0);
    Project turned = p;
    turned.shots[0].placements[0].turnDegrees += 40;
    putKeyOf(shot, turned, thing, shot.motion.seconds);
    for (const DeliverableKind kind : kinds) shot.deliverables.push_back(usualOf(kind, "turning"));
    return p;
  }
  FilmOptions options(const std::string& folder, int samples = 4) {
    FilmOptions o;
    o.each.folder = in(folder), o.each.size = std::pair(96, 64), o.each.samples = samples;
    return o;
  }
  Result<FilmReport> made(const Project& p, const FilmOptions& o) {
    return deliverFilm(p, 0, quay_.assets, quay_.cache, o, quay_.progress);
  }
  bool same(const std::string& a, const std::string& b, const char* name) {
    const auto one = readFile(in(a) / name), other = readFile(in(b) / name);
    return one && other && *one == *other;
  }
  /// Pictures left in a film's folder of pictures.
  int lying(const std::string& folder) {
    int count = 0;
    std::error_code code;
    for (const auto& entry : fs::recursive_directory_iterator(in(folder), code))
      count += entry.path().filename().string().starts_with("reel-0-") && entry.path().extension() == ".png";
    return count;
  }

 private slots:
  void filmsHoldWhatIsAsked();
  void coloursComeBack_data();
  void coloursComeBack();
  void sequencesAreNumbered();
  void whatStandsStillDoesNotShimmer();
  void partsMakeTheWhole();
  void killedItGoesOn();
  void stillsShowTheirMoment();
  void platesMayBeASequence();
  void withoutAFilmItIsSaid();
  void sizesThatCannotBe_data();
  void sizesThatCannotBe();
  void brokenPicturesAreSaid();
};

void TestFilm::filmsHoldWhatIsAsked() {
  Project p = turning(
      6, {DeliverableKind::mp4, DeliverableKind::webm, DeliverableKind::gif, DeliverableKind::webpLoop});
  p.shots[0].motion.loops = true;
  p.shots[0].deliverables[1].alpha = DeliveredAlpha::straight;
  const auto report = made(p, options("kinds"));
  QVERIFY2(report, report ? "" : report.error().message.c_str());
  QCOMPARE(report->files.size(), size_t(4));
  QCOMPARE(report->pictures, 6);
  for (const char* name : {"turning.mp4", "turning.webm"}) {
    const auto facts = readFilm(in("kinds") / name);
    QVERIFY2(facts, facts ? "" : facts.error().message.c_str());
    QCOMPARE(facts->width, 96);
    QCOMPARE(facts->height, 64);
    QCOMPARE(facts->pictures, 6);
    QVERIFY(std::abs(facts->picturesPerSecond - 24) < 0.01);
    QCOMPARE(facts->primaries, "bt709");
    QCOMPARE(facts->matrix, "bt709");
    QCOMPARE(facts->transfer, "iec61966-2-1");
    QVERIFY(fs::exists(in("kinds") / (std::string(name) + ".json")));  // how it was made
  }
  QCOMPARE(readFilm(in("kinds") / "turning.mp4")->codec, "h264");
  OIIO::ImageBuf gif((in("kinds") / "turning.gif").string());
  QCOMPARE(gif.nsubimages(), 6);
  // Every file system shows them under their names only once they are whole, and nothing else is left.
  QCOMPARE(lying("kinds"), 0);
  for (const auto& entry : fs::directory_iterator(in("kinds")))
    QVERIFY2(entry.path().filename().string().starts_with("turning"), entry.path().c_str());
}

void TestFilm::coloursComeBack_data() {
  QTest::addColumn<int>("kind");
  QTest::newRow("MP4") << int(DeliverableKind::mp4);
  QTest::newRow("WebM") << int(DeliverableKind::webm);
}
void TestFilm::coloursComeBack() {
  QFETCH(int, kind);
  // Even colours, so that what the codec loses is little: what is left is the way of the colours.
  const std::array<std::array<int, 3>, 5> colours{
      {{200, 40, 30}, {30, 160, 70}, {20, 50, 190}, {128, 128, 128}, {250, 245, 240}}};
  FilmFormat format{DeliverableKind(kind), 64, 48, 25, 100};
  const fs::path file = in("colours" + std::to_string(kind) + infoOf(format.kind).ending);
  auto film = FilmWriter::open(file, format);
  QVERIFY2(film, film ? "" : film.error().message.c_str());
  for (const auto& colour : colours) {
    QImage picture(64, 48, QImage::Format_RGB888);
    picture.fill(QColor(colour[0], colour[1], colour[2]));
    const fs::path png = in("colour.png");
    QVERIFY(picture.save(QString::fromStdString(png.string())));
    for (int i = 0; i < 5; ++i) QVERIFY((*film)->add(png));
  }
  QVERIFY((*film)->close());
  for (size_t i = 0; i < colours.size(); ++i) {
    const auto frame = readFilmPicture(file, int(i) * 5 + 2);
    QVERIFY2(frame, frame ? "" : frame.error().message.c_str());
    for (int c = 0; c < 3; ++c)
      QVERIFY2(std::abs(frame->at(32, 24)[c] * 255 - float(colours[i][size_t(c)])) <= 4,
               qPrintable(QString("%1 %2: %3").arg(i).arg(c).arg(frame->at(32, 24)[c] * 255)));
  }
}

void TestFilm::sequencesAreNumbered() {
  Project p = turning(3, {});
  p.shots[0].deliverables = {usualOf(DeliverableKind::png, "{shot}-{picture}"),
                             usualOf(DeliverableKind::exr, "light.{picture}"),
                             usualOf(DeliverableKind::jpeg, "still")};
  p.shots[0].name = "Quay";
  const auto report = made(p, options("sequence"));
  QVERIFY2(report, report ? "" : report.error().message.c_str());
  for (const char* name : {"Quay-0001.png", "Quay-0003.png", "light.0001.exr", "light.0003.exr"})
    QVERIFY2(fs::exists(in("sequence") / name), name);
  QVERIFY(!fs::exists(in("sequence") / "still.jpg"));
  // Each is the still of its moment, but for the grain and the shutter.
  Project sharp = p;
  sharp.shots[0].motion.shutterDegrees = 0;
  sharp.shots[0].blend.grain.sigma.clear();
  QVERIFY(made(sharp, options("sharp")));
  DeliverOptions still = options("still").each;
  still.momentSeconds = momentOf(p.shots[0].motion, 1);
  sharp.shots[0].deliverables = {usualOf(DeliverableKind::png, "alone")};
  QVERIFY(deliver(sharp, 0, quay_.assets, quay_.cache, still, quay_.progress));
  QCOMPARE(worstDifference(readAsIs(in("still") / "alone.png"), readAsIs(in("sharp") / "Quay-0002.png")),
           0.0);
  QVERIFY(worstDifference(readAsIs(in("still") / "alone.png"), readAsIs(in("sequence") / "Quay-0002.png")) >
          0);
  // Again over its own, and not over others'.
  QVERIFY(made(p, options("sequence")));
  fs::remove(in("sequence") / "Quay-0001.png.json");
  const auto refused = made(p, options("sequence"));
  QVERIFY(!refused);
  QVERIFY(QString::fromStdString(refused.error().message).contains("is there already"));
  // All of it on one job: stills and film.
  FilmOptions both = options("both");
  const auto all = handOver(p, 0, quay_.assets, quay_.cache, both, quay_.progress);
  QVERIFY(all);
  QCOMPARE(all->files.size(), size_t(7));
  QVERIFY(fs::exists(in("both") / "still.jpg"));
}

void TestFilm::whatStandsStillDoesNotShimmer() {
  // Only the focus moves, by nothing that shows: 24 pictures of a still scene.
  Project p = turning(24, {});
  p.shots[0].motion.tracks = {{"t",
                               "/shots/" + p.shots[0].id + "/render/clampIndirect",
                               MotionLoop::once,
                               {{0, "1000000.0"}, {1, "1000100.0"}}}};
  p.shots[0].deliverables = {usualOf(DeliverableKind::png, "{picture}")};
  FilmOptions o = options("still-scene", 8);
  o.each.size = std::pair(120, 80);
  const auto flicker = [&](const std::string& folder) {
    double squares = 0;
    long long count = 0;
    Picture before = readAsIs(in(folder) / "0001.png");
    for (int i = 1; i < 24; ++i) {
      const Picture now = readAsIs(in(folder) / (pictureNumber(i) + ".png"));
      for (size_t k = 0; k < now.pixels.size(); ++k) {
        const double off = 255 * (now.pixels[k] - before.pixels[k]);
        squares += off * off, ++count;
      }
      before = now;
    }
    return std::sqrt(squares / double(count));
  };
  p.shots[0].blend.grain.sigma.clear();
  QVERIFY(made(p, o));
  const double smooth = flicker("still-scene");
  qInfo() << "flicker of a still scene, code values rms:" << smooth;
  QVERIFY(smooth <= 0.5);
  // With grain it flickers as film does: each picture has its own, as strong as any other's.
  p.shots[0].blend.grain.sigma = {{4, 4, 4}, {4, 4, 4}};
  o.each.folder = in("grainy");
  QVERIFY(made(p, o));
  const double grainy = flicker("grainy");
  QVERIFY2(grainy > 0.3, qPrintable(QString::number(grainy)));
  std::vector<double> strengths;
  for (int i : {0, 7, 15, 23}) {
    const Picture with = readAsIs(in("grainy") / (pictureNumber(i) + ".png")),
                  without = readAsIs(in("still-scene") / (pictureNumber(i) + ".png"));
    double squares = 0;
    for (size_t k = 0; k < with.pixels.size(); ++k)
      squares += std::pow(255 * (with.pixels[k] - without.pixels[k]), 2);
    strengths.push_back(std::sqrt(squares / double(with.pixels.size())));
  }
  const auto [least, most] = std::minmax_element(strengths.begin(), strengths.end());
  QVERIFY2(*most < 1.25 * *least, qPrintable(QString("%1 to %2").arg(*least).arg(*most)));
}

void TestFilm::partsMakeTheWhole() {
  const Project p = turning(7, {DeliverableKind::mp4});
  QVERIFY(made(p, options("whole")));
  for (int part = 1; part <= 3; ++part) {
    FilmOptions o = options("parts");
    o.part = part, o.parts = 3, o.pictures = in("shared");
    const auto report = made(p, o);
    QVERIFY2(report, report ? "" : report.error().message.c_str());
    QCOMPARE(report->files.size(), size_t(part == 3));
    QCOMPARE(report->traced, part == 1 ? 3 : 2);
  }
  QVERIFY(same("whole", "parts", "turning.mp4"));
}

void TestFilm::killedItGoesOn() {
  Project p = turning(48, {DeliverableKind::mp4});
  p = onlyShot(p, p.shots[0], quay_.assets);
  const fs::path file = in("turning.dusk");
  QVERIFY(saveProject(p, file));
  const auto begin = [&](QProcess& process, const std::string& out) {
    process.start(DUSK_BATCH,
                  {"film", QString::fromStdString(file.string()), "--out",
                   QString::fromStdString(in(out).string()), "--size", "72x48", "--samples", "2"});
  };
  QProcess whole;
  begin(whole, "unbroken");
  QVERIFY(whole.waitForFinished(300'000));
  QCOMPARE(whole.exitCode(), 0);
  QCOMPARE(readFilm(in("unbroken") / "turning.mp4")->pictures, 48);
  for (const int after : {0, 5, 17, 30, 40}) {
    QProcess killed;
    begin(killed, "broken");
    QVERIFY(killed.waitForStarted());
    QTRY_VERIFY_WITH_TIMEOUT(lying("broken") >= after || killed.state() == QProcess::NotRunning, 120'000);
    QCOMPARE(killed.state(), QProcess::Running);
    killed.kill();
    killed.waitForFinished();
    QVERIFY(!fs::exists(in("broken") / "turning.mp4"));
  }
  QProcess last;
  begin(last, "broken");
  QVERIFY(last.waitForFinished(300'000));
  QCOMPARE(last.exitCode(), 0);
  QVERIFY(same("unbroken", "broken", "turning.mp4"));
}

void TestFilm::stillsShowTheirMoment() {
  Project p = turning(48, {DeliverableKind::png, DeliverableKind::mp4});
  p.shots[0].motion.shutterDegrees = 0;
  const auto still = [&](const std::string& folder, std::optional<double> moment) {
    DeliverOptions o = options(folder).each;
    o.momentSeconds = moment;
    const auto report = deliver(p, 0, quay_.assets, quay_.cache, o, quay_.progress);
    return report && report->files.size() == 1 ? readAsIs(report->files[0]) : Picture();
  };
  const Picture first = still("first", {}), later = still("later", 1.5);
  QVERIFY(worstDifference(first, later) > 0.1);
  p.shots[0].motion.stillAtSeconds = 1.5;
  QCOMPARE(worstDifference(still("told", {}), later), 0.0);
}

void TestFilm::platesMayBeASequence() {
  // Three photos, of which the third is darker; the fourth is missing.
  fs::create_directories(in("plates"));
  QImage photo(QString(DUSK_SOURCE "/demo/brackwater/quay-plate.jpg"));
  QVERIFY(!photo.isNull());
  const auto name = [&](int n) { return in("plates") / ("quay_" + pictureNumber(n) + ".jpg"); };
  for (const int n : {6, 7, 8, 10}) {
    if (n == 8) photo.fill(QColor(40, 60, 80));
    QVERIFY(photo.save(QString::fromStdString(name(n).string())));
  }
  std::ofstream(in("plates") / "quay_12.jpg") << "of another numbering";
  const auto sequence = sequenceOf(name(7));
  QVERIFY(sequence);
  QCOMPARE(sequence->files.size(), size_t(4));
  QCOMPARE(sequence->first, 7);
  QCOMPARE(sequence->missing, (std::vector<int>{10}));
  QVERIFY(!sequenceOf(in("plates") / "quay.jpg"));
  QVERIFY(!sequenceOf(in("plates") / "quay_12.jpg"));
  Project p = turning(5, {});
  Shot& shot = p.shots[0];
  std::vector<AssetRef> links;
  for (const auto& file : sequence->files) links.push_back(*quay_.assets.refer(file));
  movePlate(shot, *sequence, links);
  QCOMPARE(picturesOf(shot.motion), 5);
  const auto plateAt = [&](int picture) {
    return at(p, 0, momentOf(shot.motion, picture)).project.shots[0].plate;
  };
  QVERIFY(plateAt(0) == links[0] && plateAt(2) == links[2]);
  QVERIFY(plateAt(3) == links[2] && plateAt(4) == links[3]);  // the missing one: the one before
  shot.deliverables = {usualOf(DeliverableKind::png, "{picture}")};
  const auto report = made(p, options("on plates", 2));
  QVERIFY2(report, report ? "" : report.error().message.c_str());
  const auto corner = [&](int n) {
    return readAsIs(in("on plates") / (pictureNumber(n) + ".png")).at(3, 3)[0];
  };
  QVERIFY(std::abs(corner(0) - corner(1)) < 0.02);
  QVERIFY(corner(0) - corner(2) > 0.2);
  // One that has gone is a sentence, not a picture of something else.
  fs::remove(name(8));
  AssetStore fresh(fs::path(DUSK_SOURCE) / "demo/brackwater");
  const auto gone = deliverFilm(p, 0, fresh, quay_.cache, options("gone", 2), quay_.progress);
  QVERIFY(!gone);
  QVERIFY2(QString::fromStdString(gone.error().message).contains("quay_0009.jpg"),
           gone.error().message.c_str());
}

void TestFilm::withoutAFilmItIsSaid() {
  const auto none = made(turning(3, {DeliverableKind::png}), options("none"));
  QVERIFY(!none && QString::fromStdString(none.error().message).startsWith("No film is asked for"));
  Project p = turning(3, {DeliverableKind::mp4});
  const auto still = deliver(p, 0, quay_.assets, quay_.cache, options("none").each, quay_.progress);
  QVERIFY(!still && QString::fromStdString(still.error().message).startsWith("Nothing is asked for"));
  Progress cancelled;
  cancelled.cancel();
  const auto ended = deliverFilm(p, 0, quay_.assets, quay_.cache, options("ended"), cancelled);
  QVERIFY(!ended && ended.error().kind == ErrorKind::cancelled);
}

void TestFilm::sizesThatCannotBe_data() {
  QTest::addColumn<int>("kind");
  QTest::addColumn<int>("width");
  QTest::addColumn<int>("height");
  QTest::newRow("one pixel") << int(DeliverableKind::mp4) << 1 << 1;
  QTest::newRow("too wide for MP4") << int(DeliverableKind::mp4) << 20'000 << 100;
  QTest::newRow("too wide for WebP") << int(DeliverableKind::webpLoop) << 17'000 << 100;
  QTest::newRow("too wide for GIF") << int(DeliverableKind::gif) << 70'000 << 100;
}
void TestFilm::sizesThatCannotBe() {
  QFETCH(int, kind);
  QFETCH(int, width);
  QFETCH(int, height);
  const auto film = FilmWriter::open(in("x"), {DeliverableKind(kind), width, height});
  QVERIFY(!film);
  QVERIFY(QString::fromStdString(film.error().message).contains("pixels"));
  QVERIFY(!fs::exists(in("x")));
}

void TestFilm::brokenPicturesAreSaid() {
  // An odd size loses its last row.
  auto odd = FilmWriter::open(in("odd.mp4"), {DeliverableKind::mp4, 65, 47});
  QVERIFY(odd && (*odd)->size() == std::pair(64, 46));
  QVERIFY(!(*odd)->add(in("no-such.png")));
  std::ofstream(in("text.png")) << "not a picture";
  const Outcome text = (*odd)->add(in("text.png"));
  QVERIFY(!text && QString::fromStdString(text.error().message).contains("text.png"));
  QImage(10, 10, QImage::Format_RGB888).save(QString::fromStdString(in("small.png").string()));
  const Outcome small = (*odd)->add(in("small.png"));
  QVERIFY(!small && QString::fromStdString(small.error().message).contains("65 × 47"));
  odd->reset();
  for (const auto& entry : fs::directory_iterator(in("")))  // nothing half written stays
    QVERIFY(!entry.path().string().ends_with(".going"));
  QVERIFY(!FilmWriter::open(in("no/such/folder/x.webm"), {DeliverableKind::webm, 64, 48}));
  QVERIFY(!readFilm(in("text.png")));
}

DUSK_TEST(TestFilm, QCoreApplication);
#include "film.moc"
