#include <QtTest>
#include <fstream>
#include <nlohmann/json.hpp>

#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/project/file.h"
#include "docs/maker/comments.h"
#include "docs/maker/reference.h"
#include "docs/maker/schema.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;
using nlohmann::json;

/// What is written about the project file by its own tables.
class TestReference : public QObject {
  Q_OBJECT
  json schema_;

  /// Calls `see` with each shape of the schema that is a number, and where it is.
  static void eachNumber(const json& shape, const std::string& at,
                         const std::function<void(const std::string&, const json&)>& see) {
    if (shape.is_object() &&
        (shape.value("type", json()) == "number" || shape.value("type", json()) == "integer"))
      return see(at, shape);
    if (!shape.is_structured()) return;
    for (const auto& [key, inner] : shape.items()) eachNumber(inner, at + "/" + key, see);
  }

 private slots:
  void initTestCase();
  void theFilesAreAsTheTablesSay();
  void everyNumberHasLimits();
  void limitsAreThoseOfTheReader_data();
  void limitsAreThoseOfTheReader();
  void commentsAreTakenFromHeaders();
};

void TestReference::initTestCase() {
  schema_ = reference::shapesOfTheDocument();
  const auto added = reference::addLimits(schema_);
  QVERIFY2(added.ok(), added.ok() ? "" : added.error().message.c_str());
}

void TestReference::theFilesAreAsTheTablesSay() {
  const auto pages = reference::pagesOf(DUSK_SOURCE);
  QVERIFY(pages.ok());
  QCOMPARE(pages->size(), size_t(3));
  for (const auto& [file, text] : *pages)
    QVERIFY2(*readFile(fs::path(DUSK_SOURCE) / file) == text,
             (file + " is not what its tables say; ./dusk reference writes it anew").c_str());
}

/// A number that nobody looks at before it is computed with can be 1e300.
void TestReference::everyNumberHasLimits() {
  // Any seed will do; tables of numbers are looked at where they have their whole length; a set's sliders are
  // held to 0 and 1 where they are used; what a solve says of itself is only shown.
  const std::set<std::string> free{"/BlockLook/brightness/items",
                                   "/BlockLook/colour/items",
                                   "/GrainLook/correlation/items",
                                   "/Deliverable/bits",
                                   "/SetRecipe/sliders/additionalProperties",
                                   "/Vantage/rmsPx"};
  std::set<std::string> seen;
  int limited = 0;
  eachNumber(schema_["$defs"], "", [&](const std::string& where, const json& shape) {
    std::string at = where;
    at.erase(at.find("/properties"), std::string("/properties").size());
    if (shape.contains("minimum") && shape.contains("maximum")) {
      ++limited;
      QVERIFY2(shape["minimum"] < shape["maximum"] && !free.contains(at), at.c_str());
    } else if (!at.ends_with("/seed") && !at.starts_with("/VantageSigma/")) {
      QVERIFY2(free.contains(at), (at + " may be anything").c_str());
      seen.insert(at);
    }
  });
  QVERIFY(seen == free);
  QVERIFY(limited > 200);
}

void TestReference::limitsAreThoseOfTheReader_data() {
  QTest::addColumn<QString>("type");
  QTest::addColumn<QString>("field");
  QTest::addColumn<QString>("document");
  QTest::newRow("roughness") << "Surface"
                             << "roughness"
                             << R"({"surfaces": [{"roughness": %1}]})";
  QTest::newRow("cone") << "Lamp"
                        << "coneDegrees"
                        << R"({"shots": [{"lamps": [{"coneDegrees": %1}]}]})";
  QTest::newRow("rate") << "Motion"
                        << "picturesPerSecond"
                        << R"({"shots": [{"motion": {"picturesPerSecond": %1}}]})";
  QTest::newRow("turn")
      << "Placement"
      << "turnDegrees"
      << R"({"products": [{"id": "a"}], "shots": [{"placements": [{"productId": "a", "turnDegrees": %1}]}]})";
}
void TestReference::limitsAreThoseOfTheReader() {
  QFETCH(QString, type);
  QFETCH(QString, field);
  QFETCH(QString, document);
  const json& shape = schema_["$defs"][type.toStdString()]["properties"][field.toStdString()];
  const bool whole = shape["type"] == "integer";
  const auto opens = [&](double value) {
    const QString number = whole ? QString::number(qint64(value)) : QString::number(value, 'g', 17);
    json full = jsonFrom(document.arg(number).toStdString());
    full["schema"] = projectSchema;
    return fromText(jsonText(full)).ok();
  };
  const double low = shape["minimum"], high = shape["maximum"], beyond = whole ? 1 : 1e-6;
  QVERIFY(opens(low) && opens(high));
  QVERIFY(!opens(low - beyond) && !opens(high + beyond));
}

void TestReference::commentsAreTakenFromHeaders() {
  QTemporaryDir folder;
  std::ofstream(folder.filePath("x.h").toStdString()) << R"(
/// How bright, and
/// how wide.
struct Glow {
  Glow();
  double ev = 0, span = 1;  ///< in EV; across
  /// Goes on
  /// for two lines.
  double wide{};
  int plain = 3;
  std::optional<double>
      far{};  ///< behind, and
              ///< below
};
)";
  json schema = {{"$defs", {{"Glow", {{"properties", json::object()}}}}}};
  json& fields = schema["$defs"]["Glow"]["properties"];
  for (const char* name : {"ev", "span", "wide", "plain", "far"}) fields[name] = json::object();
  reference::addComments(schema, folder.path().toStdString());
  QCOMPARE(schema["$defs"]["Glow"]["description"], "How bright, and how wide.");
  QCOMPARE(fields["ev"]["description"], "in EV; across");
  QCOMPARE(fields["span"]["description"], "in EV; across");
  QCOMPARE(fields["wide"]["description"], "Goes on for two lines.");
  QVERIFY(!fields["plain"].contains("description"));
  QCOMPARE(fields["far"]["description"], "behind, and below");
  reference::addComments(schema, folder.filePath("nowhere").toStdString());  // leaves it as it is
  QCOMPARE(fields["ev"]["description"], "in EV; across");
}

DUSK_TEST(TestReference, NoApplication);
#include "reference.moc"
