#include <QtTest>
#include <random>

#include "core/base/json_text.h"
#include "core/project/file.h"
#include "core/project/json.h"
#include "core/project/links.h"
#include "core/project/shots.h"
#include "core/project/sound.h"
#include "core/variant/apply.h"
#include "core/variant/edit.h"
#include "core/variant/table.h"
#include "tests/program.h"

using namespace dusk;
using nlohmann::json;

/// Axes and options as functions of the document: their laws, and what becomes of edits while one is chosen.
class TestVariant : public QObject {
  Q_OBJECT
  Project quay_ = *loadProject(DUSK_SOURCE "/demo/brackwater/brackwater.dusk");

  /// The demo with an axis of colours and one of lights; the shot shows the second of both.
  struct Made {
    Project project;
    std::string enamel;       ///< a surface that the product wears
    std::string green, noon;  ///< options
    const Shot& shot() const { return project.shots[0]; }
  };
  Made made() const {
    Made m{quay_, quay_.products[0].surfaceOfPart.begin()->second, {}, {}};
    Project& p = m.project;
    const std::string colour = addAxis(p, "Colour"), light = addAxis(p, "Light");
    m.green = addOption(p, colour), m.noon = addOption(p, light);
    optionIn(p, m.green).second->name = "Green", optionIn(p, m.noon).second->name = "Noon";
    optionIn(p, m.green).second->changes = {{"/surfaces/" + m.enamel + "/baseColour", "[0.1,0.5,0.2]"}};
    optionIn(p, m.noon).second->changes = {{"/shots/" + p.shots[0].id + "/surroundings/gainEv", "1.25"}};
    p.shots[0].choice = {{colour, m.green}, {light, m.noon}};
    return m;
  }
  static Project asShown(const Project& project, size_t shot) {
    return applied(project, project.shots[shot].choice).project;
  }
  static const Surface& surface(const Project& p, const std::string& id) { return *byId(p.surfaces, id); }

 private slots:
  void differencesLeadFromOneToTheOther();
  void anOptionIsShownAndLeavesTheRest();
  void appliedAgainItStays();
  void editsGoWhereTheValueComesFrom();
  void editsAreRecordedIntoAnOption();
  void anyEditIsSeenAsItWasMade();
  void thingsAreAddedAndTakenAway();
  void shotsComeAndGoForEveryOption();
  void whatIsGoneIsSaid_data();
  void whatIsGoneIsSaid();
  void pairsAreExcluded();
  void choicesAreTyped();
  void tablesComeBackAlike();
  void tablesThatCannotBe_data();
  void tablesThatCannotBe();
  void filesKeepThem();
  void aThousandAxes();
};

void TestVariant::differencesLeadFromOneToTheOther() {
  Project to = quay_;
  Product& product = to.products[0];
  product.surfaceOfPart.begin()->second = quay_.surfaces.back().id;
  product.hiddenParts = {"Housing/Front / left", "a~b"};
  product.decals.clear();
  to.surfaces[1].roughness = 0.123;
  Surface fresh;
  fresh.id = "fresh/one", fresh.name = "Fresh";
  to.surfaces.push_back(fresh);
  Shot& shot = to.shots[0];
  shot.lamps.push_back({});
  shot.lamps.back().id = "lamp-99";
  shot.gnomon.reset();
  shot.placements[0].turnDegrees += 30;
  shot.blend.rows["view"].strength = 0.5;
  const auto all = differences(quay_, to);
  QVERIFY(all.size() >= 9);
  PlacedEdit edit(quay_);
  for (const VariantChange& c : all)
    if (c.gone)
      edit.take(c.at);
    else
      QVERIFY2(edit.put(c.at, jsonFrom(c.to)), c.at.c_str());
  const auto done = std::move(edit).done();
  QVERIFY(done.refused.empty());
  QVERIFY(done.project == to);
  QVERIFY(differences(to, to).empty());
}

void TestVariant::anOptionIsShownAndLeavesTheRest() {
  const Made m = made();
  const Project shown = asShown(m.project, 0);
  QVERIFY((surface(shown, m.enamel).baseColour - Vec3d(0.1, 0.5, 0.2)).length() < 1e-12);
  QCOMPARE(shown.shots[0].surroundings.gainEv, 1.25);
  // All else is untouched.
  Project back = shown;
  *byId(back.surfaces, m.enamel) = surface(m.project, m.enamel);
  back.shots[0].surroundings.gainEv = m.shot().surroundings.gainEv;
  QVERIFY(back == m.project);
  // Without a choice the first options stand, which change nothing.
  QVERIFY(applied(m.project, {}).project == m.project);
  QCOMPARE(variantName(m.project, m.shot().choice), std::string("Green-Noon"));
}

void TestVariant::appliedAgainItStays() {
  const Made m = made();
  const Project once = asShown(m.project, 0);
  QVERIFY(asShown(once, 0) == once);
}

void TestVariant::editsGoWhereTheValueComesFrom() {
  const Made m = made();
  const Project shown = asShown(m.project, 0);
  Project wanted = shown;
  Surface& enamel = *byId(wanted.surfaces, m.enamel);
  enamel.baseColour = {0.9, 0.1, 0.1};  // the option gives it
  enamel.roughness = 0.77;              // nobody does
  std::swap(wanted.surfaces[0], wanted.surfaces[1]);
  const Project base = routed(m.project, m.shot().choice, shown, wanted);
  QCOMPARE(surface(base, m.enamel).baseColour, surface(m.project, m.enamel).baseColour);
  QCOMPARE(surface(base, m.enamel).roughness, 0.77);
  QCOMPARE(base.surfaces[0].id, wanted.surfaces[0].id);
  QVERIFY(optionIn(base, m.green).second->changes[0].to.find("0.9") != std::string::npos);
  QCOMPARE(base.shots[0].surroundings.gainEv, m.shot().surroundings.gainEv);
  const Project again = asShown(base, 0);
  QCOMPARE(surface(again, m.enamel).baseColour, Vec3d(0.9, 0.1, 0.1));
  // Brought back to what it is without the option, it gives that no more.
  Project plain = again;
  byId(plain.surfaces, m.enamel)->baseColour = surface(m.project, m.enamel).baseColour;
  QVERIFY(optionIn(routed(base, m.shot().choice, again, plain), m.green).second->changes.empty());
}

void TestVariant::editsAreRecordedIntoAnOption() {
  const Made m = made();
  const Project shown = asShown(m.project, 0);
  Project wanted = shown;
  wanted.products[0].hiddenParts.insert("Handle/Grip");
  wanted.shots[0].placements[0].turnDegrees = 45;
  wanted.shots[0].surroundings.gainEv = 2;  // the light's, whatever is recorded
  // How long it is traced, what is written and how it moves is of all variants.
  wanted.shots[0].render.samples = 7, wanted.shots[0].handOver.version = 3;
  wanted.shots[0].motion.seconds = 4, wanted.shots[0].name = "Later", wanted.name = "Other";
  wanted.shots[0].deliverables.emplace_back().fileName = "later.png";
  const Project base = routed(m.project, m.shot().choice, shown, wanted, m.green);
  QVERIFY(base.products == m.project.products);
  QCOMPARE(base.name, std::string("Other"));
  QVERIFY(base.shots[0].render == wanted.shots[0].render && base.shots[0].name == "Later");
  QVERIFY(base.shots[0].motion == wanted.shots[0].motion);
  QVERIFY(base.shots[0].deliverables == wanted.shots[0].deliverables);
  QVERIFY(base.shots[0].handOver == wanted.shots[0].handOver);
  QVERIFY(base.shots[0].placements == m.project.shots[0].placements);
  QVERIFY(base.shots[0].surroundings == m.project.shots[0].surroundings);
  QCOMPARE(optionIn(base, m.green).second->changes.size(), size_t(3));
  QCOMPARE(optionIn(base, m.noon).second->changes.size(), size_t(1));
  Project there = asShown(base, 0);
  there.axes = wanted.axes;
  QVERIFY(there == wanted);
  // A later axis may say otherwise what an earlier one gives: both keep their own.
  Project brighter = asShown(m.project, 0), dimmer = brighter;
  byId(brighter.surfaces, m.enamel)->baseColour = {0.6, 0.6, 0.6};
  const Project later = routed(m.project, m.shot().choice, dimmer, brighter, m.noon);
  QVERIFY(optionIn(later, m.green).second->changes == optionIn(m.project, m.green).second->changes);
  QCOMPARE(surface(asShown(later, 0), m.enamel).baseColour, Vec3d(0.6, 0.6, 0.6));
  // The other colour has none of it.
  Project other = base;
  other.shots[0].choice.clear();
  QVERIFY(asShown(other, 0).products == m.project.products);
}

void TestVariant::anyEditIsSeenAsItWasMade() {
  // Whatever is edited while options are chosen, recorded or not: what is shown then is what was made.
  std::mt19937 random(11);
  const auto upTo = [&](size_t n) { return size_t(random() % n); };
  Made m = made();
  for (int i = 0; i < 120; ++i) {
    const Project shown = asShown(m.project, 0);
    Project wanted = shown;
    for (size_t k = 0; k <= upTo(3); ++k) {
      Surface& s = wanted.surfaces[upTo(wanted.surfaces.size())];
      Product& product = wanted.products[0];
      auto worn = product.surfaceOfPart.begin();
      std::advance(worn, long(upTo(product.surfaceOfPart.size())));
      Shot& shot = wanted.shots[0];
      switch (upTo(7)) {
        case 0:
          s.roughness = double(upTo(100)) / 100;
          break;
        case 1:
          s.baseColour.y = double(upTo(100)) / 100;
          break;
        case 2:
          worn->second = s.id;
          break;
        case 3:
          product.hiddenParts.count(worn->first) ? void(product.hiddenParts.erase(worn->first))
                                                 : void(product.hiddenParts.insert(worn->first));
          break;
        case 4:
          shot.surroundings.gainEv = double(upTo(50)) / 10;
          break;
        case 5:
          shot.lamps.empty() ? shot.lamps.push_back({"lamp-7", "Lamp"}) : shot.lamps.clear();
          break;
        case 6:
          product.moves[worn->first].turnDegrees = double(upTo(90));
          break;
      }
    }
    m.project = routed(m.project, m.shot().choice, shown, wanted, i % 3 == 0 ? m.green : std::string());
    Project now = asShown(m.project, 0);
    now.axes = wanted.axes;
    QVERIFY2(now == wanted, qPrintable(QString::number(i)));
  }
  QVERIFY(optionIn(m.project, m.green).second->changes.size() > 3);
}

void TestVariant::thingsAreAddedAndTakenAway() {
  Made m = made();
  Project shown = asShown(m.project, 0), wanted = shown;
  Lamp lamp;
  lamp.id = "lamp-5", lamp.name = "Rim";
  wanted.shots[0].lamps.push_back(lamp);
  wanted.shots[0].standIns.erase(wanted.shots[0].standIns.begin());
  m.project = routed(m.project, m.shot().choice, shown, wanted, m.noon);
  QVERIFY(m.shot().lamps == quay_.shots[0].lamps && m.shot().standIns == quay_.shots[0].standIns);
  shown = wanted = asShown(m.project, 0);
  QVERIFY(byId(shown.shots[0].lamps, "lamp-5"));
  QCOMPARE(shown.shots[0].standIns.size(), quay_.shots[0].standIns.size() - 1);
  // Changed and taken away again while the option is chosen: the option's own affair.
  byId(wanted.shots[0].lamps, "lamp-5")->powerEv = 3;
  m.project = routed(m.project, m.shot().choice, shown, wanted);
  shown = wanted = asShown(m.project, 0);
  QCOMPARE(byId(shown.shots[0].lamps, "lamp-5")->powerEv, 3.0);
  std::erase_if(wanted.shots[0].lamps, [](const Lamp& l) { return l.id == "lamp-5"; });
  m.project = routed(m.project, m.shot().choice, shown, wanted);
  shown = asShown(m.project, 0);
  QVERIFY(!byId(shown.shots[0].lamps, "lamp-5") && m.shot().lamps == quay_.shots[0].lamps);
  // A surface that the option changes is taken away for good: no ghost of it is left.
  shown = wanted = asShown(m.project, 0);
  std::erase_if(wanted.surfaces, [&](const Surface& s) { return s.id == m.enamel; });
  m.project = routed(m.project, m.shot().choice, shown, wanted);
  shown = asShown(m.project, 0);
  QVERIFY(!byId(shown.surfaces, m.enamel));
}

void TestVariant::shotsComeAndGoForEveryOption() {
  Made m = made();
  const size_t before = optionIn(m.project, m.noon).second->changes.size();
  Project shown = asShown(m.project, 0), wanted = shown;
  const std::string added = addShot(wanted, 0, true);
  m.project = routed(m.project, m.shot().choice, shown, wanted, m.noon);
  QVERIFY(byId(m.project.shots, added));
  QCOMPARE(optionIn(m.project, m.noon).second->changes.size(), before);
  shown = wanted = asShown(m.project, 0);
  removeShot(wanted, added);
  m.project = routed(m.project, m.shot().choice, shown, wanted, m.noon);
  QVERIFY(!byId(m.project.shots, added));
  QCOMPARE(optionIn(m.project, m.noon).second->changes.size(), before);
}

void TestVariant::whatIsGoneIsSaid_data() {
  QTest::addColumn<QString>("at");
  QTest::addColumn<QString>("to");
  QTest::newRow("surface") << "/surfaces/none/roughness"
                           << "0.5";
  QTest::newRow("lamp") << "/shots/quay/lamps/none/powerEv"
                        << "0.5";
  QTest::newRow("list") << "/gadgets/a/b"
                        << "1";
  QTest::newRow("another kind") << "/surfaces/%1/roughness"
                                << "\"rough\"";
  QTest::newRow("out of range") << "/surfaces/%1/roughness"
                                << "17";
  QTest::newRow("no JSON") << "/surfaces/%1/roughness"
                           << "{";
  QTest::newRow("short") << "/surfaces"
                         << "[]";
  QTest::newRow("root") << "/"
                        << "1";
  QTest::newRow("an id of another") << "/surfaces/%1"
                                    << R"({"id":"x"})";
}

void TestVariant::whatIsGoneIsSaid() {
  QFETCH(QString, at);
  QFETCH(QString, to);
  Made m = made();
  const QString place = at.contains("%1") ? at.arg(QString::fromStdString(m.enamel)) : at;
  optionIn(m.project, m.green).second->changes = {{place.toStdString(), to.toStdString()}};
  const Applied result = applied(m.project, m.shot().choice);
  QCOMPARE(result.lost.size(), size_t(1));
  QVERIFY(result.lost[0].find("The option Green of Colour changes ") == 0);
  QVERIFY(unsound(result.project).empty());
  QCOMPARE(surface(result.project, m.enamel), surface(m.project, m.enamel));
  QCOMPARE(result.project.shots[0].surroundings.gainEv, 1.25);  // the other option stands
}

void TestVariant::pairsAreExcluded() {
  Made m = made();
  QCOMPARE(everyChoice(m.project)->size(), size_t(4));
  setExcluded(m.project, m.noon, m.green, true);
  QVERIFY(isExcluded(m.project, m.shot().choice));
  QCOMPARE(everyChoice(m.project)->size(), size_t(3));
  setExcluded(m.project, m.green, m.noon, false);
  QVERIFY(m.project.excluded.empty());
  const auto [axis, green] = optionIn(m.project, m.green);
  setExcluded(m.project, m.green, axis->options[0].id, true);  // of one axis there is only one anyway
  QVERIFY(m.project.excluded.empty());
  setExcluded(m.project, m.noon, m.green, true);
  removeOption(m.project, m.green);
  QVERIFY(m.project.excluded.empty() && m.shot().choice.size() == 1);
}

void TestVariant::choicesAreTyped() {
  Made m = made();
  const auto typed = choiceFrom(m.project, {}, " COLOUR = green , light=As it is");
  QVERIFY(typed && chosenOf(m.project.axes[0], *typed)->name == "Green");
  QCOMPARE(variantName(m.project, *typed), std::string("Green-As it is"));
  for (const char* wrong : {"colour", "colour=blue", "size=green", "=", "green"})
    QVERIFY2(!choiceFrom(m.project, {}, wrong).ok(), wrong);
  setExcluded(m.project, m.noon, m.green, true);
  QVERIFY(!choiceFrom(m.project, {}, "colour=green,light=noon").ok());
}

void TestVariant::tablesComeBackAlike() {
  Made m = made();
  optionIn(m.project, m.green).second->name = "Green, \"deep\"\nsea";
  optionIn(m.project, m.green).second->changes.push_back({"/products/a/hiddenParts/Lid", {}, true});
  const std::string text = variantTable(m.project);
  const auto same = withVariantTable(m.project, text);
  QVERIFY2(same.ok(), same ? "" : same.error().message.c_str());
  QVERIFY(*same == m.project);
  Project bare = m.project;
  bare.axes.clear(), bare.shots[0].choice.clear();
  const auto built = withVariantTable(bare, text);
  QVERIFY(built.ok());
  QCOMPARE(variantTable(*built), text);  // ids are new ones
  // Columns in any order, as a spreadsheet leaves them.
  const auto other =
      withVariantTable(bare, "\xef\xbb\xbfvalue,place,note,option,axis\n3,/shots/a/b,x,Hot,Heat\n");
  QVERIFY(other && other->axes[0].options[0].changes[0].to == "3");
}

void TestVariant::tablesThatCannotBe_data() {
  QTest::addColumn<QString>("text");
  const QString head = "axis,option,place,value\n";
  QTest::newRow("empty") << "";
  QTest::newRow("no columns") << "a,b,c\n";
  QTest::newRow("no axis") << head + ",Green,,\n";
  QTest::newRow("no place") << head + "Colour,Green,surfaces,1\n";
  QTest::newRow("words") << head + "Colour,Green,/a/b,red\n";
  QTest::newRow("open quote") << head + "Colour,\"Green,/a/b,1\n";
}

void TestVariant::tablesThatCannotBe() {
  QFETCH(QString, text);
  const auto table = withVariantTable(quay_, text.toStdString());
  QVERIFY(!table && table.error().message.find("The table of variants cannot be read: ") == 0);
}

void TestVariant::filesKeepThem() {
  Made m = made();
  setExcluded(m.project, m.noon, m.green, true);
  optionIn(m.project, m.noon)
      .second->changes.push_back(
          {"/shots/" + m.shot().id + "/surroundings/panorama", R"({"hash":"h","path":"a.exr"})"});
  QVERIFY(*fromText(toText(m.project)) == m.project);
  // Links in options are links.
  std::vector<std::string> links;
  eachLink(m.project, [&](AssetRef& ref, LinkKind kind) {
    if (ref.path == "a.exr") links.push_back(ref.path), ref.path = "b.exr";
    if (ref.path == "b.exr") QVERIFY(kind == LinkKind::panorama);
  });
  QCOMPARE(links.size(), size_t(1));
  QCOMPARE(asShown(m.project, 0).shots[0].surroundings.panorama.path, std::string("b.exr"));
  m.project.axes[1].options[0].id = m.green;
  QVERIFY(!fromText(toText(m.project)).ok());
}

void TestVariant::aThousandAxes() {
  Project p = quay_;
  for (int i = 0; i < 1000; ++i) addOption(p, addAxis(p, "Axis " + std::to_string(i)));
  QVERIFY(!everyChoice(p).ok());
  QVERIFY(everyChoice(p).error().message.find("more than 10000") != std::string::npos);
  QVERIFY(asShown(p, 0) == p);
}

DUSK_TEST(TestVariant, QCoreApplication);
#include "variant.moc"
