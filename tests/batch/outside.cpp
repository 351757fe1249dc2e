#include "tests/served_shelf.h"

#include "core/picture/read.h"
#include "tests/headless.h"
#include "tests/program.h"

using nlohmann::json;
namespace fs = std::filesystem;

/// The verbs about what lies outside, against its stand-ins: a camera's folder and a shelf.
class TestOutside : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  QProcessEnvironment environment() {
    auto all = QProcessEnvironment::systemEnvironment();
    all.insert("XDG_DATA_HOME", folder_.filePath("data"));
    all.insert("XDG_CACHE_HOME", folder_.filePath("cache"));
    return all;
  }
  dusk::Headless batch(const QStringList& words) {
    return dusk::runProgram(DUSK_BATCH, words, environment());
  }
  /// Watches while the camera works.
  dusk::Headless watched(const QString& card, const QStringList& rule, const QStringList& camera) {
    QDir().mkpath(card);
    QProcess watch, takes;
    watch.start(DUSK_BATCH, QStringList{"panorama", "watch", "--json", "--sets", "1", card} + rule);
    takes.start(DUSK_SOURCE "/demo/outside/camera", QStringList{card, "--pause", "0.1"} + camera);
    takes.waitForFinished(60'000);
    if (!watch.waitForFinished(120'000)) return {};
    return {watch.exitCode(), watch.readAllStandardOutput(), watch.readAllStandardError(), "panorama watch"};
  }

 private slots:
  void setsAreMergedAsTheyCome();
  void anIncompleteSetIsSaid();
  void theShelfIsListedAndFetched();
};

void TestOutside::setsAreMergedAsTheyCome() {
  const dusk::Headless answer =
      watched(folder_.filePath("card"), {"--photos", "9"}, {"--slow", "--as", "noon-"});
  QVERIFY2(answer.code == 0, answer.words.constData());
  const json told = answer.told();
  QCOMPARE(told["photos"].get<int>(), 9);
  const auto merged = dusk::readPictureHeader(told["file"].get<std::string>());
  QVERIFY(merged && merged->width == 1024 && merged->format == "openexr");
}

void TestOutside::anIncompleteSetIsSaid() {
  const dusk::Headless answer =
      watched(folder_.filePath("card2"), {"--photos", "9", "--late", "5"}, {"--lose", "4"});
  QCOMPARE(answer.code, 1);
  QVERIFY2(answer.words.contains("8 of 9 photos; the one "), answer.words.constData());
  QCOMPARE(answer.told()["complete"].get<bool>(), false);
  QCOMPARE(batch({"panorama", "watch", folder_.filePath("none")}).code, 2);
}

void TestOutside::theShelfIsListedAndFetched() {
  ServedShelf served;
  served.add("low-sky", "panorama", {served.file("a/sky.exr", "light")})["licence"] = "CC0-1.0";
  served.add("felt", "surface", {served.file("b/felt.mtlx", "text"), served.file("b/a.png", "picture")});
  served.save();
  const QString address = QString::fromStdString(served.serve());
  const dusk::Headless list = batch({"shelf", "list", address, "--kind", "surface", "--json"});
  QVERIFY2(list.code == 0, list.words.constData());
  const json told = list.told();
  QVERIFY(told["entries"].size() == 1 && told["entries"][0]["id"] == "felt");
  QCOMPARE(told["entries"][0]["fetched"].get<bool>(), false);
  const dusk::Headless fetch = batch({"shelf", "fetch", address, "felt", "--out", folder_.filePath("out")});
  QVERIFY2(fetch.code == 0, fetch.words.constData());
  QVERIFY(QFile::exists(folder_.filePath("out/b/felt.mtlx")) &&
          QFile::exists(folder_.filePath("out/b/a.png")));
  served.end();
  const dusk::Headless offline = batch({"shelf", "list", address});
  QVERIFY(offline.code == 0 && offline.words.contains("what it said last"));
  QVERIFY(offline.out.contains("felt  felt, surface, , fetched"));
  QCOMPARE(batch({"shelf", "fetch", address, "felt"}).code, 0);
  QCOMPARE(batch({"shelf", "fetch", address, "silk"}).code, 2);
  QCOMPARE(batch({"shelf", "fetch", address, "low-sky"}).code, 1);
  QCOMPARE(batch({"shelf", "list", "ftp://x/"}).code, 2);
}

DUSK_TEST(TestOutside, QCoreApplication);
#include "outside.moc"
