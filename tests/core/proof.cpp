#include <QtTest>
#include <random>

#include "core/base/srgb.h"
#include "core/project/file.h"
#include "core/proof/checks.h"
#include "core/proof/mend.h"
#include "core/proof/prove.h"
#include "core/proof/tones.h"
#include "core/set/furnish.h"
#include "core/vantage/camera.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

class TestProof : public QObject {
  Q_OBJECT
 private slots:
  void edgeWidthOfAKnownBlur_data();
  void edgeWidthOfAKnownBlur();
  void noEdgeIsNoMeasure();
  void demoProves();
  void thingsThatAreOffAreFound();
  void whatStandsOnAPieceDoesNotHover();
  void cutShadowIsFound();
  void lostTonesAreFound();
  void everyKindOfMatchHasAName();
  void aPanoramaAslantIsFoundAndSetUpright();
};

void TestProof::edgeWidthOfAKnownBlur_data() {
  QTest::addColumn<double>("sigma");
  QTest::addColumn<double>("angle");
  for (double sigma : {0.6, 1.0, 1.6})
    for (double angle : {0.0, 25.0, 90.0, 200.0})
      QTest::addRow("%g px at %g deg", sigma, angle) << sigma << angle;
}

// An edge blurred by a Gaussian rises from 10 % to 90 % over 2.563 sigma; the measurement's own bilinear
// lookup adds a variance of about a sixth of a pixel squared.
void TestProof::edgeWidthOfAKnownBlur() {
  QFETCH(double, sigma);
  QFETCH(double, angle);
  const Vec2d across(std::cos(radians(angle)), std::sin(radians(angle))), at(32.3, 31.8);
  Picture p = Picture::rgb(64, 64);
  std::mt19937 random(1);
  std::normal_distribution<float> grain(0, 0.004f);
  for (int y = 0; y < 64; ++y)
    for (int x = 0; x < 64; ++x) {
      const double d = (Vec2d(x + 0.5, y + 0.5) - at).dot(across);
      const float v = float(0.2 + 0.5 * 0.5 * (1 + std::erf(d / sigma / std::sqrt(2.0))));
      for (int c = 0; c < 3; ++c) p.at(x, y)[c] = v + grain(random);
    }
  const auto edge = measureEdge(p, at, across);
  QVERIFY(edge.has_value());
  const double expected = 2.563 * std::sqrt(sigma * sigma + 1.0 / 6);
  QVERIFY2(std::abs(edge->widthPx / expected - 1) < 0.15,
           qPrintable(QString("%1 against %2").arg(edge->widthPx).arg(expected)));
}

void TestProof::noEdgeIsNoMeasure() {
  Picture p = Picture::rgb(64, 64);
  QVERIFY(!measureEdge(p, {32, 32}, {1, 0}));
  for (int y = 0; y < 64; ++y)
    for (int x = 30; x < 34; ++x) p.at(x, y)[0] = p.at(x, y)[1] = p.at(x, y)[2] = 1;  // a line, not a step
  QVERIFY(!measureEdge(p, {32, 32}, {1, 0}));
}

void TestProof::demoProves() {
  const fs::path folder = fs::path(DUSK_SOURCE) / "demo/brackwater";
  const auto project = loadProject(folder / "brackwater.dusk");
  AssetStore assets(folder);
  const auto findings = prove(*project, 0, assets, nullptr);
  QStringList ids;
  for (const Finding& f : findings) {
    ids << QString::fromStdString(f.id);
    QVERIFY2(f.ok(), f.id.c_str());
  }
  QCOMPARE(ids.mid(0, 4), (QStringList{"line-fit", "shadow-angle", "contact-gap", "ground-tone"}));
  // Without a photo there are no lines to lie on, and no shadow to fall like, though one is marked.
  Project own = *project;
  own.shots[0].backdrop.kind = BackdropKind::plain;
  QVERIFY(own.shots[0].gnomon && !compareShadows(own.shots[0], assets).photoDegrees);
  for (const Finding& f : prove(own, 0, assets, nullptr))
    QVERIFY2(f.id != "line-fit" && !f.id.starts_with("shadow-"), f.id.c_str());
}

void TestProof::thingsThatAreOffAreFound() {
  const fs::path folder = fs::path(DUSK_SOURCE) / "demo/brackwater";
  Project p = *loadProject(folder / "brackwater.dusk");
  AssetStore assets(folder);
  p.shots[0].surroundings.turnDegrees = 25;
  p.shots[0].surroundings.gainEv = -4;
  p.shots[0].placements[0].liftM = 0.004;
  for (const Finding& f : prove(p, 0, assets, nullptr)) {
    if (f.id == "shadow-angle") QVERIFY(std::abs(f.value - 25) < 1);
    if (f.id == "contact-gap") QVERIFY(std::abs(f.value - 4) < 1e-3);
    const bool isOff =
        f.id == "shadow-angle" || f.id == "contact-gap" || f.id == "ground-tone" || f.id == "panorama-turned";
    QVERIFY2(f.ok() != isOff, f.id.c_str());
    QVERIFY(!f.remedy.empty() && !f.station.empty());
  }
  // A mirrored panorama's shadow runs elsewhere.
  Surroundings mirrored;
  mirrored.panorama = p.shots[0].surroundings.panorama, mirrored.gainEv = 3, mirrored.mirrored = true;
  p.shots[0].surroundings = mirrored;
  const ShadowComparison c = compareShadows(p.shots[0], assets);
  QVERIFY(std::abs(wrapDegrees(*c.productDegrees - *c.photoDegrees)) > 90);
}

void TestProof::whatStandsOnAPieceDoesNotHover() {
  const fs::path folder = fs::path(DUSK_SOURCE) / "demo/brackwater";
  Project p = *loadProject(folder / "brackwater.dusk");
  AssetStore assets(folder);
  const Placement& gauge = p.shots[0].placements[0];
  addPiece(p, 0, "plinth-square", gauge.xM, gauge.yM);  // 350 mm high as it comes
  Progress progress;
  QVERIFY(assets.model(p.products.back(), progress).ok());
  const auto found = [&](double liftM, double aside) {
    p.shots[0].placements[0].liftM = liftM;
    p.shots[0].placements[1].xM = p.shots[0].placements[0].xM + aside;
    for (const Finding& f : prove(p, 0, assets, nullptr))
      if (f.id == "contact-gap") return f;
    return Finding{};
  };
  QVERIFY(found(0.35, 0).ok() &&
          found(0.35, 0).what.find("stands on \"Square plinth\"") != std::string::npos);
  QVERIFY(!found(0.36, 0).ok());
  QVERIFY(!found(0.35, 0.5).ok());
}

void TestProof::cutShadowIsFound() {
  // A sheet a metre wide is all that catches; the light on it falls by a tenth up to its rim.
  Shot shot;
  shot.placements.push_back({"p", "x"});
  shot.vantage.solved = true;
  shot.vantage.camera = lookAt(120, 80, 120, {0, -3, 1.5}, {0, 0, 0});
  shot.contact.groundCatches = false;
  StandIn sheet;
  sheet.id = "s", sheet.kind = StandInKind::sheet, sheet.sizeM = {1, 1, 0};
  shot.standIns.push_back(sheet);
  Passes passes;
  passes.beauty = Picture::rgb(120, 80), passes.alpha = Picture(120, 80, {"A"}),
  passes.ratio = Picture::rgb(120, 80);
  for (int y = 0; y < 80; ++y)
    for (int x = 0; x < 120; ++x) {
      const auto on = levelPoint(shot.vantage.camera, {x + 0.5, y + 0.5});
      const bool caught = on && std::abs(on->x) <= 0.5 && std::abs(on->y) <= 0.5;
      std::fill_n(passes.ratio.at(x, y), 3, caught ? 0.9f : 1.0f);
    }
  const auto cut = catcherFinding(shot, placeOf(shot), passes);
  QVERIFY(cut && !cut->ok());
  QVERIFY2(std::abs(cut->value - 10) < 0.5, qPrintable(QString::number(cut->value)));
  // With the ground beyond it, or fading before the rim, nothing is cut.
  shot.contact.groundCatches = true;
  QCOMPARE(catcherFinding(shot, placeOf(shot), passes)->value, 0.0);
  shot.contact.groundCatches = false;
  std::fill(passes.ratio.pixels.begin(), passes.ratio.pixels.end(), 1.0f);
  passes.ratio.at(60, 40)[1] = 0.5f;
  QCOMPARE(catcherFinding(shot, placeOf(shot), passes)->value, 0.0);
}

void TestProof::lostTonesAreFound() {
  // A wedge from dark to over white, beside nothing.
  constexpr int w = 100, h = 40;
  Passes passes;
  passes.beauty = Picture::rgb(w, h), passes.alpha = Picture(w, h, {"A"});
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w / 2; ++x) {
      std::fill_n(passes.beauty.at(x, y), 3, 0.01f + 1.2f * float(x) / (w / 2));
      passes.alpha.at(x, y)[0] = 1;
    }
  const auto view = ColourView::make("plain sRGB");
  QVERIFY(view.ok());
  const auto lostAt = [&](float times) {
    Picture graded = passes.beauty;
    for (float& v : graded.pixels) v *= times;
    return *tonesFinding(displayed(graded, **view), passes, **view);
  };
  // What is white as rendered is not lost by the blend.
  QVERIFY(lostAt(1).ok() && lostAt(1).value == 0 && !lostAt(1).at);
  // At four times the light all above a quarter is white; of that, what was nearly white had little to lose.
  const double faint = srgbDecoded(1 - 12.0 / 255);
  const double expected = 100 * (faint - 0.25) / 1.2;
  QVERIFY2(std::abs(lostAt(4).value - expected) < 2.5, qPrintable(QString::number(lostAt(4).value)));
  QVERIFY(!lostAt(4).ok() && lostAt(4).at->x < 0.5);
  QVERIFY(!lostAt(0).ok() &&
          std::abs(lostAt(0).value - 100 * faint / 1.2) < 2.5);  // all black, but what was white
  // So little of a product says nothing.
  for (int i = 0; i < w * h; ++i) passes.alpha.pixels[size_t(i)] = i == 50 ? 1 : 0;
  QVERIFY(!tonesFinding(displayed(passes.beauty, **view), passes, **view));
}

void TestProof::everyKindOfMatchHasAName() {
  for (size_t i = 0; i < matchKinds; ++i) {
    QVERIFY(matchIds[i]);
    QCOMPARE(matchKindOf(matchIds[i]), std::optional(MatchKind(i)));
  }
  QVERIFY(!matchKindOf("contact-gap"));
  // Those that are proved say what a client would.
  for (const MatchRow& row : matchRows(PhotoCharacter{}, RenderCharacter{}, BlendSettings{}))
    if (row.kind != MatchKind::softness && row.kind != MatchKind::halo) {
      Finding off{matchIds[size_t(row.kind)], "", 1, 0, 0, "", "", ""};
      QVERIFY2(!clientWords(off).empty(), row.title);
    }
}

void TestProof::aPanoramaAslantIsFoundAndSetUpright() {
  const fs::path demo = fs::path(DUSK_SOURCE) / "demo/boathouse";
  auto project = loadProject(demo / "boathouse.dusk");
  QVERIFY(project);
  AssetStore assets(demo);
  Progress progress;
  const auto leans = [&]() -> std::optional<Finding> {
    Findings findings;
    checkPanorama({*project, project->shots[0], assets, nullptr, Models::wait, progress}, findings);
    const Finding* f = byId(findings, "panorama-leans");
    return f ? std::optional(*f) : std::nullopt;
  };
  Surroundings& s = project->shots[0].surroundings;
  QVERIFY(leans() && leans()->ok());
  s.tiltDegrees = -3, s.rollDegrees = 4;
  const auto off = leans();
  QVERIFY(off && !off->ok() && canMend(*off));
  QVERIFY(std::abs(off->value - 5) < 1);
  QVERIFY(mend(*project, 0, *off, assets, nullptr));
  QVERIFY(std::hypot(s.tiltDegrees, s.rollDegrees) < 1 && leans()->ok());
}

DUSK_TEST(TestProof, NoApplication);
#include "proof.moc"
