#include <fcntl.h>
#include <sys/socket.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include <QtTest>
#include <thread>

#include "core/base/files.h"
#include "import_worker/confine.h"
#include "tests/program.h"

namespace fs = std::filesystem;

namespace {

constexpr char unavailable = 'u';

/// What a confined process could do of all that `tries` tries, as letters on a pipe.
QByteArray triedBy(const std::function<void(const std::function<void(char, bool)>&)>& tries) {
  int ends[2];
  if (pipe(ends) != 0) return {};
  const pid_t child = fork();
  if (child == 0) {
    const auto tell = [&](char what, bool worked) {
      const char word[2] = {what, worked ? '+' : '-'};
      (void)!write(ends[1], word, 2);
    };
    if (!confine()) tell(unavailable, true), _exit(0);
    tries(tell);
    _exit(0);
  }
  close(ends[1]);
  QByteArray all;
  char some[64];
  for (ssize_t n; (n = read(ends[0], some, sizeof some)) > 0;) all.append(some, n);
  close(ends[0]);
  waitpid(child, nullptr, 0);
  return all;
}

}  // namespace

class TestConfined : public QObject {
  Q_OBJECT
 private slots:
  void whoReadsForeignFilesCanDoNothingElse();
  void whatItNeedsStaysPossible();
};

void TestConfined::whoReadsForeignFilesCanDoNothingElse() {
  const QTemporaryDir dir;
  const std::string folder = dir.path().toStdString(), theirs = folder + "/theirs";
  QVERIFY(dusk::writeFileAtomically(theirs, "work of somebody").ok());
  const QByteArray told = triedBy([&](const auto& tell) {
    tell('n', socket(AF_INET, SOCK_STREAM, 0) >= 0);
    tell('l', socket(AF_UNIX, SOCK_STREAM, 0) >= 0);
    tell('w', open(theirs.c_str(), O_WRONLY) >= 0);
    tell('r', open(theirs.c_str(), O_RDWR) >= 0);
    tell('c', open((folder + "/new").c_str(), O_RDONLY | O_CREAT, 0600) >= 0);
    tell('t', truncate(theirs.c_str(), 0) == 0);
    tell('d', unlink(theirs.c_str()) == 0);
    tell('m', rename(theirs.c_str(), (folder + "/moved").c_str()) == 0);
    tell('f', mkdir((folder + "/folder").c_str(), 0700) == 0);
    tell('h', chmod(theirs.c_str(), 0777) == 0);
    tell('k', kill(getppid(), 0) == 0);
    execl("/bin/true", "true", nullptr);
    tell('x', false);
  });
  if (told.startsWith(unavailable)) QSKIP("The kernel here has no filters for calls.");
  QCOMPARE(told, QByteArray("n-l-w-r-c-t-d-m-f-h-k-x-"));
  QCOMPARE(*dusk::readFile(theirs), std::string("work of somebody"));
  QVERIFY(!fs::exists(folder + "/new"));
}

void TestConfined::whatItNeedsStaysPossible() {
  const QTemporaryDir dir;
  const std::string model = dir.path().toStdString() + "/model";
  QVERIFY(dusk::writeFileAtomically(model, "part").ok());
  const int out = open((model + ".out").c_str(), O_WRONLY | O_CREAT, 0600);
  const QByteArray told = triedBy([&](const auto& tell) {
    const int in = open(model.c_str(), O_RDONLY);
    char text[4];
    tell('i', in >= 0 && read(in, text, 4) == 4);
    tell('o', write(out, text, 4) == 4);
    bool ran = false;
    std::thread([&ran] { ran = true; }).join();
    tell('p', ran);
  });
  close(out);
  if (told.startsWith(unavailable)) QSKIP("The kernel here has no filters for calls.");
  QCOMPARE(told, QByteArray("i+o+p+"));
  QCOMPARE(*dusk::readFile(model + ".out"), std::string("part"));
}

DUSK_TEST(TestConfined, QCoreApplication);
#include "confined.moc"
