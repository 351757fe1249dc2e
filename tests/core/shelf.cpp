#include "core/outside/shelf.h"

#include <QGuiApplication>

#include "tests/program.h"
#include "tests/served_shelf.h"

using namespace dusk;
using nlohmann::json;
namespace fs = std::filesystem;
using What = Shelf::What;

/// A shelf on another machine, by a real one on this: what it offers, what it fetches, and what it refuses.
class TestShelf : public QObject {
  Q_OBJECT
  std::unique_ptr<ServedShelf> served_;
  std::string large_;  ///< content of some size
  Progress progress_;

  Shelf at(const std::string& address, Patience patience = {30, 30}) {
    return Shelf(address, served_->own("cache"), served_->own("kept"), patience);
  }
  /// Its only entry, of an index that was just asked for.
  ShelfEntry entryOf(const Shelf& shelf) {
    const auto contents = shelf.look(progress_);
    return contents ? contents->index.entries.front() : ShelfEntry{};
  }
  std::string failing(const Result<fs::path>& fetched) { return fetched ? "" : fetched.error().message; }
  int leftovers() {
    int count = 0;
    if (fs::exists(served_->own("kept")))
      for (const auto& each : fs::recursive_directory_iterator(served_->own("kept")))
        count += each.is_regular_file();
    return count;
  }

 private slots:
  void init();
  void whatItOffersIsFound();
  void filesComeWholeAndStay();
  void brokenOffItGoesOn();
  void liesAreThrownAway();
  void faultsAreSaid_data();
  void faultsAreSaid();
  void indexesThatCannotBe_data();
  void indexesThatCannotBe();
  void cancelledItEnds();
};

void TestShelf::init() {
  served_ = std::make_unique<ServedShelf>();
  progress_.~Progress(), new (&progress_) Progress;
  large_.resize(300'000);
  uint32_t state = 7;
  for (char& c : large_) c = char((state = state * 1664525u + 1013904223u) >> 24);
}

void TestShelf::whatItOffersIsFound() {
  served_->add("low-sky", "panorama", {served_->file("a/sky.exr", "sky")})["tags"] = {"evening", "sea"};
  served_->add("noon", "panorama", {served_->file("b/noon.exr", "noon")})["author"] = "Ines Ørsted";
  served_->add("felt", "surface", {served_->file("c/felt.mtlx", "felt")});
  served_->add("a smell", "smell", {served_->file("d/x", "x")});
  served_->save();
  const auto contents = at(served_->serve()).look(progress_);
  QVERIFY(contents && contents->offline.empty());
  QCOMPARE(contents->index.title, std::string("Test shelf"));
  QCOMPARE(contents->index.entries.size(), size_t(3));  // of the kinds it knows
  const auto ids = [&](ShelfKind kind, const char* words) {
    std::string all;
    for (const ShelfEntry* e : entriesWith(contents->index, kind, words)) all += e->id + " ";
    return all;
  };
  QCOMPARE(ids(ShelfKind::panorama, ""), std::string("low-sky noon "));
  QCOMPARE(ids(ShelfKind::panorama, "SEA eve"), std::string("low-sky "));
  QCOMPARE(ids(ShelfKind::panorama, "ines"), std::string("noon "));
  QCOMPARE(ids(ShelfKind::surface, "sea"), std::string());
}

void TestShelf::filesComeWholeAndStay() {
  json& entry = served_->add(
      "felt", "surface", {served_->file("f/surface.mtlx", "text"), served_->file("f/maps/a b%.png", large_)});
  entry["preview"] = json::array({served_->file("f/small/surface.mtlx", "small")});
  served_->save();
  const Shelf shelf = at(served_->serve());
  const ShelfEntry e = entryOf(shelf);
  QVERIFY(!shelf.here(e, What::files));
  const auto small = shelf.fetch(e, What::preview, progress_);
  QVERIFY(small && *readFile(*small) == "small");
  const auto file = shelf.fetch(e, What::files, progress_);
  QVERIFY2(file.ok(), failing(file).c_str());
  QCOMPARE(file->filename().string(), std::string("surface.mtlx"));
  QCOMPARE(*readFile(file->parent_path() / "maps" / "a b%.png"), large_);
  QCOMPARE(progress_.fraction(), 1.0);
  // The network goes: what it said and what was fetched is still there.
  served_->end();
  const auto later = shelf.look(progress_);
  QVERIFY(later && !later->offline.empty());
  QCOMPARE(later->index.entries.front(), e);
  QVERIFY(shelf.here(e, What::files) == *file);
  QVERIFY(*shelf.fetch(e, What::files, progress_) == *file);
  QVERIFY(!shelf.fetch(e, What::thumbnail, progress_).ok());
}

void TestShelf::brokenOffItGoesOn() {
  served_->add("sky", "panorama", {served_->file("sky.exr", large_)});
  served_->save();
  const Shelf shelf = at(served_->serve({"--break-after", "100000"}));
  // Its index is short enough to come whole.
  const ShelfEntry e = entryOf(shelf);
  int tries = 0;
  auto file = shelf.fetch(e, What::files, progress_);
  for (; !file && tries < 9; ++tries) {
    QVERIFY2(failing(file).find("goes on from there") != std::string::npos, failing(file).c_str());
    QVERIFY(!shelf.here(e, What::files));
    file = shelf.fetch(e, What::files, progress_);
  }
  QCOMPARE(tries, 2);  // three times 100,000 bytes: none was asked for again
  QCOMPARE(*readFile(*file), large_);
}

void TestShelf::liesAreThrownAway() {
  for (const char* lie : {"longer", "shorter", "other"}) {
    served_ = std::make_unique<ServedShelf>();
    json file = served_->file("sky.exr", large_);
    if (lie == std::string("longer")) file["bytes"] = large_.size() - 5;
    if (lie == std::string("shorter")) file["bytes"] = large_.size() + 5;
    if (lie == std::string("other")) file["sha256"] = std::string(64, 'a');
    served_->add("sky", "panorama", {file});
    served_->save();
    const Shelf shelf = at(served_->serve());
    const ShelfEntry e = entryOf(shelf);
    const std::string said = failing(shelf.fetch(e, What::files, progress_));
    QVERIFY2(said.find("sky.exr") != std::string::npos && said.ends_with('.'), said.c_str());
    QVERIFY(!shelf.here(e, What::files));
    if (lie != std::string("shorter")) QCOMPARE(leftovers(), 0);
    // Asked again it is no better.
    QVERIFY(!shelf.fetch(e, What::files, progress_).ok());
    QVERIFY(!shelf.here(e, What::files));
  }
}

void TestShelf::faultsAreSaid_data() {
  QTest::addColumn<QStringList>("how");
  QTest::addColumn<QString>("says");
  QTest::newRow("silent") << QStringList{"--silent"} << "does not answer";
  QTest::newRow("sends on") << QStringList{"--redirect", "sky.exr"} << "not followed";
  QTest::newRow("not there") << QStringList{"--redirect", "no"} << "it answers 404";
  QTest::newRow("nobody") << QStringList() << "does not answer";
}

void TestShelf::faultsAreSaid() {
  QFETCH(QStringList, how);
  QFETCH(QString, says);
  served_->add("sky", "panorama", {served_->file("sky.exr", large_)});
  served_->save();
  const std::string address = served_->serve();
  const ShelfEntry e = entryOf(at(address));
  const Shelf shelf = at(address, {30, how.contains("--silent") ? 2 : 30});
  served_->end();
  fs::remove(served_->folder() / (says.contains("404") ? "sky.exr" : "none"));
  if (!how.isEmpty()) served_->serve(how);
  const std::string said = failing(shelf.fetch(e, What::files, progress_));
  QVERIFY2(QString::fromStdString(said).contains(says), said.c_str());
  QVERIFY(!shelf.here(e, What::files));
}

void TestShelf::indexesThatCannotBe_data() {
  QTest::addColumn<QString>("text");
  const QString whole =
      R"({"shelf":1,"entries":[{"id":"%1","kind":"panorama","files":[{"path":"%2","bytes":%3,"sha256":"%4"}]}]})";
  const QString hash(64, 'b');
  QTest::newRow("nothing") << "";
  QTest::newRow("a page") << "<html>";
  QTest::newRow("another kind") << R"({"albums":[]})";
  QTest::newRow("a later one") << R"({"shelf":2,"entries":[]})";
  QTest::newRow("no files") << R"({"shelf":1,"entries":[{"id":"a","kind":"panorama"}]})";
  QTest::newRow("twice") << R"({"shelf":1,"entries":[{"id":"a","kind":"surface","files":[]}]})";
  for (const char* path :
       {"../out.exr", "/etc/passwd", "a/../../b", "a//b", "a/./b", "c:\\\\x", ".hidden", "a/"})
    QTest::newRow(path) << whole.arg("a", path, "1", hash);
  QTest::newRow("an id that climbs") << whole.arg("../a", "a.exr", "1", hash);
  QTest::newRow("less than nothing") << whole.arg("a", "a.exr", "-4", hash);
  QTest::newRow("no hash") << whole.arg("a", "a.exr", "4", "abc");
  QTest::newRow("a number of words") << whole.arg("a", "a.exr", "\"many\"", hash);
}

void TestShelf::indexesThatCannotBe() {
  QFETCH(QString, text);
  const auto index = parseShelfIndex(text.toStdString(), "here");
  QVERIFY(!index.ok());
  QVERIFY(index.error().message.find("The shelf at here cannot be read: ") == 0);
}

void TestShelf::cancelledItEnds() {
  served_->add("sky", "panorama", {served_->file("sky.exr", large_)});
  served_->save();
  const Shelf shelf = at(served_->serve({"--slow", "10000"}));
  const ShelfEntry e = entryOf(shelf);
  std::thread soon([&] {
    std::this_thread::sleep_for(std::chrono::milliseconds(300));
    progress_.cancel();
  });
  QElapsedTimer timer;
  timer.start();
  const auto file = shelf.fetch(e, What::files, progress_);
  soon.join();
  QVERIFY(!file && file.error().kind == ErrorKind::cancelled);
  QVERIFY2(timer.elapsed() < 15'000, qPrintable(QString::number(timer.elapsed())));
}

DUSK_TEST(TestShelf, QGuiApplication);
#include "shelf.moc"
