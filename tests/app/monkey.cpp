#include "bench/monkey.h"

#include <QtTest>

#include "tests/app/demo_window.h"
#include "tests/program.h"

using namespace dusk;

/// Random but sensible actions; ten thousand of them on each demo are a study (`dusk-bench-monkey`).
class TestMonkey : public DemoWindow {
  Q_OBJECT
 private slots:
  void initTestCase() { copyDemo(); }
  void cleanup() { window_.reset(); }
  void whateverIsDoneCanBeUndone_data();
  void whateverIsDoneCanBeUndone();
};

void TestMonkey::whateverIsDoneCanBeUndone_data() {
  QTest::addColumn<unsigned>("seed");
  for (const unsigned seed : {3U, 11U}) QTest::newRow(qPrintable(QString::number(seed))) << seed;
}

void TestMonkey::whateverIsDoneCanBeUndone() {
  QFETCH(unsigned, seed);
  openDemo();
  const Project first = session().base();
  Monkey monkey(*window_, seed);
  QStringList done;
  for (int i = 0; i < 60; ++i) done << QString::fromStdString(monkey.act());
  window_->jobs().cancelAll();
  window_->jobs().finish();
  QVERIFY2(session().history().size() > 3, qPrintable(done.join("; ")));  // it did change things
  while (session().history().canUndo()) session().undo();
  QVERIFY2(session().base() == first, qPrintable(done.join("; ")));
  session().dropJournal();
}

DUSK_TEST(TestMonkey, QApplication);
#include "monkey.moc"
