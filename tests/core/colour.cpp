#include <QtTest>

#include "core/colour/view.h"
#include "tests/program.h"

using namespace dusk;

class TestColour : public QObject {
  Q_OBJECT
 private slots:
  void everyViewReturnsEveryCode_data();
  void everyViewReturnsEveryCode();
  void plainViewIsTheSrgbCurve();
  void kelvinRunsFromWarmToCool();
  void unknownViewIsRefused();
};

void TestColour::everyViewReturnsEveryCode_data() {
  QTest::addColumn<QString>("name");
  for (const std::string& name : ColourView::names())
    QTest::newRow(name.c_str()) << QString::fromStdString(name);
}

// The identity rule's foundation: what goes in by the inverse comes out, code for code. Greys for all; for
// the views that work per channel, every mixture too.
void TestColour::everyViewReturnsEveryCode() {
  QFETCH(QString, name);
  const auto view = ColourView::make(name.toStdString());
  QVERIFY2(view.ok(), view.ok() ? "" : view.error().message.c_str());
  std::vector<float> codes;
  for (int i = 0; i < 256; ++i) codes.insert(codes.end(), {i / 255.f, i / 255.f, i / 255.f});
  if (name != "ACES")
    for (int r = 0; r < 256; r += 15)
      for (int g = 0; g < 256; g += 15)
        for (int b = 0; b < 256; b += 15) codes.insert(codes.end(), {r / 255.f, g / 255.f, b / 255.f});
  std::vector<float> light = codes;
  (*view)->toScene(light.data(), light.size() / 3);
  for (float v : light) QVERIFY(std::isfinite(v));
  (*view)->toDisplay(light.data(), light.size() / 3);
  for (size_t i = 0; i < codes.size(); ++i)
    QVERIFY2(std::lround(light[i] * 255) == std::lround(codes[i] * 255),
             qPrintable(QString("code %1 came back as %2").arg(codes[i] * 255).arg(light[i] * 255)));
}

void TestColour::plainViewIsTheSrgbCurve() {
  const auto view = ColourView::make("plain sRGB");
  float middle[] = {0.18f, 0.0021404f, 1.0f};
  (*view)->toDisplay(middle, 1);
  QVERIFY(std::abs(middle[0] - 0.46136f) < 1e-4f);
  QVERIFY(std::abs(middle[1] - 0.02765f) < 1e-4f);
  QVERIFY(std::abs(middle[2] - 1.0f) < 1e-5f);
}

void TestColour::kelvinRunsFromWarmToCool() {
  const Rgb warm = kelvinColour(2800), day = kelvinColour(6504), cool = kelvinColour(12000);
  QVERIFY(warm.x > warm.z && cool.z > cool.x);
  QVERIFY(std::abs(day.x - day.z) < 0.1f);
  for (const Rgb& c : {day, cool}) QVERIFY(std::abs(luminance(c) - 1) < 1e-3f);
}

void TestColour::unknownViewIsRefused() { QVERIFY(!ColourView::make("no such view").ok()); }

DUSK_TEST(TestColour, NoApplication);
#include "colour.moc"
