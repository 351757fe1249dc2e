#include <signal.h>

#include <QtTest>
#include <nlohmann/json.hpp>

#include "core/base/files.h"
#include "core/deliver/names.h"
#include "core/deliver/queue.h"
#include "core/project/file.h"
#include "core/project/shots.h"
#include "tests/headless.h"
#include "tests/program.h"
#include "tests/small_demo.h"

using namespace dusk;
using nlohmann::json;
namespace fs = std::filesystem;

/// The headless program on work that is done later, elsewhere, or after the power was cut.
class TestQueueing : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  QString project_;
  QString in(const QString& name) { return folder_.filePath(name); }
  Headless queue(const QString& name, QStringList arguments) {
    return headless(QStringList{"queue", "--queue", in(name), "--json"} + arguments);
  }
  Headless add(const QString& name, const QString& out, QStringList more = {}) {
    return queue(name, QStringList{"add", project_, "--out", in(out), "--size", "300x200"} + more);
  }
  bool same(const QString& a, const QString& b) {
    const auto one = readFile(in(a).toStdString()), two = readFile(in(b).toStdString());
    return one && two && *one == *two;
  }

 private slots:
  void initTestCase();
  void partsAreMerged();
  void recipeRendersAgain();
  void cutOffItGoesOn();
  void variantsGoSideBySide();
  void lineIsKept();
  void oneFailsTheOthersGoOn();
  void pausedItWaits();
  void proofsStopTheQueue();
  void aWatchedFolderIsHandedOver();
  void nothingOfOthersIsReplaced();
  void manySmallOnesCostLittle();
};

void TestQueueing::initTestCase() {
  Project p = smallDemo(folder_.path().toStdString());
  p.shots[0].render.samples = 16, p.shots[0].render.noiseTarget = 0;
  p.shots[0].deliverables = {{DeliverableKind::png, "picture.png"}};
  project_ = in("quay.dusk");
  QVERIFY(saveProject(p, project_.toStdString()).ok());
  const Headless plain = headless({"render", project_, "--out", in("plain"), "--size", "300x200"});
  QVERIFY2(plain.code == 0, plain.words.constData());
}

void TestQueueing::partsAreMerged() {
  QStringList parts;
  for (const char* part : {"1/2", "2/2"}) {
    const Headless traced =
        headless({"render", project_, "--out", in("parts"), "--size", "300x200", "--part", part, "--json"});
    QVERIFY2(traced.code == 0, traced.words.constData());
    parts << QString::fromStdString(traced.told()["part"].get<std::string>());
  }
  const Headless merged =
      headless(QStringList{"merge"} + parts + QStringList{"--out", in("merged"), "--json"});
  QVERIFY2(merged.code == 0, merged.words.constData());
  QVERIFY(same("plain/picture.png", "merged/picture.png"));
  const Headless one = headless({"merge", parts[0], "--out", in("never")});
  QCOMPARE(one.code, 1);
  QVERIFY(one.words.contains("Part 2 of 2 is missing") && !QFile::exists(in("never")));
  for (const char* wrong : {"0/2", "3/2", "1/0", "half", "1/2x"})
    QCOMPARE(headless({"render", project_, "--out", in("never"), "--part", wrong}).code, 2);
}

void TestQueueing::recipeRendersAgain() {
  const Headless again = headless({"render", in("plain/picture.png.json"), "--out", in("again"), "--json"});
  QVERIFY2(again.code == 0, again.words.constData());
  QVERIFY(same("plain/picture.png", "again/picture.png"));
}

void TestQueueing::cutOffItGoesOn() {
  QCOMPARE(add("cut", "after-cut").code, 0);
  // Five times the power goes, at another moment each.
  int killed = 0;
  for (int i = 0; i < 5; ++i) {
    QProcess process;
    process.start(DUSK_BATCH, {"queue", "--queue", in("cut"), "run"});
    QVERIFY(process.waitForStarted());
    if (process.waitForFinished(400 + 350 * i)) break;
    ::kill(pid_t(process.processId()), SIGKILL);
    process.waitForFinished();
    ++killed;
    if (QFile::exists(in("after-cut/picture.png"))) break;  // it was about to say that it is done
    QCOMPARE(queue("cut", {"list"}).told()["jobs"][0]["state"].get<std::string>(), std::string("waiting"));
  }
  QVERIFY(killed >= 2);
  const Headless ran = queue("cut", {"run"});
  QVERIFY2(ran.code == 0, ran.words.constData());
  QVERIFY(same("plain/picture.png", "after-cut/picture.png"));
  const json job = queue("cut", {"list"}).told()["jobs"][0];
  QCOMPARE(job["state"].get<std::string>(), std::string("done"));
  QVERIFY(fs::exists(in("cut").toStdString() + "/" + job["job"].get<std::string>() + "/stamp.png"));
}

void TestQueueing::variantsGoSideBySide() {
  const QStringList as{"--size", "240x160", "--samples", "48"};
  Project p = *loadProject(project_.toStdString());
  std::vector<std::string> ids;
  const std::vector<QString> names{"green", "cream", "blue", "again"};
  for (size_t i = 0; i < names.size(); ++i) {
    for (Surface& s : p.surfaces) s.baseColour = {0.1 + 0.2 * double(i), 0.4, 0.3};
    p.shots[0].deliverables[0].fileName = (i < 3 ? names[i] : names[0]).toStdString() + ".png";
    QVERIFY(saveProject(p, in(names[i] + ".dusk").toStdString()).ok());
    // The last writes over the first: it waits for it.
    const Headless added =
        queue("variants", QStringList{"add", in(names[i] + ".dusk"), "--out", in("variants-out")} + as);
    QVERIFY2(added.code == 0, added.words.constData());
    ids.push_back(added.told()["jobs"][0].get<std::string>());
  }
  QProcess process;
  const auto states = [&] {
    std::string text;
    const json told = queue("variants", {"list"}).told();
    for (const json& job : told["jobs"]) text += job["state"].get<std::string>() + " ";
    return text;
  };
  const auto traced = [&](size_t i) {
    const fs::path file = fs::path(in("variants").toStdString()) / ids[i] / "samples.trace";
    std::error_code code;
    return fs::exists(file) && fs::file_size(file, code) > 20'000;
  };
  process.start(DUSK_BATCH, {"queue", "--queue", in("variants"), "run"});
  QTRY_COMPARE_WITH_TIMEOUT(states(), std::string("working working working waiting "), 20'000);
  QTRY_VERIFY_WITH_TIMEOUT(traced(0) && traced(2), 30'000);
  ::kill(pid_t(process.processId()), SIGKILL);
  process.waitForFinished();
  QCOMPARE(states(), std::string("waiting waiting waiting waiting "));
  // Gone on with; one is taken away meanwhile.
  process.start(DUSK_BATCH, {"queue", "--queue", in("variants"), "run"});
  QTRY_COMPARE_WITH_TIMEOUT(states(), std::string("working working working waiting "), 20'000);
  QCOMPARE(queue("variants", {"remove", QString::fromStdString(ids[1])}).code, 0);
  QVERIFY(process.waitForFinished(180'000));
  QCOMPARE(states(), std::string("done done done "));
  QVERIFY(!QFile::exists(in("variants-out/cream.png")));
  for (const char* name : {"again", "blue"}) {
    const QString alone = in("alone-" + QString(name));
    const Headless rendered =
        headless(QStringList{"render", in(QString(name) + ".dusk"), "--out", alone} + as);
    QVERIFY2(rendered.code == 0, rendered.words.constData());
  }
  QVERIFY(same("variants-out/green.png", "alone-again/green.png"));
  QVERIFY(same("variants-out/blue.png", "alone-blue/blue.png"));
}

void TestQueueing::lineIsKept() {
  std::vector<std::string> ids;
  for (const char* out : {"a", "b", "c"})
    ids.push_back(add("line", out).told()["jobs"][0].get<std::string>());
  const auto order = [&] {
    std::string text;
    const json told = queue("line", {"list"}).told();
    for (const json& job : told["jobs"])
      text += fs::path(job["folder"].get<std::string>()).filename().string();
    return text;
  };
  QCOMPARE(order(), std::string("abc"));
  QCOMPARE(queue("line", {"move", QString::fromStdString(ids[2]), "-2"}).code, 0);
  QCOMPARE(order(), std::string("cab"));
  QCOMPARE(queue("line", {"remove", QString::fromStdString(ids[0])}).code, 0);
  QCOMPARE(order(), std::string("cb"));
  QCOMPARE(queue("line", {"remove", "../parts"}).code, 2);
  QCOMPARE(queue("line", {"move", "99999", "1"}).code, 2);
  QVERIFY(QFile::exists(in("plain")));
}

void TestQueueing::oneFailsTheOthersGoOn() {
  Project p = *loadProject(project_.toStdString());
  p.shots[0].plate.path = "/nowhere/plate.jpg";
  QVERIFY(saveProject(p, in("broken.dusk").toStdString()).ok());
  QCOMPARE(queue("some", {"add", in("broken.dusk"), "--out", in("some-broken")}).code, 0);
  QCOMPARE(add("some", "some-good", {"--samples", "4"}).code, 0);
  const fs::path damaged = in("some").toStdString() + "/00009";
  fs::create_directories(damaged);
  QVERIFY(writeFileAtomically(damaged / "state.json", "{ half").ok());
  const Headless ran = queue("some", {"run"});
  QCOMPARE(ran.code, 1);
  QCOMPARE(ran.told()["done"].get<int>(), 1);
  QCOMPARE(ran.told()["failed"].get<int>(), 1);
  QVERIFY(QFile::exists(in("some-good/picture.png")) && !QFile::exists(in("some-broken")));
  const json jobs = queue("some", {"list"}).told()["jobs"];
  QCOMPARE(jobs[0]["state"].get<std::string>(), std::string("failed"));
  QVERIFY(jobs[0]["message"].get<std::string>().find("/nowhere/plate.jpg") != std::string::npos);
  QCOMPARE(jobs.size(), size_t(3));
}

void TestQueueing::pausedItWaits() {
  const std::string id = add("pause", "paused", {"--samples", "4096"}).told()["jobs"][0].get<std::string>();
  QProcess process;
  process.start(DUSK_BATCH, {"queue", "--queue", in("pause"), "run"});
  const auto state = [&] { return queue("pause", {"list"}).told()["jobs"][0]["state"].get<std::string>(); };
  QTRY_COMPARE_WITH_TIMEOUT(state(), std::string("working"), 20'000);
  QVERIFY(queue("pause", {"run"}).words.contains("Another program is working"));
  QTRY_VERIFY_WITH_TIMEOUT(fs::exists(in("pause").toStdString() + "/" + id + "/samples.trace"), 30'000);
  QCOMPARE(queue("pause", {"pause", QString::fromStdString(id)}).code, 0);
  QVERIFY(process.waitForFinished(30'000));
  QCOMPARE(state(), std::string("paused"));
  QCOMPARE(queue("pause", {"run"}).told()["done"].get<int>(), 0);  // it waits until it is resumed
  QCOMPARE(queue("pause", {"resume", QString::fromStdString(id)}).code, 0);
  QCOMPARE(state(), std::string("waiting"));
  // Taken away while it is worked on, it ends and is gone.
  process.start(DUSK_BATCH, {"queue", "--queue", in("pause"), "run"});
  QTRY_COMPARE_WITH_TIMEOUT(state(), std::string("working"), 20'000);
  QCOMPARE(queue("pause", {"remove", QString::fromStdString(id)}).code, 0);
  QVERIFY(process.waitForFinished(30'000));
  QVERIFY(queue("pause", {"list"}).told()["jobs"].empty());
}

void TestQueueing::proofsStopTheQueue() {
  Project p = *loadProject(project_.toStdString());
  p.shots[0].placements[0].liftM = 0.03;  // it hovers
  QVERIFY(saveProject(p, in("hovers.dusk").toStdString()).ok());
  const QStringList job{"add", in("hovers.dusk"), "--samples", "4", "--size", "300x200"};
  QCOMPARE(queue("warned", job + QStringList{"--out", in("warned-out")}).code, 0);
  QCOMPARE(queue("warned", {"run"}).code, 0);
  QVERIFY(queue("warned", {"list"}).told()["jobs"][0]["message"].get<std::string>().find("hovers over") !=
          std::string::npos);
  for (const char* out : {"stopped-a", "stopped-b"})
    QCOMPARE(queue("stopped", job + QStringList{"--out", in(out), "--prove", "stop"}).code, 0);
  const Headless ran = queue("stopped", {"run"});
  QCOMPARE(ran.code, 1);
  QVERIFY(ran.told()["stopped"].get<bool>());
  QVERIFY(QFile::exists(in("stopped-a/picture.png")) && !QFile::exists(in("stopped-b")));
}

void TestQueueing::aWatchedFolderIsHandedOver() {
  QDir().mkpath(in("hot"));
  QFile::copy(project_, in("hot/quay.dusk"));
  QVERIFY(writeFileAtomically(in("hot/broken.dusk").toStdString(), "{").ok());
  const Headless answer =
      headless({"queue", "watch", in("hot"), "--once", "--size", "300x200", "--samples", "2"});
  QVERIFY(answer.code != 0);  // of the broken one
  QVERIFY2(QFile::exists(in("hot/quay-delivered/picture.png")), answer.words.constData());
  QCOMPARE(headless({"queue", "watch", in("nowhere"), "--once"}).code, 2);
}

void TestQueueing::nothingOfOthersIsReplaced() {
  QDir().mkpath(in("taken"));
  QVERIFY(writeFileAtomically(in("taken/picture.png").toStdString(), "theirs").ok());
  const QStringList render{"render", project_, "--out", in("taken"), "--size", "30x20", "--samples", "1"};
  const Headless refused = headless(render);
  QCOMPARE(refused.code, 1);
  QVERIFY(refused.words.contains("was not made of this shot"));
  QCOMPARE(headless(render + QStringList{"--if-there", "keep-both"}).code, 0);
  QVERIFY(QFile::exists(in("taken/picture-2.png")));
  QCOMPARE(*readFile(in("taken/picture.png").toStdString()), std::string("theirs"));
  QCOMPARE(headless(render + QStringList{"--if-there", "replace"}).code, 0);
  QVERIFY(*readFile(in("taken/picture.png").toStdString()) != "theirs");
}

void TestQueueing::manySmallOnesCostLittle() {
  const auto project = loadProject(project_.toStdString());
  Order order;
  const AssetStore assets;
  order.project = onlyShot(*project, project->shots[0], assets);
  order.size = std::pair(30, 20), order.samples = 1, order.onFindings = OnFindings::ignore;
  Queue queue(in("many").toStdString());
  constexpr int count = 20;
  for (int i = 0; i < count; ++i) {
    order.folder = in("many-out/" + QString::number(i)).toStdString();
    QVERIFY(queue.add(order).ok());
  }
  Progress progress;
  const auto report = queue.run(progress);
  QVERIFY(report.ok() && report->done == count && report->failed == 0);
  for (const QueuedJob& job : queue.list()) {
    QVERIFY(job.state == JobState::done && job.files.size() == 1);
    QVERIFY(fs::exists(job.files[0]) && !fs::exists(job.home / "samples.trace"));
  }
}

DUSK_TEST(TestQueueing, QCoreApplication);
#include "queueing.moc"
