#include <QtTest>
#include <nlohmann/json.hpp>
#include <set>

#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/project/changes.h"
#include "core/project/file.h"
#include "core/project/history.h"
#include "core/project/sound.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

namespace {

/// A project with something in every field that a file can hold.
Project fullProject() {
  Project p;
  p.name = "Größe \"quoted\" \\ 潮";
  Surface& enamel = p.surfaces.emplace_back();
  enamel.id = "s-1", enamel.name = "Enamel", enamel.baseColour = {0.1, 1.0 / 3, 0.7}, enamel.metalness = 0.25;
  enamel.roughness = 0.5, enamel.ior = 1.4, enamel.transmission = 0.1, enamel.clearcoat = 0.2;
  enamel.clearcoatRoughness = 0.3, enamel.emission = {1, 2, 3};
  Product& product = p.products.emplace_back("p-1", "Gauge", AssetRef{"a/b.step", "00ff"});
  product.metresPerUnit = 0.0254, product.up = UpAxis::y;
  product.surfaceOfPart = {{"A/B", "s-1"}}, product.hiddenParts = {"A/C"};
  product.moves["A/B"] = {{1, 2, 3}, {0, 1, 0}, {4, 5, 6}, 33};
  product.names["A/B"] = "lid", product.groupOfPart["A/C"] = "Group 1";
  product.grouping = Grouping::material, product.chordMm = 0.05, product.creaseDegrees = 40;
  product.roles["A/C"].catcher = true;
  Shot s;
  s.id = "shot", s.name = "Quay", s.plate = {"plate.jpg", "12"};
  s.evidence.strokes = {{"k-1", Run::up, {{1.5, 2.25}, {3, 1e-9}}}, {"k-2", Run::b, {}}};
  s.evidence.footprint = Footprint{{Vec2d(0, 0), Vec2d(1, 0), Vec2d(1, 1), Vec2d(0, 1)}, Vec2d(0.42, 0.297)};
  s.evidence.pins = {{{10, 20}, {0.1, 0.2, 0.3}}};
  s.evidence.lengths = {{{0, 1}, {2, 3}, 1.2}};
  s.evidence.focalMm35 = 27, s.evidence.heightM = 1.5, s.evidence.solveK1 = true;
  s.vantage.solved = true,
  s.vantage.camera = {1600, 1067, 1234.5678901234567, 800, 533, -0.05, 0.01, {}, {0.1, 0.2, 1.5}};
  s.vantage.sigma = {1, 2, 3, 4}, s.vantage.rmsPx = 0.7, s.vantage.locked = true;
  s.placements = {{"pl-1", "p-1", 0.1, -0.2, 0.003, 33.3}};
  s.placements[0].levelId = "level-1", s.placements[0].cutAtGround = true;
  s.cameras = {{"camera-1", "From the left", 50, 1, 2, 0.5, 30, 0.1, 0.2, true}}, s.backdrop.locked = true;
  s.backdrop.floorRadiusM = 0.7, s.backdrop.floorSoftness = 0.4, s.backdrop.floorXM = 0.1;
  s.backdrop.floorYM = -0.2, s.backdrop.floorColour = "#112233";
  s.heightReferences = {{"height-1", "door", {1, 2}, {3, 4}, 2.01}};
  s.surroundings = {{"pano.exr", "34"}, 12.5, -1.5, true, 2, 3,
                    {1, 0.9, 1.1},      1.2,  0.8,  true, 1, Vec2d(30, 20),
                    Vec3d(0, 1, 1.6)};
  Lamp lamp;
  lamp.id = "l-1", lamp.name = "Window", lamp.kind = LampKind::area, lamp.on = false;
  s.lamps = {lamp};
  s.gnomon = Gnomon{{1, 2}, {3, 4}}, s.otherGnomon = Gnomon{{5, 6}, {7, 8}, Vec2d(9, 10)};
  Rig& rig = p.rigs.emplace_back();
  rig.id = "rig-1", rig.name = "evening", rig.surroundings = s.surroundings, rig.lamps = s.lamps;
  s.contact = {false, 0.5, 0.25, 1.4};
  s.focus = {true, 2.8, 1.25, 23.5, 7, 12};
  s.render = {17, 3, 4, 2, 5, 9, 0.02, 10, false, 0.5, 0.2, {"clay", "occlusion"}, true};
  s.blend.exposureEv = 0.5, s.blend.warmth = -0.25, s.blend.shadowStrength = 0.75;
  s.blend.shadowTint = {0.1, 0.2, 0.3}, s.blend.reflectionStrength = 0.5;
  s.blend.mix = {{"l-1", {1, -20}}}, s.blend.view = "ACES";
  s.blend.config = {{"studio.ocio", "2f"}, "Screen", "warmer", "lin"};
  Mask mask;
  mask.kind = MaskKind::brush, mask.hold = MaskHold::ground, mask.points = {{{0.5, 1}, 3}},
  mask.parts = {"a/b"}, mask.layer = "layer-1";
  const Correction curve{CorrectionKind::curve, false, 0.5, {}, {{0, 0.1}, {1, 0.9}},
                         {"look.cube", "56"},   {mask}};
  s.blend.rows["view"] = {
      false, 0.25, {curve, {CorrectionKind::contrast, true, 1, {{"amount", 1.25}}}}, {mask}};
  s.blend.veil = {0.01, 0.02, 0.03}, s.blend.lens = {{1, 2, 3}, 0.5, 2, {0.1, 0.2}, {-0.1, 0, 0}};
  s.blend.grain.sigma = {{1, 2, 3}, {2, 2, 2}}, s.blend.grain.channels = {0.5, 0.25, 0.5},
  s.blend.grain.seed = 9;
  s.blend.grain.correlation.assign(size_t(GrainLook::lags), 0.125);
  ExtraLayer layer;
  layer.id = "layer-1", layer.name = "Logo", layer.mode = LayerMode::colourDodge,
  layer.above = BlendRole::lens;
  layer.anchor = LayerAnchor::bottomRight, layer.file = {"logo.svg", "78"}, layer.row = s.blend.rows["view"];
  s.blend.layers = {layer};
  s.cleanUps = {{"clean-up-1", "Rope", false, {{1, 2}, {3, 4}, {5, 6}}, 6, Vec2d(40, -8), 3, {0.1, 1, -300}}};
  s.blend.cutOuts = {
      {"cut-out-1", "Rope", false, {{1, 2}, {3, 4}, {5, 6}}, {{{7, 8}}}, {{{9, 10}}}, 6, 1.5, "stand-in-1"}};
  s.blend.blocks.brightness.assign(64, 12), s.blend.blocks.colour.assign(64, 20),
      s.blend.blocks.colourStep = {2, 1};
  s.blend.reference = {{"layout.png", "9a"}, 0.25, true, {0.1, 0.2}, 1.5};
  s.snapshots = {{"state-1", "before", s.blend}};
  s.deliverables = {{DeliverableKind::exr, "x.exr"}};
  s.motion = {4, 25, 90, 1.5, true, {{"track-1", "/shots/shot-1/focus", MotionLoop::backAndForth}}};
  s.motion.tracks[0].keys = {{0.5, R"({"fNumber":4.0})", Easing::own, {0.1, 0.2, 0.3, 0.4}},
                             {2, R"({"fNumber":8.0})", Easing::bounce}};
  p.shots = {s};
  return p;
}

}  // namespace

class TestProject : public QObject {
  Q_OBJECT
 private slots:
  void textKeepsEverything();
  void formatDocumentNamesEveryKey();
  void schemaHoldsForWhatWeWrite();
  void everyOlderProjectOpens_data();
  void everyOlderProjectOpens();
  void badTextIsRefused_data();
  void badTextIsRefused();
  void bracketsInWordsAreNoNesting();
  void unknownWordsAreRefusedWithThoseThereAre();
  void whatIsOffIsSaidWithItsOwnerAndRange();
  void changesImplyOnlyTheirOwnWork();
  void historyJoinsGesturesOnly();
  void dragThatReturnsIsNoStep();
};

void TestProject::textKeepsEverything() {
  const Project p = fullProject();
  const auto back = fromText(toText(p));
  QVERIFY2(back.ok(), back.ok() ? "" : back.error().message.c_str());
  QVERIFY(*back == p);
  QCOMPARE(toText(*back), toText(p));
  QTemporaryDir folder;
  const fs::path file = fs::path(folder.path().toStdString()) / "a.dusk";
  QVERIFY(saveProject(p, file).ok());
  QVERIFY(*loadProject(file) == p);
  // Missing keys mean their defaults.
  QVERIFY(fromText(R"({"schema": 1, "name": "x"})").ok());
}

void TestProject::formatDocumentNamesEveryKey() {
  const std::string words = *readFile(fs::path(DUSK_SOURCE) / "docs/format.md");
  std::set<std::string> keys;
  const std::function<void(const nlohmann::json&)> collect = [&](const nlohmann::json& j) {
    if (j.is_array())
      for (const auto& value : j) collect(value);
    if (!j.is_object()) return;
    for (const auto& [key, value] : j.items()) {
      if (key.find('/') == std::string::npos) keys.insert(key);
      if (key != "mix") {
        collect(value);
        continue;
      }
      for (const auto& light : value) collect(light);  // its keys are the lights' own names
    }
  };
  collect(jsonFrom(toText(fullProject())));
  QVERIFY(keys.size() > 80);
  for (const std::string& key : keys)
    QVERIFY2(words.find("`" + key + "`") != std::string::npos,
             ("docs/format.md does not name " + key).c_str());
}

namespace {

using nlohmann::json;

/// Where `value` breaks `schema`, or nothing: the part of JSON Schema that docs/project.schema.json uses.
std::string broken(const json& value, const json& schema, const json& root, const std::string& at) {
  if (schema.contains("$ref"))
    return broken(value, root.at(json::json_pointer(schema["$ref"].get<std::string>().substr(1))), root, at);
  if (schema.contains("anyOf")) {
    std::string first;
    for (const json& option : schema["anyOf"]) {
      const std::string why = broken(value, option, root, at);
      if (why.empty()) return {};
      if (first.empty()) first = why;
    }
    return first;
  }
  if (schema.contains("enum"))
    return std::count(schema["enum"].begin(), schema["enum"].end(), value) ? ""
                                                                           : at + " is not one of its words";
  if (!schema.contains("type")) return {};  // anything
  const std::string type = schema["type"];
  const bool right = type == "object"    ? value.is_object()
                     : type == "array"   ? value.is_array()
                     : type == "string"  ? value.is_string()
                     : type == "boolean" ? value.is_boolean()
                     : type == "integer" ? value.is_number_integer()
                     : type == "number"  ? value.is_number()
                                         : value.is_null();
  if (!right) return at + " is not a " + type;
  if (schema.contains("minimum") && value < schema["minimum"]) return at + " is too small";
  if (schema.contains("maximum") && value > schema["maximum"]) return at + " is too large";
  if (schema.contains("exclusiveMinimum") && value <= schema["exclusiveMinimum"]) return at + " is too small";
  if (schema.contains("minItems") && value.size() != schema["minItems"]) return at + " has the wrong length";
  if (value.is_array())
    for (size_t i = 0; i < value.size(); ++i)
      if (const auto why = broken(value[i], schema["items"], root, at + "/" + std::to_string(i));
          !why.empty())
        return why;
  if (!value.is_object()) return {};
  for (const auto& [key, child] : value.items()) {
    const bool known = schema.contains("properties") && schema["properties"].contains(key);
    const json more = schema.value("additionalProperties", json(true));
    if (!known && more.is_boolean() && !more.get<bool>()) return at + " has the unknown key " + key;
    if (schema.contains("propertyNames"))
      if (const auto why = broken(key, schema["propertyNames"], root, at + "'s key " + key); !why.empty())
        return why;
    const json& its = known ? schema["properties"][key] : more;
    if (its.is_object())
      if (const auto why = broken(child, its, root, at + "/" + key); !why.empty()) return why;
  }
  return {};
}

}  // namespace

void TestProject::schemaHoldsForWhatWeWrite() {
  const json schema = jsonFrom(*readFile(fs::path(DUSK_SOURCE) / "docs/project.schema.json"));
  const auto check = [&](const json& document) { return broken(document, schema, schema, ""); };
  const json whole = jsonFrom(toText(fullProject()));
  QCOMPARE(check(whole), std::string());
  QCOMPARE(check(jsonFrom(toText(Project{}))), std::string());
  QCOMPARE(check(jsonFrom(*readFile(fs::path(DUSK_SOURCE) / "demo/brackwater/brackwater.dusk"))),
           std::string());
  // It does refuse: an unknown key, a wrong kind, a value out of range.
  for (const auto& [pointer, bad] : {std::pair("/shots/0/tint", json(1)),
                                     {"/shots/0/name", json(3)},
                                     {"/surfaces/0/roughness", json(1.5)},
                                     {"/shots/0/lamps/0/kind", json("moon")}}) {
    json damaged = whole;
    damaged[json::json_pointer(pointer)] = bad;
    QVERIFY2(!check(damaged).empty(), pointer);
  }
}

void TestProject::everyOlderProjectOpens_data() {
  QTest::addColumn<QString>("file");
  for (const auto& entry : fs::directory_iterator(fs::path(DUSK_SOURCE) / "tests/samples"))
    QTest::newRow(entry.path().filename().c_str()) << QString::fromStdString(entry.path().string());
}

/// Each was saved by the program as it was when it could do less: what it says still holds.
void TestProject::everyOlderProjectOpens() {
  QFETCH(QString, file);
  const std::string text = *readFile(file.toStdString());
  const auto opened = fromText(text);
  QVERIFY2(opened.ok(), opened.ok() ? "" : opened.error().message.c_str());
  const json said = jsonFrom(text), now = jsonFrom(toText(*opened));
  // All that the file says is said again, where this version still has a word for it; lists keep their
  // length.
  int kept = 0, gone = 0;
  const std::function<void(const json&, const json&)> compare = [&](const json& was, const json& is) {
    if (was.is_object()) {
      for (const auto& [key, value] : was.items()) is.contains(key) ? compare(value, is[key]) : void(++gone);
    } else if (was.is_array() && !was.empty() && was[0].is_object()) {
      QCOMPARE(is.size(), was.size());
      for (size_t i = 0; i < was.size(); ++i) compare(was[i], is[i]);
    } else {
      was == is ? ++kept : ++gone;
    }
  };
  compare(said, now);
  QVERIFY2(kept > 100 && gone * 20 < kept, qPrintable(QString("%1 kept, %2 gone").arg(kept).arg(gone)));
}

void TestProject::badTextIsRefused_data() {
  QTest::addColumn<QString>("text");
  QTest::newRow("empty") << "";
  QTest::newRow("not json") << "hello";
  QTest::newRow("cut") << QString::fromStdString(toText(fullProject())).left(700);
  QTest::newRow("other json") << R"({"a": 1})";
  QTest::newRow("newer") << R"({"schema": 99})";
  QTest::newRow("wrong kind") << R"({"schema": 1, "shots": "three"})";
  QTest::newRow("wrong kind deep") << R"({"schema": 1, "surfaces": [{"roughness": "high"}]})";
  QTest::newRow("out of range") << R"({"schema": 1, "surfaces": [{"roughness": 3}]})";
  QTest::newRow("infinite") << R"({"schema": 1, "surfaces": [{"ior": 1e999}]})";
  QTest::newRow("solved without camera") << R"({"schema": 1, "shots": [{"vantage": {"solved": true}}]})";
  QTest::newRow("placement of nothing")
      << R"({"schema": 1, "shots": [{"placements": [{"productId": "x"}]}]})";
  QTest::newRow("deliverable outside")
      << R"({"schema": 1, "shots": [{"deliverables": [{"fileName": "../../x.png"}]}]})";
  for (const auto& [name, shot] :
       {std::pair("lamp of no size", R"("lamps": [{"widthM": -1}]})"),
        {"endless lamp", R"("lamps": [{"powerEv": 400}]})"},
        {"glass for ever", R"("render": {"glassSides": 2000000000}})"},
        {"stand-in from beyond", R"("standIns": [{"positionM": [0, 1e300, 0]}]})"},
        {"evidence from beyond", R"("evidence": {"pins": [{"at": [1e30, 0]}]}})"},
        {"mirror of nothing", R"("contact": {"glossIor": 0}})"},
        {"backdrop of the world", R"("backdrop": {"width": 1000000, "height": 1000000}})"},
        {"moving away", R"("surroundings": {"domeRadiusM": -4}})"},
        {"lens of a dream", R"("vantage": {"camera": {"k1": 1e12}}})"},
        {"height of nothing", R"("heightReferences": [{"metres": 0}]})"},
        {"correction off the scale",
         R"("blend": {"rows": {"view": {"corrections": [{"kind": "blur", "values": {"px": 1e9}}]}}})"},
        {"correction without such a value",
         R"("blend": {"rows": {"view": {"corrections": [{"kind": "blur", "values": {"depth": 1}}]}}})"},
        {"grade off the scale", R"("blend": {"exposureEv": 1e9}})"}})
    QTest::newRow(name) << QString(R"({"schema": 1, "shots": [{)") + shot + "]}";
  QTest::newRow("deep") << QString(100'000, '[');
  QTest::newRow("deep and whole") << "{\"schema\": 1, \"a\": " + QString(200, '[') + QString(200, ']') + "}";
  QTest::newRow("short vector")
      << R"({"schema": 1, "shots": [{"gnomon": {"base": [1], "shadowTip": [2, 3]}}]})";
}

void TestProject::badTextIsRefused() {
  QFETCH(QString, text);
  const auto project = fromText(text.toStdString());
  QVERIFY(!project.ok());
  QVERIFY(project.error().message.size() > 15);
}

void TestProject::bracketsInWordsAreNoNesting() {
  Project p;
  p.name = std::string(100, '[') + "\\\"" + std::string(100, '{');
  const auto again = fromText(toText(p));
  QVERIFY2(again.ok(), again.ok() ? "" : again.error().message.c_str());
  QCOMPARE(again->name, p.name);
}

void TestProject::unknownWordsAreRefusedWithThoseThereAre() {
  for (const auto& [shot, words] :
       {std::pair(R"("standIns": [{"kind": "cone"}])", "'box', 'cylinder', 'ball' or 'sheet', not 'cone'"),
        {R"("backdrop": {"kind": "sea"})", "'photo', 'plain', 'gradient' or 'panorama', not 'sea'"},
        {R"("evidence": {"strokes": [{"run": "c"}]})", "'a', 'b' or 'up', not 'c'"},
        {R"("deliverables": [{"kind": "bmp", "fileName": "a"}])", "'webpLoop' or 'gltfScene', not 'bmp'"}}) {
    const auto project = fromText(std::string(R"({"schema": 1, "shots": [{)") + shot + "}]}");
    QVERIFY(!project.ok());
    QVERIFY2(project.error().message.find(words) != std::string::npos, project.error().message.c_str());
    QVERIFY(project.error().message.find("json.exception") == std::string::npos);
  }
}

void TestProject::whatIsOffIsSaidWithItsOwnerAndRange() {
  Project p = fullProject();
  QCOMPARE(unsound(p), std::string());
  p.shots[0].lamps[0].name = "Key", p.shots[0].lamps[0].coneSoftness = 2;
  QCOMPARE(unsound(p), std::string("lamp 'Key' has a cone softness of 2; it may be 0 to 1"));
  p.shots[0].lamps[0].coneSoftness = std::nan("");
  QVERIFY(unsound(p).starts_with("lamp 'Key' has a cone softness of nan"));
  QCOMPARE(unsound(p.shots[0].evidence), std::string());
  p.shots[0].evidence.lengths.push_back({{0, 0}, {1, 1}, -2, LengthOn::ground});
  QCOMPARE(unsound(p.shots[0].evidence),
           std::string("the evidence has a length of -2; it may be 1e-09 to 1e+06"));
}

void TestProject::changesImplyOnlyTheirOwnWork() {
  const Project a = fullProject();
  const auto after = [&](auto change) {
    Project b = a;
    change(b);
    return changes(a, b, 0);
  };
  const Changes none = after([](Project&) {});
  QVERIFY(!none.trace && !none.blend && !none.geometry && !none.plate);
  const Changes grade = after([](Project& p) { p.shots[0].blend.exposureEv = 1; });
  QVERIFY(grade.blend && !grade.trace);
  const Changes surface = after([](Project& p) { p.surfaces[0].roughness = 0.9; });
  QVERIFY(surface.trace && !surface.geometry && !surface.plate);
  const Changes moved = after([](Project& p) { p.shots[0].placements[0].xM = 2; });
  QVERIFY(moved.trace && !moved.geometry);
  const Changes hidden = after([](Project& p) { p.products[0].hiddenParts.insert("A/D"); });
  QVERIFY(hidden.geometry && hidden.trace);
  const Changes view = after([](Project& p) { p.shots[0].blend.view = "plain sRGB"; });
  QVERIFY(view.plate && view.trace);
  const Changes locked = after([](Project& p) { p.shots[0].vantage.locked = false; });
  QVERIFY(!locked.trace && !locked.blend);
}

void TestProject::historyJoinsGesturesOnly() {
  History h;
  const auto named = [](const char* name) {
    Project p;
    p.name = name;
    return p;
  };
  h.push(named("a"), "one", 5);
  h.push(named("b"), "one", 5);
  h.push(named("c"), "two", 6);
  h.push(named("c"), "nothing", 7);
  h.push(named("d"), "three");
  h.push(named("e"), "four");
  QStringList back;
  while (h.canUndo()) h.undo(), back << QString::fromStdString(h.now().name);
  QCOMPARE(back, (QStringList{"d", "c", "b", ""}));
  h.redo();
  QCOMPARE(h.now().name, std::string("b"));
  h.push(named("z"), "branch");
  QVERIFY(!h.canRedo());
}

void TestProject::dragThatReturnsIsNoStep() {
  History h;
  Project moved;
  moved.name = "moved";
  h.push(moved, "drag", 3);
  h.push(Project{}, "drag", 3);
  QVERIFY(!h.canUndo());
  QVERIFY(h.isSaved());
}

DUSK_TEST(TestProject, NoApplication);
#include "project.moc"
