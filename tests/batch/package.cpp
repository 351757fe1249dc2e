#include <QtTest>

#include "core/base/json_text.h"
#include "tests/program.h"

/// The package as a person gets it: made from the build tree, unpacked elsewhere, and put to use there.
class TestPackage : public QObject {
  Q_OBJECT
 private slots:
  void initTestCase();
  void itHoldsWhatADesktopNeeds();
  void itIsSmallAndSaysWhatItNeeds();
  void theManualSaysWhatTheProgramsSay();
  void theDemoIsTracedWhereverItLies();
  void wordsAreCompleted();
  void theDebianLooksFindNoErrors();

 private:
  struct Ran {
    int code = -1;
    QString out, error;
  };
  /// In an environment of its own: nothing of the build tree is told.
  Ran run(const QString& program, const QStringList& arguments, int seconds = 60) {
    QProcess process;
    QProcessEnvironment bare;
    for (const char* name : {"PATH", "LANG", "ASAN_OPTIONS", "LSAN_OPTIONS"})
      if (qEnvironmentVariableIsSet(name)) bare.insert(name, qEnvironmentVariable(name));
    bare.insert("HOME", folder_.path());
    bare.insert("QT_QPA_PLATFORM", "offscreen");
    process.setProcessEnvironment(bare);
    process.start(program, arguments);
    if (!process.waitForFinished(seconds * 1000)) return {};
    return {process.exitCode(), QString::fromUtf8(process.readAllStandardOutput()),
            QString::fromUtf8(process.readAllStandardError())};
  }
  QString in(const QString& path) const { return folder_.filePath("root/usr/" + path); }
  QTemporaryDir folder_;
  QString deb_;
};

void TestPackage::initTestCase() {
  // What is built already goes in: the tree is up to date when tests run.
  const Ran made = run("cpack", {"--config", DUSK_BUILD "/CPackConfig.cmake", "-B", folder_.path()}, 240);
  const QStringList all = QDir(folder_.path()).entryList({"*.deb"});
  QVERIFY2(all.size() == 1, qPrintable(made.out + made.error));
  deb_ = folder_.filePath(all.front());
  QCOMPARE(run("dpkg-deb", {"-x", deb_, folder_.filePath("root")}).code, 0);
}

void TestPackage::itHoldsWhatADesktopNeeds() {
  for (const char* path :
       {"bin/gentle-dusk", "bin/gentle-dusk-batch", "libexec/gentle-dusk/dusk-import-worker",
        "libexec/gentle-dusk/dusk-print-worker", "share/gentle-dusk/light-sets/dusk.exr",
        "share/gentle-dusk/demo/brackwater/brackwater.dusk", "share/gentle-dusk/guide/motion.md",
        "share/applications/gentle-dusk.desktop", "share/mime/packages/gentle-dusk.xml",
        "share/thumbnailers/gentle-dusk.thumbnailer", "share/metainfo/org.gentledusk.GentleDusk.metainfo.xml",
        "share/icons/hicolor/48x48/apps/gentle-dusk.png", "share/icons/hicolor/scalable/apps/gentle-dusk.svg",
        "share/icons/hicolor/64x64/mimetypes/gentle-dusk-project.png", "share/doc/gentle-dusk/copyright",
        "share/bash-completion/completions/gentle-dusk-batch"})
    QVERIFY2(QFileInfo::exists(in(path)), path);
  QDirIterator every(folder_.filePath("root"), QDir::Files | QDir::Hidden, QDirIterator::Subdirectories);
  while (every.hasNext()) {
    const QString file = every.next();
    QVERIFY2(!file.endsWith(".open") && !file.endsWith("truth.json"), qPrintable(file));
  }
  const Ran entry = run("desktop-file-validate", {in("share/applications/gentle-dusk.desktop")});
  QVERIFY2(entry.code == 0 && entry.out.isEmpty(), qPrintable(entry.out));
  const Ran data = run("appstream-util", {"validate-relax", "--nonet",
                                          in("share/metainfo/org.gentledusk.GentleDusk.metainfo.xml")});
  QVERIFY2(data.code == 0, qPrintable(data.out + data.error));
}

void TestPackage::itIsSmallAndSaysWhatItNeeds() {
  QVERIFY2(QFileInfo(deb_).size() < 40'000'000, qPrintable(QString::number(QFileInfo(deb_).size())));
  const QString needs = run("dpkg-deb", {"-f", deb_, "Depends"}).out;
  for (const char* library :
       {"libqt6widgets6", "libembree3", "libopenimageio2", "libocct-", "liblensfun-data"})
    QVERIFY2(needs.contains(library), library);
  QVERIFY(!needs.contains("-dev"));
}

void TestPackage::theManualSaysWhatTheProgramsSay() {
  const Ran version = run(in("bin/gentle-dusk-batch"), {"--version"});
  QVERIFY2(version.out.startsWith("Gentle Dusk 0.") && version.out.contains("Embree 3."),
           qPrintable(version.out));
  const Ran window = run(in("bin/gentle-dusk"), {"--version"});
  QCOMPARE(window.out, version.out);
  const QString page = in("share/man/man1/gentle-dusk-batch.1.gz");
  if (!QFileInfo::exists(page)) QSKIP("The manual is made by `./dusk package`; this tree has none.");
  const QString text = run("zcat", {page}).out;
  for (const char* verb : {"render", "thumbnail", "farm"}) QVERIFY2(text.contains(verb), verb);
}

void TestPackage::theDemoIsTracedWhereverItLies() {
  const QString demo = in("share/gentle-dusk/demo/brackwater/brackwater.dusk"),
                out = folder_.filePath("small.png");
  const Ran made = run(in("bin/gentle-dusk-batch"), {"thumbnail", demo, out, "--pixels", "160"}, 120);
  QVERIFY2(made.code == 0, qPrintable(made.error));
  const QImage with(out);
  QCOMPARE(with.width(), 160);
  // It is the product's picture: the worker was found and read the model.
  const QImage plate = QImage(in("share/gentle-dusk/demo/brackwater/quay-plate.jpg")).scaled(with.size());
  int different = 0;
  for (int y = 0; y < with.height(); ++y)
    for (int x = 0; x < with.width(); ++x)
      different += std::abs(qGray(with.pixel(x, y)) - qGray(plate.pixel(x, y))) > 24;
  QVERIFY2(different > 200, qPrintable(QString::number(different)));
  QVERIFY(QDir(folder_.filePath(".cache/gentle-dusk")).exists());  // its own places, by the standard
}

void TestPackage::wordsAreCompleted() {
  const QString script = in("share/bash-completion/completions/gentle-dusk-batch");
  const auto completed = [&](const QString& words) {
    const QStringList all = words.split(' ');
    return run("bash", {"-c", QString("source %1; PATH=%2:$PATH; COMP_WORDS=(%3 ''); COMP_CWORD=%4; "
                                      "_gentle_dusk_batch; echo \"${COMPREPLY[@]}\"")
                                  .arg(script, in("bin"), words)
                                  .arg(all.size())})
        .out;
  };
  QVERIFY2(completed("gentle-dusk-batch").contains("render"), qPrintable(completed("gentle-dusk-batch")));
  QVERIFY(completed("gentle-dusk-batch farm").contains("submit"));
}

void TestPackage::theDebianLooksFindNoErrors() {
  if (QStandardPaths::findExecutable("lintian").isEmpty()) QSKIP("lintian is not installed.");
  // Run as another than root it would not be allowed to look into what root made.
  const Ran looked = run("lintian", {"--allow-root", "--fail-on", "error", deb_}, 240);
  QVERIFY2(looked.code == 0, qPrintable(looked.out + looked.error));
}

DUSK_TEST(TestPackage, QCoreApplication);
#include "package.moc"
