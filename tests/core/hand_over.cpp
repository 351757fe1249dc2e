// Every kind of file that is handed over holds the picture, in its frame, under its name.
#include <QtTest>

#include "core/base/files.h"
#include "core/deliver/apart.h"
#include "core/picture/icc.h"
#include "core/picture/read.h"
#include "core/vantage/frames.h"
#include "tests/handed_over.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

class TestHandOver : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  fs::path folder(const char* name) { return fs::path(folder_.path().toStdString()) / name; }
  static constexpr int width = HandedOver::width, height = HandedOver::height;
  HandedOver quay_{"brackwater", "brackwater.dusk"};

  /// Codes of light, as far as a file of codes holds them.
  static Picture shown(const Picture& light, const ColourView& view) {
    Picture codes = displayed(light, view);
    for (float& v : codes.pixels) v = std::clamp(v, 0.0f, 1.0f);
    return codes;
  }

 private slots:
  void everyKindHoldsThePicture();
  void framesAreCropsOfOneTrace();
  void alphaIsWhatMakesThePictureOfThePlate();
  void whiteStaysWhiteUnderAlpha();
};

void TestHandOver::everyKindHoldsThePicture() {
  Project p = quay_.project();
  using K = DeliverableKind;
  for (const DeliverableKindInfo& info : deliverableKinds())
    if (!info.isFilm) p.shots[0].deliverables.push_back(usualOf(info.kind, info.name));
  Deliverable deep = usualOf(K::png, "deep"), print = usualOf(K::tiff, "print"),
              light = usualOf(K::tiff, "light");
  deep.bits = 16, print.bits = 16, light.bits = 32;
  Deliverable exact = usualOf(K::avif, "exact"), exactly = usualOf(K::webp, "exactly");
  exact.quality = exactly.quality = 100;
  for (const Deliverable& d : {deep, print, light, exact, exactly}) p.shots[0].deliverables.push_back(d);
  p.shots[0].handOver.title = "On the quay", p.shots[0].handOver.rights = "Brackwater & Sons";
  const auto report = quay_.write(p, folder("kinds"));
  QVERIFY2(report.ok(), report.ok() ? "" : report.error().message.c_str());
  QCOMPARE(report->files.size(), p.shots[0].deliverables.size());
  const Picture png = readAsIs(folder("kinds") / "png.png");
  QCOMPARE(png.width, width);
  QVERIFY(worstDifference(readAsIs(folder("kinds") / "tiff.tif"), png) == 0);
  // Sixteen bits are within half a code of eight.
  QVERIFY(worstDifference(readAsIs(folder("kinds") / "deep.png"), png) < 0.502 / 255);
  QVERIFY(worstDifference(readAsIs(folder("kinds") / "print.tif"), readAsIs(folder("kinds") / "deep.png")) ==
          0);
  // Light, shown by the view, is the picture.
  const auto view = *quay_.assets.view(p.shots[0].blend);
  QVERIFY(worstDifference(shown(readAsIs(folder("kinds") / "light.tif"), *view), png) < 0.51 / 255);
  const auto composite = readExrPart(folder("kinds") / "exr.exr", "composite");
  QVERIFY(composite && worstDifference(shown(*composite, *view), png) < 1.0 / 255);
  for (const char* lossy : {"jpeg.jpg", "webp.webp", "avif.avif"}) {
    const Picture small = readAsIs(folder("kinds") / lossy);
    QCOMPARE(small.pixels.size(), png.pixels.size());
    double sum = 0;
    for (size_t i = 0; i < png.pixels.size(); ++i) sum += std::abs(double(small.pixels[i]) - png.pixels[i]);
    QVERIFY2(sum / double(png.pixels.size()) < 3.0 / 255, lossy);
  }
  for (const char* lossless : {"exact.avif", "exactly.webp"})
    QVERIFY2(worstDifference(readAsIs(folder("kinds") / lossless), png) == 0, lossless);
  // The profile is in every file, and what is said of the picture.
  for (const char* profiled : {"png.png", "deep.png", "tiff.tif", "jpeg.jpg"}) {
    auto in = OIIO::ImageInput::open((folder("kinds") / profiled).string());
    QVERIFY2(in && in->spec().find_attribute("ICCProfile"), profiled);
  }
  const auto srgb = srgbProfile();
  const std::string profile(reinterpret_cast<const char*>(srgb.data()), srgb.size());
  for (const char* name : {"webp.webp", "avif.avif", "exact.avif"}) {
    const auto bytes = readFile(folder("kinds") / name);
    QVERIFY2(bytes.ok() && bytes->find(profile) != std::string::npos, name);
    QVERIFY2(bytes->find("On the quay") != std::string::npos, name);
    QVERIFY2(bytes->find("Brackwater &amp; Sons") != std::string::npos, name);  // as XMP has it
  }
}

void TestHandOver::framesAreCropsOfOneTrace() {
  Project p = quay_.project();
  Shot& shot = p.shots[0];
  // At this size the picture is a fourth, and so are its frames.
  PictureFrame same{"frame-1", "Square", {0.5, 0.5}, 0.5, 960, 960, 0, false};
  PictureFrame small{"frame-2", "Small", {0.4, 0.6}, 0.4, 384, 192, 0, false};
  PictureFrame about{"frame-3", "About", {0, -0.05}, 0.15, 288, 288, 0, true};
  PictureFrame beyond{"frame-4", "Beyond", {0.95, 0.5}, 0.5, 960, 640, 0, false};
  shot.frames = {same, small, about, beyond};
  shot.deliverables = {usualOf(DeliverableKind::png, "whole")};
  for (const PictureFrame& f : shot.frames) {
    Deliverable d = usualOf(DeliverableKind::png, "{frame}-{size}");
    d.frameId = f.id;
    shot.deliverables.push_back(d);
  }
  Deliverable passes = usualOf(DeliverableKind::exr, "passes");
  passes.frameId = "frame-2";
  shot.deliverables.push_back(passes);
  const auto report = quay_.write(p, folder("frames"));
  QVERIFY2(report.ok(), report.ok() ? "" : report.error().message.c_str());
  const Picture whole = readAsIs(folder("frames") / "whole.png"),
                square = readAsIs(folder("frames") / "Square-240x240.png");
  QCOMPARE(square.width, 240);
  for (int y = 0; y < 240; ++y)
    for (int x = 0; x < 240; ++x) QVERIFY(square.rgbAt(x, y) == whole.rgbAt(120 + x, 40 + y));
  // One that is smaller is the crop, averaged: its mean is that of the crop.
  const Picture less = readAsIs(folder("frames") / "Small-96x48.png");
  QCOMPARE(less.width, 96);
  double a = 0, b = 0;
  for (const float v : less.pixels) a += v / double(less.pixels.size());
  for (int y = 144; y < 240; ++y)
    for (int x = 96; x < 288; ++x)
      for (int c = 0; c < 3; ++c) b += whole.at(x, y)[c] / (96.0 * 192 * 3);
  QVERIFY2(std::abs(a - b) < 0.01, qPrintable(QString("%1 %2").arg(a).arg(b)));
  // About the product: its spot is at the middle, a twentieth higher.
  const FramedArea area = framed(shot, about, width, height, 0.25);
  const Vec2d spot = productSpot(shot);
  QVERIFY(std::abs((area.area.x0 + area.area.x1) / 2.0 / width - spot.x) < 0.01);
  QVERIFY(std::abs((area.area.y0 + area.area.y1) / 2.0 / height - (spot.y - 0.05)) < 0.01);
  QVERIFY(std::count_if(report->notes.begin(), report->notes.end(),
                        [](const std::string& n) { return n.find("Beyond") != std::string::npos; }) == 1);
  const auto beauty = readExrPart(folder("frames") / "passes.exr", "beauty");
  QVERIFY(beauty && beauty->width == 192 && beauty->height == 96);
}

void TestHandOver::alphaIsWhatMakesThePictureOfThePlate() {
  Project p = quay_.project();
  Shot& shot = p.shots[0];
  shot.deliverables = {usualOf(DeliverableKind::png, "flat"), usualOf(DeliverableKind::png, "apart"),
                       usualOf(DeliverableKind::tiff, "times"), usualOf(DeliverableKind::png, "deep"),
                       usualOf(DeliverableKind::png, "deep-flat")};
  shot.deliverables[1].alpha = shot.deliverables[3].alpha = DeliveredAlpha::straight;
  shot.deliverables[2].alpha = DeliveredAlpha::premultiplied, shot.deliverables[2].bits = 32;
  shot.deliverables[3].bits = shot.deliverables[4].bits = 16;
  QVERIFY(quay_.write(p, folder("alpha")).ok());
  Project bare = p;
  bare.shots[0].placements.clear(),
      bare.shots[0].deliverables = {usualOf(DeliverableKind::png, "plate"),
                                    usualOf(DeliverableKind::png, "deep-plate")};
  bare.shots[0].deliverables[1].bits = 16;
  QVERIFY(quay_.write(bare, folder("alpha")).ok());
  const Picture flat = readAsIs(folder("alpha") / "flat.png"),
                plate = readAsIs(folder("alpha") / "plate.png"),
                apart = readAsIs(folder("alpha") / "apart.png"),
                deep = readAsIs(folder("alpha") / "deep.png"),
                times = readAsIs(folder("alpha") / "times.tif");
  QCOMPARE(apart.channelCount(), 4);
  QVERIFY2(worstDifference(laidOver(plate, apart, false), flat) < 1.01 / 255,
           qPrintable(QString::number(255 * worstDifference(laidOver(plate, apart, false), flat))));
  QVERIFY(worstDifference(laidOver(readAsIs(folder("alpha") / "deep-plate.png"), deep, false),
                          readAsIs(folder("alpha") / "deep-flat.png")) < 1.6 / 65535);
  const auto view = *quay_.assets.view(shot.blend);
  Picture light = plate;
  view->toScene(light.pixels.data(), light.pixels.size() / 3);
  QVERIFY(worstDifference(shown(laidOver(light, times, true), *view), flat) < 1.01 / 255);
  // Where the product is it hides what is behind; where nothing changed there is nothing; the shadow is grey.
  int solid = 0, nothing = 0, shade = 0;
  for (size_t i = 3; i < apart.pixels.size(); i += 4) {
    solid += apart.pixels[i] == 1, nothing += apart.pixels[i] == 0;
    shade += apart.pixels[i] > 0.1f && apart.pixels[i] < 0.9f;
  }
  QVERIFY(solid > 2000 && nothing > width * height / 3 && shade > 300);
}

void TestHandOver::whiteStaysWhiteUnderAlpha() {
  HandedOver table{"table", "table.dusk"};
  Project p = table.project();
  Shot& s = p.shots[0];
  s.frames = {{"frame-1", "Square", {0.5, 0.5}, 0.6, 700, 700, 300, false}};
  s.deliverables = {usualOf(DeliverableKind::png, "flat"), usualOf(DeliverableKind::png, "apart"),
                    usualOf(DeliverableKind::jpeg, "small"), usualOf(DeliverableKind::png, "square")};
  s.deliverables[1].alpha = DeliveredAlpha::straight;
  s.deliverables[3].frameId = "frame-1";
  const auto report = table.write(p, folder("white"));
  QVERIFY2(report.ok(), report.ok() ? "" : report.error().message.c_str());
  for (const char* file : {"flat.png", "small.jpg"}) {
    const Picture flat = readAsIs(folder("white") / file);
    for (int x = 0; x < flat.width; ++x)
      for (int c = 0; c < 3; ++c) QVERIFY2(flat.at(x, 0)[c] == 1, file);
  }
  // Brought to another size it is still white where nothing is.
  const Picture square = readAsIs(folder("white") / "square.png");
  int exact = 0;
  for (size_t i = 0; i < square.pixels.size(); i += 3)
    exact += square.pixels[i] == 1 && square.pixels[i + 2] == 1;
  QVERIFY2(exact > square.width * square.height / 10, qPrintable(QString::number(exact)));
  // The shadow is in the alpha, and over white it is the picture again.
  const Picture apart = readAsIs(folder("white") / "apart.png"),
                flat = readAsIs(folder("white") / "flat.png");
  Picture paper = Picture::rgb(apart.width, apart.height);
  std::fill(paper.pixels.begin(), paper.pixels.end(), 1.0f);
  QVERIFY(worstDifference(laidOver(paper, apart, false), flat) < 1.01 / 255);
}

DUSK_TEST(TestHandOver, NoApplication);
#include "hand_over.moc"
