#include "app/window/variant_drawer.h"

#include "app/window/drawer.h"
#include "core/project/json.h"
#include "core/variant/apply.h"
#include "core/variant/edit.h"
#include "demo_window.h"
#include "tests/program.h"

using namespace dusk;

/// Variants made and worked by hand: axes, options, what is edited while one is chosen, and the matrix.
class TestVariantDrawer : public DemoWindow {
  Q_OBJECT
  QWidget& drawer() { return window_->variants(); }
  QAbstractButton* card(const QString& name) {
    QTest::qWait(20);  // new ones are laid out
    for (QAbstractButton* b : drawer().findChildren<QAbstractButton*>())
      if (b->accessibleName().startsWith(name) && b->isVisible()) return b;
    return nullptr;
  }
  void click(QWidget* on) { QTest::mouseClick(on, Qt::LeftButton); }
  void type(const QString& into, const QString& text) {
    QTest::qWait(20);
    auto* field = named<QLineEdit>(into);
    QVERIFY2(field && field->hasFocus(), qPrintable(into));
    field->selectAll();
    QTest::keyClicks(field, text);
    QTest::keyClick(field, Qt::Key_Return);
    QTest::qWait(20);
  }
  /// An axis of two colours; the second gives the body another one.
  void makeColours() {
    window_->drawer().open("Variants");
    click(button("New axis"));
    type("Name of the axis", "Enamel");
    click(button("New option"));
    type("Name of the option", "Green");
    QVERIFY(button("Edit into it")->isChecked());
    session().editShot("turn", [](Shot& s) { s.placements[0].turnDegrees = 70; });
    session().edit("colour", [&](Project& p) { byId(p.surfaces, body())->baseColour = {0.02, 0.2, 0.05}; });
    click(button("Edit into it"));
  }
  std::string body() {
    for (const auto& [part, surface] : session().product()->surfaceOfPart)
      if (part.find("Housing") != std::string::npos) return surface;
    return {};
  }
  Vec3d colour() { return byId(session().project().surfaces, body())->baseColour; }

 private slots:
  void initTestCase() { copyDemo(); }
  void init() {
    openDemo();
    QVERIFY(waitForSamples(2));
  }
  void cleanup() { window_.reset(); }

  void anOptionIsMadeAndShown();
  void editsStayWhereTheyBelong();
  void keysChooseAndTakeAway();
  void namesAreTypedOrLeft();
  void cardsShowWhatTheyAre();
  void savedAndOpenedAgain();
  void theMatrixIsChosenFrom();
};

void TestVariantDrawer::anOptionIsMadeAndShown() {
  const Vec3d before = colour();
  const double turn = shot().placements[0].turnDegrees;
  const auto isCalm = [&] {
    return picture().frame() && picture().frame()->samples == picture().frame()->wanted;
  };
  QVERIFY(QTest::qWaitFor(isCalm, 60'000));
  const QImage plain = picture().frame()->picture;
  makeColours();
  QCOMPARE(session().base().axes.size(), size_t(1));
  QCOMPARE(session().base().axes[0].options[1].changes.size(), size_t(2));
  QCOMPARE(colour(), Vec3d(0.02, 0.2, 0.05));
  QVERIFY(card("Enamel: Green, chosen"));
  // The picture follows.
  QVERIFY(QTest::qWaitFor([&] { return isCalm() && picture().frame()->picture != plain; }, 60'000));
  const QImage green = picture().frame()->picture;
  click(card("Enamel: As it is"));
  QCOMPARE(colour(), before);
  QCOMPARE(shot().placements[0].turnDegrees, turn);
  QVERIFY(QTest::qWaitFor([&] { return isCalm() && picture().frame()->picture != green; }, 60'000));
  // Undo as ever: the choice, the recorded colour, the turn, the option.
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QCOMPARE(colour(), Vec3d(0.02, 0.2, 0.05));
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QCOMPARE(colour(), before);
  QCOMPARE(shot().placements[0].turnDegrees, 70.0);
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QCOMPARE(shot().placements[0].turnDegrees, turn);
}

void TestVariantDrawer::editsStayWhereTheyBelong() {
  makeColours();
  // The option gives the colour: changed in its desk, it is the option's that changes.
  session().edit("colour", [&](Project& p) { byId(p.surfaces, body())->baseColour = {0.3, 0.3, 0.02}; });
  // The lens is nobody's: it is all options'.
  session().editShot("focus", [](Shot& s) { s.focus.fNumber = 5.6; });
  const auto& changes = session().base().axes[0].options[1].changes;
  QCOMPARE(changes.size(), size_t(2));
  click(card("Enamel: As it is"));
  QCOMPARE(shot().focus.fNumber, 5.6);
  click(card("Enamel: Green"));
  QCOMPARE(colour(), Vec3d(0.3, 0.3, 0.02));
  QVERIFY(!button("Edit into it")->isChecked());
}

void TestVariantDrawer::keysChooseAndTakeAway() {
  makeColours();
  drawer().setFocus();
  QTest::keyClick(&drawer(), Qt::Key_Left);
  QVERIFY(card("Enamel: As it is, chosen"));
  QTest::keyClick(&drawer(), Qt::Key_Right);
  QVERIFY(card("Enamel: Green, chosen"));
  QTest::keyClick(&drawer(), Qt::Key_F2);
  type("Name of the option", "Sea green");
  QVERIFY(card("Enamel: Sea green, chosen"));
  drawer().setFocus();
  QTest::keyClick(&drawer(), Qt::Key_Delete);
  QVERIFY(!card("Enamel: Sea green") && card("Enamel: As it is, chosen"));
  session().undo();
  QVERIFY(card("Enamel: Sea green, chosen"));
}

void TestVariantDrawer::namesAreTypedOrLeft() {
  const auto field = [&](const char* name) -> QLineEdit* {
    for (auto* f : window_->findChildren<QLineEdit*>())
      if (f->accessibleName() == name && f->isVisible()) return f;
    return nullptr;
  };
  click(button("New axis"));
  QTRY_VERIFY(field("Name of the axis") && field("Name of the axis")->hasFocus());
  click(button("New option"));
  // The keyboard is in the new name, all of it chosen; going elsewhere keeps it as it is.
  QTRY_VERIFY(!field("Name of the axis") && field("Name of the option"));
  QTRY_VERIFY(field("Name of the option")->hasFocus());
  QCOMPARE(field("Name of the option")->selectedText(), QString("Option 2"));
  button("Matrix")->setFocus();
  QTRY_VERIFY(!field("Name of the option"));
  QVERIFY(card("Colour: Option 2, chosen"));
  QTest::mouseDClick(card("Colour: Option 2, chosen"), Qt::LeftButton);
  QTRY_VERIFY(field("Name of the option") && field("Name of the option")->hasFocus());
  QTest::keyClicks(field("Name of the option"), "Sand");
  QTest::keyClick(field("Name of the option"), Qt::Key_Escape);
  QTRY_VERIFY(!field("Name of the option"));
  QVERIFY(card("Colour: Option 2, chosen") && !card("Colour: Sand, chosen"));
}

void TestVariantDrawer::cardsShowWhatTheyAre() {
  makeColours();
  QVERIFY(card("Enamel: Green")->toolTip().contains("base colour"));
  QVERIFY(card("Enamel: As it is")->toolTip().contains("Changes nothing yet"));
  // A second axis, and a pair that cannot be.
  click(button("New axis"));
  type("Name of the axis", "Turn");
  click(button("New option"));
  type("Name of the option", "Back");
  const std::string back = session().base().axes[1].options[1].id,
                    green = session().base().axes[0].options[1].id;
  session().edit("exclude", [&](Project& p) { setExcluded(p, back, green, true); });
  QVERIFY(card("Turn: Back")->toolTip().contains("Excluded"));
  // Pictures of all of them come by themselves.
  auto* shown = card("Enamel: As it is");
  const auto drawn = [&] {
    const QImage image = shown->grab().toImage();
    std::set<QRgb> colours;
    for (int x = 8; x < 60; x += 3)
      for (int y = 10; y < 38; y += 3) colours.insert(image.pixel(x, y));
    return colours.size() > 20;
  };
  QVERIFY(QTest::qWaitFor(drawn, 60'000));
}

void TestVariantDrawer::savedAndOpenedAgain() {
  makeColours();
  const Project base = session().base();
  const std::string other = (demo_ + "colours.dusk").toStdString();
  QVERIFY(session().save(other));
  QVERIFY(*loadProject(other) == base);
  window_->open(QString::fromStdString(other));
  QVERIFY(session().base() == base);
  QCOMPARE(colour(), Vec3d(0.02, 0.2, 0.05));
}

void TestVariantDrawer::theMatrixIsChosenFrom() {
  makeColours();
  click(button("New axis"));
  type("Name of the axis", "Turn");
  click(button("New option"));
  type("Name of the option", "Back");
  session().editShot("turn", [](Shot& s) {
    s.placements[0].turnDegrees = 160;
    s.placements[0].liftM = 0.5;  // and hovers
  });
  click(button("Matrix"));
  auto* list = named<QListWidget>("Every variant");
  QVERIFY(list->isVisible());
  QCOMPARE(list->count(), 4);
  QCOMPARE(list->item(0)->text(), QString("As it is-As it is"));
  QCOMPARE(list->currentItem()->text(), QString("Green-Back"));
  const auto differ = [&] {
    std::set<QByteArray> pictures;
    for (int i = 0; i < 4; ++i) {
      const QImage image = list->item(i)->icon().pixmap(216, 144).toImage();
      pictures.insert(QByteArray(reinterpret_cast<const char*>(image.constBits()), image.sizeInBytes()));
    }
    return pictures.size() == 4;
  };
  QVERIFY(QTest::qWaitFor(differ, 90'000));
  for (int i = 0; i < 4; ++i) {
    const bool hovers = list->item(i)->text().endsWith("-Back");
    QTRY_COMPARE(list->item(i)->toolTip().contains("hover"), hovers);
    QVERIFY(!hovers || list->item(i)->data(Qt::AccessibleDescriptionRole).toString().endsWith(" off"));
  }
  const QRect first = list->visualItemRect(list->item(0));
  QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, first.center());
  QCOMPARE(variantName(session().base(), shot().choice), std::string("As it is-As it is"));
  QTest::mouseClick(list->viewport(), Qt::LeftButton, Qt::ControlModifier,
                    list->visualItemRect(list->item(3)).center());
  QVERIFY(button("Queue 2"));
  grab("variants");
  QTest::keyClick(list, Qt::Key_Escape);
  QVERIFY(picture().isVisible());
}

DUSK_TEST(TestVariantDrawer, QApplication);
#include "variant_drawer.moc"
