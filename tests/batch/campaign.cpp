#include <signal.h>

#include <QtTest>
#include <nlohmann/json.hpp>

#include "core/picture/read.h"
#include "core/project/file.h"
#include "core/project/shots.h"
#include "tests/headless.h"
#include "tests/program.h"
#include "tests/small_demo.h"

using namespace dusk;
using nlohmann::json;
namespace fs = std::filesystem;

/// The headless program on a campaign of several shots, and how it ends when it is told to.
class TestCampaign : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  const QString demo_ = DUSK_SOURCE "/demo/brackwater/";
  QString campaign_;
  QString in(const char* name) { return folder_.filePath(name); }
  static int filesIn(const QString& folder) {
    int n = 0;
    QDirIterator at(folder, QDir::Files | QDir::Hidden, QDirIterator::Subdirectories);
    for (; at.hasNext(); ++n) at.next();
    return n;
  }

 private slots:
  void initTestCase();
  void infoListsTheShots();
  void oneShotByIdOrName();
  void allShotsEachInItsFolder();
  void bothAtOnceIsWrongUse();
  void gatheredItRendersTheSame();
  void gatherRefusesWhatHoldsSomething();
  void everyVerbEndsWhenItIsTold_data();
  void everyVerbEndsWhenItIsTold();
  void changedFilesAreTold();
};

void TestCampaign::initTestCase() {
  Project p = smallDemo(folder_.path().toStdString());
  p.shots[0].render.samples = 2;
  p.shots[0].deliverables = {{DeliverableKind::png, "picture.png"}};
  addShot(p, 0, true);
  p.shots[1].name = "Plain", p.shots[1].backdrop.kind = BackdropKind::plain,
  p.shots[1].backdrop.colour = "#336699";
  p.shots[1].backdrop.width = 120, p.shots[1].backdrop.height = 80, p.shots[1].placements.clear();
  p.shots[1].vantage.camera.width = 120, p.shots[1].vantage.camera.height = 80;
  campaign_ = in("campaign.dusk");
  QVERIFY(saveProject(p, campaign_.toStdString()).ok());
}

void TestCampaign::infoListsTheShots() {
  const auto answer = headless({"info", campaign_, "--json"});
  QCOMPARE(answer.code, 0);
  const json told = answer.told();
  QCOMPARE(told["shots"].size(), size_t(2));
  QCOMPARE(told["shots"][1]["name"].get<std::string>(), std::string("Plain"));
  QCOMPARE(told["shots"][0]["placements"].get<int>(), 1);
}

void TestCampaign::oneShotByIdOrName() {
  for (const char* shot : {"Plain", "shot-2"}) {
    const auto answer = headless({"render", campaign_, "--out", in(shot), "--shot", shot, "--json"});
    if (answer.code == 2) continue;  // an id the demo's own numbering does not have
    QCOMPARE(answer.code, 0);
    const auto picture = readPhoto(
        (in(shot) + "/" +
         QString::fromStdString(fs::path(answer.told()["files"][0].get<std::string>()).filename().string()))
            .toStdString());
    QVERIFY(picture.ok());
    QCOMPARE(picture->picture.width, 120);
    QCOMPARE(int(std::lround(picture->picture.rgbAt(3, 3)[0] * 255)), 0x33);
  }
}

void TestCampaign::allShotsEachInItsFolder() {
  const auto answer =
      headless({"render", campaign_, "--out", in("all"), "--all-shots", "--size", "120x80", "--json"});
  QVERIFY2(answer.code == 0, answer.words.constData());
  const json told = answer.told();
  QCOMPARE(told["shots"].size(), size_t(2));
  std::set<std::string> files;
  for (const json& shot : told["shots"])
    for (const json& file : shot["files"]) {
      files.insert(file.get<std::string>());
      QVERIFY(fs::exists(file.get<std::string>()));
      QVERIFY(file.get<std::string>().find("/" + shot["shot"].get<std::string>() + "/") != std::string::npos);
    }
  QCOMPARE(files.size(), size_t(2));  // neither took the other's place
}

void TestCampaign::bothAtOnceIsWrongUse() {
  QCOMPARE(headless({"render", campaign_, "--out", in("x"), "--all-shots", "--shot", "Plain"}).code, 2);
  QVERIFY(!QDir(in("x")).exists());
}

void TestCampaign::gatheredItRendersTheSame() {
  const auto answer = headless({"gather", campaign_, in("gathered"), "--json"});
  QVERIFY2(answer.code == 0, answer.words.constData());
  const json told = answer.told();
  QCOMPARE(told["files"].get<int>(), filesIn(in("gathered")));
  const QStringList how{"--size", "96x64", "--samples", "2"};
  QCOMPARE(headless(QStringList{"render", campaign_, "--out", in("here")} + how).code, 0);
  QCOMPARE(headless(QStringList{"render", QString::fromStdString(told["project"].get<std::string>()), "--out",
                                in("there")} +
                    how)
               .code,
           0);
  QFile a(in("here/picture.png")), b(in("there/picture.png"));
  QVERIFY(a.open(QIODevice::ReadOnly) && b.open(QIODevice::ReadOnly));
  QVERIFY(a.readAll() == b.readAll());
  QCOMPARE(headless({"gather", campaign_, in("gathered.zip")}).code, 0);
  QVERIFY(QFile::exists(in("gathered.zip")));
}

void TestCampaign::gatherRefusesWhatHoldsSomething() {
  const auto again = headless({"gather", campaign_, in("gathered")});
  QCOMPARE(again.code, 1);
  QVERIFY(again.words.contains("empty or a new folder"));
  QCOMPARE(headless({"gather", in("none.dusk"), in("y")}).code, 2);
}

void TestCampaign::everyVerbEndsWhenItIsTold_data() {
  QTest::addColumn<QStringList>("arguments");
  QTest::newRow("render") << QStringList{"render", campaign_, "--out", in("stopped"), "--samples", "100000"};
  QTest::newRow("prove") << QStringList{"prove", campaign_, "--samples", "100000"};
  QTest::newRow("all shots") << QStringList{"render",      campaign_,   "--out", in("stopped"),
                                            "--all-shots", "--samples", "100000"};
  QTest::newRow("align") << QStringList{"panorama", "align", campaign_};
  QTest::newRow("vantage") << QStringList{"vantage", demo_ + "quay-plate.jpg"};
  QTest::newRow("merge") << QStringList{
      "panorama", "merge", demo_ + "quay-plate.jpg", demo_ + "quay-plate.jpg", "-o", in("m.exr"),
      "--ev",     "0,2"};
  QTest::newRow("info") << QStringList{"info", demo_ + "brackwater-gauge.step"};
}

void TestCampaign::everyVerbEndsWhenItIsTold() {
  QFETCH(QStringList, arguments);
  QProcess process;
  // Nothing is kept from before: a model in the cache would be there before the signal.
  auto environment = QProcessEnvironment::systemEnvironment();
  environment.insert("XDG_CACHE_HOME", in("cold"));
  process.setProcessEnvironment(environment);
  process.start(DUSK_BATCH, arguments);
  QVERIFY(process.waitForStarted());
  // Past the loading of its libraries: when it listens for the signal.
  const auto listens = [&] {
    QFile status(QString("/proc/%1/status").arg(process.processId()));
    if (process.state() != QProcess::Running || !status.open(QIODevice::ReadOnly)) return true;
    const QString caught =
        QString::fromUtf8(status.readAll()).section("SigCgt:", 1).section('\n', 0, 0).trimmed();
    return (caught.toULongLong(nullptr, 16) >> (SIGINT - 1) & 1) != 0;
  };
  QVERIFY(QTest::qWaitFor(listens, 30'000));
  QTest::qWait(60);
  const bool stillAt = process.state() == QProcess::Running;
  if (stillAt) ::kill(pid_t(process.processId()), SIGINT);
  QElapsedTimer clock;
  clock.start();
  QVERIFY(process.state() == QProcess::NotRunning || process.waitForFinished(20'000));
  QCOMPARE(process.exitStatus(), QProcess::NormalExit);
  if (stillAt) QCOMPARE(process.exitCode(), 3);
  QCOMPARE(filesIn(in("stopped")), 0);
  QVERIFY(!QFile::exists(in("m.exr")));
}

void TestCampaign::changedFilesAreTold() {
  Project p = *loadProject(campaign_.toStdString());
  p.shots[0].plate.hash = "another";
  QVERIFY(saveProject(p, in("changed.dusk").toStdString()).ok());
  const auto answer = headless({"render", in("changed.dusk"), "--out", in("c"), "--size", "60x40"});
  QCOMPARE(answer.code, 0);
  QVERIFY2(answer.words.contains("small-quay.png has changed since it was linked"), answer.words.constData());
}

DUSK_TEST(TestCampaign, QCoreApplication);
#include "campaign.moc"
