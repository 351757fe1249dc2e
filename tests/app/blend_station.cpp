#include "blend_hands.h"

#include "app/stations/blend/curve_field.h"
#include "app/stations/blend/stack_list.h"
#include "app/widgets/number_field.h"
#include "core/project/blend_edit.h"
#include "tests/program.h"

using namespace dusk;

/// The Blend station worked by hand: the stack, corrections, masks, Match, cut-outs and the curtain.
class TestBlendStation : public BlendWindow {
  Q_OBJECT
  const BlendRow& row(const char* name) { return rowOf(shot().blend, name); }
  QWidget* stackRow(const QString& title) {
    for (QWidget* w : named<StackList>("Stack of the blend")->findChildren<QWidget*>())
      if (w->accessibleName().startsWith(title + ",")) return w;
    return nullptr;
  }
  QImage changedBy(const std::function<void()>& act) {
    const QImage before = frame()->picture;
    act();
    if (!waitFor([&] { return frame()->picture != before; })) qWarning("nothing changed");
    return frame()->picture;
  }

 private slots:
  void initTestCase() { copyDemo(); }
  void init() { openAtBlend(); }
  void cleanup() { window_.reset(); }

  void rowsAreHiddenWeakenedAndReached();
  void correctionsAreAddedMovedAndTakenOff();
  void aMaskIsDrawnAndItsPointsDragged();
  void whereMasksActIsShown();
  void curvesAreBentByHand();
  void thePhotoIsMatchedAndTakenBack();
  void aCurtainIsPulledAcross();
  void aThingIsCutOutInFront();
  void layersLieInTheStack();
};

void TestBlendStation::rowsAreHiddenWeakenedAndReached() {
  const auto scene = frame()->scene;
  QWidget* product = stackRow("Product");
  QVERIFY(product);
  const QImage before = frame()->picture;
  changedBy([&] { QTest::mouseClick(product, Qt::LeftButton, {}, {14, product->height() / 2}); });
  QVERIFY(!row("product").on);
  QTest::keyClick(product, Qt::Key_Space);
  QVERIFY(row("product").on);
  QVERIFY(waitFor([&] { return frame()->picture == before; }));
  drag(*product, {product->width() - 30, 10}, {product->width() / 2, 10});
  QVERIFY2(row("product").strength < 0.7 && row("product").strength > 0.4,
           qPrintable(QString::number(row("product").strength)));
  session().undo();  // one drag, one step
  QCOMPARE(row("product").strength, 1.0);
  product->setFocus();
  QTest::keyClick(product, Qt::Key_Left);
  QCOMPARE(row("product").strength, 0.95);
  QTest::keyClick(product, Qt::Key_Up);
  QCOMPARE(session().blendInHand().row, std::string("glow"));
  QCOMPARE(frame()->scene, scene);  // nothing was traced
}

void TestBlendStation::correctionsAreAddedMovedAndTakenOff() {
  QTest::mouseClick(stackRow("View"), Qt::LeftButton, {}, {80, 10});
  choose("+ Correction", "Contrast");
  choose("+ Correction", "Vignette");
  QCOMPARE(row("view").corrections.size(), size_t(2));
  changedBy([&] { named<NumberField>("At the corner")->setValue(-2); });
  QCOMPARE(row("view").corrections[1].values.at("ev"), -2.0);
  // At the corner the plate itself is darker now: a correction of the whole picture is wanted there.
  const QPoint corner(2, 2);
  QVERIFY(qGray(frame()->picture.pixel(corner)) < qGray(frame()->bare.pixel(corner)) - 20);
  QTest::mouseClick(shown("Earlier"), Qt::LeftButton);
  QCOMPARE(row("view").corrections[0].kind, CorrectionKind::vignette);
  QTest::mouseClick(seen<QPushButton>("Correction 2: Contrast"), Qt::LeftButton);
  QVERIFY(seen<NumberField>("About"));
  QTest::mouseClick(shown("Take off"), Qt::LeftButton);
  QCOMPARE(row("view").corrections.size(), size_t(1));
  while (session().history().canUndo()) session().undo();
  QVERIFY(shot().blend == BlendSettings{} || shot().blend.rows.count("view") == 0);
}

void TestBlendStation::aMaskIsDrawnAndItsPointsDragged() {
  session().takeBlend({"view", -1, -1});
  choose("+ Correction", "Exposure");
  changedBy([&] { named<NumberField>("Exposure")->setValue(-3); });
  choose("+ Mask", "Outline");
  QCOMPARE(session().nextDrag(), Session::NextDrag::mask);
  const double w = shot().vantage.camera.width;
  const Vec2d a(0.1 * w, 0.1 * w), b(0.3 * w, 0.1 * w), c(0.3 * w, 0.2 * w), d(0.1 * w, 0.2 * w);
  QTest::mousePress(&picture(), Qt::LeftButton, {}, onScreen(a));
  for (const Vec2d& p : {(a + b) / 2.0, b, (b + c) / 2.0, c, (c + d) / 2.0, d}) move(picture(), onScreen(p));
  QTest::mouseRelease(&picture(), Qt::LeftButton, {}, onScreen(d));
  QCOMPARE(session().nextDrag(), Session::NextDrag::own);
  const auto mask = [&] { return row("view").corrections[0].masks[0]; };
  QVERIFY2(mask().points.size() >= 4 && mask().points.size() <= 7,
           qPrintable(QString::number(mask().points.size())));
  // Inside it is dark, outside the plate's own.
  const auto grey = [&](const Vec2d& p) {
    const double s = frame()->picture.width() / w;
    return qGray(frame()->picture.pixel(int(p.x * s), int(p.y * s))) -
           qGray(frame()->bare.pixel(int(p.x * s), int(p.y * s)));
  };
  QVERIFY(waitFor([&] { return grey({0.2 * w, 0.15 * w}) < -25 && grey({0.6 * w, 0.15 * w}) == 0; }));
  const Vec2d first = mask().points[0].at;
  drag(picture(), onScreen(first), onScreen(first - Vec2d(0.05 * w, 0)));
  QVERIFY((mask().points[0].at - (first - Vec2d(0.05 * w, 0))).length() < 5);
  drag(picture(), onScreen(mask().points[1].at), onScreen(mask().points[1].at) + QPoint(30, 0),
       Qt::ShiftModifier);
  QVERIFY(mask().points[1].feather > mask().points[2].feather);
  const size_t points = mask().points.size();
  QTest::keyClick(&picture(), Qt::Key_Delete);
  QCOMPARE(mask().points.size(), points - 1);
  // A drag on the line makes a point there; what is let go at once leaves the line as it is.
  const Vec2d middle = (mask().points[0].at + mask().points[1].at) / 2.0;
  QTest::mouseClick(&picture(), Qt::LeftButton, {}, onScreen(middle));
  QCOMPARE(mask().points.size(), points - 1);
  drag(picture(), onScreen(middle), onScreen(middle + Vec2d(0.02 * w, 0.04 * w)));
  QCOMPARE(mask().points.size(), points);
  QVERIFY((mask().points[1].at - middle - Vec2d(0.02 * w, 0.04 * w)).length() < 8);
}

void TestBlendStation::whereMasksActIsShown() {
  session().takeBlend({"view", -1, -1});
  QVERIFY(!tick("Show where they act"));
  shown("+ Mask")->setFocus();
  choose("+ Mask", "Round gradient");
  QCOMPARE(QApplication::focusWidget()->accessibleName(), QString("Mask 1: Round gradient"));
  const double w = shot().vantage.camera.width;
  const Vec2d middle = row("view").masks[0].points[0].at;
  const auto colourfulness = [&](const QImage& image, const Vec2d& p) {
    const double s = image.width() / w;
    const QColor c(image.pixel(int(p.x * s), int(p.y * s)));
    return std::max({c.red(), c.green(), c.blue()}) - std::min({c.red(), c.green(), c.blue()});
  };
  const auto isPlain = [&] { return !frame()->plain.isNull(); };
  QVERIFY(!isPlain());
  const QImage before = frame()->picture;
  auto* shows = tick("Show where they act");
  QVERIFY(shows);
  shows->setFocus();
  QTest::keyClick(shows, Qt::Key_Space);
  QVERIFY(waitFor(isPlain));
  QVERIFY(colourfulness(frame()->plain, {0.05 * w, 0.05 * w}) == 0);
  QVERIFY(colourfulness(frame()->plain, {0.95 * w, 0.05 * w}) == 0);
  QCOMPARE(colourfulness(frame()->plain, middle), colourfulness(frame()->picture, middle));
  // It is what the picture view draws; what scopes, the picked colour and a PNG are made of stays.
  QVERIFY(frame()->picture == before);
  const QColor drawn(picture().grab().toImage().pixel(onScreen({0.05 * w, 0.05 * w})));
  QVERIFY(drawn.red() == drawn.green() && drawn.green() == drawn.blue());
  // It is a look, no edit, and ends with the station.
  QVERIFY(session().history().undoText() == "add a mask");
  session().setStation(Station::light);
  QVERIFY(waitFor([&] { return !isPlain(); }));
}

void TestBlendStation::curvesAreBentByHand() {
  session().takeBlend({"product", -1, -1});
  choose("+ Correction", "Tone curve");
  auto* field = named<CurveField>("Tone curve");
  QVERIFY(field);
  const auto curve = [&] { return row("product").corrections[0].curve; };
  QCOMPARE(curve().size(), size_t(4));
  QTRY_VERIFY(field->isVisible());
  const QPoint at = field->toScreen({0.25, 0.25}).toPoint();
  drag(*field, at, at - QPoint(0, 20));
  QVERIFY(curve()[1].y > 0.3 && std::abs(curve()[1].x - 0.25) < 0.03);
  session().undo();
  QVERIFY((curve()[1] - Vec2d(0.25, 0.25)).length() < 1e-6);
  // What is dragged is told in codes beside it, and goes where a code says, past no neighbour.
  QTest::mouseClick(field, Qt::LeftButton, {}, at);
  auto* becomes = named<QDoubleSpinBox>("Becomes");
  QVERIFY(becomes);
  QVERIFY2(std::abs(becomes->value() - 255 * curve()[1].y) <= 0.5, qPrintable(becomes->text()));
  becomes->setFocus();
  becomes->selectAll();
  QTest::keyClicks(becomes, "96");
  QTest::keyClick(becomes, Qt::Key_Return);
  QVERIFY(std::abs(curve()[1].y - 96 / 255.0) < 1e-6);
  auto* code = named<QDoubleSpinBox>("Code");
  code->setFocus();
  code->selectAll();
  QTest::keyClicks(code, "250");
  QTest::keyClick(code, Qt::Key_Return);
  QVERIFY(std::abs(curve()[1].x - (curve()[2].x - 0.01)) < 1e-6);
  grab("curve", field->parentWidget());
  session().undo(), session().undo();
  QTest::mouseClick(field, Qt::LeftButton, {}, field->toScreen({0.5, 0.7}).toPoint());
  QCOMPARE(curve().size(), size_t(5));
  QTest::keyClick(field, Qt::Key_Delete);
  QCOMPARE(curve().size(), size_t(4));
}

void TestBlendStation::thePhotoIsMatchedAndTakenBack() {
  const BlendSettings before = shot().blend;
  QTest::mouseClick(button("Match the photo"), Qt::LeftButton);
  QVERIFY(waitFor([&] { return shot().blend != before; }));
  // The quay was photographed by a sharp lens: what it has is grain.
  QVERIFY(!shot().blend.grain.sigma.empty());
  QAbstractButton* grain = nullptr;
  for (QAbstractButton* b : window_->findChildren<QAbstractButton*>())
    if (b->accessibleName().startsWith("Match grain")) grain = b;
  QVERIFY(grain && grain->isChecked());
  QTest::mouseClick(grain, Qt::LeftButton);
  QVERIFY(shot().blend.grain.sigma.empty());
  QTest::mouseClick(grain, Qt::LeftButton);
  QVERIFY(!shot().blend.grain.sigma.empty());
  session().undo(), session().undo(), session().undo();
  QVERIFY(shot().blend == before);
}

void TestBlendStation::aCurtainIsPulledAcross() {
  openFold("Compare");
  QTest::mouseClick(button("Keep this state"), Qt::LeftButton);
  QCOMPARE(shot().snapshots.size(), size_t(1));
  session().editShot("x", [](Shot& s) {
    s.blend.rows["view"].corrections = {{CorrectionKind::exposure, true, 1, {{"ev", -2}}}};
  });
  auto* beside = named<QComboBox>("Beside");
  beside->setCurrentIndex(3), emit beside->activated(3);
  QVERIFY(waitFor([&] { return !frame()->other.isNull(); }));
  QVERIFY(qGray(frame()->other.pixel(50, 50)) > qGray(frame()->picture.pixel(50, 50)));
  const double w = shot().vantage.camera.width, h = shot().vantage.camera.height;
  drag(picture(), onScreen({w * picture().curtain(), h / 2}), onScreen({w * 0.25, h / 2}));
  QVERIFY(std::abs(picture().curtain() - 0.25) < 0.01);
  const QImage shown = picture().grab().toImage();
  const auto at = [&](double share) { return qGray(shown.pixel(onScreen({w * share, h * 0.85}))); };
  QVERIFY2(at(0.2) > at(0.3) + 15, qPrintable(QString("%1 %2").arg(at(0.2)).arg(at(0.3))));
  QTest::mouseClick(button("Return to it"), Qt::LeftButton);
  QVERIFY(shot().blend.rows.count("view") == 0);
  QTest::mouseClick(button("Let it go"), Qt::LeftButton);
  QVERIFY(shot().snapshots.empty());
  beside->setCurrentIndex(0), emit beside->activated(0);
  QVERIFY(waitFor([&] { return frame()->other.isNull(); }));
}

void TestBlendStation::aThingIsCutOutInFront() {
  // The product goes behind the upper crate, which then hides some of it.
  openFold("In front of the product");
  const Placement& p = shot().placements[0];
  const Vec2d foot = *projected(shot().vantage.camera, {p.xM, p.yM, 0.1});
  QTest::mouseClick(button("Loop a thing"), Qt::LeftButton);
  QTest::mousePress(&picture(), Qt::LeftButton, {}, onScreen(foot + Vec2d(-120, -60)));
  for (const Vec2d& off :
       {Vec2d(0, -80), Vec2d(120, -60), Vec2d(140, 60), Vec2d(0, 90), Vec2d(-120, 60), Vec2d(-125, -50)})
    move(picture(), onScreen(foot + off));
  QTest::mouseRelease(&picture(), Qt::LeftButton, {}, onScreen(foot + Vec2d(-122, -55)));
  QCOMPARE(shot().blend.cutOuts.size(), size_t(1));
  QCOMPARE(session().selectedCutOut(), shot().blend.cutOuts[0].id);
  QCOMPARE(session().blendInHand().row, std::string("front"));  // its loop shows
  // All but what was found turns grey.
  const auto isGrey = [&](const Vec2d& p) {
    const double s = double(frame()->plain.width()) / shot().vantage.camera.width;
    const QRgb c = frame()->plain.pixel(int(p.x * s), int(p.y * s));
    return qRed(c) == qGreen(c) && qGreen(c) == qBlue(c);
  };
  auto* shows = tick("Show what is cut out");
  QVERIFY(shows);
  shows->setFocus();
  QTest::keyClick(shows, Qt::Key_Space);
  QVERIFY(waitFor([&] { return !frame()->plain.isNull(); }));
  QVERIFY(isGrey(foot + Vec2d(-200, 0)) && isGrey({20, 20}));
  QTest::keyClick(shows, Qt::Key_Space);
  QVERIFY(waitFor([&] { return frame()->plain.isNull(); }));
  session().undo();
  QVERIFY(shot().blend.cutOuts.empty());
}

void TestBlendStation::layersLieInTheStack() {
  choose("+ Layer", "Colour");
  QCOMPARE(shot().blend.layers.size(), size_t(1));
  QVERIFY(stackRow("Colour"));
  QCOMPARE(session().blendInHand().row, "layer:" + shot().blend.layers[0].id);
  auto* mode = named<QComboBox>("Mode");
  changedBy([&] { mode->setCurrentIndex(2), emit mode->activated(2); });
  QCOMPARE(shot().blend.layers[0].mode, LayerMode::screen);
  QVERIFY(waitFor(
      [&] { return qGray(frame()->picture.pixel(20, 200)) > qGray(frame()->bare.pixel(20, 200)) + 10; }));
  QTest::mouseClick(button("Take the layer away"), Qt::LeftButton);
  QVERIFY(shot().blend.layers.empty());
}

DUSK_TEST(TestBlendStation, QApplication);
#include "blend_station.moc"
