#include "app/jobs/jobs.h"

#include <sys/resource.h>
#include <unistd.h>

#include <QtTest>
#include <latch>

#include "app/document/session.h"
#include "app/window/notices.h"
#include "core/base/background.h"
#include "tests/app/demo_window.h"
#include "tests/program.h"

using namespace dusk;

/// Long work: where it lands, what it never holds up, and how it ends.
class TestJobs : public QObject {
  Q_OBJECT
  std::unique_ptr<Session> session_;
  std::unique_ptr<Jobs> jobs_;
  QStringList said_;
  /// Work that goes on until it is told to end.
  static Result<int> untilCancelled(Progress& progress) {
    while (!progress.cancelled()) QThread::msleep(2);
    return cancelledError();
  }

 private slots:
  void initTestCase() { QStandardPaths::setTestModeEnabled(true); }
  void init() {
    session_ = std::make_unique<Session>();
    jobs_ = std::make_unique<Jobs>(*session_);
    said_.clear();
    connect(session_.get(), &Session::said, this, [this](const QString& text, bool) { said_ << text; });
  }
  void cleanup() { jobs_.reset(), session_.reset(); }
  void resultsComeToTheInterfacesThread();
  void workGivesWayToTheWindow();
  void failuresAreSaidUnlessSomebodyListens();
  void whatIsThrownBecomesASentence_data();
  void whatIsThrownBecomesASentence();
  void resultsOfAnotherDocumentAreDropped();
  void filesGoingOutAreFinishedAllTheSame();
  void lanesNeverWaitForEachOther();
  void oneOfAKeyAtATime();
  void cancelledBeforeItsTurnNeverRuns();
  void timeLeftIsMeasuredFromItsTurn();
  void endingTheWindowEndsEverything();
  void noticesStackAndNeverHideACancel();
  void noticesLieOverWhatIsThere();
  void messagesDoNotOverwriteEachOther();
  void answersAreGivenOnce();
  void refusalsMakeRoom();
};

void TestJobs::resultsComeToTheInterfacesThread() {
  QThread* worked = nullptr;
  QThread* ended = nullptr;
  int result = 0;
  jobs_->run<int>(
      {"Counting", "count"}, [&](Progress&) -> Result<int> { return worked = QThread::currentThread(), 42; },
      [&](int& n) { result = n, ended = QThread::currentThread(); });
  QVERIFY(jobs_->isRunning("count"));
  jobs_->finish();
  QCOMPARE(result, 42);
  QVERIFY(worked != qApp->thread() && ended == qApp->thread());
  QVERIFY(jobs_->all().empty() && said_.isEmpty());
}

void TestJobs::workGivesWayToTheWindow() {
  const auto niceness = [] { return ::getpriority(PRIO_PROCESS, id_t(::gettid())); };
  const int window = niceness();
  int incoming = window, outgoing = window;
  jobs_->run<int>(
      {"Reading", "read"}, [&](Progress&) -> Result<int> { return incoming = niceness(); }, [](int&) {});
  jobs_->run<int>(
      {"Writing", "write", Lane::outgoing}, [&](Progress&) -> Result<int> { return outgoing = niceness(); },
      [](int&) {});
  jobs_->finish();
  QCOMPARE(niceness(), window);
  QCOMPARE(incoming, std::max(window, backgroundNiceness));
  QCOMPARE(outgoing, incoming);
}

void TestJobs::failuresAreSaidUnlessSomebodyListens() {
  const auto fail = [](Progress&) -> Result<int> { return Error{"It broke."}; };
  jobs_->run<int>({"A", "a"}, fail, [](int&) { QFAIL("it failed"); });
  jobs_->finish();
  QCOMPARE(said_, QStringList{"It broke."});
  QString heard;
  jobs_->run<int>(
      {"B", "b"}, fail, [](int&) {}, [&](const Error& e) { heard = QString::fromStdString(e.message); });
  jobs_->finish();
  QCOMPARE(heard, QString("It broke."));
  QCOMPARE(said_.size(), 1);
  jobs_->run<int>({"C", "c"}, untilCancelled, [](int&) {}).cancel();
  jobs_->finish();
  QCOMPARE(said_.size(), 1);  // who cancels knows
}

void TestJobs::whatIsThrownBecomesASentence_data() {
  QTest::addColumn<int>("kind");
  QTest::addColumn<QString>("word");
  QTest::newRow("no memory") << 0 << "memory";
  QTest::newRow("a library's") << 1 << "odd inside";
  QTest::newRow("anything") << 2 << "Reading x";
}

void TestJobs::whatIsThrownBecomesASentence() {
  QFETCH(int, kind);
  QFETCH(QString, word);
  jobs_->run<int>(
      {"Reading x", "x"},
      [kind](Progress&) -> Result<int> {
        if (kind == 0) throw std::bad_alloc();
        if (kind == 1) throw std::runtime_error("odd inside");
        throw 1;
      },
      [](int&) { QFAIL("it threw"); });
  jobs_->finish();
  QCOMPARE(said_.size(), 1);
  QVERIFY2(said_[0].contains(word), qPrintable(said_[0]));
}

void TestJobs::resultsOfAnotherDocumentAreDropped() {
  std::latch go(1);
  bool landed = false;
  const auto land = [&](int&) { landed = true; };
  const auto heard = [&](const Error&) { landed = true; };
  Job& job = jobs_->run<int>(
      {"A", "a"}, [&](Progress&) -> Result<int> { return go.wait(), 1; }, land, heard);
  jobs_->run<int>(
      {"B", "b"}, [&](Progress&) -> Result<int> { return go.wait(), Error{"no"}; }, land, heard);
  session_->startEmpty();
  QVERIFY(job.isCancelled());
  go.count_down();
  jobs_->finish();
  QVERIFY(!landed && said_.isEmpty());
}

void TestJobs::filesGoingOutAreFinishedAllTheSame() {
  std::latch go(1);
  std::atomic<bool> whole{false};
  Job& job = jobs_->run<int>(
      {"Writing", "w", Lane::outgoing},
      [&](Progress& progress) -> Result<int> { return go.wait(), whole = !progress.cancelled(), 1; },
      [](int&) { QFAIL("its document is gone"); });
  session_->startEmpty();
  QVERIFY(!job.isCancelled());
  go.count_down();
  jobs_->finish();
  QVERIFY(whole);
}

void TestJobs::lanesNeverWaitForEachOther() {
  Job& delivery = jobs_->run<int>({"Out", "out", Lane::outgoing}, untilCancelled, [](int&) {});
  Job& import = jobs_->run<int>({"In", "in"}, untilCancelled, [](int&) {});
  bool landed = false;
  jobs_->run<int>(
      {"Quick", "quick"}, [](Progress&) -> Result<int> { return 1; }, [&](int&) { landed = true; });
  QTRY_VERIFY(landed);  // though one of each lane goes on for ever
  Job& second = jobs_->run<int>({"Out 2", "out 2", Lane::outgoing}, untilCancelled, [](int&) {});
  QTest::qWait(50);
  QVERIFY(second.isWaiting() && !delivery.isWaiting() && !import.isWaiting());
  jobs_->cancelAll();
  jobs_->finish();
}

void TestJobs::oneOfAKeyAtATime() {
  Job& first = jobs_->run<int>({"A", "same"}, untilCancelled, [](int&) {});
  int landed = 0;
  jobs_->run<int>(
      {"B", "same"}, [](Progress&) -> Result<int> { return 2; }, [&](int& n) { landed = n; });
  QVERIFY(first.isCancelled());
  QVERIFY(!jobs_->find("same")->isCancelled());
  jobs_->finish();
  QCOMPARE(landed, 2);
}

void TestJobs::cancelledBeforeItsTurnNeverRuns() {
  jobs_->run<int>({"Out", "out", Lane::outgoing}, untilCancelled, [](int&) {});
  bool ran = false;
  Job& waiting = jobs_->run<int>(
      {"Never", "never", Lane::outgoing}, [&](Progress&) -> Result<int> { return ran = true, 1; },
      [](int&) {});
  waiting.cancel();
  jobs_->cancelAll();
  jobs_->finish();
  QVERIFY(!ran);
}

void TestJobs::timeLeftIsMeasuredFromItsTurn() {
  Progress progress;
  QThread::msleep(120);
  progress.begin();
  QVERIFY(progress.secondsLeft() < 0);  // nothing known yet
  QThread::msleep(100);
  progress.report(0.5);
  QVERIFY2(
      progress.secondsLeft() > 0.09 && progress.secondsLeft() < 0.2,
      qPrintable(QString::number(progress.secondsLeft())));  // as long again; not counting the wait before
}

void TestJobs::endingTheWindowEndsEverything() {
  for (int i = 0; i < 6; ++i)
    jobs_->run<int>({"X", std::to_string(i), i % 2 ? Lane::incoming : Lane::outgoing}, untilCancelled,
                    [](int&) {});
  QElapsedTimer clock;
  clock.start();
  jobs_.reset();
  QVERIFY(clock.elapsed() < 2000);
}

void TestJobs::noticesStackAndNeverHideACancel() {
  Notices notices(*jobs_);
  notices.resize(900, 200);
  notices.show();
  jobs_->run<int>({"Reading one", "1"}, untilCancelled, [](int&) {});
  jobs_->run<int>({"Reading two", "2"}, untilCancelled, [](int&) {});
  jobs_->run<int>({"Unasked", "3", Lane::incoming, true}, untilCancelled, [](int&) {});
  for (int i = 0; i < 5; ++i) notices.say(QString("Trouble %1").arg(i), true);
  const auto cancels = [&] {
    QStringList all;
    for (QPushButton* b : notices.findChildren<QPushButton*>())
      if (b->isVisible() && b->text() == "Cancel") all << b->accessibleName();
    return all;
  };
  QTRY_COMPARE(cancels(), (QStringList{"Cancel: Reading one", "Cancel: Reading two"}));
  for (QPushButton* b : notices.findChildren<QPushButton*>())
    if (b->accessibleName() == "Cancel: Reading two") QTest::mouseClick(b, Qt::LeftButton);
  QTRY_COMPARE(cancels(), QStringList{"Cancel: Reading one"});
  QVERIFY(jobs_->isRunning("1") && !jobs_->isRunning("2"));
  jobs_->cancelAll();
  jobs_->finish();
  QTRY_VERIFY(cancels().isEmpty());
  QCOMPARE(notices.messages().size(), 5);
}

// At the lower edge, as high as they need to be, whatever becomes of the size of what is under them.
void TestJobs::noticesLieOverWhatIsThere() {
  QWidget under;
  auto* line = new QVBoxLayout(&under);
  auto* picture = new QWidget;
  line->addWidget(picture);
  under.resize(600, 400);
  Notices notices(*jobs_, &under);
  notices.hide();
  under.show();
  const QSize size = picture->size();
  QSignalSpy covers(&notices, &Notices::covers);
  notices.say("One of few words", true);
  QTRY_VERIFY(notices.isVisible() && notices.geometry().bottom() == 399);
  QCOMPARE(notices.width(), 600);
  const int one = notices.height();
  QCOMPARE(covers.last()[0].toInt(), one);
  QVERIFY(one >= 20 && one < 80);
  notices.say(QString("Many words, of which some come to lie on lines of their own. ").repeated(4), true);
  QTRY_VERIFY(notices.height() > 2 * one);
  QCOMPARE(picture->size(), size);
  under.resize(1000, 300);
  QTRY_VERIFY(notices.width() == 1000 && notices.geometry().bottom() == 299);
  QVERIFY(notices.rect().contains(notices.childrenRect()));
  notices.dismissAll();
  QTRY_VERIFY(!notices.isVisible());
  QCOMPARE(covers.last()[0].toInt(), 0);
}

void TestJobs::messagesDoNotOverwriteEachOther() {
  Notices notices(*jobs_);
  notices.show();
  for (int i = 0; i < 6; ++i) notices.say(QString("Message %1").arg(i), i % 2);
  notices.say("Message 5", true);  // said again: once is enough
  QCOMPARE(notices.messages().size(), 6);
  const auto shown = [&] {
    int n = 0;
    for (QLabel* l : notices.findChildren<QLabel*>()) n += l->isVisible() && l->text().contains("Message ");
    return n;
  };
  QTRY_COMPARE(shown(), 3);  // the newest, and how many there are besides
  bool counted = false;
  for (QLabel* l : notices.findChildren<QLabel*>())
    counted |= l->isVisible() && l->text() == "3 earlier messages";
  QVERIFY(counted);
  for (QPushButton* b : notices.findChildren<QPushButton*>())
    if (b->accessibleName() == "Dismiss: Message 5") QTest::mouseClick(b, Qt::LeftButton);
  QCOMPARE(notices.messages().last(), QString("Message 4"));
  QCOMPARE(shown(), 3);  // an earlier one came up
  notices.dismissAll();
  QVERIFY(!notices.isVisible());
}

void TestJobs::answersAreGivenOnce() {
  Notices notices(*jobs_);
  notices.show();
  int taken = 0;
  notices.say("A file has changed.", true,
              {{"Take it", "Takes it", [&] { ++taken; }}, {"Look", "Looks", [] {}}});
  for (QPushButton* b : notices.findChildren<QPushButton*>())
    if (b->text() == "Take it") QTest::mouseClick(b, Qt::LeftButton);
  QCOMPARE(taken, 1);
  QVERIFY(notices.messages().isEmpty());
}

void TestJobs::refusalsMakeRoom() {
  Notices notices(*jobs_);
  notices.show();
  connect(session_.get(), &Session::refused, &notices, &Notices::refuse);
  connect(session_.get(), &Session::said, &notices,
          [&](const QString& text, bool trouble) { notices.say(text, trouble); });
  session_->say("The disk is full.", true);
  session_->refuse("Choose a photo first.");
  session_->refuse("Choose a part first.");
  QCOMPARE(notices.messages(), (QStringList{"The disk is full.", "Choose a part first."}));
  int details = 0;
  for (const QPushButton* b : notices.findChildren<QPushButton*>())
    details += b->isVisible() && b->text() == "Copy details";
  QCOMPARE(details, 1);
  // It is gone when it was read; what went wrong stays.
  QTRY_COMPARE_WITH_TIMEOUT(notices.messages(), QStringList{"The disk is full."}, 15'000);
}

DUSK_TEST(TestJobs, QApplication);
#include "jobs.moc"
