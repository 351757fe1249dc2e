#include "app/turn_curve.h"
#include "core/light/sun.h"
#include "demo_window.h"

using namespace dusk;

/// The Light station worked by hand: the panorama aligned, shadows marked, lights mixed.
class TestLightStation : public DemoWindow {
  Q_OBJECT
  const Surroundings& light() { return shot().surroundings; }
  QToolButton* fold(const QString& name) { return named<QToolButton>(name); }
  QCheckBox* box(const QString& name) { return named<QCheckBox>(name); }

 private slots:
  void initTestCase() { copyDemo(); }
  void init() {
    openDemo();
    session().setStation(Station::light);
    QVERIFY(waitForSamples(1));
  }
  void cleanup() { window_.reset(); }

  void alignByButton();
  void gnomonByHand();
  void sunApartIsMovedByTheGnomon();
  void lightsAreMixedWithoutTracing();
};

void TestLightStation::alignByButton() {
  session().editShot("spoil",
                     [](Shot& s) { s.surroundings.turnDegrees = -128, s.surroundings.gainEv = 0.5; });
  QTest::mouseClick(button("Align with the photo"), Qt::LeftButton);
  QVERIFY(button("Cancel"));
  QVERIFY(QTest::qWaitFor([&] { return light().turnDegrees != -128; }, 60'000));
  QVERIFY2(std::abs(light().turnDegrees) < 1.5, qPrintable(QString::number(light().turnDegrees)));
  QVERIFY(!light().mirrored);
  QVERIFY2(std::abs(light().gainEv - 3) < 0.12, qPrintable(QString::number(light().gainEv)));
  // A runner-up is tried by a click on its peak, and undone.
  auto* curve = window_->findChild<TurnCurve*>();
  QVERIFY(curve->isVisible());
  const double best = light().turnDegrees;
  QTest::mouseClick(curve, Qt::LeftButton, {}, curve->pointOf(1).toPoint());
  QVERIFY(std::abs(wrapDegrees(light().turnDegrees - best)) > 9 || light().mirrored);
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QCOMPARE(light().turnDegrees, best);
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QCOMPARE(light().turnDegrees, -128.0);
}

void TestLightStation::gnomonByHand() {
  const Camera& camera = shot().vantage.camera;
  const Vec3d foot(-0.94, 1.61, 0), tip = foot + Vec3d(0.9, 0.35, 0);
  session().editShot("none", [](Shot& s) { s.gnomon.reset(); });
  drag(picture(), ofWorld(foot), ofWorld(tip));
  QVERIFY(shot().gnomon && !shot().gnomon->top);
  const auto read = readGnomon(camera, *shot().gnomon);
  QVERIFY(read && std::abs(wrapDegrees(read->sun.azimuthDegrees - degrees(std::atan2(-0.9, -0.35)))) < 2);
  // Its top: switched on, then dragged to where the post ends.
  box("With its top")->click();
  QVERIFY(shot().gnomon->top.has_value());
  drag(picture(), onScreen(*shot().gnomon->top), ofWorld(foot + Vec3d(0, 0, 0.46)));
  const auto whole = readGnomon(camera, *shot().gnomon);
  const double elevation = degrees(std::atan2(0.46, std::hypot(0.9, 0.35)));
  QVERIFY2(std::abs(whole->sun.elevationDegrees - elevation) < 1.5,
           qPrintable(QString::number(whole->sun.elevationDegrees)));
  // A second one that says something else is told of.
  drag(picture(), ofWorld({0.4, 0.8, 0}), ofWorld({0.4, 1.4, 0}), Qt::ShiftModifier);
  QVERIFY(shot().otherGnomon.has_value());
  bool told = false;
  for (const QLabel* label : window_->findChildren<QLabel*>()) told |= label->text().contains("contradicts");
  QVERIFY(told);
}

void TestLightStation::sunApartIsMovedByTheGnomon() {
  if (!fold("Its sun and colours")->isChecked())
    QTest::mouseClick(fold("Its sun and colours"), Qt::LeftButton);
  box("Sun apart")->click();
  QVERIFY(light().sunApart && !light().sunMovedDegrees);
  QVERIFY(QTest::qWaitFor(
      [&] {
        return picture().frame()->scene->lights->groups() == std::vector<std::string>{"surroundings", "sun"};
      },
      60'000));
  QTest::mouseClick(button("Set the sun by it"), Qt::LeftButton);
  QVERIFY(light().sunMovedDegrees.has_value());
  const auto read = readGnomon(shot().vantage.camera, *shot().gnomon);
  QVERIFY(std::abs(light().sunMovedDegrees->x - read->sun.azimuthDegrees) < 1e-9);
  QVERIFY(light().sunMovedDegrees->y > 20 && light().sunMovedDegrees->y < 30);  // as high as it stood
}

void TestLightStation::lightsAreMixedWithoutTracing() {
  session().editShot("sun apart", [](Shot& s) { s.surroundings.sunApart = true; });
  const auto done = [&] {
    const Frame* f = picture().frame();
    return f->scene->lights->groups().size() == 2 && f->samples > 0 && f->samples == f->wanted;
  };
  QVERIFY(QTest::qWaitFor(done, 60'000));
  session().setStation(Station::blend);
  const auto scene = picture().frame()->scene;
  const QImage before = picture().frame()->picture;
  named<QDoubleSpinBox>("Its sun")->setValue(-3);
  QCOMPARE(shot().blend.mix.at("sun").ev, -3.0);
  QVERIFY(QTest::qWaitFor([&] { return picture().frame()->picture != before; }, 30'000));
  QCOMPARE(picture().frame()->scene, scene);
  // With little sun the shadow is all but gone: the ground in it is brighter than it was.
  const Placement& p = shot().placements[0];
  const double s = double(before.width()) / shot().vantage.camera.width;
  const Vec2d in = *projected(shot().vantage.camera, {p.xM + 0.25, p.yM + 0.12, 0});
  const QPoint at(int(in.x * s), int(in.y * s));
  QVERIFY(qGray(picture().frame()->picture.pixel(at)) > qGray(before.pixel(at)) + 20);
  named<QDoubleSpinBox>("Its sun")->setValue(0);
  QVERIFY(shot().blend.mix.empty());
  // As it was, but for what adding up the denoised lights one by one rounds.
  const auto off = [&] {
    const QImage& now = picture().frame()->picture;
    double sum = 0;
    for (int y = 0; y < now.height(); ++y)
      for (int x = 0; x < now.width(); ++x)
        sum += std::abs(qGray(now.pixel(x, y)) - qGray(before.pixel(x, y)));
    return sum / (now.width() * now.height());
  };
  QVERIFY2(QTest::qWaitFor([&] { return off() < 0.05; }, 30'000), qPrintable(QString::number(off())));
}

QTEST_MAIN(TestLightStation)
#include "light_station.moc"
