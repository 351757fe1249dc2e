#include <QtTest>
#include <nlohmann/json.hpp>

#include "core/base/files.h"
#include "core/picture/read.h"
#include "core/project/file.h"
#include "core/project/links.h"
#include "core/variant/edit.h"
#include "tests/headless.h"
#include "tests/program.h"
#include "tests/small_demo.h"

using namespace dusk;
using nlohmann::json;
namespace fs = std::filesystem;

/// Variants without a window: listed, typed, rendered, queued, and as a table.
class TestVariants : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  QString project_;
  QString in(const char* name) { return folder_.filePath(name); }
  QStringList filesIn(const char* name) {
    return QDir(in(name)).entryList({"*.png"}, QDir::Files, QDir::Name);
  }
  QByteArray bytes(const QString& file) {
    QFile f(file);
    return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
  }
  QStringList render(const char* to, const QString& variant) {
    return {"render", project_, "--size",    "96x64", "--samples", "4",
            "--out",  in(to),   "--variant", variant, "--json"};
  }

 private slots:
  void initTestCase();
  void theyAreListed();
  void oneIsRendered();
  void allAreRendered();
  void whatIsTypedWrongIsSaid();
  void theyAreQueuedAndProved();
  void aTableGoesOutAndIn();
  void aShotIsFurnished();
};

void TestVariants::initTestCase() {
  Project p = smallDemo(folder_.path().toStdString(), "brackwater-colours.dusk");
  setExcluded(p, p.axes[0].options[4].id, p.axes[1].options[1].id, true);
  std::erase_if(p.axes[0].options,
                [](const VariantOption& o) { return o.name == "Chalk" || o.name == "Slate"; });
  p.shots[0].deliverables = {{DeliverableKind::png, "picture.png"}};
  p.shots[0].render.noiseTarget = 0;
  project_ = in("colours.dusk");
  QVERIFY(saveProject(p, project_.toStdString()).ok());
}

void TestVariants::theyAreListed() {
  const Headless list = headless({"variants", "list", project_, "--json"});
  QVERIFY2(list.code == 0, list.words.constData());
  const json told = list.told();
  QCOMPARE(told["count"].get<int>(), 5);  // three times two, less one pair
  QCOMPARE(told["axes"][0]["options"][1]["changes"][0].get<std::string>(),
           std::string("Harbour enamel: base colour"));
}

void TestVariants::oneIsRendered() {
  const Headless plain = headless(render("plain", "")), same = headless(render("same", "enamel=harbour")),
                 red = headless(render("red", "Enamel = signal red"));
  QVERIFY2(plain.code == 0 && same.code == 0 && red.code == 0, red.words.constData());
  QCOMPARE(red.told()["variant"].get<std::string>(), std::string("Signal red-Black"));
  QCOMPARE(filesIn("red"), QStringList{"picture.png"});
  QCOMPARE(bytes(in("plain") + "/picture.png"), bytes(in("same") + "/picture.png"));
  QVERIFY(bytes(in("plain") + "/picture.png") != bytes(in("red") + "/picture.png"));
  // What lies beside the file makes it again.
  const Headless again = headless({"render", in("red") + "/picture.png.json", "--out", in("again")});
  QVERIFY2(again.code == 0, again.words.constData());
  QCOMPARE(bytes(in("again") + "/picture.png"), bytes(in("red") + "/picture.png"));
}

void TestVariants::allAreRendered() {
  const Headless all = headless(render("all", "all"));
  QVERIFY2(all.code == 0, all.words.constData());
  QCOMPARE(all.told()["shots"].size(), size_t(5));
  QCOMPARE(filesIn("all"),
           (QStringList{"picture-Harbour-Black.png", "picture-Harbour-Brass.png", "picture-Ochre-Black.png",
                        "picture-Signal red-Black.png", "picture-Signal red-Brass.png"}));
  std::set<QByteArray> pictures;
  for (const QString& file : filesIn("all")) pictures.insert(bytes(in("all") + "/" + file));
  QCOMPARE(pictures.size(), size_t(5));
}

void TestVariants::whatIsTypedWrongIsSaid() {
  const Headless axis = headless(render("wrong", "lid=open"));
  QVERIFY(axis.code == 2 && axis.words.contains("there are: Enamel, Knobs"));
  const Headless pair = headless(render("wrong", "enamel=ochre,knobs=brass"));
  QVERIFY(pair.code == 2 && pair.words.contains("cannot be together"));
  QVERIFY(!QFile::exists(in("wrong")));
}

void TestVariants::theyAreQueuedAndProved() {
  const QStringList add{"queue",     "--queue", in("queue"), "add", project_, "--size",    "48x32",
                        "--samples", "2",       "--variant", "all", "--out",  in("queued")};
  QVERIFY(headless(add).code == 0);
  const Headless ran = headless({"queue", "--queue", in("queue"), "run", "--json"});
  QVERIFY2(ran.code == 0, ran.words.constData());
  QCOMPARE(filesIn("queued").size(), 5);
  const Headless proved =
      headless({"prove", project_, "--variant", "enamel=ochre", "--samples", "2", "--json"});
  QVERIFY(proved.code == 0 || proved.code == 1);
  const json one = proved.told();
  QVERIFY(one.is_array() && !one.empty());
  const Headless every = headless({"prove", project_, "--variant", "all", "--samples", "2", "--json"});
  QCOMPARE(every.code, 1);
  const json variants = every.told()["variants"];
  QCOMPARE(variants.size(), size_t(5));
  // As each is by itself, though they were traced together.
  for (const json& v : variants)
    if (v["variant"] == "Ochre-Black") QCOMPARE(v["proofs"].dump(), one.dump());
  QCOMPARE(std::count_if(variants.begin(), variants.end(), [](const json& v) { return v["holds"] == true; }),
           0);  // two samples are noise
}

void TestVariants::aTableGoesOutAndIn() {
  QVERIFY(headless({"variants", "list", project_, "--out", in("table.csv")}).code == 0);
  const auto table = readFile(in("table.csv").toStdString());
  QVERIFY(table &&
          table->find("Signal red,/surfaces/preset-harbour-enamel/baseColour,") != std::string::npos);
  std::string more = *table + "Lamp,On,/shots/quay/lamps/sun-1/on,true\r\n";
  QVERIFY(writeFileAtomically(in("more.csv").toStdString(), more).ok());
  QVERIFY(QDir().mkpath(in("sub")));
  const Headless took =
      headless({"variants", "take", project_, in("more.csv"), "-o", in("sub") + "/with.dusk", "--json"});
  QVERIFY2(took.code == 0, took.words.constData());
  QCOMPARE(took.told()["axes"].get<int>(), 3);
  const auto with = loadProject((in("sub") + "/with.dusk").toStdString());
  QVERIFY(with && with->axes[2].options[0].changes[0].to == "true");
  QVERIFY(writeFileAtomically(in("bad.csv").toStdString(), "axis,option\n").ok());
  QCOMPARE(headless({"variants", "take", project_, in("bad.csv"), "-o", in("bad.dusk")}).code, 2);
  QVERIFY(!QFile::exists(in("bad.dusk")));
}

void TestVariants::aShotIsFurnished() {
  const QStringList how{"furnish", project_, "-o", in("set.dusk"), "--seed", "7", "--json"};
  const Headless made = headless(how + QStringList{"--set", "garden", "--slider", "clutter=1"});
  QVERIFY2(made.code == 0, made.words.constData());
  const auto set = loadProject(in("set.dusk").toStdString());
  QVERIFY(set && set->shots[0].set.seed == 7 && set->shots[0].set.sliders.at("clutter") == 1);
  QCOMPARE(made.told()["placed"].get<size_t>(), set->shots[0].placements.size());
  const Headless none = headless(how + QStringList{"--set", "ballroom"});
  QVERIFY(none.code == 2 && none.words.contains("plinths"));
  for (const char* wrong : {"clutter", "clutter=2", "clutter=much", "palette=0.5"})
    QCOMPARE(headless(how + QStringList{"--set", "garden", "--slider", wrong}).code, 2);
}

DUSK_TEST(TestVariants, QCoreApplication);
#include "variants.moc"
