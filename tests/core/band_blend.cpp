// A blend of which the passes come band by band is that of the whole.
#include "core/deliver/band_blend.h"

#include <QtTest>

#include "tests/made_up_passes.h"
#include "tests/program.h"

using namespace dusk;

namespace {

constexpr int width = 90, height = 140;
constexpr PixelArea whole{0, 0, width, height};

/// Rows of a picture; nothing of an empty one.
Picture rowsOf(const Picture& p, int first, int end) {
  if (p.empty()) return {};
  Picture out(p.width, end - first, p.channels);
  std::copy(p.at(0, first), p.at(0, first) + size_t(end - first) * size_t(p.width) * p.channels.size(),
            out.pixels.begin());
  return out;
}

std::shared_ptr<const Passes> rowsOf(const Passes& p, int first, int end) {
  auto out = std::make_shared<Passes>();
  for (const auto member : {&Passes::beauty, &Passes::alpha, &Passes::ratio, &Passes::reflection,
                            &Passes::depth, &Passes::facing})
    (*out).*member = rowsOf(p.*member, first, end);
  for (const GroupPasses& g : p.groups) {
    GroupPasses own;
    own.name = g.name;
    for (size_t i = 0; i < g.part.size(); ++i) own.part[i] = rowsOf(g.part[i], first, end);
    own.with = rowsOf(g.with, first, end), own.without = rowsOf(g.without, first, end);
    own.mirror = rowsOf(g.mirror, first, end);
    out->groups.push_back(std::move(own));
  }
  out->covers.assign(p.covers.begin() + long(first) * p.width(), p.covers.begin() + long(end) * p.width());
  return out;
}

BlendSources common() {
  BlendSources s;
  s.width = width, s.height = height, s.plateWidth = width, s.partOfId = {"left", "right"};
  return s;
}

}  // namespace

class TestBandBlend : public QObject {
  Q_OBJECT
  const Passes passes_ = madeUpPasses(width, height);
  const Picture plate_ = madeUpPlate(width, height);
  const std::shared_ptr<const ColourView> view_ = *ColourView::make("plain sRGB");

  FinishedRows inBands(const Shot& shot, const std::vector<int>& ends) {
    BandBlend blend(shot, common(), view_, {{whole, true, true}});
    FinishedRows all;
    all.light = Picture::rgb(width, 0), all.codes = Picture::rgb(width, 0);
    int first = 0;
    for (const int end : ends) {
      const Picture plate = rowsOf(plate_, first, end);
      const FinishedRows rows = blend.add(rowsOf(passes_, first, end), plate, displayed(plate, *view_))[0];
      for (const auto member : {&FinishedRows::light, &FinishedRows::codes}) {
        const Picture& more = rows.*member;
        (all.*member).pixels.insert((all.*member).pixels.end(), more.pixels.begin(), more.pixels.end());
        (all.*member).height += more.height;
      }
      first = end;
    }
    return all;
  }

 private slots:
  void bandsAreTheWhole_data();
  void bandsAreTheWhole();
  void withoutNeighboursRowsComeAtOnce();
  void whatIsLeftOutIsSaidOnce();
};

void TestBandBlend::bandsAreTheWhole_data() {
  QTest::addColumn<int>("which");
  for (int i = 0; i < 6; ++i) QTest::addRow("stack %d", i) << i;
}

void TestBandBlend::bandsAreTheWhole() {
  QFETCH(int, which);
  using K = CorrectionKind;
  Shot shot;
  BlendSettings& b = shot.blend;
  Mask parts, outline;
  parts.kind = MaskKind::parts, parts.parts = {"right"};
  outline.points = {{{20, 30}, 6}, {{70, 40}, 0}, {{60, 110}, 12}};
  switch (which) {
    case 0:
      b.rows["view"].corrections = {{K::blur, true, 1, {{"px", 6}}}};
      break;
    case 1:
      b.rows["view"].corrections = {{K::glow, true, 1, {{"px", 9}, {"threshold", 0.4}}}, {K::vignette}};
      break;
    case 2:
      b.rows["product"].corrections = {{K::edge, true, 1, {{"shift", 1.2}, {"feather", 0.8}}},
                                       {K::exposure, true, 1, {{"ev", 1}}, {}, {}, {parts}}};
      break;
    case 3:
      b.lens = {{0.9, 0.8, 1}, 0.4, 1.6, {2, -2}, {-0.3, 0, 0}};
      b.grain.sigma.assign(9, Vec3d(3));
      break;
    case 4:
      b.mix["sun"] = {-1, 30};
      b.rows["contact"].corrections = {{K::blur, true, 1, {{"px", 3}}}};
      b.rows["light:sun"].corrections = {{K::saturation, true, 1, {{"amount", 0}}}};
      break;
    default:
      b.rows["glow"].corrections = {{K::glow, true, 1, {{"px", 5}, {"threshold", 0}, {"amount", 60}}}};
      b.rows["view"].corrections = {{K::defocus}, {K::sharpen, true, 0.6, {}, {}, {}, {outline}}};
      b.rows["view"].masks = {outline};
  }
  BlendSources sources = common();
  sources.passes = std::make_shared<Passes>(passes_), sources.plate = std::make_shared<Picture>(plate_);
  sources.shownPlate = std::make_shared<Picture>(displayed(plate_, *view_));
  const Stack stack = buildStack(shot, sources);
  Evaluator evaluator;
  const Picture light = lightOf(stack, evaluator), codes = codesOf(stack, *view_, evaluator);
  for (const std::vector<int>& ends :
       {std::vector<int>{height}, {70, height}, {32, 64, 96, 128, height}, {1, 2, 3, 137, height}}) {
    const FinishedRows made = inBands(shot, ends);
    QCOMPARE(made.light.height, height);
    QVERIFY(made.light.pixels == light.pixels);
    QVERIFY(made.codes.pixels == codes.pixels);
  }
}

void TestBandBlend::withoutNeighboursRowsComeAtOnce() {
  Shot shot;
  shot.blend.exposureEv = 1;
  BandBlend blend(shot, common(), view_, {{whole, false, true}});
  const Picture plate = rowsOf(plate_, 0, 40);
  const FinishedRows rows = blend.add(rowsOf(passes_, 0, 40), plate, displayed(plate, *view_))[0];
  QCOMPARE(rows.codes.height, 40);
  QVERIFY(rows.light.empty());
  // With a blur the last rows wait for what comes.
  shot.blend.rows["view"].corrections = {{CorrectionKind::blur, true, 1, {{"px", 2}}}};
  BandBlend waits(shot, common(), view_, {{whole, true, false}});
  const FinishedRows some = waits.add(rowsOf(passes_, 0, 40), plate, displayed(plate, *view_))[0];
  QVERIFY(some.light.height > 20 && some.light.height < 40);
  QVERIFY(some.codes.empty());
}

void TestBandBlend::whatIsLeftOutIsSaidOnce() {
  QTemporaryDir folder;
  AssetStore assets(folder.path().toStdString());
  Shot shot;
  ExtraLayer logo;
  logo.id = "layer-1", logo.name = "Logo", logo.file = {"gone.png", "1"};
  shot.blend.layers = {logo};
  BlendSources sources = common();
  sources.assets = &assets;
  BandBlend blend(shot, sources, view_, {{whole, true, false}});
  for (const auto& [first, end] : {std::pair(0, 70), {70, height}}) {
    const Picture plate = rowsOf(plate_, first, end);
    (void)blend.add(rowsOf(passes_, first, end), plate, displayed(plate, *view_));
  }
  QCOMPARE(blend.notes().size(), size_t(1));
  QVERIFY(blend.notes()[0].find("Logo") != std::string::npos &&
          blend.notes()[0].find("gone.png") != std::string::npos);
}

DUSK_TEST(TestBandBlend, NoApplication);
#include "band_blend.moc"
