#include "core/light/bracket_sets.h"
#include "tests/program.h"

#include <QGuiApplication>
#include <QtTest>
#include <random>

using namespace dusk;
namespace fs = std::filesystem;
using State = BracketSet::State;

/// What a camera drops into a folder, sorted into sets.
class TestBracketSets : public QObject {
  Q_OBJECT
  /// A set of so many photos, 2 EV apart, taken from that moment on.
  static std::vector<Arrival> taken(const std::string& name, int count, double at, bool timed = true) {
    std::vector<Arrival> photos;
    for (int i = 0; i < count; ++i) {
      Arrival a{name + std::to_string(i) + ".jpg", 1024, 512, std::exp2(-10 + 2.0 * i), {}, at};
      if (timed) a.takenAt = at + i;
      photos.push_back(a);
    }
    return photos;
  }
  static std::vector<Arrival> shuffled(std::vector<Arrival> photos) {
    std::shuffle(photos.begin(), photos.end(), std::mt19937(4));
    return photos;
  }

 private slots:
  void anyOrderMakesTheSameSets_data();
  void anyOrderMakesTheSameSets();
  void missingOnesAreNamed();
  void theFirstSetEndsWithQuiet();
  void photosOfOtherKindsStayApart();
  void halfAPhotoIsNone();
  void aFolderThatIsGoneIsSaid();
};

void TestBracketSets::anyOrderMakesTheSameSets_data() {
  QTest::addColumn<bool>("timed");
  QTest::newRow("by time") << true;
  QTest::newRow("by name") << false;
}

void TestBracketSets::anyOrderMakesTheSameSets() {
  QFETCH(bool, timed);
  std::vector<Arrival> all;
  for (int set = 0; set < 3; ++set)
    for (const Arrival& a : taken(std::string(1, char('a' + set)), 5, set * 100.0, timed)) all.push_back(a);
  const auto sets = bracketSets(shuffled(all), {}, 205);
  QCOMPARE(sets.size(), size_t(3));
  for (const BracketSet& set : sets) {
    QCOMPARE(set.photos.size(), size_t(5));
    QCOMPARE(set.wanted, 5);
    QVERIFY(set.state == State::complete && set.missingEv.empty());
    for (size_t i = 1; i < 5; ++i) QVERIFY(set.photos[i].exposure > set.photos[i - 1].exposure);
    QCOMPARE(set.photos[0].file.string()[0], set.photos[4].file.string()[0]);
  }
}

void TestBracketSets::missingOnesAreNamed() {
  auto photos = taken("a", 7, 0);
  photos.erase(photos.begin() + 3, photos.begin() + 5);
  BracketRule rule;
  rule.photos = 7;
  auto sets = bracketSets(photos, rule, 5);
  QVERIFY(sets.size() == 1 && sets[0].state == State::coming);
  sets = bracketSets(photos, rule, 40);
  QVERIFY(sets[0].state == State::late);
  QCOMPARE(sets[0].says(), std::string("5 of 7 photos; those 6 and 8 EV above the shortest are missing"));
  rule.photos = 5;  // the person takes it as it is
  QVERIFY(bracketSets(photos, rule, 5)[0].state == State::complete);
}

void TestBracketSets::theFirstSetEndsWithQuiet() {
  const auto photos = taken("a", 5, 0);
  QVERIFY(bracketSets(photos, {}, 10)[0].state == State::coming);
  QVERIFY(bracketSets(photos, {}, 30)[0].state == State::complete);
  QVERIFY(bracketSets({photos[0]}, {}, 30)[0].state == State::late);  // one alone is no set
}

void TestBracketSets::photosOfOtherKindsStayApart() {
  auto photos = taken("a", 3, 0);
  auto others = taken("b", 3, 3);
  for (Arrival& a : others) a.width = 4000;
  photos.insert(photos.end(), others.begin(), others.end());
  Arrival phone{"c.jpg", 800, 600, 0, 7.0, 0};  // says no exposure
  photos.push_back(phone);
  const auto sets = bracketSets(photos, {}, 30);
  QCOMPARE(sets.size(), size_t(2));
  QVERIFY(bracketSets({}, {}, 3).empty());
}

void TestBracketSets::halfAPhotoIsNone() {
  QTemporaryDir folder;
  const fs::path in = folder.path().toStdString();
  BracketWatch watch(in);
  const fs::path from = DUSK_SOURCE "/demo/boathouse/boathouse-panorama-4.jpg";
  std::ifstream whole(from, std::ios::binary);
  const std::string bytes((std::istreambuf_iterator<char>(whole)), {});
  std::ofstream coming(in / "a.jpg", std::ios::binary);
  coming.write(bytes.data(), std::streamsize(bytes.size() / 2)).flush();
  std::ofstream(in / "note.txt") << "not a photo";
  std::ofstream(in / "empty.jpg");
  for (int i = 0; i < 4; ++i) {
    const auto sets = watch.look({}, i);
    QVERIFY(sets && sets->empty());  // it stands still, but has no end
  }
  coming.write(bytes.data() + bytes.size() / 2, std::streamsize(bytes.size() - bytes.size() / 2)).flush();
  QVERIFY(watch.look({}, 4)->empty());  // it has just grown
  const auto sets = watch.look({}, 5);
  QVERIFY(sets && sets->size() == 1);
  QCOMPARE(sets->front().photos[0].width, 1024);
  QVERIFY(sets->front().photos[0].exposure > 0);
  fs::remove(in / "a.jpg");
  QVERIFY(watch.look({}, 6)->empty());
}

void TestBracketSets::aFolderThatIsGoneIsSaid() {
  BracketWatch watch("/nowhere/at/all");
  const auto sets = watch.look({}, 0);
  QVERIFY(!sets && sets.error().message.find("/nowhere/at/all") != std::string::npos);
}

DUSK_TEST(TestBracketSets, QGuiApplication);
#include "bracket_sets.moc"
