#include "core/project/blend_edit.h"

#include <QtTest>

#include "core/project/changes.h"
#include "core/project/file.h"
#include "core/project/history.h"
#include "core/project/links.h"
#include "core/project/shots.h"
#include "tests/program.h"

using namespace dusk;

namespace {

Project oneShot(const BlendSettings& blend) {
  Project p;
  p.shots.resize(1);
  p.shots[0].id = "shot-1", p.shots[0].name = "One", p.shots[0].blend = blend;
  return p;
}

}  // namespace

class TestBlendEdit : public QObject {
  Q_OBJECT
 private slots:
  void linesAreTheLightsWay();
  void rowsAreFoundByTheirNames();
  void idleRowsAreDropped();
  void everyCorrectionSurvivesTheFile();
  void valuesBeyondTheirRangeAreRefused();
  void newMasksCanBeSeen();
  void changesNeverTrace();
  void linksOfTheBlendAreKnown();
  void undoCountsItsMemory();
  void anotherShotBringsItsBlend();
};

void TestBlendEdit::linesAreTheLightsWay() {
  BlendSettings b;
  ExtraLayer under, over;
  under.id = "layer-1", under.name = "Haze", under.above = BlendRole::plate;
  over.id = "layer-2", over.name = "Logo";
  b.layers = {over, under};
  const auto lines = stackLines(b, {{"surroundings", "Surroundings"}, {"lamp-1", "Window"}});
  std::vector<std::string> names;
  for (const StackLine& l : lines) names.push_back(l.row);
  const std::vector<std::string> wanted{
      "plate", "layer:layer-1", "contact", "reflections", "light:lamp-1", "light:surroundings", "product",
      "glow",  "front",         "lens",    "grain",       "view",         "layer:layer-2"};
  QCOMPARE(names, wanted);
  for (const StackLine& l : lines) QCOMPARE(l.indent, int(l.row.starts_with("light:")));
  QCOMPARE(lines[1].title, std::string("Haze"));
}

void TestBlendEdit::rowsAreFoundByTheirNames() {
  BlendSettings b;
  ExtraLayer l;
  l.id = "layer-1", l.row.strength = 0.25;
  b.layers = {l};
  QCOMPARE(rowNamed(std::as_const(b), "layer:layer-1").strength, 0.25);
  QCOMPARE(rowNamed(std::as_const(b), "layer:gone").strength, 1.0);
  QVERIFY(!rowNamed(b, "layer:gone") && !layerOf(b, "view") && layerOf(b, "layer:layer-1"));
  rowNamed(b, "layer:layer-1")->on = false;
  QVERIFY(!b.layers[0].row.on);
  rowNamed(b, "light:sun")->strength = 0.5;
  QCOMPARE(b.rows.at("light:sun").strength, 0.5);
  QVERIFY(roleOfRow("light:sun") == BlendRole::product && roleOfRow("layer:x") == BlendRole::front);
  for (const BlendRoleInfo& info : blendRoles()) {
    QVERIFY(roleOfRow(info.name) == info.role);
    QVERIFY(&infoOf(info.role) == &info);
  }
}

void TestBlendEdit::idleRowsAreDropped() {
  BlendSettings b;
  b.rows["view"], b.rows["plate"].on = false, b.rows["product"].corrections.emplace_back();
  dropIdleRows(b);
  QCOMPARE(b.rows.size(), size_t(2));
  QVERIFY(!b.rows.count("view"));
}

void TestBlendEdit::everyCorrectionSurvivesTheFile() {
  BlendSettings b;
  for (const CorrectionKindInfo& info : correctionKinds()) {
    QVERIFY(correctionKindNamed(info.name) == &info);
    QVERIFY(info.rows != 0);
    for (const bool high : {false, true}) {
      Correction c{info.kind};
      for (const CorrectionField& f : info.fields) {
        c.values[f.name] = high ? f.high : f.low;
        QCOMPARE(valueOf(c, f.name), high ? f.high : f.low);
        QCOMPARE(valueOf(Correction{info.kind}, f.name), f.usual);
      }
      b.rows["view"].corrections.push_back(c);
    }
  }
  QVERIFY(!correctionKindNamed("nonsense"));
  const auto back = fromText(toText(oneShot(b)));
  QVERIFY2(back.ok(), back.ok() ? "" : back.error().message.c_str());
  QVERIFY(back->shots[0].blend == b);
}

void TestBlendEdit::valuesBeyondTheirRangeAreRefused() {
  for (const CorrectionKindInfo& info : correctionKinds())
    for (const CorrectionField& f : info.fields) {
      BlendSettings b;
      b.rows["product"].corrections = {{info.kind, true, 1, {{f.name, f.high + 1}}}};
      const auto refused = fromText(toText(oneShot(b)));
      QVERIFY2(!refused.ok(), f.name);
      QVERIFY2(refused.error().message.find(f.name) != std::string::npos, refused.error().message.c_str());
      QVERIFY(refused.error().message.find("One") != std::string::npos);
    }
  BlendSettings many;
  Mask mask;
  mask.points.resize(200'000);
  many.rows["view"].masks = {mask};
  QVERIFY(!fromText(toText(oneShot(many))).ok());
  BlendSettings odd;
  odd.grain.sigma = {{1, 1, 1}}, odd.grain.correlation = {1, 2, 3};
  QVERIFY(!fromText(toText(oneShot(odd))).ok());
}

void TestBlendEdit::newMasksCanBeSeen() {
  for (int k = 0; k <= int(MaskKind::parts); ++k) {
    const Mask m = newMask(MaskKind(k), 1920, 1280);
    QVERIFY(m.kind == MaskKind(k) && m.on);
    for (const MaskPoint& p : m.points) QVERIFY(p.at.x > 0 && p.at.x < 1920 && p.at.y > 0 && p.at.y < 1280);
    QCOMPARE(m.points.empty(), k > int(MaskKind::round));
    QVERIFY(m.to > m.from);
  }
}

void TestBlendEdit::changesNeverTrace() {
  const Project before = oneShot({});
  const std::vector<std::function<void(Shot&)>> edits{
      [](Shot& s) { s.blend.rows["view"].corrections.emplace_back(); },
      [](Shot& s) { s.blend.layers.emplace_back(); },
      [](Shot& s) { s.blend.cutOuts.emplace_back(); },
      [](Shot& s) { s.blend.grain.seed = 5; },
      [](Shot& s) { s.blend.lens.softPx.x = 1; },
      [](Shot& s) { s.blend.veil.y = 0.1; }};
  for (const auto& edit : edits) {
    Project after = before;
    edit(after.shots[0]);
    const Changes c = changes(before, after, 0);
    QVERIFY(c.blend && !c.trace && !c.plate && !c.geometry);
  }
  Project kept = before;
  kept.shots[0].snapshots.emplace_back();
  const Changes c = changes(before, kept, 0);
  QVERIFY(!c.blend && !c.trace);  // a state that was put aside changes nothing that is seen
}

void TestBlendEdit::linksOfTheBlendAreKnown() {
  BlendSettings b;
  b.rows["view"].corrections = {{CorrectionKind::table, true, 1, {}, {}, {"look.cube", "1"}}};
  ExtraLayer l;
  l.file = {"logo.svg", "2"},
  l.row.corrections = {{CorrectionKind::table, true, 1, {}, {}, {"warm.cube", "3"}}};
  b.layers = {l};
  b.reference.file = {"layout.png", "4"};
  Project p = oneShot(b);
  p.shots[0].snapshots = {{"state-1", "before", b}};
  std::map<std::string, int> seen;
  eachLink(p, [&](AssetRef& ref, LinkKind kind) {
    ++seen[ref.path];
    QVERIFY((kind == LinkKind::table) == (ref.path.find(".cube") != std::string::npos));
  });
  QCOMPARE(seen.size(), size_t(4));
  for (const auto& [path, count] : seen) QCOMPARE(count, 2);
}

void TestBlendEdit::undoCountsItsMemory() {
  BlendSettings large;
  Mask m;
  m.points.resize(5000);
  large.rows["view"].masks = {m, m};
  large.cutOuts.resize(1);
  large.cutOuts[0].loop.resize(4000);
  History small(oneShot({})), big(oneShot(large));
  for (int i = 0; i < 20; ++i) {
    Project a = small.now(), b = big.now();
    a.shots[0].blend.exposureEv = b.shots[0].blend.exposureEv = i * 0.1;
    small.push(a, "step"), big.push(b, "step");
  }
  QVERIFY(big.bytes() > small.bytes() + 20 * 5000 * sizeof(MaskPoint));
}

void TestBlendEdit::anotherShotBringsItsBlend() {
  BlendSettings b;
  b.rows["product"].strength = 0.5, b.grain.sigma = {{1, 1, 1}, {2, 2, 2}};
  Project p = oneShot(b);
  addShot(p, 0, true);
  QCOMPARE(p.shots.size(), size_t(2));
  QVERIFY(p.shots[1].blend == b);
  const auto text = toText(p);
  QCOMPARE(fromText(text)->shots[1].blend, b);
}

DUSK_TEST(TestBlendEdit, NoApplication);
#include "blend_edit.moc"
