#include <fstream>

#include "app/jobs/jobs.h"
#include "app/stations/surface/apply_surface.h"
#include "app/widgets/colour_popover.h"
#include "app/widgets/palette_shelf.h"
#include "core/base/srgb.h"
#include "core/product/hull.h"
#include "core/product/model.h"
#include "tests/app/surface_hands.h"
#include "tests/program.h"

using namespace dusk;

/// What parts do in the picture, what lies below surfaces, true lengths, fits, and files of others, by hand.
class TestSurfaceMore : public SurfaceHands {
  Q_OBJECT
 private slots:
  void initTestCase() { beginTests(); }
  void init() { beginTest(); }
  void cleanupTestCase() { window_.reset(); }
  void partsPlayTheirRoles();
  void rolesAreOfAllPartsInHand();
  void lightIsGivenInTheUnitsOfLamps();
  void bodiesAreSetByHand();
  void allThatWearItAreTakenTogether();
  void aTrueLengthSizesTheFeed();
  void theCameraThrowsOn();
  void aPatchOfThePhotoIsFitted();
  void aLevelPlaceOfThePhotoIsTaken();
  void materialFilesGoOutAndIn();
  void theProductIsSaved();
  void templatesAreDrawnInto();
  void coloursAreFoundInMoreWays();
  void undoTakesItAllBack();

 private:
  void unfold(const QString& title) {
    for (QToolButton* b : window_->findChildren<QToolButton*>())
      if (b->text() == title && !b->isChecked() && b->isVisible()) b->click();
  }
  NumberField* field(const QString& name) {
    for (NumberField* f : window_->findChildren<NumberField*>())
      if (f->accessibleName() == name && f->isVisibleTo(window_.get())) return f;
    return nullptr;
  }
  QCheckBox* tick(const QString& text) {
    for (QCheckBox* b : window_->findChildren<QCheckBox*>())
      if (b->text() == text || b->accessibleName() == text) return b;
    return nullptr;
  }
  const Product& product() { return session().project().products[0]; }
};

void TestSurfaceMore::partsPlayTheirRoles() {
  giveSurface();
  unfold("In the picture");
  QCheckBox* seen = tick("Seen");
  QVERIFY(seen && seen->isChecked());
  seen->click();
  QCOMPARE(roleOf(product(), body_).seen, false);
  // The traced picture does without it: its parts are the place's there.
  QVERIFY(QTest::qWaitFor(
      [&] {
        const auto frame = picture().frame();
        return frame && frame->samples > 0 && !frame->scene->roles.empty();
      },
      30'000));
  seen->click();
  QVERIFY(product().roles.empty());  // as physics has it: nothing is written
  NumberField* bounce = field("Bounce");
  QVERIFY(bounce);
  bounce->setValue(0.5);
  QCOMPARE(roleOf(product(), body_).bounce, 0.5);
  session().undo();
  QVERIFY(product().roles.empty());
}

void TestSurfaceMore::rolesAreOfAllPartsInHand() {
  session().selectPart(body_);
  session().setPartsTogether({body_, "Brackwater tide gauge/Housing/Lid"});
  unfold("In the picture");
  tick("Throws a shadow")->click();
  QCOMPARE(product().roles.size(), size_t(2));
  tick("Only catches")->click();
  QVERIFY(roleOf(product(), body_).catcher && !isRendered(product(), "Brackwater tide gauge/Housing/Lid"));
  tick("Only catches")->click();
  QVERIFY(!hasCatchers(product()) && product().roles.size() == 2);
  // A group's word holds for its parts until they have their own.
  session().edit("group",
                 [&](Project& p) { p.products[0].roles["Brackwater tide gauge/Housing"].alpha = false; });
  QVERIFY(!roleOf(product(), "Brackwater tide gauge/Housing/Latch").alpha);
  QVERIFY(roleOf(product(), body_).alpha);
}

void TestSurfaceMore::lightIsGivenInTheUnitsOfLamps() {
  giveSurface();
  unfold("Light it gives off");
  NumberField* flux = field("Luminous flux");
  QVERIFY(flux);
  flux->setValue(100);
  const double radiance = double(luminance(toFloat(worn()->emission)));
  QVERIFY(radiance > 0);
  // By its own closed form: pi times luminance times area.
  const auto model = session().assets()->loadedModel(product());
  double area = 0;
  for (const Part& part : model->parts)
    if (part.path == body_) area = massOf(model->meshOf(part), part.place).area * 1e-6;
  const double nits = field("Luminance")->value();
  QVERIFY2(std::abs(pi * nits * area - 100) < 0.5, qPrintable(QString::number(pi * nits * area)));
  field("Kelvin")->setValue(2700);
  QVERIFY(worn()->emission.x > 1.5 * worn()->emission.z);
  QVERIFY(std::abs(double(luminance(toFloat(worn()->emission))) - radiance) < 1e-3 * radiance);
}

void TestSurfaceMore::bodiesAreSetByHand() {
  giveSurface("preset-sea-water");
  unfold("Inside of glass and liquids");
  unfold("Coat, flakes, brushing and film");
  field("Cloudy after")->setValue(25);
  QCOMPARE(worn()->scatterDepthM, 0.025);
  field("Goes before")->setValue(3);
  QCOMPARE(worn()->priority, 3);
  field("Abbe number")->setValue(40);
  QCOMPARE(worn()->abbe, 40.0);
  field("Flakes")->setValue(0.5);
  QCOMPARE(worn()->flakes, 0.5);
  unfold("More values");
  NumberField* opacity = field("Opacity");
  QVERIFY(opacity);
  opacity->setValue(0.5);
  QCOMPARE(worn()->opacity, 0.5);
}

void TestSurfaceMore::allThatWearItAreTakenTogether() {
  session().selectPart(body_);
  const std::string worn = session().surfaceInHand(session().project())->id;
  size_t expected = 0;
  for (const auto& [part, surface] : product().surfaceOfPart) expected += surface == worn;
  QVERIFY(expected > 2);
  unfold("Copy, keep, replace");
  QVERIFY(button("Select all that wear it"));
  button("Select all that wear it")->click();
  QCOMPARE(session().partsInHand(body_).size(), expected);
  // The cast shows them, and what is done is done to all.
  auto* cast = window_->findChild<QTreeView*>();
  QVERIFY(cast && size_t(cast->selectionModel()->selectedRows().size()) == expected);
  applySurface(session(), "preset-signal-enamel", session().selectedPart());
  size_t now = 0;
  for (const auto& [part, surface] : product().surfaceOfPart) now += surface == "preset-signal-enamel";
  QVERIFY(now >= expected);
}

void TestSurfaceMore::aTrueLengthSizesTheFeed() {
  giveSurface();
  openRow("Base colour");
  addFeed(FeedKind::brick);
  QVERIFY(QTest::qWaitFor(
      [&] { return button("Draw a true length") && button("Draw a true length")->isVisible(); }));
  const Feed before = worn()->feeds.at(SurfaceValue::baseColour)[0];
  QTest::mouseClick(button("Draw a true length"), Qt::LeftButton);
  QCOMPARE(session().nextDrag(), NextDrag::trueLength);
  const QPoint at = onBody();
  drag(picture(), at, at + QPoint(25, 0));
  QCOMPARE(session().nextDrag(), NextDrag::own);
  QTest::qWait(50);
  NumberField* really = field("Really long");
  QVERIFY(really && really->value() > 1);
  const double drawn = really->value();
  really->setValue(drawn * 2);
  const Feed& after = worn()->feeds.at(SurfaceValue::baseColour)[0];
  QVERIFY2(std::abs(after.sizeMm / before.sizeMm - 2) < 0.01, qPrintable(QString::number(after.sizeMm)));
}

void TestSurfaceMore::theCameraThrowsOn() {
  giveSurface();
  openRow("Roughness");
  addFeed(FeedKind::checker);
  QTest::qWait(50);
  auto* lies = [&]() -> QComboBox* {
    for (QComboBox* b : window_->findChildren<QComboBox*>())
      if (b->isVisible() && b->findText("thrown on by the camera") >= 0) return b;
    return nullptr;
  }();
  QVERIFY(lies);
  lies->setCurrentText("thrown on by the camera");
  emit lies->activated(lies->currentIndex());
  const Mapping m = worn()->feeds.at(SurfaceValue::roughness)[0].mapping;
  QCOMPARE(m.kind, MappingKind::camera);
  // From the camera's own place, seen from the product.
  const auto world = picture().worldFromModel(body_, shot().placements[0].id);
  const double unitMm = product().metresPerUnit * 1000;
  QVERIFY((world->point(m.eyeMm / unitMm) - shot().vantage.camera.position).length() < 1e-3);
  QVERIFY(std::abs(m.sizeMm.x / m.sizeMm.y - 1.5) < 0.01);  // the frame's proportions
}

void TestSurfaceMore::aPatchOfThePhotoIsFitted() {
  giveSurface();
  unfold("From a photo of the real thing");
  button("Fit to the photo")->click();
  QCOMPARE(session().nextDrag(), NextDrag::fitPatch);
  // The real one is in the photo, where the product would hide it.
  const QPoint covered = onBody();
  const auto seen = [&] { return picture().grab().toImage().pixelColor(covered); };
  const QRgb alone = seen().rgb();
  session().setNextDrag(NextDrag::own);
  QTRY_VERIFY(seen().rgb() != alone);  // once it is drawn again
  QTest::keyPress(&picture(), Qt::Key_B);
  QCOMPARE(seen().rgb(), alone);
  QTest::keyRelease(&picture(), Qt::Key_B);
  session().setNextDrag(NextDrag::fitPatch);
  // Beside the product there is nothing to fit: said, and nothing changes.
  const Project before = session().project();
  QSignalSpy said(&session(), &Session::said);
  drag(picture(), QPoint(8, 8), QPoint(60, 40));
  QVERIFY(QTest::qWaitFor([&] { return !said.isEmpty(); }, 60'000));
  QVERIFY(said[0][0].toString().contains("patch") && session().project() == before);
  // Over it the work begins, and can be ended.
  button("Fit to the photo")->click();
  const QPoint at = onBody();
  drag(picture(), at - QPoint(15, 15), at + QPoint(15, 15));
  QVERIFY(window_->jobs().isRunning("fit"));
  window_->jobs().find("fit")->cancel();
  QVERIFY(QTest::qWaitFor([&] { return !window_->jobs().isRunning("fit"); }, 60'000));
  QVERIFY(session().project() == before);
}

void TestSurfaceMore::aLevelPlaceOfThePhotoIsTaken() {
  giveSurface();
  unfold("From a level place of the photo");
  const Project before = session().project();
  const QString file = folder_.filePath("quay stone.png");
  button("Take a surface")->click();
  answerDialog(file);
  const auto ground = [&](double x, double y) {
    return picture().toScreen().map(toPoint(*projected(shot().vantage.camera, {x, y, 0}))).toPoint();
  };
  const Placement& p = shot().placements[0];
  drag(picture(), ground(p.xM - 0.7, p.yM - 0.3), ground(p.xM - 0.2, p.yM - 0.55));
  QVERIFY(
      QTest::qWaitFor([&] { return session().project().surfaces.size() > before.surfaces.size(); }, 30'000));
  QVERIFY(QFile::exists(file));
  const Surface taken = session().project().surfaces.back();
  QCOMPARE(taken.name, std::string("quay stone"));
  const Feed& feed = taken.feeds.at(SurfaceValue::baseColour)[0];
  // As large as the camera tells, and stone's colour, not the sun's.
  QVERIFY2(feed.mapping.sizeMm.x > 150 && feed.mapping.sizeMm.x < 800,
           qPrintable(QString::number(feed.mapping.sizeMm.x)));
  const QImage read(file);
  double sum = 0;
  for (int y = 0; y < read.height(); ++y)
    for (int x = 0; x < read.width(); ++x) sum += double(srgbDecoded(float(qGreen(read.pixel(x, y))) / 255));
  const double albedo = sum / read.width() / read.height();
  QVERIFY2(albedo > 0.08 && albedo < 0.75, qPrintable(QString::number(albedo)));
  const auto answer = [&](const char* label) {
    for (QPushButton* b : window_->notices().findChildren<QPushButton*>())
      if (b->text() == label) return b;
    return static_cast<QPushButton*>(nullptr);
  };
  QVERIFY(answer("Put it on the part in hand"));
  grab("taken-from-the-photo");
  QTest::mouseClick(answer("Lay it down as a slab"), Qt::LeftButton);
  const Product& slab = session().project().products.back();
  QCOMPARE(slab.piece.kind, std::string("slab"));
  QCOMPARE(slab.piece.measures.at("width"), feed.mapping.sizeMm.x / 1000);
  QVERIFY(slab.surfaceOfPart.begin()->second == taken.id);
  session().undo(), session().undo();
  QVERIFY(session().project() == before);
  // The sky is no level place.
  QSignalSpy said(&session(), &Session::said);
  button("Take a surface")->click();
  answerDialog(folder_.filePath("sky.png"));
  drag(picture(), QPoint(12, 12), QPoint(80, 40));
  QVERIFY(QTest::qWaitFor([&] { return !said.isEmpty(); }, 30'000));
  QVERIFY(said[0][0].toString().contains("horizon"));
}

void TestSurfaceMore::materialFilesGoOutAndIn() {
  giveSurface("preset-cut-crystal");
  unfold("Files of surfaces");
  const QString file = folder_.filePath("crystal.mtlx");
  answerDialog(file);
  button("Save as material file…")->click();
  QVERIFY(QFile::exists(file));
  session().selectPart("Brackwater tide gauge/Housing/Lid");
  answerDialog(file);
  button("Open material file…")->click();
  QVERIFY(QTest::qWaitFor([&] { return worn() && worn()->abbe == 36; }, 10'000));
  QVERIFY(worn()->transmission == 1 && worn()->id != "mine");
  // What is no such file is told.
  std::ofstream(folder_.filePath("broken.mtlx").toStdString()) << "<svg/>";
  QSignalSpy said(&session(), &Session::said);
  answerDialog(folder_.filePath("broken.mtlx"));
  button("Open material file…")->click();
  QVERIFY(QTest::qWaitFor([&] { return !said.isEmpty(); }, 10'000));
  QVERIFY(said[0][0].toString().contains("broken.mtlx"));
}

void TestSurfaceMore::theProductIsSaved() {
  unfold("Files of surfaces");
  const QString file = folder_.filePath("gauge.glb");
  answerDialog(file);
  button("Save product as glTF…")->click();
  QVERIFY(QTest::qWaitFor([&] { return QFileInfo(file).size() > 100'000; }, 30'000));
  QFile written(file);
  QVERIFY(written.open(QIODevice::ReadOnly));
  QCOMPARE(written.read(4), QByteArray("glTF"));
}

void TestSurfaceMore::templatesAreDrawnInto() {
  QVERIFY(printAt(onBody(), drawing("#c02020")));
  const Decal first = *decal();
  const QString file = folder_.filePath("front.svg");
  answerDialog(file);
  button("Template…")->click();
  QVERIFY(QTest::qWaitFor([&] { return product().decals.size() == 2; }, 20'000));
  QVERIFY(QFile::exists(file) && QFile::exists(folder_.filePath("front.guide.png")));
  // All that could be printed on, and its bleed: far more than the print.
  QVERIFY2(std::max(decal()->widthMm, decal()->heightMm) > 150,
           qPrintable(QString("%1 x %2").arg(decal()->widthMm).arg(decal()->heightMm)));
  QCOMPARE(session().selectedDecal(), decal()->id);
  QCOMPARE(decal()->parts, first.parts);
  // What another program draws into it shows here, though it writes slowly; a save that breaks off is told,
  // and leaves the last good one.
  const std::string hash = decal()->picture.hash;
  QProcess artwork;
  artwork.start(DUSK_ARTWORK, {file, "--every", "2", "--times", "2", "--slow", "--failing"});
  QVERIFY(QTest::qWaitFor([&] { return decal()->picture.hash != hash; }, 10'000));
  const std::string good = decal()->picture.hash;
  QSignalSpy said(&session(), &Session::said);
  QVERIFY(QTest::qWaitFor([&] { return artwork.state() == QProcess::NotRunning; }, 10'000));
  QVERIFY(QTest::qWaitFor([&] { return !said.isEmpty(); }, 10'000));
  QCOMPARE(decal()->picture.hash, good);
}

void TestSurfaceMore::coloursAreFoundInMoreWays() {
  giveSurface();
  std::ofstream(folder_.filePath("harbour.gpl").toStdString())
      << "GIMP Palette\nName: Harbour\n12 60 71 Tide\n200 40 20 Signal\n";
  Vec3d now(0.5);
  QPushButton beside(window_.get());
  auto* popover = ColourPopover::open(session(), &beside, "Any", now, [&](const Vec3d& c, int) { now = c; });
  auto* shelf = popover->findChild<PaletteShelf*>();
  QVERIFY(shelf);
  shelf->show(folder_.filePath("harbour.gpl"));
  ColourChip* signal = nullptr;
  for (ColourChip* chip : shelf->findChildren<ColourChip*>())
    if (chip->toolTip() == "Signal") signal = chip;
  QVERIFY(signal);
  QTest::mouseClick(signal, Qt::LeftButton);
  QVERIFY(now.x > 0.5 && now.y < 0.05);
  // Lightness by itself.
  for (NumberField* f : popover->findChildren<NumberField*>())
    if (f->accessibleName() == "Lab lightness") f->setValue(100), f->setValue(50);
  QVERIFY(double(luminance(toFloat(now))) > 0.15 && double(luminance(toFloat(now))) < 0.25);
  // The ground of the photo, divided by its light: a colour of a stone, not of a photo.
  const auto pick = [&](const QString& picker, const QPoint& at) {
    for (QPushButton* b : popover->findChildren<QPushButton*>())
      if (b->text() == picker) b->click();
    QMouseEvent press(QEvent::MouseButtonPress, at, picture().mapToGlobal(at), Qt::LeftButton, Qt::LeftButton,
                      {});
    QApplication::sendEvent(popover, &press);
    QMouseEvent release(QEvent::MouseButtonRelease, at, picture().mapToGlobal(at), Qt::LeftButton, {}, {});
    QApplication::sendEvent(popover, &release);
  };
  const QPoint ground = ofWorld({-0.25, -0.1, 0});
  QVERIFY(waitForSamples(1));
  pick("From the photo", ground);
  const Vec3d photo = now;
  pick("As lit there", ground);
  QVERIFY(now != photo && std::max({now.x, now.y, now.z}) <= 1 && std::min({now.x, now.y, now.z}) > 0);
  popover->hide();
}

void TestSurfaceMore::undoTakesItAllBack() {
  giveSurface();
  unfold("In the picture");
  tick("Seen")->click();
  field("Flakes")->setValue(0.25);
  while (session().history().canUndo()) session().undo();
  QVERIFY(session().project() == before_);
}

DUSK_TEST(TestSurfaceMore, QApplication);
#include "surface_more.moc"
