#include "core/variant/places.h"

#include <QtTest>

#include "core/base/json_text.h"
#include "core/project/file.h"
#include "tests/program.h"

using namespace dusk;
using nlohmann::json;

/// Places in the document: read, put, taken and named.
class TestPlaces : public QObject {
  Q_OBJECT
  Project quay_ = *loadProject(DUSK_SOURCE "/demo/brackwater/brackwater.dusk");
  std::string shot() const { return "/shots/" + quay_.shots[0].id; }
  std::string product() const { return "/products/" + quay_.products[0].id; }

 private slots:
  void valuesAreRead();
  void valuesArePut();
  void setsAreSets();
  void namesWithSlashesAreOne();
  void whatIsNotThereIsSaid();
  void backInItsPlace();
  void refusedPiecesStay();
  void placesInWords();
  void withinIsByWholeTokens();
};

void TestPlaces::valuesAreRead() {
  PlacedEdit edit(quay_);
  QCOMPARE(edit.at(shot() + "/surroundings/gainEv")->get<double>(), quay_.shots[0].surroundings.gainEv);
  QCOMPARE((*edit.at(shot() + "/standIns/" + quay_.shots[0].standIns[1].id))["name"].get<std::string>(),
           quay_.shots[0].standIns[1].name);
  QCOMPARE((*edit.at(product()))["name"].get<std::string>(), quay_.products[0].name);
  const auto nothing = std::move(edit).done();  // reading changes nothing
  QVERIFY(nothing.project == quay_ && nothing.refused.empty());
}

void TestPlaces::valuesArePut() {
  PlacedEdit edit(quay_);
  QVERIFY(edit.put(shot() + "/focus/fNumber", 2.8));
  QVERIFY(edit.put(shot() + "/whiteNits", 900.0));  // there was none
  QVERIFY(edit.put(product() + "/moves/Lid",
                   {{"pivot", {0, 0, 0}}, {"axis", {1, 0, 0}}, {"shift", {0, 0, 0}}, {"turnDegrees", 80}}));
  QVERIFY(edit.put("/surfaces/new", {{"id", "new"}, {"name", "New"}}));
  const auto done = std::move(edit).done();
  QVERIFY(done.refused.empty());
  const Shot& shot = done.project.shots[0];
  QVERIFY(shot.focus.fNumber == 2.8 && shot.whiteNits == 900);
  QCOMPARE(done.project.products[0].moves.at("Lid").turnDegrees, 80.0);
  QCOMPARE(done.project.surfaces.back().name, std::string("New"));
  QCOMPARE(done.project.surfaces.size(), quay_.surfaces.size() + 1);
}

void TestPlaces::setsAreSets() {
  PlacedEdit edit(quay_);
  QVERIFY(edit.put(product() + "/hiddenParts/B", true) && edit.put(product() + "/hiddenParts/A", true));
  QVERIFY(edit.put(product() + "/hiddenParts/B", true));
  QVERIFY(edit.at(product() + "/hiddenParts/B") && !edit.at(product() + "/hiddenParts/C"));
  edit.take(product() + "/hiddenParts/C");
  const auto done = std::move(edit).done();
  QVERIFY(done.project.products[0].hiddenParts == (std::set<std::string>{"A", "B"}));
  // Two options may each hide their own.
  const auto changes = differences(quay_, done.project);
  QCOMPARE(changes.size(), size_t(2));
  QVERIFY(changes[0].at.ends_with("/hiddenParts/A") && changes[0].to == "true");
}

void TestPlaces::namesWithSlashesAreOne() {
  Project to = quay_;
  const std::string part = to.products[0].surfaceOfPart.begin()->first;
  QVERIFY(part.find('/') != std::string::npos);
  to.products[0].surfaceOfPart[part] = "another~/one";
  const auto changes = differences(quay_, to);
  QCOMPARE(changes.size(), size_t(1));
  PlacedEdit edit(quay_);
  QVERIFY(edit.put(changes[0].at, jsonFrom(changes[0].to)));
  QVERIFY(std::move(edit).done().project == to);
}

void TestPlaces::whatIsNotThereIsSaid() {
  PlacedEdit edit(quay_);
  for (const char* place :
       {"", "/", "/surfaces", "/surfaces/none/roughness", "/lists/a/b", "/shots//x", "no slash"}) {
    QVERIFY2(!edit.put(place, 1), place);
    QVERIFY2(!edit.at(place), place);
    edit.take(place);
  }
  QVERIFY(!edit.put(shot() + "/lamps/none/powerEv", 1));
  QVERIFY(!edit.put(shot() + "/lamps/lamp-1", {{"id", "lamp-2"}}));  // another's id
  QVERIFY(std::move(edit).done().project == quay_);
}

void TestPlaces::backInItsPlace() {
  for (size_t i = 0; i < quay_.shots[0].standIns.size(); ++i) {
    Project without = quay_;
    const std::string id = quay_.shots[0].standIns[i].id;
    std::erase_if(without.shots[0].standIns, [&](const StandIn& s) { return s.id == id; });
    PlacedEdit from(quay_), edit(without);
    edit.putAsIn(from, shot() + "/standIns/" + id);
    QVERIFY(std::move(edit).done().project == quay_);
  }
}

void TestPlaces::refusedPiecesStay() {
  PlacedEdit edit(quay_);
  const std::string surface = "/surfaces/" + quay_.surfaces[0].id;
  QVERIFY(edit.put(surface + "/roughness", "rough") && edit.put(shot() + "/focus/fNumber", 4.0));
  const auto done = std::move(edit).done();
  QVERIFY(done.refused == std::vector<std::string>{surface});
  QVERIFY(done.project.surfaces == quay_.surfaces && done.project.shots[0].focus.fNumber == 4);
  // What others still need is not taken away.
  PlacedEdit loose(quay_);
  loose.take(product());
  QVERIFY(!std::move(loose).done().refused.empty());
}

void TestPlaces::placesInWords() {
  const auto words = [&](const std::string& place) { return inWords(quay_, place); };
  QCOMPARE(words("/surfaces/preset-harbour-enamel/baseColour"), std::string("Harbour enamel: base colour"));
  QCOMPARE(words(shot() + "/standIns/" + quay_.shots[0].standIns[0].id + "/positionM"),
           quay_.shots[0].name + ": stand ins: " + quay_.shots[0].standIns[0].name + ": position m");
  QCOMPARE(words(product() + "/surfaceOfPart/Dial~1Bezel"),
           quay_.products[0].name + ": surface of part: Dial/Bezel");
  QCOMPARE(words("/surfaces/gone/roughness"), std::string("gone: roughness"));
}

void TestPlaces::withinIsByWholeTokens() {
  QVERIFY(isWithin("/a/b", "/a") && isWithin("/a", "/a"));
  QVERIFY(!isWithin("/ab", "/a") && !isWithin("/a", "/a/b"));
}

DUSK_TEST(TestPlaces, QCoreApplication);
#include "places.moc"
