#include "core/project/history.h"

#include <QtTest>
#include <random>

#include "core/project/file.h"
#include "core/project/shots.h"
#include "tests/program.h"

using namespace dusk;

/// Undo by its laws.
class TestHistory : public QObject {
  Q_OBJECT
  static Project named(const std::string& name) {
    Project p = emptyProject();
    p.name = name;
    return p;
  }
  /// A project whose products say much, as a large assembly's do.
  static Project heavy(int parts) {
    Project p = emptyProject();
    Product product;
    product.id = "product-1";
    for (int i = 0; i < parts; ++i)
      product.surfaceOfPart["Assembly/Group/Part number " + std::to_string(i)] = "preset-signal-enamel";
    p.products = {product};
    return p;
  }

 private slots:
  void undoAndRedoAreInverse();
  void pushingForgetsWhatWasUndone();
  void gesturesJoinAndZeroNeverDoes();
  void aGestureThatEndsWhereItBeganLeavesNoStep();
  void aGestureIsRevertedWhole();
  void revertTakesNothingElse();
  void equalPartsAreHeldOnce();
  void theOldestStepsGoFirst();
  void thePresentStaysForItsReaders();
  void rewritingKeepsEveryStep();
  void savedIsAValueNotAPlace();
};

void TestHistory::undoAndRedoAreInverse() {
  std::mt19937 random(7);
  History history(named("0"));
  std::vector<Project> values{history.now()};
  for (int i = 1; i < 60; ++i) {
    Project p = history.now();
    switch (random() % 4) {
      case 0:
        addShot(p, random() % p.shots.size(), random() % 2);
        break;
      case 1:
        p.shots[random() % p.shots.size()].render.samples += 1;
        break;
      case 2:
        p.surfaces.emplace_back().id = "surface-" + std::to_string(p.surfaces.size());
        break;
      default:
        p.name = std::to_string(i);
    }
    history.push(p, std::to_string(i));
    values.push_back(p);
  }
  for (size_t i = values.size(); i-- > 1;) {
    QVERIFY(history.now() == values[i]);
    QCOMPARE(history.undoText(), std::to_string(i));
    history.undo();
  }
  QVERIFY(!history.canUndo());
  history.undo();  // nothing more to take back: nothing happens
  for (size_t i = 0; i < values.size(); ++i) {
    QVERIFY(history.now() == values[i]);
    history.redo();
  }
  QVERIFY(!history.canRedo());
}

void TestHistory::pushingForgetsWhatWasUndone() {
  History history(named("a"));
  history.push(named("b"), "b");
  history.push(named("c"), "c");
  history.undo();
  history.push(named("d"), "d");
  QVERIFY(!history.canRedo());
  history.undo();
  QCOMPARE(history.now().name, std::string("b"));
  history.push(named("b"), "the same");  // no difference, no step
  QVERIFY(history.canRedo());
}

void TestHistory::gesturesJoinAndZeroNeverDoes() {
  History history(named("a"));
  for (const char* n : {"b", "c", "d"}) history.push(named(n), "drag", 5);
  QCOMPARE(history.size(), size_t(2));
  history.push(named("e"), "next drag", 6);
  QCOMPARE(history.size(), size_t(3));
  history.push(named("f"), "x"), history.push(named("g"), "y");
  QCOMPARE(history.size(), size_t(5));
  history.undo(), history.undo(), history.undo();
  QCOMPARE(history.now().name, std::string("d"));
}

void TestHistory::aGestureThatEndsWhereItBeganLeavesNoStep() {
  History history(named("a"));
  history.push(named("b"), "drag", 3);
  history.push(named("a"), "drag", 3);
  QVERIFY(!history.canUndo());
  QVERIFY(history.isSaved());
  history.push(named("c"), "drag", 3);
  QCOMPARE(history.size(), size_t(2));
}

void TestHistory::aGestureIsRevertedWhole() {
  History history(named("a"));
  history.push(named("b"), "before");
  for (const char* n : {"c", "d", "e"}) history.push(named(n), "drag", 9);
  history.revert(9);
  QCOMPARE(history.now().name, std::string("b"));
  QVERIFY(!history.canRedo());  // as if it had not been
  QCOMPARE(history.undoText(), std::string("before"));
}

void TestHistory::revertTakesNothingElse() {
  History history(named("a"));
  history.push(named("b"), "drag", 4);
  history.push(named("c"), "after");
  history.revert(4);  // not the newest any more
  history.revert(0);
  history.revert(77);
  QCOMPARE(history.now().name, std::string("c"));
  QCOMPARE(history.size(), size_t(3));
}

void TestHistory::equalPartsAreHeldOnce() {
  History history(heavy(4000));
  const size_t alone = history.bytes();
  QVERIFY2(alone > 400'000, qPrintable(QString::number(alone)));
  for (int i = 0; i < 200; ++i) {
    Project p = history.now();
    p.shots[0].blend.exposureEv = i + 1;
    history.push(p, "grade");
  }
  QCOMPARE(history.size(), size_t(201));
  QVERIFY2(history.bytes() < alone + 200 * 12'000, qPrintable(QString::number(history.bytes())));
  // An edit of the heavy thing itself costs what it weighs.
  Project p = history.now();
  p.products[0].hiddenParts.insert("Assembly/Group/Part number 1");
  const size_t before = history.bytes();
  history.push(p, "hide");
  QVERIFY(history.bytes() > before + alone / 2);
}

void TestHistory::theOldestStepsGoFirst() {
  const size_t limit = 3'000'000;
  History history(heavy(2000), limit);
  for (int i = 0; i < 60; ++i) {
    Project p = history.now();
    p.products[0].hiddenParts.insert("Assembly/Group/Part number " + std::to_string(i));
    history.push(p, std::to_string(i));
    QVERIFY(history.bytes() <= limit || history.size() <= 2);
  }
  QVERIFY(history.size() > 3 && history.size() < 60);
  QCOMPARE(history.now().products[0].hiddenParts.size(), size_t(60));
  while (history.canUndo()) history.undo();
  QVERIFY(!history.now().products[0].hiddenParts.empty());  // the start is gone, what is left is whole
  while (history.canRedo()) history.redo();
  QCOMPARE(history.now().products[0].hiddenParts.size(), size_t(60));
}

void TestHistory::thePresentStaysForItsReaders() {
  History history(heavy(50));
  const Product& product = history.now().products[0];
  const auto before = product.surfaceOfPart;
  for (int i = 0; i < 3; ++i) {
    Project p = history.now();
    p.products[0].surfaceOfPart.clear(), p.name = std::to_string(i);
    history.push(p, "x");
  }
  QVERIFY(product.surfaceOfPart == before);
}

void TestHistory::rewritingKeepsEveryStep() {
  History history(named("a"));
  for (const char* n : {"b", "c", "d"}) history.push(named(n), n);
  history.undo();
  history.rewrite([](Project& p) { p.shots[0].plate.path = "moved/" + p.name; });
  QCOMPARE(history.now().shots[0].plate.path, std::string("moved/c"));
  history.redo();
  QCOMPARE(history.now().shots[0].plate.path, std::string("moved/d"));
  while (history.canUndo()) history.undo();
  QCOMPARE(history.now().shots[0].plate.path, std::string("moved/a"));
  QVERIFY(history.isSaved());  // what was saved was rewritten alike
}

void TestHistory::savedIsAValueNotAPlace() {
  History history(named("a"));
  history.push(named("b"), "b");
  history.markSaved();
  history.push(named("c"), "c");
  QVERIFY(!history.isSaved());
  history.push(named("b"), "by hand");
  QVERIFY(history.isSaved());
  history.markSaved(named("z"));  // what was written while something else was edited
  QVERIFY(!history.isSaved());
}

DUSK_TEST(TestHistory, QCoreApplication);
#include "history.moc"
