#include "core/blend/mask.h"

#include <QtTest>

#include "core/blend/combine.h"
#include "core/blend/product_rows.h"
#include "tests/program.h"

using namespace dusk;

namespace {

const PixelArea whole{0, 0, 200, 160};

MaskWorld world() {
  MaskWorld w;
  w.frame = {whole, 200, 160, 1, nullptr};
  return w;
}

Sheet made(const NodePtr& node) {
  Evaluator evaluator;
  return evaluator.sheet(node, node->whole);
}

double sumOf(const Sheet& s) {
  double sum = 0;
  for (int y = s.area.y0; y < s.area.y1; ++y)
    for (int x = s.area.x0; x < s.area.x1; ++x) sum += s.at(0, x, y);
  return sum;
}

Mask outline(std::vector<MaskPoint> points) {
  Mask m;
  m.points = std::move(points);
  return m;
}

NodePtr grey() {
  auto p = std::make_shared<Picture>(Picture::rgb(200, 160));
  for (int x = 0; x < 200; ++x)
    for (int y = 0; y < 160; ++y) std::fill_n(p->at(x, y), 3, float(x) / 200);
  return sourceOf(p, whole, 3);
}

}  // namespace

class TestMaskShapes : public QObject {
  Q_OBJECT
 private slots:
  void anOutlineHoldsItsArea();
  void feathersAreAsWideAsAsked();
  void eachPointHasItsFeather();
  void crossedLinesAreEvenOdd();
  void brushesAreAsWideAsAsked();
  void curvesGoThroughTheirPoints();
  void thousandsOfPointsTakeNoTime();
  void joinsAreTheirAlgebra();
  void gradientsGoFromEndToEnd();
  void rangesTakeWhatLiesBetween();
  void whatCannotBeSeenIsNoMask();
  void largerPicturesShowTheSame();
  void newMasksLieAboutTheProduct();
};

void TestMaskShapes::newMasksLieAboutTheProduct() {
  Passes passes;
  passes.alpha = Picture{50, 40, {"A"}};
  passes.depth = Picture{50, 40, {"Z"}};
  BlendFrame frame;
  frame.whole = {100, 60, 200, 140}, frame.width = 400, frame.height = 200;
  QVERIFY(!productSeen(passes, frame));
  for (int y = 10; y < 30; ++y)
    for (int x = 20; x < 25; ++x)
      passes.alpha.at(x, y)[0] = 1, passes.depth.at(x, y)[0] = 2 + float(y - 10) / 19;
  const auto seen = productSeen(passes, frame);
  QVERIFY(seen);
  QCOMPARE(seen->from, Vec2d(140.0 / 400, 80.0 / 200));
  QCOMPARE(seen->to, Vec2d(150.0 / 400, 120.0 / 200));
  QVERIFY(std::abs(seen->nearM - 2) < 1e-6 && std::abs(seen->farM - 3) < 1e-6);
  // Of a plate ten times as large as that: about the middle of it, and within.
  const Mask round = newMask(MaskKind::round, 4000, 2000, *seen);
  QVERIFY((round.points[0].at - Vec2d(1450, 1000)).length() < 1e-6);
  QVERIFY((round.points[1].at - round.points[0].at).length() > 200);
  const Mask box = newMask(MaskKind::outline, 4000, 2000, *seen);
  QVERIFY((box.points[0].at - Vec2d(1400, 800)).length() < 1e-6);
  QVERIFY((box.points[2].at - Vec2d(1500, 1200)).length() < 1e-6);
  const Mask depth = newMask(MaskKind::depth, 4000, 2000, *seen);
  QVERIFY(depth.from >= 2 && depth.to < 3 && depth.soft > 0);
}

void TestMaskShapes::anOutlineHoldsItsArea() {
  const Sheet box =
      made(maskNode({outline({{{20, 30}}, {{120, 30}}, {{120, 90}}, {{20, 90}}})}, grey(), world()));
  QVERIFY2(std::abs(sumOf(box) - 6000) < 30, qPrintable(QString::number(sumOf(box))));
  QCOMPARE(box.at(0, 70, 60), 1.0f);
  QCOMPARE(box.at(0, 150, 60), 0.0f);
  const Sheet triangle =
      made(maskNode({outline({{{10.5, 10}}, {{180.3, 40}}, {{60, 150.2}}})}, grey(), world()));
  const double area = std::abs((180.3 - 10.5) * (150.2 - 10) - (60 - 10.5) * (40 - 10)) / 2;
  QVERIFY2(std::abs(sumOf(triangle) / area - 1) < 0.01,
           qPrintable(QString("%1 %2").arg(sumOf(triangle)).arg(area)));
}

void TestMaskShapes::feathersAreAsWideAsAsked() {
  const Sheet soft = made(maskNode(
      {outline({{{40, -500}, 40}, {{900, -500}, 40}, {{900, 900}, 40}, {{40, 900}, 40}})}, grey(), world()));
  // Half on the line, all and nothing half a feather to its sides, and never back.
  QVERIFY(std::abs(soft.at(0, 39, 80) + soft.at(0, 40, 80) - 1) < 1e-4f);
  QVERIFY(soft.at(0, 61, 80) == 1 && soft.at(0, 18, 80) == 0);
  QVERIFY(std::abs(soft.at(0, 49, 80) - 0.844f) < 0.03f);
  for (int x = 1; x < 200; ++x) QVERIFY(soft.at(0, x, 80) >= soft.at(0, x - 1, 80));
}

void TestMaskShapes::eachPointHasItsFeather() {
  const Sheet s = made(
      maskNode({outline({{{40, 0}, 0}, {{190, 0}, 0}, {{190, 160}, 0}, {{40, 160}, 60}})}, grey(), world()));
  const auto width = [&](int y) {
    int n = 0;
    for (int x = 0; x < 120; ++x) n += s.at(0, x, y) > 0.02f && s.at(0, x, y) < 0.98f;
    return n;
  };
  QVERIFY2(width(10) < 8 && width(80) > width(10) + 8 && width(150) > width(80) + 8,
           qPrintable(QString("%1 %2 %3").arg(width(10)).arg(width(80)).arg(width(150))));
}

void TestMaskShapes::crossedLinesAreEvenOdd() {
  // A bow: both wings are inside, above and below the crossing is not.
  const Sheet bow =
      made(maskNode({outline({{{20, 20}}, {{180, 140}}, {{180, 20}}, {{20, 140}}})}, grey(), world()));
  QVERIFY(bow.at(0, 40, 80) == 1 && bow.at(0, 160, 80) == 1 && bow.at(0, 100, 30) == 0 &&
          bow.at(0, 100, 130) == 0);
}

void TestMaskShapes::brushesAreAsWideAsAsked() {
  Mask m = outline({{{20, 80}}, {{180, 80}}});
  m.kind = MaskKind::brush, m.widthPx = 24;
  const Sheet line = made(maskNode({m}, grey(), world()));
  double across = 0;
  for (int y = 0; y < 160; ++y) across += line.at(0, 100, y);
  QVERIFY(std::abs(across - 24) < 0.3);
  QVERIFY(line.at(0, 100, 80) == 1 && line.at(0, 5, 80) == 0 &&
          line.at(0, 12, 80) > 0.9f);  // round at its end
  m.points.resize(1);
  const Sheet dot = made(maskNode({m}, grey(), world()));
  QVERIFY(std::abs(sumOf(dot) / (pi * 144) - 1) < 0.02);
}

void TestMaskShapes::curvesGoThroughTheirPoints() {
  Mask m = outline({{{100, 20}}, {{170, 80}}, {{100, 140}}, {{30, 80}}});
  const auto straight = maskLine(m, world());
  m.curved = true;
  const auto line = maskLine(m, world());
  QVERIFY(line && straight && line->at.size() == 32 && straight->at.size() == 4);
  for (const MaskPoint& p : m.points) {
    double nearest = 1e9;
    for (const Vec2f& q : line->at) nearest = std::min(nearest, (Vec2d(q) - p.at).length());
    QVERIFY(nearest < 1e-4);
  }
  const double curved = sumOf(made(maskNode({m}, grey(), world())));
  m.curved = false;
  QVERIFY(curved > 1.2 * sumOf(made(maskNode({m}, grey(), world()))));
}

void TestMaskShapes::thousandsOfPointsTakeNoTime() {
  std::vector<MaskPoint> points;
  for (int i = 0; i < 6000; ++i) {
    const double a = 2 * pi * i / 6000, r = 60 + 4 * std::sin(a * 300);
    points.push_back({{100 + r * std::cos(a), 80 + r * std::sin(a)}, 1});
  }
  QElapsedTimer clock;
  clock.start();
  const Sheet s = made(maskNode({outline(points)}, grey(), world()));
  QVERIFY2(clock.elapsed() < 20'000,
           qPrintable(QString::number(clock.elapsed())));  // it ends; speed is for bench
  QVERIFY(std::abs(sumOf(s) / (pi * 3608) - 1) < 0.02);
}

void TestMaskShapes::joinsAreTheirAlgebra() {
  const Mask left = outline({{{0, 0}}, {{120, 0}}, {{120, 160}}, {{0, 160}}});
  Mask right = outline({{{80, 0}}, {{200, 0}}, {{200, 160}}, {{80, 160}}});
  const auto three = [&](const std::vector<Mask>& masks) {
    const Sheet s = made(maskNode(masks, grey(), world()));
    return std::array<float, 3>{s.at(0, 40, 80), s.at(0, 100, 80), s.at(0, 160, 80)};
  };
  using A = std::array<float, 3>;
  QVERIFY((three({left, right}) == A{1, 1, 1}));
  right.join = MaskJoin::subtract;
  QVERIFY((three({left, right}) == A{1, 0, 0}));
  QVERIFY((three({right}) == A{1, 0, 0}));  // taken from everything
  right.join = MaskJoin::intersect;
  QVERIFY((three({left, right}) == A{0, 1, 0}));
  right.inverted = true;
  QVERIFY((three({left, right}) == A{1, 0, 0}));
  right.on = false;
  QVERIFY((three({left, right}) == A{1, 1, 0}));
  QVERIFY(!maskNode({right}, grey(), world()));
  QVERIFY(!maskNode({}, grey(), world()));
}

void TestMaskShapes::gradientsGoFromEndToEnd() {
  Mask m = outline({{{50, 80}}, {{150, 80}}});
  m.kind = MaskKind::straight;
  const Sheet s = made(maskNode({m}, grey(), world()));
  QVERIFY(s.at(0, 30, 10) == 1 && s.at(0, 170, 150) == 0);
  QVERIFY(std::abs(s.at(0, 100, 33) - 0.5f) < 0.01f);
  m.kind = MaskKind::round;
  m.points = {{{100, 80}}, {{160, 80}}};
  const Sheet r = made(maskNode({m}, grey(), world()));
  QVERIFY(r.at(0, 100, 80) > 0.99f && r.at(0, 162, 80) == 0 && r.at(0, 100, 142) == 0);
  QVERIFY(std::abs(r.at(0, 130, 80) - r.at(0, 100, 110)) < 0.01f);
  m.points.resize(1);
  QVERIFY(!maskNode({m}, grey(), world()));
}

void TestMaskShapes::rangesTakeWhatLiesBetween() {
  Mask m;
  m.kind = MaskKind::brightness, m.from = 0.4, m.to = 0.6, m.soft = 0.1;
  const Sheet s = made(maskNode({m}, grey(), world()));
  for (int x = 0; x < 200; ++x) {
    const double light = x / 200.0,
                 code = light <= 0.0031308 ? light * 12.92 : 1.055 * std::pow(light, 1 / 2.4) - 0.055;
    const float v = s.at(0, x, 5);
    if (code > 0.41 && code < 0.59) QVERIFY(v > 0.95f);
    if (code < 0.29 || code > 0.71) QCOMPARE(v, 0.0f);
  }
  MaskWorld deep = world();
  auto depth = std::make_shared<Picture>(200, 160, std::vector<std::string>{"Z"});
  for (int x = 100; x < 200; ++x)
    for (int y = 0; y < 160; ++y) depth->at(x, y)[0] = float(x) / 50;
  deep.frame.depth = sourceOf(depth, whole, 1);
  m.kind = MaskKind::depth, m.from = 0, m.to = 3, m.soft = 0.1;
  const Sheet d = made(maskNode({m}, grey(), deep));
  QVERIFY(d.at(0, 50, 10) == 0 && d.at(0, 120, 10) == 1 &&
          d.at(0, 180, 10) == 0);  // nothing where nothing is
  QVERIFY(!maskNode({m}, grey(), world()));
}

void TestMaskShapes::whatCannotBeSeenIsNoMask() {
  Mask m = outline({{{0, 1}}, {{1, 1}}, {{0, 2}}});
  m.hold = MaskHold::ground;
  QVERIFY(!maskNode({m}, grey(), world()));  // no camera
  MaskWorld seen = world();
  seen.solved = true;
  seen.camera = {200, 160, 150, 100, 80, 0, 0, {}, {0, 0, 1}};
  seen.camera.axes.x = {1, 0, 0}, seen.camera.axes.y = {0, 0, -1}, seen.camera.axes.z = {0, 1, 0};
  QVERIFY(maskNode({m}, grey(), seen));
  m.points[0].at = {0, -3};  // behind the camera
  QVERIFY(!maskNode({m}, grey(), seen));
  QVERIFY(!maskPointHeld({100, 20}, MaskHold::ground, seen));  // above the horizon
  m.hold = MaskHold::product;
  QVERIFY(!maskNode({m}, grey(), seen));  // nothing is placed
}

void TestMaskShapes::largerPicturesShowTheSame() {
  const Mask m = outline({{{20, 30}, 10}, {{120, 30}, 10}, {{120, 90}, 10}, {{20, 90}, 10}});
  const Sheet small = made(maskNode({m}, grey(), world()));
  MaskWorld twice = world();
  twice.frame = {{0, 0, 400, 320}, 400, 320, 2, nullptr};
  auto p = std::make_shared<Picture>(Picture::rgb(400, 320));
  const Sheet large = made(maskNode({m}, sourceOf(p, twice.frame.whole, 3), twice));
  QVERIFY(std::abs(sumOf(large) / 4 / sumOf(small) - 1) < 0.01);
  for (const auto& [x, y] : {std::pair(22, 60), {60, 33}, {118, 88}})
    QVERIFY(std::abs(large.at(0, 2 * x, 2 * y) - small.at(0, x, y)) < 0.1f);
}

DUSK_TEST(TestMaskShapes, NoApplication);
#include "mask_shapes.moc"
