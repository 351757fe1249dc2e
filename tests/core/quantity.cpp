#include "core/base/quantity.h"
#include "tests/program.h"

#include <QtTest>

using namespace dusk;

/// What people type into number fields.
class TestQuantity : public QObject {
  Q_OBJECT
  static double in(const char* text, const char* unit) {
    const auto value = quantityFromText(text, quantityOfUnit(unit), unit);
    return value ? *value : std::nan("");
  }

 private slots:
  void reads_data();
  void reads();
  void refuses_data();
  void refuses();
  void everyUnitOfAQuantityConvertsBothWays();
};

void TestQuantity::reads_data() {
  QTest::addColumn<QString>("text");
  QTest::addColumn<QString>("unit");
  QTest::addColumn<double>("value");
  const struct {
    const char *text, *unit;
    double value;
  } rows[] = {
      {"12", "mm", 12},
      {"12 mm", "mm", 12},
      {"1.2 m", "mm", 1200},
      {"1,5", "mm", 1.5},
      {"3/8 in", "mm", 9.525},
      {"3/8in", "mm", 9.525},
      {"2*40 mm", "mm", 80},
      {"2*(40 mm+1cm)", "mm", 100},
      {"1 m + 3 cm", "mm", 1030},
      {"1 m - 5", "mm", 995},
      {"-(3)", "mm", -3},
      {"- 2 cm", "mm", -20},
      {"6'", "m", 1.8288},
      {"5 ft 2", "m", std::nan("")},
      {"12 mm / 4 mm", "", std::nan("")},
      {"12 mm/4", "mm", 3},
      {"2*3 mm*2", "mm", 12},
      {"1e3", "mm", 1000},
      {"1e-2 m", "mm", 10},
      {"0.5 turn", "°", 180},
      {"90°", "°", 90},
      {"1 rad", "°", 57.29577951308232},
      {"5500 K", "K", 5500},
      {"5500", "K", 5500},
      {"1 stop", "EV", 1},
      {"+1/3", "EV", 1.0 / 3},
      {"50 %", "%", 50},
      {"8 × white", "× white", 8},
      {"((2))", "", 2},
      {"4 - 2 - 1", "", 1},
      {"8/2/2", "", 2},
      {" 7 ", "px", 7},
      {"7 px", "px", 7},
      {"10 µm", "mm", 0.01},
  };
  for (const auto& row : rows)
    if (!std::isnan(row.value)) QTest::newRow(row.text) << row.text << row.unit << row.value;
}

void TestQuantity::reads() {
  QFETCH(QString, text);
  QFETCH(QString, unit);
  QFETCH(double, value);
  const double got = in(text.toUtf8(), unit.toUtf8());
  QVERIFY2(std::abs(got - value) < 1e-9 * std::max(1.0, std::abs(value)),
           qPrintable(QString::number(got, 'g', 12)));
}

void TestQuantity::refuses_data() {
  QTest::addColumn<QString>("text");
  QTest::addColumn<QString>("unit");
  for (const auto& [text, unit] :
       std::initializer_list<std::pair<const char*, const char*>>{{"", "mm"},
                                                                  {"mm", "mm"},
                                                                  {"abc", "mm"},
                                                                  {"1 K", "mm"},
                                                                  {"1 mm", "°"},
                                                                  {"1 m * 1 m", "mm"},
                                                                  {"1/0", "mm"},
                                                                  {"(1", "mm"},
                                                                  {"1)", "mm"},
                                                                  {"1..2", "mm"},
                                                                  {"1 mm mm", "mm"},
                                                                  {"1 +", "mm"},
                                                                  {"* 3", "mm"},
                                                                  {"1e999", "mm"},
                                                                  {"5 ft 2", "m"},
                                                                  {"0x10", ""},
                                                                  {"nan", ""}})
    QTest::newRow(*text ? text : "nothing") << text << unit;
}

void TestQuantity::refuses() {
  QFETCH(QString, text);
  QFETCH(QString, unit);
  const auto value =
      quantityFromText(text.toStdString(), quantityOfUnit(unit.toStdString()), unit.toStdString());
  QVERIFY2(!value.ok(), qPrintable(QString::number(value ? *value : 0)));
  QVERIFY(value.error().message.size() > 5 && value.error().message.back() == '.');
}

void TestQuantity::everyUnitOfAQuantityConvertsBothWays() {
  for (const auto& units :
       std::vector<std::vector<const char*>>{{"m", "mm", "cm", "in", "ft", "km"}, {"°", "turn", "rad"}})
    for (const char* a : units)
      for (const char* b : units) {
        const double there = in((std::string("3.25 ") + a).c_str(), b);
        const double exact = in((QString::number(there, 'g', 17).toStdString() + " " + b).c_str(), a);
        QVERIFY(std::abs(exact / 3.25 - 1) < 1e-12);
      }
}

DUSK_TEST(TestQuantity, QCoreApplication);
#include "quantity.moc"
