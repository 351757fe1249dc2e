#include "app/cast/cast.h"
#include "app/stations/product/revise_panel.h"
#include "app/window/notices.h"
#include "core/proof/prove.h"
#include "demo_window.h"
#include "tests/gltf_sheet.h"
#include "tests/program.h"

using namespace dusk;

/// The Product station worked by hand: several products, parts found, named, grouped, moved, and files
/// revised.
class TestProductStation : public DemoWindow {
  Q_OBJECT
  Cast& cast() { return *window_->findChild<Cast*>(); }
  const Product& product() { return session().project().products[0]; }
  static std::string lid() { return "Brackwater tide gauge/Housing/Lid"; }
  /// Presses the mouse on a part's row in the cast.
  void clickRow(const std::string& path, Qt::KeyboardModifiers keys = {}) {
    const QModelIndex index = cast().model().indexOfPart(path);
    QVERIFY(index.isValid());
    cast().expand(index.parent());
    cast().scrollTo(index);
    QTest::mouseClick(cast().viewport(), Qt::LeftButton, keys, cast().visualRect(index).center());
  }

 private slots:
  void initTestCase() { copyDemo(); }
  void init() {
    openDemo();
    session().setStation(Station::product);
    QVERIFY(waitForSamples(1));
  }
  void cleanup() { window_.reset(); }

  void copiesStandSideBySide();
  void twoProductsStandInOneShot();
  void partsAreNamedAndGrouped();
  void lidOpensAboutItsHinge();
  void keyStandsItOnTheNextLevel();
  void slidingSnapsToTheRun();
  void heightReferenceIsMarkedAndMeasured();
  void hintsStepAsideForTheProduct();
  void whatTheCameraDoesNotSeeIsClickedThrough();
  void aFileInTheWrongUnitIsAskedAbout();
  void unitOfChoice();
  void revisionIsShownThenApplied();
  void missingPicturesAreTakenOnceTheyCome();
};

void TestProductStation::copiesStandSideBySide() {
  QTest::mouseClick(button("Copy"), Qt::LeftButton);
  QCOMPARE(shot().placements.size(), size_t(2));
  QVERIFY(session().placement() == &shot().placements[1]);
  const Placement first = shot().placements[0];
  // The fields are about the copy.
  named<QDoubleSpinBox>("Lift")->setValue(40);
  QVERIFY(std::abs(shot().placements[1].liftM - 0.04) < 1e-9 && shot().placements[0] == first);
  // A click in the picture takes the other in hand.
  QVERIFY(QTest::qWaitFor([&] { return picture().frame()->scene->placementIds.size() == 2; }, 30'000));
  QTest::mouseClick(&picture(), Qt::LeftButton, {}, ofWorld({first.xM, first.yM, 0.15}));
  QCOMPARE(session().placement()->id, first.id);
  QTest::mouseClick(button("Take away"), Qt::LeftButton);
  QVERIFY(shot().placements.size() == 1 && shot().placements[0].id != first.id);
  QCOMPARE(session().project().products.size(), size_t(1));  // the copy still needs it
  QTest::mouseClick(button("Take away"), Qt::LeftButton);
  QVERIFY(shot().placements.empty() && session().project().products.empty());
  for (int i = 0; i < 4; ++i) session().undo();
  QVERIFY(shot().placements.size() == 1 && shot().placements[0] == first);
}

void TestProductStation::twoProductsStandInOneShot() {
  window_.reset();
  openDemo("brackwater-pair.dusk");
  session().setStation(Station::product);
  QVERIFY(QTest::qWaitFor([&] { return picture().frame()->scene->placementIds.size() == 2; }, 60'000));
  QVERIFY(waitForSamples(2));
  const Placement gauge = shot().placements[0], mini = shot().placements[1];
  // A click on the small one takes it in hand, and a drag slides it alone.
  const QPoint at = ofWorld({mini.xM, mini.yM, 0.09});
  QTest::mouseClick(&picture(), Qt::LeftButton, {}, at);
  QVERIFY(session().placement() && session().placement()->id == mini.id);
  QCOMPARE(session().product()->name, std::string("Brackwater mini"));
  drag(picture(), at, at + QPoint(40, 0));
  QVERIFY(shot().placements[1].xM > mini.xM + 0.02 && shot().placements[0] == gauge);
  // Lifted, it is the one the proof strip says.
  session().editShot("lift", [](Shot& s) { s.placements[1].liftM = 0.02; });
  const auto findings = prove(session().project(), 0, *session().assets(), nullptr);
  int hovering = 0;
  for (const Finding& f : findings)
    if (f.id == "contact-gap" && !f.ok()) hovering += f.what.find("mini hovers") != std::string::npos ? 1 : 2;
  QCOMPARE(hovering, 1);
}

void TestProductStation::partsAreNamedAndGrouped() {
  clickRow(lid());
  QCOMPARE(session().selectedPart(), lid());
  const std::string gasket = "Brackwater tide gauge/Housing/Lid gasket";
  clickRow(gasket, Qt::ControlModifier);
  QCOMPARE(cast().selectionModel()->selectedIndexes().size(), qsizetype(2));
  QTest::keyClick(&cast(), Qt::Key_G, Qt::ControlModifier);
  QCOMPARE(product().groupOfPart,
           (std::map<std::string, std::string>{{lid(), "Group 1"}, {gasket, "Group 1"}}));
  const QModelIndex now = cast().model().indexOfPart(lid());
  QVERIFY(now.parent().data().toString().startsWith("Group 1"));
  clickRow(lid());
  QTest::keyClick(&cast(), Qt::Key_F2);
  auto* editor = cast().viewport()->findChild<QLineEdit*>();
  QVERIFY(editor);
  editor->setText("Cover");
  QTest::keyClick(editor, Qt::Key_Return);
  QTRY_VERIFY(product().names.contains(lid()));  // the editor hands over once it has closed
  QCOMPARE(product().names.at(lid()), std::string("Cover"));
  // The new name is found, and hiding hides all that is selected.
  auto* find = named<QLineEdit>("Find parts");
  QTest::keyClicks(find, "cover");
  QCOMPARE(cast().model().matches(), 1);
  QTest::keyClick(find, Qt::Key_Escape);
  clickRow(lid()), clickRow(gasket, Qt::ControlModifier);
  QTest::keyClick(&cast(), Qt::Key_H, Qt::ControlModifier);
  QCOMPARE(product().hiddenParts.size(), size_t(2));
  QTest::keyClick(&cast(), Qt::Key_H, Qt::ControlModifier);
  QVERIFY(product().hiddenParts.empty());
  QTest::keyClick(&cast(), Qt::Key_G, Qt::ControlModifier | Qt::ShiftModifier);
  QVERIFY(product().groupOfPart.empty());
}

void TestProductStation::lidOpensAboutItsHinge() {
  session().selectPart(lid());
  auto* hinge = named<QComboBox>("Hinge");
  int pin = -1;
  for (int i = 0; i < hinge->count(); ++i)
    if (hinge->itemText(i).startsWith("Hinge pin")) pin = i;
  QVERIFY(pin >= 0);
  hinge->setCurrentIndex(pin);
  emit hinge->activated(pin);
  named<QDoubleSpinBox>("Turn about it")->setValue(-80);
  const PartMove& move = product().moves.at(lid());
  QVERIFY(std::abs(move.pivot.z - 228) < 1e-3 && std::abs(std::abs(move.axis.x) - 1) < 1e-6);
  // In the picture the lid stands up now: its part is met well above where the closed lid ends.
  const auto lidTop = [&] {
    const auto& geometry = *picture().frame()->scene->geometry;
    const Model& model = geometry.instances()[0].geometry->model();
    double high = 0;
    for (unsigned i = 0; i < model.parts.size(); ++i)
      if (model.parts[i].path == lid())
        for (const Vec3f& p : model.meshOf(model.parts[i]).positions)
          high = std::max(high, geometry.worldFromMesh(0, i).point(toDouble(p)).z);
    return high;
  };
  QVERIFY(QTest::qWaitFor([&] { return lidTop() > 0.33; }, 30'000));
  QTest::mouseClick(button("Put back"), Qt::LeftButton);
  QVERIFY(product().moves.empty());
  QVERIFY(QTest::qWaitFor([&] { return lidTop() < 0.26; }, 30'000));
}

void TestProductStation::keyStandsItOnTheNextLevel() {
  session().editShot("add a level", [](Shot& s) { s.levels.push_back({"level-1", "Bench", 0.4}); });
  const Placement before = shot().placements[0];
  const Vec2d foot = *projected(shot().vantage.camera, {before.xM, before.yM, 0});
  QTest::keyClick(&picture(), Qt::Key_L);
  const Placement up = shot().placements[0];
  QCOMPARE(up.levelId, std::string("level-1"));
  const Vec2d now = *projected(shot().vantage.camera, {up.xM, up.yM, 0.4});
  QVERIFY((now - foot).length() < 0.1);  // seen at the same spot
  QVERIFY(QTest::qWaitFor([&] { return picture().frame()->scene->place.groundM > 0.39f; }, 30'000));
  for (const Finding& f : prove(session().project(), 0, *session().assets(), nullptr))
    if (f.id == "contact-gap") QVERIFY2(f.ok() && f.what.find("Bench") != std::string::npos, f.what.c_str());
  QTest::keyClick(&picture(), Qt::Key_L);
  QVERIFY(shot().placements[0].levelId.empty());
}

void TestProductStation::slidingSnapsToTheRun() {
  session().editShot("stand near the run", [](Shot& s) {
    s.placements[0].turnDegrees = 0, s.placements[0].xM = 0.3, s.placements[0].yM = 0.2;
  });
  const auto there = [&] {
    return QTest::qWaitFor(
        [&] {
          const Vec3d s = picture().frame()->scene->geometry->instances()[0].worldFromModel.shift;
          return std::abs(s.y - 0.2) < 0.05;
        },
        30'000);
  };
  QVERIFY(there());
  const QPoint from = ofWorld({0.3, 0.2, 0.12});
  QVERIFY(!picture().pick(picture().toPlate(from)).part.empty());
  // Taken by its front and drawn until its middle nearly lies on run a.
  const auto hit = picture().hitAt(picture().toPlate(from));
  const QPoint to = ofWorld(*hit - Vec3d(0, 0.2 - 0.006, 0));
  drag(picture(), from, to);
  // On the run, or on the paving stone's side that was drawn along it.
  QVERIFY2(std::abs(shot().placements[0].yM) < 3e-4, qPrintable(QString::number(shot().placements[0].yM)));
  session().undo();
  QVERIFY(there());
  drag(picture(), from, to, Qt::ControlModifier);
  const double free = std::abs(shot().placements[0].yM);
  QVERIFY2(free > 1e-3 && free < 0.02, qPrintable(QString::number(free)));
}

void TestProductStation::heightReferenceIsMarkedAndMeasured() {
  QTest::mouseClick(button("Mark one in the picture"), Qt::LeftButton);
  const Vec3d foot(-0.35, 0.2, 0), top(-0.35, 0.2, 0.5);
  drag(picture(), ofWorld(foot), ofWorld(top));
  QCOMPARE(shot().heightReferences.size(), size_t(1));
  session().editShot("its height", [](Shot& s) { s.heightReferences[0].metres = 0.5; });
  const auto metres = measuredHeightM(shot().vantage, shot().heightReferences[0]);
  QVERIFY2(metres && std::abs(*metres - 0.5) < 0.01, qPrintable(QString::number(metres.value_or(0))));
  bool said = false;
  for (const Finding& f : prove(session().project(), 0, *session().assets(), nullptr))
    if (f.id == "height-reference") said = f.ok();
  QVERIFY(said);
  // The proof strip has a card for it.
  auto* card = named<QAbstractButton>("Proof: Known height");
  QVERIFY(card);
  QTRY_VERIFY_WITH_TIMEOUT(card->isVisible(), 30'000);
}

void TestProductStation::hintsStepAsideForTheProduct() {
  QVERIFY(!picture().isHintAbove());
  const QPointF low(picture().width() / 2.0, picture().contentsRect().bottom() - 30);
  const auto ground = levelPoint(shot().vantage.camera, picture().toPlate(low));
  QVERIFY(ground.has_value());
  session().editShot("stand it there",
                     [&](Shot& s) { s.placements[0].xM = ground->x, s.placements[0].yM = ground->y; });
  QTRY_VERIFY_WITH_TIMEOUT(picture().isHintAbove(), 30'000);
  session().undo();
  QTRY_VERIFY_WITH_TIMEOUT(!picture().isHintAbove(), 30'000);
}

void TestProductStation::whatTheCameraDoesNotSeeIsClickedThrough() {
  const Placement& at = shot().placements[0];
  const Vec2d plate = picture().toPlate(ofWorld({at.xM, at.yM, 0.15}).toPointF());
  const std::string front = picture().pick(plate).part;
  QVERIFY(!front.empty());
  session().edit("hide", [&](Project& p) { p.products[0].roles[front].seen = false; });
  QTRY_VERIFY_WITH_TIMEOUT(picture().pick(plate).part != front, 30'000);
  session().undo();
  QTRY_COMPARE_WITH_TIMEOUT(picture().pick(plate).part, front, 30'000);
}

void TestProductStation::aFileInTheWrongUnitIsAskedAbout() {
  QVERIFY(QDir(folder_.path()).mkpath("large"));
  const std::filesystem::path file = writeSheet(folder_.filePath("large").toStdString(), {{"name", "a"}});
  nlohmann::json gltf = nlohmann::json::parse(std::ifstream(file));
  gltf["nodes"][0]["scale"] = {240, 240, 240};  // drawn in millimetres, written as if in metres
  std::ofstream(file) << gltf.dump();
  answerDialog(QString::fromStdString(file.string()));
  QTest::mouseClick(button("Bring in a model…"), Qt::LeftButton);
  const auto said = [&] { return window_->notices().messages().join(" "); };
  QTRY_VERIFY_WITH_TIMEOUT(said().contains("sheet: 240 m at its largest"), 30'000);
  QPushButton* remedy = nullptr;
  for (QPushButton* b : window_->notices().findChildren<QPushButton*>())
    if (b->text() == "Read as millimetre") remedy = b;
  QVERIFY2(remedy, qPrintable(said()));
  QTest::mouseClick(remedy, Qt::LeftButton);
  QCOMPARE(session().product()->metresPerUnit, 0.001);
  QVERIFY(!said().contains("at its largest"));
  session().undo();
  QCOMPARE(session().product()->metresPerUnit, 1.0);
}

void TestProductStation::unitOfChoice() {
  auto* along = fieldShown("Position a");
  auto* unit = named<QComboBox>("Lengths in");
  const double metres = shot().placements[0].xM;
  for (int i : {1, 3, 2}) {
    unit->setCurrentIndex(i);
    emit unit->activated(i);
    const auto& shown = shownUnits()[size_t(i)];
    QVERIFY(along->suffix().endsWith(shown.name));
    QVERIFY(std::abs(along->value() / shown.perMetre - metres) <
            std::pow(10.0, -shown.decimals) / shown.perMetre);
  }
  along->setValue(0.25);
  QCOMPARE(shot().placements[0].xM, 0.25);
  emit unit->activated(0);
}

void TestProductStation::revisionIsShownThenApplied() {
  const auto model = session().assets()->loadedModel(product());
  const std::string surface = product().surfaceOfPart.at(lid());
  auto renamed = std::make_shared<Model>(*model);
  for (Part& part : renamed->parts)
    if (part.path == lid()) part.path = "Brackwater tide gauge/Housing/Top", part.name = "Top";
  auto* panel = new RevisePanel(session(), product().id, product().model, compareModels(*model, *renamed),
                                window_.get());
  panel->show();
  auto* table = panel->findChild<QTableWidget*>();
  QCOMPARE(table->rowCount(), int(model->parts.size()));
  QVERIFY(table->item(0, 0)->text().contains("guessed") && table->item(0, 2)->text() == "Top");
  QVERIFY(table->item(1, 0)->text().contains("kept"));
  const size_t steps = session().project().products[0].surfaceOfPart.count(lid());
  QCOMPARE(steps, size_t(1));  // nothing is changed yet
  for (QPushButton* b : panel->findChildren<QPushButton*>())
    if (b->text() == "Revise") QTest::mouseClick(b, Qt::LeftButton);
  QVERIFY(!product().surfaceOfPart.contains(lid()));
  QCOMPARE(product().surfaceOfPart.at("Brackwater tide gauge/Housing/Top"), surface);
  session().undo();
  QCOMPARE(product().surfaceOfPart.at(lid()), surface);
}

void TestProductStation::missingPicturesAreTakenOnceTheyCome() {
  const QDir folder(folder_.path());
  QVERIFY(folder.mkpath("late"));
  const auto write = [&](const QString& name, const QByteArray& text) {
    QFile file(folder.filePath(name));
    return file.open(QIODevice::WriteOnly) && file.write(text) == text.size();
  };
  QVERIFY(write("late/tile.obj",
                "mtllib tile.mtl\nv 0 0 0\nv 90 0 0\nv 0 0 90\nvt 0 0\nusemtl a\nf 1/1 2/1 3/1\n"));
  QVERIFY(write("late/tile.mtl", "newmtl a\nmap_Kd glaze.png\n"));
  session().edit("another model", [&](Project& p) {
    p.products[0].model = *session().assets()->refer(folder.filePath("late/tile.obj").toStdString());
  });
  const auto model = [&] { return session().assets()->loadedModel(product()); };
  const auto said = [&] {
    const auto labels = window_->findChildren<QLabel*>();
    return std::any_of(labels.begin(), labels.end(),
                       [](const QLabel* l) { return l->text().contains("glaze.png"); });
  };
  QTRY_VERIFY_WITH_TIMEOUT(model() && said(), 30'000);
  // Beside it, in a folder that was not there before.
  QVERIFY(folder.mkpath("late/textures"));
  QImage glaze(8, 8, QImage::Format_RGB32);
  glaze.fill(Qt::red);
  QVERIFY(glaze.save(folder.filePath("late/textures/glaze.png")));
  QTRY_COMPARE_WITH_TIMEOUT(model()->textures.size(), size_t(1), 30'000);
  QTRY_VERIFY(!said());
}

DUSK_TEST(TestProductStation, QApplication);
#include "product_station.moc"
