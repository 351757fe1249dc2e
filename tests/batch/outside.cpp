#include "tests/served_shelf.h"

#include "core/base/json_text.h"
#include "core/picture/read.h"
#include "tests/program.h"

using nlohmann::json;
namespace fs = std::filesystem;

/// The verbs about what lies outside, against its stand-ins: a camera's folder and a shelf.
class TestOutside : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  struct Answer {
    int code = -1;
    QByteArray out, words;
  };
  static Answer ended(QProcess& process) {
    if (!process.waitForFinished(120'000)) return {};
    return {process.exitCode(), process.readAllStandardOutput(), process.readAllStandardError()};
  }
  QProcessEnvironment environment() {
    auto all = QProcessEnvironment::systemEnvironment();
    all.insert("XDG_DATA_HOME", folder_.filePath("data"));
    all.insert("XDG_CACHE_HOME", folder_.filePath("cache"));
    return all;
  }
  Answer batch(const QStringList& words) {
    QProcess process;
    process.setProcessEnvironment(environment());
    process.start(DUSK_BATCH, words);
    return ended(process);
  }
  /// Watches while the camera works.
  Answer watched(const QString& card, const QStringList& rule, const QStringList& camera) {
    QDir().mkpath(card);
    QProcess watch, takes;
    watch.start(DUSK_BATCH, QStringList{"panorama", "watch", "--json", "--sets", "1", card} + rule);
    takes.start(DUSK_SOURCE "/demo/outside/camera", QStringList{card, "--pause", "0.1"} + camera);
    takes.waitForFinished(60'000);
    return ended(watch);
  }

 private slots:
  void setsAreMergedAsTheyCome();
  void anIncompleteSetIsSaid();
  void theShelfIsListedAndFetched();
};

void TestOutside::setsAreMergedAsTheyCome() {
  const Answer answer = watched(folder_.filePath("card"), {"--photos", "9"}, {"--slow", "--as", "noon-"});
  QVERIFY2(answer.code == 0, answer.words.constData());
  const json told = dusk::jsonFrom(answer.out.toStdString());
  QCOMPARE(told["photos"].get<int>(), 9);
  const auto merged = dusk::readPictureHeader(told["file"].get<std::string>());
  QVERIFY(merged && merged->width == 1024 && merged->format == "openexr");
}

void TestOutside::anIncompleteSetIsSaid() {
  const Answer answer = watched(folder_.filePath("card2"), {"--photos", "9", "--late", "5"}, {"--lose", "4"});
  QCOMPARE(answer.code, 1);
  QVERIFY2(answer.words.contains("8 of 9 photos; the one "), answer.words.constData());
  QCOMPARE(dusk::jsonFrom(answer.out.toStdString())["complete"].get<bool>(), false);
  QCOMPARE(batch({"panorama", "watch", folder_.filePath("none")}).code, 2);
}

void TestOutside::theShelfIsListedAndFetched() {
  ServedShelf served;
  served.add("low-sky", "panorama", {served.file("a/sky.exr", "light")})["licence"] = "CC0-1.0";
  served.add("felt", "surface", {served.file("b/felt.mtlx", "text"), served.file("b/a.png", "picture")});
  served.save();
  const QString address = QString::fromStdString(served.serve());
  const Answer list = batch({"shelf", "list", address, "--kind", "surface", "--json"});
  QVERIFY2(list.code == 0, list.words.constData());
  const json told = dusk::jsonFrom(list.out.toStdString());
  QVERIFY(told["entries"].size() == 1 && told["entries"][0]["id"] == "felt");
  QCOMPARE(told["entries"][0]["fetched"].get<bool>(), false);
  const Answer fetch = batch({"shelf", "fetch", address, "felt", "--out", folder_.filePath("out")});
  QVERIFY2(fetch.code == 0, fetch.words.constData());
  QVERIFY(QFile::exists(folder_.filePath("out/b/felt.mtlx")) &&
          QFile::exists(folder_.filePath("out/b/a.png")));
  served.end();
  const Answer offline = batch({"shelf", "list", address});
  QVERIFY(offline.code == 0 && offline.words.contains("what it said last"));
  QVERIFY(offline.out.contains("felt  felt, surface, , fetched"));
  QCOMPARE(batch({"shelf", "fetch", address, "felt"}).code, 0);
  QCOMPARE(batch({"shelf", "fetch", address, "silk"}).code, 2);
  QCOMPARE(batch({"shelf", "fetch", address, "low-sky"}).code, 1);
  QCOMPARE(batch({"shelf", "list", "ftp://x/"}).code, 2);
}

DUSK_TEST(TestOutside, QCoreApplication);
#include "outside.moc"
