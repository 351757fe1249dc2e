#include <QtTest>
#include <random>

#include "core/base/json_text.h"
#include "core/light/backdrop.h"
#include "core/motion/easing.h"
#include "core/motion/edit.h"
#include "core/motion/track.h"
#include "core/project/file.h"
#include "core/project/json.h"
#include "core/project/links.h"
#include "core/project/shots.h"
#include "core/project/sound.h"
#include "core/variant/edit.h"
#include "tests/program.h"

using namespace dusk;
using nlohmann::json;

/// What moves, as a function of the document and a moment: laws of easing, keys, loops, and of edits made at
/// a moment.
class TestMotion : public QObject {
  Q_OBJECT
  Project quay_ = *loadProject(DUSK_SOURCE "/demo/brackwater/brackwater.dusk");

  static MotionTrack track(const std::string& at, std::initializer_list<std::pair<double, const char*>> keys,
                           Easing easing = Easing::even, MotionLoop loop = MotionLoop::once) {
    MotionTrack t{"track-1", at, loop, {}};
    for (const auto& [seconds, to] : keys) t.keys.push_back({seconds, to, easing});
    return t;
  }
  std::string placed() const {
    return "/shots/" + quay_.shots[0].id + "/placements/" + quay_.shots[0].placements[0].id;
  }
  /// The product slides a metre along +X in two seconds, and its panorama brightens.
  Project moving() const {
    Project p = quay_;
    p.shots[0].motion.tracks = {
        track(placed(), {{0, R"({"xM":0.0,"yM":0.5})"}, {2, R"({"xM":1.0,"yM":0.5})"}}),
        track("/shots/" + p.shots[0].id + "/surroundings/gainEv", {{0, "0.0"}, {3, "3.0"}})};
    p.shots[0].motion.tracks[1].id = "track-2";
    return p;
  }
  static const Placement& product(const Project& p) { return p.shots[0].placements[0]; }

 private slots:
  void everyEasingGoesFromOneKeyToTheNext();
  void easingsDoWhatTheirWordsSay();
  void handlesDrawACurve();
  void valuesPassThroughAllBetween_data();
  void valuesPassThroughAllBetween();
  void loopsGoOn();
  void aMomentIsAFunctionOfTheDocument();
  void whatGoesTooFarStopsAtItsRange();
  void whatIsGoneIsSaid_data();
  void whatIsGoneIsSaid();
  void aCameraByHandMoves();
  void optionsCutAndMix();
  void anyEditIsSeenAsItWasMade();
  void editsBecomeKeysOfWhatMoves();
  void editsBeginToMove();
  void partsBeginToMove();
  void whatIsNewLiesWhereItWasPut();
  void whatIsTakenAwayMovesNoMore();
  void keysAreMoved();
  void filesKeepIt();
  void aThousandThingsMove();
  void keysThatCannotBe_data();
  void keysThatCannotBe();
};

void TestMotion::everyEasingGoesFromOneKeyToTheNext() {
  for (const EasingWord& word : easingWords()) {
    MotionKey key{0, "0", word.easing};
    QCOMPARE(eased(key, 0), 0.0);
    QCOMPARE(eased(key, 1), 1.0);
    double before = 0;
    for (int i = 0; i <= 1000; ++i) {
      const double now = eased(key, i / 1000.0);
      // Nothing jumps but what is told to.
      if (word.easing != Easing::hold) QVERIFY2(std::abs(now - before) < 0.012, word.word);
      const bool monotone = word.easing != Easing::overshoot && word.easing != Easing::bounce;
      if (monotone) QVERIFY2(now >= before - 1e-12, word.word);
      before = now;
    }
  }
}

void TestMotion::easingsDoWhatTheirWordsSay() {
  const auto speed = [](Easing e, double at) {
    const MotionKey key{0, "0", e};
    return (eased(key, at + 1e-6) - eased(key, at - 1e-6)) / 2e-6;
  };
  for (const double at : {0.1, 0.5, 0.9}) QVERIFY(std::abs(speed(Easing::even, at) - 1) < 1e-6);
  QVERIFY(speed(Easing::gentle, 1e-5) < 0.001 && speed(Easing::gentle, 1 - 1e-5) < 0.001);
  QVERIFY(speed(Easing::firm, 1e-5) > 2.9 && speed(Easing::firm, 1 - 1e-5) < 0.001);
  const MotionKey over{0, "0", Easing::overshoot}, bounce{0, "0", Easing::bounce};
  double most = 0;
  int touches = 0;
  for (int i = 1; i < 10000; ++i) {
    most = std::max(most, eased(over, i / 1e4));
    const double a = eased(bounce, (i - 1) / 1e4), b = eased(bounce, i / 1e4),
                 c = eased(bounce, (i + 1) / 1e4);
    QVERIFY(b <= 1);
    touches += b > a && b >= c && b > 0.999;
  }
  QVERIFY2(std::abs(most - 1.1) < 1e-4, qPrintable(QString::number(most)));
  QCOMPARE(touches, 3);
  // The first fall is free: as far as the time squared. Its first flight rises a quarter as high.
  QVERIFY(std::abs(eased(bounce, 0.2) / eased(bounce, 0.1) - 4) < 1e-9);
  double least = 1;
  for (int i = 0; i < 1000; ++i) least = std::min(least, eased(bounce, (1 + i / 1000.0) / 2.75));
  QVERIFY2(std::abs(least - 0.75) < 1e-4, qPrintable(QString::number(least)));
}

void TestMotion::handlesDrawACurve() {
  MotionKey key{0, "0", Easing::own, {1.0 / 3, 1.0 / 3, 2.0 / 3, 2.0 / 3}};
  for (const double t : {0.1, 0.37, 0.8}) QVERIFY(std::abs(eased(key, t) - t) < 1e-9);
  // Handles that lie level are those of "gentle".
  key.handles = {1.0 / 3, 0, 2.0 / 3, 1};
  for (const double t : {0.1, 0.37, 0.8})
    QVERIFY(std::abs(eased(key, t) - eased({0, "0", Easing::gentle}, t)) < 1e-9);
}

void TestMotion::valuesPassThroughAllBetween_data() {
  QTest::addColumn<QString>("from");
  QTest::addColumn<QString>("to");
  QTest::addColumn<QString>("quarter");
  QTest::newRow("a number") << "1.0"
                            << "3.0"
                            << "1.5";
  QTest::newRow("whole numbers") << "0"
                                 << "8"
                                 << "2";
  QTest::newRow("a list") << "[0.0,1.0,2.0]"
                          << "[4.0,1.0,0.0]"
                          << "[1.0,1.0,1.5]";
  QTest::newRow("a group") << R"({"a":0.0,"b":[1.0],"c":"x"})"
                           << R"({"a":1.0,"b":[2.0],"c":"y"})"
                           << R"({"a":0.25,"b":[1.25],"c":"x"})";
  QTest::newRow("a colour") << "\"#0000ff\""
                            << "\"#800000\""
                            << "\"#2000bf\"";
  QTest::newRow("a word") << "\"plain\""
                          << "\"gradient\""
                          << "\"plain\"";
  QTest::newRow("yes and no") << "true"
                              << "false"
                              << "true";
  QTest::newRow("lists of two lengths") << "[1.0]"
                                        << "[1.0,2.0]"
                                        << "[1.0]";
  QTest::newRow("two kinds") << "1.0"
                             << "\"no\""
                             << "1.0";
}
void TestMotion::valuesPassThroughAllBetween() {
  QFETCH(QString, from);
  QFETCH(QString, to);
  QFETCH(QString, quarter);
  MotionTrack t{"t", "/x", MotionLoop::once, {{1, from.toStdString(), Easing::even}, {3, to.toStdString()}}};
  QCOMPARE(*valueAt(t, 1.5), jsonFrom(quarter.toStdString()));
  for (const double before : {-1.0, 1.0}) QCOMPARE(*valueAt(t, before), jsonFrom(from.toStdString()));
  for (const double after : {3.0, 9.0}) QCOMPARE(*valueAt(t, after), jsonFrom(to.toStdString()));
}

void TestMotion::loopsGoOn() {
  MotionTrack t = track("/x", {{1, "0.0"}, {3, "2.0"}});
  const auto is = [&](double seconds, double value) {
    const double now = valueAt(t, seconds)->get<double>();
    if (std::abs(now - value) > 1e-12) qInfo() << seconds << now << value;
    return std::abs(now - value) <= 1e-12;
  };
  QVERIFY(is(0, 0) && is(2, 1) && is(4, 2));
  t.loop = MotionLoop::again;
  QVERIFY(is(2, 1) && is(3, 2) && is(4, 1) && is(6.5, 1.5) && is(0, 1) && is(-0.5, 0.5));
  t.loop = MotionLoop::backAndForth;
  QVERIFY(is(2, 1) && is(3, 2) && is(4, 1) && is(5, 0) && is(6, 1) && is(0, 1));
}

void TestMotion::aMomentIsAFunctionOfTheDocument() {
  const Project p = moving();
  QCOMPARE(product(at(p, 0, 0).project).xM, 0.0);
  QCOMPARE(product(at(p, 0, 0.5).project).xM, 0.25);
  QCOMPARE(product(at(p, 0, 5).project).xM, 1.0);
  QCOMPARE(at(p, 0, 1.5).project.shots[0].surroundings.gainEv, 1.5);
  // What keys do not tell stays the document's own.
  QCOMPARE(product(at(p, 0, 1).project).turnDegrees, product(p).turnDegrees);
  std::mt19937 random(5);
  std::uniform_real_distribution<double> seconds(-1, 4);
  for (int i = 0; i < 50; ++i) {
    const double one = seconds(random), other = seconds(random);
    const Applied moved = at(p, 0, one);
    QVERIFY(moved.lost.empty());
    QVERIFY(at(p, 0, one).project == moved.project);
    QVERIFY(at(moved.project, 0, other).project == at(p, 0, other).project);
    QCOMPARE(unsound(moved.project), "");
  }
  QVERIFY(at(quay_, 0, 1).project == quay_);
  QVERIFY(at(p, 99, 1).project == p);
}

void TestMotion::whatGoesTooFarStopsAtItsRange() {
  Project p = quay_;
  const Surface& s = p.surfaces[0];
  p.shots[0].motion.tracks = {
      track("/surfaces/" + s.id + "/roughness", {{0, "0.1"}, {1, "1.0"}}, Easing::overshoot)};
  double highest = 0;
  for (int i = 0; i <= 50; ++i) {
    const Applied now = at(p, 0, i / 50.0);
    QVERIFY(now.lost.empty());
    highest = std::max(highest, byId(now.project.surfaces, s.id)->roughness);
  }
  QCOMPARE(highest, 1.0);
}

void TestMotion::whatIsGoneIsSaid_data() {
  QTest::addColumn<QString>("place");
  QTest::addColumn<QString>("value");
  QTest::newRow("a surface that is not there") << "/surfaces/no-such/roughness"
                                               << "0.5";
  QTest::newRow("a value that is not there") << "/surfaces/S/polish"
                                             << "0.5";
  QTest::newRow("a value of another kind") << "/surfaces/S/roughness"
                                           << "\"rough\"";
  QTest::newRow("a value out of its range") << "/surfaces/S/roughness"
                                            << "7";
  QTest::newRow("no JSON") << "/surfaces/S/roughness"
                           << "null";
  QTest::newRow("another project's shot") << "/shots/none/focus/fNumber"
                                          << "8";
}
void TestMotion::whatIsGoneIsSaid() {
  QFETCH(QString, place);
  QFETCH(QString, value);
  Project p = moving();
  const std::string where = place.replace("S", QString::fromStdString(p.surfaces[0].id)).toStdString();
  p.shots[0].motion.tracks.push_back({"track-3", where, MotionLoop::once, {{0, value.toStdString()}}});
  const Applied now = at(p, 0, 1);
  QCOMPARE(now.lost.size(), size_t(1));
  QVERIFY(QString::fromStdString(now.lost[0]).contains("not there any more"));
  Project without = p;
  without.shots[0].motion.tracks.pop_back();
  Project expected = at(without, 0, 1).project;
  expected.shots[0].motion = p.shots[0].motion;
  QVERIFY(now.project == expected);  // and all else moves
}

void TestMotion::aCameraByHandMoves() {
  Project p = quay_;
  Shot& shot = p.shots[0];
  shot.backdrop.kind = BackdropKind::plain;
  shot.vantage = {};
  shot.vantage.solved = shot.vantage.locked = true;
  shot.vantage.camera = handCamera(shot.backdrop, 600, 400);
  shot.motion.tracks = {track("/shots/" + shot.id + "/backdrop/azimuthDegrees", {{0, "0.0"}, {4, "360.0"}})};
  const Shot quarter = at(p, 0, 1).project.shots[0];
  QCOMPARE(quarter.backdrop.azimuthDegrees, 90.0);
  QVERIFY(quarter.vantage.camera == handCamera(quarter.backdrop, 600, 400));
  QVERIFY((quarter.vantage.camera.position - Vec3d(-shot.backdrop.distanceM, 0, shot.backdrop.cameraHeightM))
              .length() < 1e-9);
  // An edit of it at a moment goes into its key, and the document's own camera stays.
  Project wanted = at(p, 0, 1).project;
  wanted.shots[0].backdrop.azimuthDegrees = 120;
  wanted.shots[0].vantage.camera = handCamera(wanted.shots[0].backdrop, 600, 400);
  const Project next = routedAt(p, 0, 1, at(p, 0, 1).project, wanted);
  QVERIFY(next.shots[0].vantage == shot.vantage && next.shots[0].backdrop == shot.backdrop);
  QCOMPARE(next.shots[0].motion.tracks[0].keys.size(), size_t(3));
  QVERIFY(at(next, 0, 1).project.shots[0].vantage == wanted.shots[0].vantage);
}

void TestMotion::optionsCutAndMix() {
  Project p = quay_;
  const std::string axis = addAxis(p, "Colour");
  const std::string first = p.axes[0].options[0].id, green = addOption(p, axis);
  const std::string place = "/surfaces/" + p.surfaces[0].id + "/roughness";
  p.surfaces[0].roughness = 0.2;
  optionIn(p, green).second->changes = {{place, "0.6"}};
  const std::string keys = "/shots/" + p.shots[0].id + "/choice/" + axis;
  const std::string one = jsonText(json(first)), other = jsonText(json(green));
  p.shots[0].motion.tracks = {track(keys, {{0, one.c_str()}, {2, other.c_str()}})};
  const auto roughness = [&](double seconds) { return at(p, 0, seconds).project.surfaces[0].roughness; };
  QCOMPARE(roughness(0), 0.2);
  QVERIFY(std::abs(roughness(0.5) - 0.3) < 1e-12);
  QCOMPARE(roughness(2), 0.6);
  QCOMPARE(at(p, 0, 2).project.shots[0].choice.at(axis), green);
  p.shots[0].motion.tracks[0].keys[0].easing = Easing::hold;
  QCOMPARE(roughness(1.999), 0.2);
  QCOMPARE(roughness(2), 0.6);
  // To choose another while it moves is a key, and leaves the document's own choice.
  const Project shown = at(p, 0, 1).project;
  Project wanted = shown;
  wanted.shots[0].choice[axis] = green;
  const Project next = routedAt(p, 0, 1, shown, wanted);
  QVERIFY(next.shots[0].choice == p.shots[0].choice);
  QCOMPARE(next.shots[0].motion.tracks[0].keys.size(), size_t(3));
  QCOMPARE(at(next, 0, 1).project.surfaces[0].roughness, 0.6);
}

void TestMotion::anyEditIsSeenAsItWasMade() {
  std::mt19937 random(11);
  const auto dice = [&](int n) { return int(random() % unsigned(n)); };
  Project p = moving();
  const std::string axis = addAxis(p, "Colour");
  const std::string green = addOption(p, axis);
  optionIn(p, green).second->changes = {{"/surfaces/" + p.surfaces[0].id + "/roughness", "0.6"}};
  p.shots[0].choice[axis] = green;
  for (int i = 0; i < 120; ++i) {
    const double seconds = dice(73) / 24.0;
    const Project shown = at(p, 0, seconds).project;
    Project wanted = shown;
    Shot& shot = wanted.shots[0];
    Surface& surface = wanted.surfaces[size_t(dice(int(wanted.surfaces.size())))];
    switch (dice(8)) {
      case 0:
        shot.placements[0].xM += 0.1 * dice(9);
        break;
      case 1:
        shot.placements[0].turnDegrees = dice(180);
        break;
      case 2:
        surface.roughness = 0.01 * dice(100);
        break;
      case 3:
        surface.baseColour.y = 0.01 * dice(100);
        break;
      case 4:
        shot.surroundings.gainEv = 0.1 * dice(20);
        break;
      case 5:
        shot.focus.fNumber = 1 + dice(20);
        break;
      case 6:
        shot.render.samples = 1 + dice(90);
        break;
      case 7:
        wanted.products[0].moves[i % 2 ? "lid" : "body"] = {
            {1, 2, 3}, {0, 0, 1}, {0, 0, 0}, double(dice(90))};
        break;
    }
    const bool record = dice(3) == 0;
    p = routedAt(p, 0, seconds, shown, wanted, {{}, record});
    QCOMPARE(unsound(p), "");
    Project seen = at(p, 0, seconds).project;
    // Whose they are differs; what is seen does not.
    seen.shots[0].motion = wanted.shots[0].motion, seen.axes = wanted.axes;
    for (const VariantChange& c : differences(seen, wanted)) qInfo() << i << c.at.c_str() << c.to.c_str();
    QVERIFY2(differences(seen, wanted).empty(), qPrintable(QString("edit %1").arg(i)));
  }
  QVERIFY(p.shots[0].motion.tracks.size() > 4);
}

void TestMotion::editsBecomeKeysOfWhatMoves() {
  const Project p = moving(), shown = at(p, 0, 1).project;
  Project wanted = shown;
  wanted.shots[0].placements[0].yM = 0.9;
  wanted.shots[0].focus.fNumber = 4;
  const Project next = routedAt(p, 0, 1, shown, wanted);
  QCOMPARE(next.shots[0].motion.tracks[0].keys.size(), size_t(3));
  QCOMPARE(next.shots[0].motion.tracks[1].keys.size(), size_t(2));
  QVERIFY(next.shots[0].placements == p.shots[0].placements);  // where it lies without moving
  QCOMPARE(next.shots[0].focus.fNumber, 4.0);                  // does not move: for all moments
  QCOMPARE(product(at(next, 0, 2).project).yM, 0.5);
  // Again at the same moment: the same key.
  wanted = at(next, 0, 1).project;
  wanted.shots[0].placements[0].yM = 0.7;
  const Project again = routedAt(next, 0, 1, at(next, 0, 1).project, wanted);
  QCOMPARE(again.shots[0].motion.tracks[0].keys.size(), size_t(3));
  QCOMPARE(product(at(again, 0, 1).project).yM, 0.7);
}

void TestMotion::editsBeginToMove() {
  Project wanted = quay_;
  wanted.shots[0].placements[0].turnDegrees += 90;
  wanted.shots[0].render.samples = 7;
  const Project next = routedAt(quay_, 0, 2, quay_, wanted, {{}, true});
  const auto& tracks = next.shots[0].motion.tracks;
  QCOMPARE(tracks.size(), size_t(1));
  QCOMPARE(tracks[0].at, placed());
  QCOMPARE(tracks[0].keys.size(), size_t(2));
  QVERIFY(next.shots[0].placements == quay_.shots[0].placements);
  QCOMPARE(next.shots[0].render.samples, 7);  // no part of what is seen
  QVERIFY(std::abs(product(at(next, 0, 1).project).turnDegrees - product(quay_).turnDegrees - 45) < 1e-9);
}

void TestMotion::partsBeginToMove() {
  const std::string part = "lid";
  Project wanted = quay_;
  wanted.products[0].moves[part] = {{5, 0, 0}, {1, 0, 0}, {0, 0, 0}, 80};
  const Project next = routedAt(quay_, 0, 1, quay_, wanted, {{}, true});
  QCOMPARE(next.products[0].moves.at(part).turnDegrees, 0.0);
  QCOMPARE(next.products[0].moves.at(part).pivot, Vec3d(5, 0, 0));
  QCOMPARE(at(next, 0, 0).project.products[0].moves.at(part).turnDegrees, 0.0);
  QCOMPARE(at(next, 0, 0.5).project.products[0].moves.at(part).turnDegrees, 40.0);
  QVERIFY(at(next, 0, 1).project.products == wanted.products);
}

void TestMotion::whatIsNewLiesWhereItWasPut() {
  Project wanted = quay_;
  Lamp lamp;
  lamp.id = "new-lamp", lamp.positionM = {1, 2, 3};
  wanted.shots[0].lamps.push_back(lamp);
  Placement other = wanted.shots[0].placements[0];
  other.id = "new-place", other.xM += 1;
  wanted.shots[0].placements.push_back(other);
  // A set is furnished in the middle of a film that is being recorded.
  const Project next = routedAt(quay_, 0, 2, quay_, wanted, {{}, true});
  QVERIFY(next.shots[0].lamps == wanted.shots[0].lamps);
  QVERIFY(next.shots[0].placements == wanted.shots[0].placements);
  QVERIFY(next.shots[0].motion.tracks.empty());
}

void TestMotion::whatIsTakenAwayMovesNoMore() {
  const Project p = moving(), shown = at(p, 0, 1).project;
  Project wanted = shown;
  wanted.shots[0].placements.clear();
  const Project next = routedAt(p, 0, 1, shown, wanted);
  QCOMPARE(next.shots[0].motion.tracks.size(), size_t(1));
  QVERIFY(next.shots[0].placements.empty());
}

void TestMotion::keysAreMoved() {
  Motion m;
  MotionTrack& t = addTrack(m, "/x");
  QVERIFY(&addTrack(m, "/x") == &t);
  QCOMPARE(putKey(t, {1, "1"}, 24), size_t(0));
  QCOMPARE(putKey(t, {2, "2"}, 24), size_t(1));
  QCOMPARE(putKey(t, {0, "0"}, 24), size_t(0));
  QCOMPARE(putKey(t, {1.01, "11"}, 24), size_t(1));  // nearer than half a picture: in its place
  QCOMPARE(t.keys.size(), size_t(3));
  QCOMPARE(keyNear(t, 1.5, 24), -1);
  QCOMPARE(moveKeys(t, {0, 1}, 0.5, 24), (std::vector<size_t>{0, 1}));
  QCOMPARE(moveKeys(t, {0}, 3, 24), (std::vector<size_t>{2}));
  QCOMPARE(t.keys.back().to, "0");
  m.seconds = 4, stretch(m, 0.5);
  QCOMPARE(m.seconds, 2.0);
  QCOMPARE(t.keys.back().seconds, 1.75);
  QCOMPARE(moveKeys(t, {0}, t.keys[2].seconds - t.keys[0].seconds, 24).size(), size_t(1));
  QCOMPARE(t.keys.size(), size_t(2));  // what it met made way
  removeKeys(m, t.id, {0, 1, 7});
  QVERIFY(m.tracks.empty());
  m.seconds = 2.99, m.picturesPerSecond = 25;
  QCOMPARE(picturesOf(m), 75);
  QCOMPARE(onPicture(m, 1.013), 1.0);
}

void TestMotion::filesKeepIt() {
  Project p = moving();
  p.shots[0].motion.tracks[1].keys[0].easing = Easing::own;
  p.shots[0].motion.tracks[1].keys[0].handles = {0.1, 0.2, 0.3, 0.4};
  p.shots[0].motion.tracks[1].loop = MotionLoop::backAndForth;
  p.shots[0].motion.loops = true, p.shots[0].motion.shutterDegrees = 90;
  const auto back = fromText(toText(p));
  QVERIFY(back);
  QVERIFY(*back == p);
  // Keys out of order are put in order.
  Project mixed = p;
  std::reverse(mixed.shots[0].motion.tracks[1].keys.begin(), mixed.shots[0].motion.tracks[1].keys.end());
  QVERIFY(*fromText(toText(mixed)) == p);
  // A copied shot moves by itself.
  const std::string copy = addShot(p, 0, true);
  const Shot& shot = *byId(p.shots, copy);
  QCOMPARE(shot.motion.tracks.size(), size_t(2));
  for (const MotionTrack& t : shot.motion.tracks) QVERIFY(t.at.starts_with("/shots/" + copy + "/"));
  Project alone;
  alone.shots = {at(p, 1, 2).project.shots[1]};
  QCOMPARE(product(alone).xM, 1.0);
  // What keys link to goes along with the project.
  p.shots[0].motion.tracks = {
      track("/shots/" + p.shots[0].id + "/surroundings/panorama", {{0, R"({"path":"sky.exr","hash":"h"})"}})};
  bool found = false;
  eachLink(p, [&](AssetRef& ref, LinkKind kind) {
    if (ref.path == "sky.exr") found = kind == LinkKind::panorama, ref.path = "far/sky.exr";
  });
  QVERIFY(found);
  QVERIFY(p.shots[0].motion.tracks[0].keys[0].to.find("far/sky.exr") != std::string::npos);
}

void TestMotion::aThousandThingsMove() {
  Project p = quay_;
  Shot& shot = p.shots[0];
  for (int i = 0; i < 1000; ++i) {
    // Every other one moves something that is not there.
    MotionTrack t = track(i % 2 ? "/surfaces/gone-" + std::to_string(i) + "/roughness"
                                : "/shots/" + shot.id + "/blend/exposureEv",
                          {{0, "0.0"}, {1, "0.5"}});
    t.id = "track-" + std::to_string(i);
    for (int k = 0; k < 50; ++k) t.keys.push_back({1.0 + k / 24.0, "0.5"});
    shot.motion.tracks.push_back(std::move(t));
  }
  const Applied now = at(p, 0, 0.5);
  QCOMPARE(now.lost.size(), size_t(500));
  QCOMPARE(now.project.shots[0].blend.exposureEv, 0.25);
}

void TestMotion::keysThatCannotBe_data() {
  QTest::addColumn<QString>("from");
  QTest::addColumn<QString>("to");
  QTest::newRow("a day and more") << R"("seconds": 2.0)"
                                  << R"("seconds": 1e9)";
  QTest::newRow("no place") << R"("at": "/shots)"
                            << R"("at": "shots)";
  QTest::newRow("no such easing") << R"("easing": "even")"
                                  << R"("easing": "evenly")";
  QTest::newRow("no pictures a second") << R"("picturesPerSecond": 24)"
                                        << R"("picturesPerSecond": 0)";
  QTest::newRow("open longer than a picture") << R"("shutterDegrees": 180.0)"
                                              << R"("shutterDegrees": 720)";
  QTest::newRow("one id twice") << R"("id": "track-2")"
                                << R"("id": "track-1")";
}
void TestMotion::keysThatCannotBe() {
  QFETCH(QString, from);
  QFETCH(QString, to);
  QString text = QString::fromStdString(toText(moving()));
  QVERIFY2(text.contains(from), qPrintable(text.mid(text.indexOf("\"motion\""), 900)));
  const auto read = fromText(text.replace(text.indexOf(from), from.size(), to).toStdString());
  QVERIFY(!read);
  QVERIFY(!read.error().message.empty());
}

DUSK_TEST(TestMotion, QCoreApplication);
#include "motion.moc"
