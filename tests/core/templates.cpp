#include <QGuiApplication>
#include <QtTest>

#include "core/assets/asset_store.h"
#include "core/base/files.h"
#include "core/product/import.h"
#include "core/surface/drawn.h"
#include "core/surface/print_room.h"
#include "core/surface/unrolled.h"
#include "tests/core/sheet.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

/// Outlines to draw into.
class TestTemplates : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  fs::path in(const char* name) { return fs::path(folder_.path().toStdString()) / name; }

 private slots:
  void initTestCase() { qputenv("XDG_CACHE_HOME", folder_.filePath("cache").toUtf8()); }
  void flatTemplatesHaveTheFacesOutline();
  void wrappedTemplatesUnrollTheCurve();
  void guidesAreNeverPrinted();
  void thereIsRoomWhereAPrintLies();
};

void TestTemplates::flatTemplatesHaveTheFacesOutline() {
  const LitSheet sheet;
  Decal decal;
  decal.at = {0, 0, 0}, decal.normal = {0, 0, 1}, decal.axis = {0, 1, 0}, decal.widthMm = 40,
  decal.heightMm = 30;
  decal.turnDegrees = 0;
  const auto u = unrolled(decal, sheet.model, 1, 1);
  QVERIFY2(u.ok(), u.ok() ? "" : u.error().message.c_str());
  QVERIFY(std::abs(u->size().x - 100) < 1e-3 && std::abs(u->size().y - 100) < 1e-3);
  QCOMPARE(u->outlines.size(), size_t(1));
  double area = 0;
  const auto& o = u->outlines[0];
  for (size_t i = 0; i < o.size(); ++i) {
    const Vec2d &a = o[i], &b = o[(i + 1) % o.size()];
    area += (a.x * b.y - b.x * a.y) / 2;
  }
  QVERIFY2(std::abs(std::abs(area) - 10'000) < 50, qPrintable(QString::number(area)));
  const std::string svg = templateSvg(*u, "A <plate> & more", 3);
  QVERIFY(svg.find("width=\"106.000mm\"") != std::string::npos);
  QVERIFY(svg.find("A &lt;plate> &amp; more") != std::string::npos);
  const Picture pixels = templatePixels(*u, 3, 25.4);
  QVERIFY(pixels.width == 106 && pixels.height == 106);
  QVERIFY(pixels.at(3, 50)[3] > 0.5f && pixels.at(50, 50)[3] == 0);
  decal.at = {0, 0, 500};
  QVERIFY(!unrolled(decal, sheet.model, 1, 1).ok());
  decal.lay = DecalLay::coordinates;
  QVERIFY(!unrolled(decal, sheet.model, 1, 1).ok());
}

void TestTemplates::thereIsRoomWhereAPrintLies() {
  const LitSheet sheet(0.0254);  // 100 by 100, in inches
  Decal decal;
  decal.at = Vec3d(1, 0.5, 0), decal.normal = {0, 0, 1}, decal.axis = {0, 1, 0};
  const auto room = [&] { return roomFor(decal, sheet.model, sheet.model.parts[0], 25.4); };
  const Part& part = sheet.model.parts[0];
  const Vec3d size = sheet.model.boxOf(part).size() * 25.4;
  QVERIFY(room() && std::abs(room()->size().x - size.x) < 1e-3 * size.x &&
          std::abs(room()->size().y - size.y) < 1e-3 * size.y);
  QVERIFY(std::abs(room()->high.x - (50 - 25.4)) < 1e-3 && std::abs(room()->low.y + (50 + 12.7)) < 1e-3);
  // One that fits stays as it is; one that does not is as large as goes, and whole on the sheet.
  decal.widthMm = 60;
  Decal fits = decal;
  fitOn(fits, sheet.model, part, 25.4, 0.5);
  QVERIFY(fits == decal);
  fits.widthMm = 400;
  fitOn(fits, sheet.model, part, 25.4, 0.5);
  QVERIFY(std::abs(fits.widthMm - 100) < 1e-3 && std::abs(fits.at.x) < 1e-4 &&
          std::abs(fits.at.y - 0.5) < 1e-4);
  fits = decal, fits.widthMm = 400, fits.at.y = 1.9;
  fitOn(fits, sheet.model, part, 25.4, 0.5);
  QVERIFY(std::abs(fits.at.y * 25.4 - 25) < 1e-3);  // its upper border on the sheet's
  decal.turnDegrees = 45;
  QVERIFY(std::abs(room()->size().x - size.x * std::sqrt(2)) < 1e-3 * size.x);
  decal.at.z = decal.reachMm / 25.4 + 0.1;
  QVERIFY(!room());
  decal.at.z = 0, decal.normal = {1, 0, 0};
  QVERIFY(!room());  // it would stand on the sheet's edge
}

void TestTemplates::wrappedTemplatesUnrollTheCurve() {
  Progress progress;
  const auto jar = importModel(fs::path(DUSK_SOURCE) / "demo/jar/brackwater-jar.step", progress);
  QVERIFY(jar.ok());
  Decal decal;
  decal.lay = DecalLay::wrapped, decal.side = DecalSide::outside, decal.at = {0, -42, 40},
  decal.reachMm = 0.5;
  for (const Part& part : jar->parts)
    if (part.name == "Glass") decal.parts = {part.path};
  const auto u = unrolled(decal, *jar, 1, 0.5);
  QVERIFY2(u.ok(), u.ok() ? "" : u.error().message.c_str());
  // All the way round: two pi times 42 mm.
  QVERIFY2(std::abs(u->size().x - 2 * pi * 42) < 4, qPrintable(QString::number(u->size().x)));
  QVERIFY(u->size().y > 80 && u->size().y < 105);
  const auto glass = std::find_if(jar->parts.begin(), jar->parts.end(),
                                  [](const Part& part) { return part.name == "Glass"; });
  const auto room = roomFor(decal, *jar, *glass, 1);
  QVERIFY(room && std::abs(room->size().x - 2 * pi * 42) < 1e-3);
  QVERIFY2(std::abs(room->size().y - u->size().y) < 1, qPrintable(QString::number(room->size().y)));
}

void TestTemplates::guidesAreNeverPrinted() {
  const LitSheet sheet;
  Decal decal;
  decal.at = {0, 0, 0}, decal.normal = {0, 0, 1}, decal.axis = {0, 1, 0};
  std::string svg = templateSvg(*unrolled(decal, sheet.model, 1, 1), "it", 3);
  const size_t artwork = svg.find("<g id=\"artwork\">") + 16;
  svg.insert(artwork, "<rect x=\"40\" y=\"40\" width=\"20\" height=\"20\" fill=\"#ff0000\"/>");
  QVERIFY(writeFileAtomically(in("it.svg"), svg).ok());
  Progress progress;
  const auto page = drawn(in("it.svg"), "a-hash", 1, progress);
  QVERIFY2(page.ok(), page.ok() ? "" : page.error().message.c_str());
  QVERIFY(std::abs(page->sizeMm.x - 106) < 0.1);
  AssetStore assets(fs::path(folder_.path().toStdString()));
  const auto print = assets.texture(*assets.refer(in("it.svg")), true, 1, progress);
  QVERIFY2(print.ok(), print.ok() ? "" : print.error().message.c_str());
  int inked = 0;
  for (int y = 0; y < 212; ++y)
    for (int x = 0; x < 212; ++x)
      inked +=
          (*print)->at({(float(x) + 0.5f) / 212, (float(y) + 0.5f) / 212}, Vec2f(0), Vec2f(0), false).alpha >
          0.5f;
  QVERIFY2(std::abs(inked - 40 * 40) < 80, qPrintable(QString::number(inked)));  // the red square alone
}

DUSK_TEST(TestTemplates, QGuiApplication);
#include "templates.moc"
