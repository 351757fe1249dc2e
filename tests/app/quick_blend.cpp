#include "app/preview/quick_blend.h"

#include <QtTest>

#include "app/preview/preview.h"
#include "core/project/file.h"
#include "core/trace/resized_passes.h"
#include "tests/made_up_passes.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

/// The blend while something of it is pulled at: at a share of the size, and fine once the hand rests.
class TestQuickBlend : public QObject {
  Q_OBJECT
  static constexpr int width_ = 900, height_ = 700;
  const std::shared_ptr<const ColourView> view_ = *ColourView::make("plain sRGB");
  static BlendInput input() {
    BlendInput in;
    in.passes = std::make_shared<Passes>(madeUpPasses(width_, height_));
    // A photo is even but for a little texture: of noise, a smaller picture is another.
    Picture even = resized(madeUpPlate(45, 35), width_, height_);
    const Picture noise = madeUpPlate(width_, height_);
    for (size_t i = 0; i < even.pixels.size(); ++i) even.pixels[i] += 0.06f * (noise.pixels[i] - 0.5f);
    in.plate = std::make_shared<Picture>(std::move(even));
    in.assets = std::make_shared<AssetStore>();
    in.wholeWidth = width_, in.wholeHeight = height_, in.area = {0, 0, width_, height_};
    return in;
  }
  static double meanDifference(const QImage& a, const QImage& b) {
    double sum = 0;
    for (int y = 0; y < a.height(); ++y)
      for (int x = 0; x < a.width(); ++x) sum += std::abs(qGreen(a.pixel(x, y)) - qGreen(b.pixel(x, y)));
    return sum / (double(a.width()) * a.height());
  }

 private slots:
  void onlyWhatIsSlowIsMadeSmaller();
  void itShowsWhatTheFinePictureShows();
  void passesKeepWhatTheySayAtAnotherSize();
  void theWindowFollowsAndThenIsFine();
};

void TestQuickBlend::onlyWhatIsSlowIsMadeSmaller() {
  QuickBlend quick;
  const auto took = [&](double seconds, int width, int height) {
    quick.fine(QImage(width, height, QImage::Format_RGB32), seconds, {}, {});
  };
  QCOMPARE(quick.step(), 1);
  took(0.04, 1000, 700);
  QCOMPARE(quick.step(), 2);
  took(0.04, 2000, 1000);
  QCOMPARE(quick.step(), 3);
  took(5, 8000, 5000);
  QCOMPARE(quick.step(), 4);
  // What is cheap is shown finely, but for the first of a pull: that may be at something else.
  took(0.02, 2000, 1000);
  QCOMPARE(quick.step(), 1);
  QCOMPARE(quick.step(true), 3);
  took(5, 400, 250);  // a small picture shows its pixels
  QCOMPARE(quick.step(), 1);
  QCOMPARE(quick.step(true), 1);
}

void TestQuickBlend::itShowsWhatTheFinePictureShows() {
  Shot shot;
  shot.blend.exposureEv = 0.4;
  shot.blend.rows["view"].corrections = {{CorrectionKind::glow, true, 1, {{"px", 40}, {"threshold", 0.5}}},
                                         {CorrectionKind::vignette}};
  const BlendInput in = input();
  Blended blended;
  std::vector<std::string> notes;
  const auto no = [] { return false; };
  const auto fine = blended.image(Blended::State::present, shot, in, *view_, {}, notes, no);
  QVERIFY(fine && fine->seconds > 0);
  QuickBlend quick;
  for (const int step : {2, 3, 4}) {
    const auto made = quick.image(shot, in, *view_, step, no);
    QVERIFY(made && made->size() == fine->picture.size() && made->format() == fine->picture.format());
    QVERIFY2(meanDifference(*made, fine->picture) < 4,
             qPrintable(QString::number(meanDifference(*made, fine->picture))));
  }
  // Put on the fine picture it is that, to the last pixel, where nothing changes, and nearer to what will be.
  quick.fine(fine->picture, 1, shot, in);
  const auto same = quick.image(shot, in, *view_, 4, no);
  QVERIFY(same && *same == fine->picture);
  shot.blend.exposureEv = 0.7;
  const auto later = blended.image(Blended::State::present, shot, in, *view_, {}, notes, no);
  const double put = meanDifference(*quick.image(shot, in, *view_, 4, no), later->picture),
               alone = meanDifference(*QuickBlend().image(shot, in, *view_, 4, no), later->picture);
  QVERIFY2(put < 0.6 * alone, qPrintable(QString("%1, by itself %2").arg(put).arg(alone)));
  // It is made of what is asked for now.
  shot.blend.exposureEv = -3;
  const auto darker = quick.image(shot, in, *view_, 4, no);
  QVERIFY(meanDifference(*darker, fine->picture) > 4);
  QVERIFY(!quick.image(shot, in, *view_, 4, [] { return true; }));
}

void TestQuickBlend::passesKeepWhatTheySayAtAnotherSize() {
  Passes passes = madeUpPasses(90, 60);
  passes.covers.resize(90 * 60);
  for (size_t i = 0; i < passes.covers.size(); ++i) passes.covers[i].list[0] = {uint32_t(i % 90), 1};
  const Passes small = resized(passes, 30, 20);
  QCOMPARE(small.width(), 30);
  QCOMPARE(small.height(), 20);
  QCOMPARE(small.covers[31].list[0].id, 4u);  // the second pixel of the second row: its middle
  const auto mean = [](const Picture& p) {
    return std::accumulate(p.pixels.begin(), p.pixels.end(), 0.0) / double(p.pixels.size());
  };
  for (const auto member : {&Passes::beauty, &Passes::alpha})
    QVERIFY(std::abs(mean(passes.*member) - mean(small.*member)) < 1e-4);
  for (size_t i = 0; i < passes.ratio.pixels.size(); ++i) passes.ratio.pixels[i] = 1;
  for (const float r : resized(passes, 41, 27).ratio.pixels) QCOMPARE(r, 1.0f);
}

void TestQuickBlend::theWindowFollowsAndThenIsFine() {
  const fs::path demo = fs::path(DUSK_SOURCE) / "demo/brackwater";
  Project project = *loadProject(demo / "brackwater.dusk");
  project.shots[0].render.samples = 1;
  project.shots[0].blend.rows["view"].corrections = {{CorrectionKind::glow, true, 1, {{"px", 100}}},
                                                     {CorrectionKind::blur, true, 1, {{"px", 60}}}};
  const auto assets = std::make_shared<AssetStore>(demo);
  const auto cache = std::make_shared<GeometryCache>();
  const QSize size(1800, 1200);
  std::vector<std::shared_ptr<const Frame>> frames;
  Preview preview;
  connect(&preview, &Preview::frameReady, this,
          [&](const std::shared_ptr<const Frame>& frame) { frames.push_back(frame); });
  preview.request(project, 0, assets, cache, size);
  QVERIFY(QTest::qWaitFor([&] { return !frames.empty() && frames.back()->samples > 0; }, 60'000));
  QVERIFY(!frames.back()->quick);
  frames.clear();
  for (int i = 1; i <= 8; ++i) {
    project.shots[0].blend.exposureEv = 0.1 * i;
    preview.request(project, 0, assets, cache, size);
    QTest::qWait(30);
  }
  QVERIFY(QTest::qWaitFor([&] { return !frames.empty() && !frames.back()->quick; }, 60'000));
  const auto quick = std::count_if(frames.begin(), frames.end(), [](const auto& f) { return f->quick; });
  QVERIFY(quick >= 1);
  for (const auto& frame : frames) QCOMPARE(frame->picture.size(), size);
  QTest::qWait(200);
  QVERIFY(!frames.back()->quick);  // nothing coarse comes after the fine one
}

DUSK_TEST(TestQuickBlend, QApplication);
#include "quick_blend.moc"
