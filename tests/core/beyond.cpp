// Frames show what lies beyond the border of a picture that is made, as a larger picture would.
#include <QtTest>

#include "core/light/backdrop.h"
#include "core/picture/read.h"
#include "core/proof/prove.h"
#include "core/trace/resized_passes.h"
#include "core/vantage/camera.h"
#include "core/vantage/frames.h"
#include "tests/handed_over.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

class TestBeyond : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  HandedOver table_{"table", "table.dusk"};
  static constexpr int width = 240, height = 160;

  fs::path folder(const char* name) { return fs::path(folder_.path().toStdString()) / name; }
  /// A picture of a product left of its middle, before a grade.
  Project project() {
    Project p = table_.project();
    Shot& s = p.shots[0];
    s.blend = {};  // a lens has a middle, and grain its place
    s.backdrop.kind = BackdropKind::gradient;
    s.backdrop.colour = "#d0c0b0", s.backdrop.upper = "#ffffff";
    s.vantage.camera = cropped(resized(s.vantage.camera, width, height), 110, 0, width, height);
    s.backdrop.width = width, s.backdrop.height = height;
    return p;
  }
  static void ask(Shot& s, const char* name, const PictureFrame* frame = nullptr,
                  DeliverableKind kind = DeliverableKind::png) {
    Deliverable d = usualOf(kind, name);
    if (frame) d.frameId = frame->id;
    s.deliverables.push_back(d);
  }
  Result<DeliverReport> write(const Project& p, const char* into, long long wholePixels = 3'000'000) {
    DeliverOptions options;
    options.folder = folder(into), options.samples = 8, options.wholePixels = wholePixels;
    return deliver(p, 0, table_.assets, table_.cache, options, table_.progress);
  }
  /// A picture that shows as much more on the left and above.
  static Project larger(const Project& p, int left, int top) {
    Project all = p;
    Shot& s = all.shots[0];
    s.vantage.camera = cropped(s.vantage.camera, -left, -top, width + left, height + top);
    s.backdrop.width = width + left, s.backdrop.height = height + top;
    return all;
  }

 private slots:
  void framesEndWhereThePhotoDoes();
  void backdropsGoOn();
  void aFrameIsAsOfALargerPicture_data();
  void aFrameIsAsOfALargerPicture();
  void draftsAreAsLargeAsAsked();
  void proofsLookAtThePictureAndAtItsFrames();
};

void TestBeyond::framesEndWhereThePhotoDoes() {
  Shot shot;
  const PictureFrame left{"frame-1", "Left", {0, 0.5}, 0.5, 120, 80, 0, false};
  QVERIFY(framed(shot, left, width, height).isMoved);
  QCOMPARE(framed(shot, left, width, height).area, (PixelArea{0, 40, 120, 120}));
  for (const BackdropKind kind : {BackdropKind::plain, BackdropKind::gradient, BackdropKind::panorama}) {
    shot.backdrop.kind = kind;
    const FramedArea f = framed(shot, left, width, height);
    QVERIFY(!f.isMoved);
    QCOMPARE(f.area, (PixelArea{-60, 40, 60, 120}));
  }
  // As much again on each side; what asks for more is moved.
  PictureFrame far = left;
  far.centre = {-2, 0.5};
  QVERIFY(framed(shot, far, width, height).isMoved);
  QCOMPARE(framed(shot, far, width, height).area.x0, -width);
  far.width = 50;
  QCOMPARE(framed(shot, far, width, height).area, (PixelArea{-width, -160, 2 * width, 320}));
  // What is traced is what files ask for.
  shot.frames = {left};
  QCOMPARE(tracedArea(shot, width, height), (PixelArea{0, 0, width, height}));
  ask(shot, "left", &left);
  QCOMPARE(tracedArea(shot, width, height), (PixelArea{-60, 0, width, height}));
  shot.deliverables[0].kind = DeliverableKind::mp4;
  QCOMPARE(tracedArea(shot, width, height), (PixelArea{0, 0, width, height}));
  shot.deliverables[0].kind = DeliverableKind::png, shot.deliverables[0].on = false;
  QCOMPARE(tracedArea(shot, width, height), (PixelArea{0, 0, width, height}));
}

void TestBeyond::backdropsGoOn() {
  Shot shot = project().shots[0];
  const PixelArea whole{0, 0, width, height}, more{-30, -20, width + 10, height + 40};
  const Picture inside = *table_.assets.plateArea(shot, width, height, whole),
                all = *table_.assets.plateArea(shot, width, height, more);
  QCOMPARE(cropped(all, {30, 20, 30 + width, 20 + height}), inside);
  // A grade keeps the colour of its ends.
  for (const int y : {0, 10, 20}) QCOMPARE(all.rgbAt(5, y), inside.rgbAt(5, 0));
  for (const int y : {20 + height, all.height - 1}) QCOMPARE(all.rgbAt(5, y), inside.rgbAt(5, height - 1));
  // A panorama is seen as by a larger picture's camera.
  shot.backdrop.kind = BackdropKind::panorama;
  Project wide = project();
  wide.shots[0] = shot;
  wide = larger(wide, 30, 20);
  const Picture seen = *table_.assets.plateArea(shot, width, height, {-30, -20, width, height});
  const Picture own =
      *table_.assets.plateArea(wide.shots[0], width + 30, height + 20, {0, 0, width + 30, height + 20});
  for (size_t i = 0; i < own.pixels.size(); ++i) QVERIFY(std::abs(seen.pixels[i] - own.pixels[i]) < 1e-3f);
}

void TestBeyond::aFrameIsAsOfALargerPicture_data() {
  QTest::addColumn<long long>("wholePixels");
  QTest::newRow("in one piece") << 3'000'000LL;
  QTest::newRow("in bands") << 20'000LL;
}

void TestBeyond::aFrameIsAsOfALargerPicture() {
  QFETCH(const long long, wholePixels);
  Project p = project();
  p.shots[0].backdrop.kind = BackdropKind::plain;   // goes on as it is
  p.shots[0].contact.reach = ShadowReach::endless;  // else it ends before the picture's border
  constexpr int left = 80, top = 24;
  Project all = larger(p, left, top);
  ask(all.shots[0], "all"), ask(all.shots[0], "passes", nullptr, DeliverableKind::exr);
  QVERIFY(write(all, "larger", wholePixels).ok());
  Shot& s = p.shots[0];
  s.frames = {{"frame-1",
               "More",
               {0.5 - left / 2.0 / width, 0.5 - top / 2.0 / height},
               double(width + left) / width,
               width + left,
               height + top,
               0,
               false}};
  ask(s, "whole"), ask(s, "more", &s.frames[0]), ask(s, "passes", &s.frames[0], DeliverableKind::exr);
  const auto report = write(p, "beyond", wholePixels);
  QVERIFY2(report.ok(), report.ok() ? "" : report.error().message.c_str());
  QVERIFY(report->width == width && report->height == height);
  const Picture want = readAsIs(folder("larger") / "all.png"), got = readAsIs(folder("beyond") / "more.png");
  QCOMPARE(want.width, width + left);
  QVERIFY(worstDifference(want, got) == 0);
  // There is something to see out there.
  const auto albedo = readExrPart(folder("beyond") / "passes.exr", "albedo");
  QVERIFY(albedo.ok());
  double beyond = 0;
  for (int y = 0; y < albedo->height; ++y)
    for (int x = 0; x < left; ++x) beyond += albedo->at(x, y)[0];
  QVERIFY2(beyond > 100, qPrintable(QString::number(beyond)));
  QVERIFY(worstDifference(*albedo, *readExrPart(folder("larger") / "passes.exr", "albedo")) == 0);
  // The picture itself is the rest of it.
  const Picture whole = readAsIs(folder("beyond") / "whole.png");
  QVERIFY(worstDifference(whole, cropped(want, {left, top, left + width, top + height})) == 0);
}

void TestBeyond::draftsAreAsLargeAsAsked() {
  Project p = project();
  Shot& s = p.shots[0];
  s.frames = {{"frame-1", "More", {0.3, 0.4}, 1.2, 288, 192, 0, false}};
  ask(s, "whole"), ask(s, "more", &s.frames[0]);
  for (const int w : {117, 120, 361}) {
    DeliverOptions options;
    options.folder = folder(std::to_string(w).c_str()), options.samples = 1;
    options.size = std::pair(w, w * 2 / 3);
    QVERIFY(deliver(p, 0, table_.assets, table_.cache, options, table_.progress).ok());
    QCOMPARE(readAsIs(options.folder / "whole.png").width, w);
    QCOMPARE(readAsIs(options.folder / "more.png").width, int(std::lround(1.2 * w)));
  }
}

void TestBeyond::proofsLookAtThePictureAndAtItsFrames() {
  Project p = project();
  Shot& s = p.shots[0];
  s.frames = {{"frame-1", "More", {0.2, 0.5}, 1.6, 384, 320, 0, false},
              {"frame-2", "Cut", {-0.05, 0.5}, 0.2, 48, 96, 0, false}};
  ask(s, "whole"), ask(s, "more", &s.frames[0]), ask(s, "cut", &s.frames[1]);
  const auto report = write(p, "proofs");
  QVERIFY(report.ok());
  QVERIFY(report->passes.width() > width && report->passes.picture.width() == width);
  const auto findings = prove(p, 0, table_.assets, &report->passes);
  const auto of = [&](const char* id, const char* subject) -> const Finding* {
    for (const Finding& f : findings)
      if (f.id == id && f.subject == subject) return &f;
    return nullptr;
  };
  QVERIFY(of("resolution", "") && of("resolution", "")->ok());
  QVERIFY(of("product-cut", "") && !of("product-cut", "")->ok());
  QVERIFY(of("product-cut", "frame-1") && of("product-cut", "frame-1")->ok());
  const Finding* cut = of("product-cut", "frame-2");
  QVERIFY(cut && !cut->ok() && cut->at);
  QVERIFY2(cut->at->x < 0.06, qPrintable(QString::number(cut->at->x)));
}

DUSK_TEST(TestBeyond, NoApplication);
#include "beyond.moc"
