#include <QtTest>
#include <nlohmann/json.hpp>

#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/deliver/farm.h"
#include "core/project/file.h"
#include "tests/headless.h"
#include "tests/program.h"
#include "tests/small_demo.h"

using namespace dusk;
using nlohmann::json;
namespace fs = std::filesystem;

/// A picture traced in parts by a real Slurm of one machine, started without root's services.
class TestFarm : public QObject {
  Q_OBJECT
  QTemporaryDir folder_{QDir::tempPath() + "/farm-XXXXXX"};  // sockets want short paths
  const QString script_ = DUSK_SOURCE "/demo/outside/farm";
  QString project_;
  QProcessEnvironment environment_ = QProcessEnvironment::systemEnvironment();
  Headless run(const QString& program, const QStringList& words) {
    return runProgram(program, words, environment_);
  }
  Headless farm(const QStringList& arguments) {
    return run(DUSK_BATCH, QStringList{"farm", "--json"} + arguments);
  }
  QString in(const QString& name) { return folder_.filePath(name); }
  /// The farm, with what it asks for in the environment; false where Slurm is not installed.
  bool start(const QStringList& how = {}) {
    Headless started = run(script_, QStringList{"start", in("slurm")} + how);
    // The one before may not have ended yet.
    for (int i = 0; i < 3 && started.code != 0 && started.code != 3; ++i) {
      QTest::qWait(2000);
      run(script_, {"stop", in("slurm")});
      started = run(script_, QStringList{"start", in("slurm")} + how);
    }
    if (started.code == 3) return false;
    const QString line = QString(started.out).trimmed();
    environment_.insert(line.section('=', 0, 0), line.section('=', 1));
    if (started.code != 0) qWarning("%s", started.words.constData());
    return started.code == 0;
  }

 private slots:
  void initTestCase();
  void cleanup() { run(script_, {"stop", in("slurm")}); }
  void partsComeBackAsOnePicture();
  void aFilmComesBackByItsPictures();
  void aFarmThatDoesNotAnswerIsSaid();
  void noFarmIsSaid();
  void aPartTellsHowFarItIs();
};

void TestFarm::initTestCase() {
  Project p = smallDemo(folder_.path().toStdString());
  p.shots[0].render.samples = 24, p.shots[0].render.noiseTarget = 0;
  p.shots[0].deliverables = {{DeliverableKind::png, "picture.png"}};
  project_ = in("quay.dusk");
  QVERIFY(saveProject(p, project_.toStdString()).ok());
}

void TestFarm::partsComeBackAsOnePicture() {
  if (!start()) QSKIP("Slurm is not installed here (slurmctld slurmd slurm-client munge)");
  const Headless whole = run(DUSK_BATCH, {"render", project_, "--out", in("whole"), "--size", "300x200"});
  QVERIFY2(whole.code == 0, whole.words.constData());
  // Held back so that one part can be lost on purpose.
  QCOMPARE(run("scontrol", {"update", "partition=all", "state=down"}).code, 0);
  const Headless given = farm({"submit", project_, "--out", in("out"), "--parts", "3", "--size", "300x200"});
  QVERIFY2(given.code == 0, given.words.constData());
  const QString folder = QString::fromStdString(given.told()["folder"].get<std::string>());
  QCOMPARE(farm({"status", folder}).told()["parts"], (json{"waiting", "waiting", "waiting"}));
  QCOMPARE(farm({"pause", folder}).told()["parts"], (json{"held", "held", "held"}));
  QCOMPARE(farm({"resume", folder}).told()["parts"], (json{"waiting", "waiting", "waiting"}));
  const QString second = QString::fromStdString(given.told()["array"].get<std::string>()) + "_2";
  QCOMPARE(run("scancel", {second}).code, 0);
  QCOMPARE(run("scontrol", {"update", "partition=all", "state=up"}).code, 0);
  QTRY_COMPARE_WITH_TIMEOUT(farm({"status", folder}).told()["parts"], (json{"done", "lost", "done"}), 60'000);
  QVERIFY(!QFile::exists(in("out/picture.png")));
  const Headless again = farm({"collect", folder});
  QCOMPARE(again.code, 1);  // not there yet
  QCOMPARE(again.told()["submittedAgain"].get<int>(), 1);
  QTRY_VERIFY_WITH_TIMEOUT(farm({"collect", folder}).code == 0, 60'000);
  const auto one = readFile(in("whole/picture.png").toStdString()),
             merged = readFile(in("out/picture.png").toStdString());
  QVERIFY(one.ok() && merged.ok() && *one == *merged);
}

void TestFarm::aFilmComesBackByItsPictures() {
  if (!start()) QSKIP("Slurm is not installed here (slurmctld slurmd slurm-client munge)");
  Project p = *loadProject(project_.toStdString());
  Shot& shot = p.shots[0];
  shot.render.samples = 4, shot.motion.seconds = 5 / 24.0;
  shot.motion.tracks = {{"track-1", "/shots/" + shot.id + "/placements/" + shot.placements[0].id}};
  shot.motion.tracks[0].keys = {{0, R"({"turnDegrees":0.0})"}, {0.2, R"({"turnDegrees":30.0})"}};
  Deliverable film;
  film.kind = DeliverableKind::mp4, film.fileName = "turning.mp4";
  shot.deliverables.push_back(film);
  const QString project = in("turning.dusk");
  QVERIFY(saveProject(p, project.toStdString()).ok());
  const Headless whole =
      run(DUSK_BATCH, {"film", project, "--out", in("alone"), "--size", "150x100", "--json"});
  QVERIFY2(whole.code == 0, whole.words.constData());
  QCOMPARE(whole.told()["pictures"].get<int>(), 5);
  const Headless given =
      farm({"submit", project, "--out", in("farmed"), "--parts", "2", "--size", "150x100", "--film"});
  QVERIFY2(given.code == 0, given.words.constData());
  const QString folder = QString::fromStdString(given.told()["folder"].get<std::string>());
  QTRY_VERIFY_WITH_TIMEOUT(farm({"collect", folder}).code == 0, 100'000);
  const auto one = readFile(in("alone/turning.mp4").toStdString()),
             other = readFile(in("farmed/turning.mp4").toStdString());
  QVERIFY(one.ok() && other.ok() && *one == *other);
  // The parts traced all of it; who put it together had nothing to trace.
  const json merged = jsonFrom(*readFile(folder.toStdString() + "/merged.json"));
  QCOMPARE(merged["traced"].get<int>(), 0);
  // What it holds is told, and a still of another moment is another picture.
  const Headless told = run(DUSK_BATCH, {"info", in("farmed/turning.mp4"), "--json"});
  QCOMPARE(told.told()["pictures"].get<int>(), 5);
  QCOMPARE(told.told()["width"].get<int>(), 150);
  for (const char* moment : {"0", "0.2"})
    QCOMPARE(
        run(DUSK_BATCH, {"render", project, "--out", in(moment), "--size", "150x100", "--moment", moment})
            .code,
        0);
  QVERIFY(*readFile(in("0/picture.png").toStdString()) != *readFile(in("0.2/picture.png").toStdString()));
}

void TestFarm::aFarmThatDoesNotAnswerIsSaid() {
  const QProcessEnvironment before = environment_;
  QVERIFY(start({"--deaf"}));
  environment_.insert("DUSK_FARM_PATIENCE", "1");
  const Headless given = farm({"submit", project_, "--out", in("deaf"), "--parts", "2"});
  QCOMPARE(given.code, 1);
  QVERIFY2(given.words.contains("does not answer"), given.words.constData());
  QVERIFY(QDir(in("deaf")).isEmpty());  // nothing half given is left
  environment_ = before;
}

void TestFarm::noFarmIsSaid() {
  const QProcessEnvironment before = environment_;
  environment_.insert("PATH", in("nothing"));
  const Headless given = farm({"submit", project_, "--out", in("none"), "--parts", "2"});
  QCOMPARE(given.code, 1);
  QVERIFY2(given.words.contains("no farm here"), given.words.constData());
  QCOMPARE(farm({"status", in("none")}).code, 2);
  QCOMPARE(farm({"submit", project_, "--out", in("none"), "--parts", "0"}).code, 2);
  environment_ = before;
}

/// By the last whole line that its machine wrote, whatever else stands there.
void TestFarm::aPartTellsHowFarItIs() {
  FarmJob job;
  job.folder = folder_.path().toStdString(), job.parts = 3;
  QCOMPARE(progressOf(job, 1).fraction, 0.0);
  QVERIFY(progressOf(job, 1).secondsLeft < 0);
  std::string log = "reading quay.step\n";
  for (int percent = 5; percent <= 65; percent += 5)
    log += std::to_string(percent) + " %, " + std::to_string(100 - percent) + " s left\n";
  QVERIFY(writeFileAtomically(job.folder / "part-1.log", log + "70 %, 3"));
  QCOMPARE(progressOf(job, 1).fraction, 0.65);
  QCOMPARE(progressOf(job, 1).secondsLeft, 35.0);
  QVERIFY(writeFileAtomically(job.folder / "part-2.log", std::string(5000, 'x') + "\n400 %, 1 s left\n"));
  QCOMPARE(progressOf(job, 2).fraction, 0.0);
}

DUSK_TEST(TestFarm, QCoreApplication);
#include "farm.moc"
