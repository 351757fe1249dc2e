#include "app/window/notices.h"
#include "core/base/srgb.h"
#include "core/picture/write.h"
#include "core/product/stand.h"
#include "core/trace/place.h"
#include "demo_window.h"
#include "tests/board_on_ground.h"
#include "tests/program.h"

using namespace dusk;

/// The Contact station worked by hand: stand-ins drawn, shaped, stood on.
class TestContactStation : public DemoWindow {
  Q_OBJECT
  const StandIn& standIn() { return shot().standIns.front(); }
  void clickIn(const QString& text) { QTest::mouseClick(button(text), Qt::LeftButton); }
  /// Draws a stand-in over a foot on the ground.
  void draw(const Vec3d& from, const Vec3d& to) {
    session().setStation(Station::contact);
    clickIn("Draw one…");
    drag(picture(), ofWorld(from), ofWorld(to));
  }

 private slots:
  void initTestCase() { copyDemo(); }
  void init() {
    openDemo();
    session().editShot("none yet", [](Shot& s) { s.standIns.clear(); });
    QVERIFY(waitForSamples(1));
  }
  void cleanup() { window_.reset(); }

  void drawnShapedAndTakenAway();
  void productSlidesOntoItsTopAndSettles();
  void castListsAndPutsItAside();
  void blockInFrontHidesTheProduct();
  void aMirroredEdgeTellsHowTheGroundMirrors();
  void aStandInIsRenderedAndAProductOnlyCatches();
};

void TestContactStation::drawnShapedAndTakenAway() {
  draw({-0.5, 0.3, 0}, {-0.1, 0.6, 0});
  QCOMPARE(shot().standIns.size(), 1u);
  QVERIFY(std::abs(standIn().sizeM.x - 0.4) < 0.02 && std::abs(standIn().sizeM.y - 0.3) < 0.02);
  QCOMPARE(session().selectedStandIn(), standIn().id);
  QCOMPARE(session().nextDrag(), Session::NextDrag::own);
  // Its top is pulled up, its body slides.
  const Vec3d middle = standIn().positionM;
  drag(picture(), ofWorld(middle + Vec3d(0, 0, standIn().sizeM.z)), ofWorld(middle + Vec3d(0, 0, 0.45)));
  QVERIFY2(std::abs(standIn().sizeM.z - 0.45) < 0.02, qPrintable(QString::number(standIn().sizeM.z)));
  drag(picture(), ofWorld(middle + Vec3d(0.05, -0.1, 0.2)), ofWorld(middle + Vec3d(-0.15, -0.1, 0.2)));
  QVERIFY2(std::abs(standIn().positionM.x - middle.x + 0.2) < 0.03,
           qPrintable(QString::number(standIn().positionM.x)));
  // One undo a drag; Delete and undo.
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QVERIFY(std::abs(standIn().positionM.x - middle.x) < 1e-9);
  picture().setFocus();
  QTest::keyClick(&picture(), Qt::Key_Right);
  QVERIFY(std::abs(standIn().positionM.x - middle.x - 0.01) < 1e-9);
  QTest::keyClick(&picture(), Qt::Key_Delete);
  QVERIFY(shot().standIns.empty());
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QCOMPARE(shot().standIns.size(), 1u);
}

void TestContactStation::productSlidesOntoItsTopAndSettles() {
  draw({-0.45, 0.35, 0}, {0.0, 0.8, 0});
  session().editShot("high", [](Shot& s) { s.standIns[0].sizeM.z = 0.2; });
  session().setStation(Station::product);
  const Vec3d top = standIn().positionM + Vec3d(0, 0, 0.2);
  // Taken by its body, slid to where the block is seen: it stands on the top then.
  const Placement before = shot().placements[0];
  const Vec3d grip(before.xM, before.yM, 0.12);
  QVERIFY(QTest::qWaitFor(
      [&] { return picture().hitAt(*projected(shot().vantage.camera, grip)).has_value(); }, 30'000));
  drag(picture(), ofWorld(grip), ofWorld(top + Vec3d(0, 0, 0.12)));
  QCOMPARE(shot().placements[0].levelId, standIn().id);
  QVERIFY(isOnTop(standIn(), {shot().placements[0].xM, shot().placements[0].yM}));
  // The proof tells of the top, and no gap.
  session().editShot("lift", [](Shot& s) { s.placements[0].liftM = 0.01; });
  clickIn("Settle");
  QCOMPARE(shot().placements[0].levelId, standIn().id);
  QVERIFY(std::abs(shot().placements[0].liftM) < 1e-6);
  // Back down on the ground.
  QVERIFY(waitForSamples(1));
  const Placement on = shot().placements[0];
  const Vec3d held(on.xM, on.yM, 0.2 + 0.12);
  QVERIFY(QTest::qWaitFor(
      [&] { return picture().hitAt(*projected(shot().vantage.camera, held)).has_value(); }, 30'000));
  drag(picture(), ofWorld(held), ofWorld({0.5, 0.1, 0.12}));
  QVERIFY(shot().placements[0].levelId.empty());
}

// One way and the other: what only caught is rendered, and that catches again instead.
void TestContactStation::aStandInIsRenderedAndAProductOnlyCatches() {
  draw({-0.5, 0.3, 0}, {-0.1, 0.6, 0});
  const StandIn before = standIn();
  bringIntoView(button("Render it"));
  clickIn("Render it");
  QVERIFY(!standIn().on);
  QCOMPARE(shot().placements.size(), size_t(2));
  QCOMPARE(session().placement()->id, shot().placements[1].id);
  // What the picture shows in the middle of its front.
  const Vec2d front =
      *projected(shot().vantage.camera, before.positionM + Vec3d(0, -0.15, 0.5 * before.sizeM.z));
  const auto shows = [&] { return picture().hitAt(front).has_value(); };
  QVERIFY(QTest::qWaitFor([&] { return shows(); }, 30'000));
  QCheckBox* only = nullptr;
  for (QCheckBox* box : window_->findChildren<QCheckBox*>())
    if (box->text() == "The product in hand only catches") only = box;
  QVERIFY(only && only->isVisible() && !only->isChecked());
  QTRY_VERIFY(only->isEnabled());  // once its model is there
  bringIntoView(only);
  QTest::mouseClick(only, Qt::LeftButton, {}, {8, only->height() / 2});
  QVERIFY(hasCatchers(session().project().products.back()));
  QVERIFY(QTest::qWaitFor(
      [&] {
        const auto frame = picture().frame();
        return !shows() && frame && frame->scene->place.catchers();
      },
      30'000));
  // The cast says so of its part.
  auto* cast = window_->findChild<QTreeView*>("cast");
  const auto rows = cast->model()->match(cast->model()->index(0, 0), Qt::DisplayRole, "(only catches)", 1,
                                         Qt::MatchContains | Qt::MatchRecursive);
  QCOMPARE(rows.size(), 1);
  for (int i = 0; i < 2; ++i) QTest::keySequence(window_.get(), QKeySequence::Undo);
  QVERIFY(standIn() == before && shot().placements.size() == 1);
}

void TestContactStation::castListsAndPutsItAside() {
  draw({-0.5, 0.3, 0}, {-0.1, 0.6, 0});
  auto* cast = window_->findChild<QTreeView*>("cast");
  const auto rows = cast->model()->match(cast->model()->index(0, 0), Qt::EditRole,
                                         QString::fromStdString(standIn().name), 1, Qt::MatchExactly);
  QCOMPARE(rows.size(), 1);
  QCOMPARE(rows[0].data(Qt::CheckStateRole).toInt(), int(Qt::Checked));
  cast->model()->setData(rows[0], Qt::Unchecked, Qt::CheckStateRole);
  QVERIFY(!standIn().on);
  QVERIFY(placeOf(shot()).isPlain());
}

void TestContactStation::blockInFrontHidesTheProduct() {
  const auto cover = [&] {
    double sum = 0;
    for (const float a : picture().frame()->passes->alpha.pixels) sum += a;
    return sum;
  };
  QVERIFY(waitForSamples(2));
  const double before = cover();
  session().editShot("block", [](Shot& s) {
    StandIn block;
    block.id = "b", block.name = "Block",
    block.positionM = {s.placements[0].xM, s.placements[0].yM - 0.35, 0};
    block.sizeM = {0.6, 0.1, 0.4};
    s.standIns.push_back(block);
  });
  QVERIFY(QTest::qWaitFor([&] { return cover() < 0.8 * before && cover() > 0; }, 60'000));
}

void TestContactStation::aMirroredEdgeTellsHowTheGroundMirrors() {
  const BoardOnGround made(1, 0.1f);
  Picture codes = made.photo;
  for (float& v : codes.pixels) v = srgbEncoded(std::min(v, 1.0f));
  const QString file = folder_.filePath("board.png");
  QVERIFY(writePng8(file.toStdString(), codes));
  session().editShot("another photo", [&](Shot& s) {
    s.plate = *session().assets()->refer(file.toStdString());
    s.vantage = {}, s.vantage.camera = made.camera, s.vantage.solved = s.vantage.locked = true;
    s.contact = {};
  });
  session().setStation(Station::contact);
  for (QToolButton* fold : window_->findChildren<QToolButton*>())
    if (fold->text() == "Glossy ground") QTest::mouseClick(fold, Qt::LeftButton);
  QPushButton* measureButton = button("Measure a mirrored edge…");
  QTRY_VERIFY(measureButton->isVisible());
  bringIntoView(measureButton);
  // Esc leaves; so does a drag that is no mirror image, with a sentence.
  clickIn("Measure a mirrored edge…");
  QCOMPARE(session().nextDrag(), Session::NextDrag::mirrorEdge);
  picture().setFocus();
  QTest::keyClick(&picture(), Qt::Key_Escape);
  QCOMPARE(session().nextDrag(), Session::NextDrag::own);
  const Contact before = shot().contact;
  const auto measure = [&](const Vec3d& from, const Vec3d& to) {
    clickIn("Measure a mirrored edge…");
    drag(picture(), ofWorld(from), ofWorld(to));
    QCOMPARE(session().nextDrag(), Session::NextDrag::own);
  };
  measure({0.02, 0.5, 0.17}, {-0.4, 0.1, 0});
  QTRY_VERIFY(!window_->notices().messages().filter("not one thing and its mirror image").isEmpty());
  measure({0.02, 0.5, 0.17}, {0.02, 0.5, -0.17});
  QTRY_VERIFY(shot().contact.gloss > 0);
  QVERIFY2(std::abs(shot().contact.glossRoughness - 0.1) < 0.05,
           qPrintable(QString::number(shot().contact.glossRoughness)));
  QVERIFY(shot().contact.gloss > 0.7);
  grab("mirror-edge");
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QCOMPARE(shot().contact, before);
}

DUSK_TEST(TestContactStation, QApplication);
#include "contact_station.moc"
