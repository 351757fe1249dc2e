#include "core/blend/blocks.h"

#include <QTemporaryDir>
#include <QtTest>

#include <random>

#include "core/base/srgb.h"
#include "core/blend/product_rows.h"
#include "core/picture/file_writer.h"
#include "core/picture/read.h"
#include "core/proof/match.h"
#include "tests/program.h"

using namespace dusk;

namespace {

constexpr int wide = 120, high = 72;

/// Slopes, an edge, colour and fine noise: display code values.
Picture scene() {
  std::mt19937 random(8);
  std::normal_distribution<float> noise(0, 0.015f);
  Picture p = Picture::rgb(wide, high);
  for (int y = 0; y < high; ++y)
    for (int x = 0; x < wide; ++x) {
      const float slope = 0.2f + 0.4f * float(x) / wide, thing = std::hypot(x - 61, y - 33) < 21.5 ? 0.3f : 0;
      const float grain = noise(random);
      const Vec3f v(slope + thing + grain, slope + grain, 0.6f - slope / 2 + grain * 2);
      for (int c = 0; c < 3; ++c) p.at(x, y)[c] = std::round(255 * std::clamp(v[c], 0.02f, 0.98f)) / 255;
    }
  return p;
}

std::shared_ptr<const Picture> light(Picture codes) {
  for (float& v : codes.pixels) v = srgbDecoded(v);
  return std::make_shared<Picture>(std::move(codes));
}

BlockLook lookOf(const JpegBlocks& b) {
  return {{b.brightness.begin(), b.brightness.end()}, {b.colour.begin(), b.colour.end()}, b.colourStep};
}

/// As it comes back from a JPEG's own coder.
Photo packed(const QTemporaryDir& folder, const Picture& codes, double quality) {
  const std::string file = folder.filePath("it.jpg").toStdString();
  PictureFileKind kind;
  kind.format = PictureFormat::jpeg, kind.quality = quality;
  if (!writePicture(file, kind, codes).ok()) return {};
  auto photo = readPhoto(file);
  return photo ? std::move(*photo) : Photo{};
}

Sheet blocksOn(const std::shared_ptr<const Picture>& picture, const std::shared_ptr<const Picture>& before,
               const BlockLook& look, const PixelArea& area, double scale = 1) {
  const PixelArea whole{0, 0, picture->width, picture->height};
  BlendFrame frame{whole, picture->width, picture->height, scale, nullptr};
  Evaluator evaluator;
  return evaluator.sheet(blocked(sourceOf(picture, whole, 3), sourceOf(before, whole, 3), look, frame), area);
}

}  // namespace

class TestBlocks : public QObject {
  Q_OBJECT
 private slots:
  void tablesAreTheFiles();
  void othersHaveNone();
  void asTheCoderDoesIt_data();
  void asTheCoderDoesIt();
  void thePlateStaysAsItIs();
  void piecesAreOfTheWhole();
  void seenFromNearTheyAreLarger();
  void theyAreMatchedWhenAsked();

 private:
  QTemporaryDir folder_;
};

void TestBlocks::tablesAreTheFiles() {
  const Photo photo = packed(folder_, scene(), 50);
  QVERIFY(photo.blocks);
  // T.81, tables K.1 and K.2, which quality 50 is.
  const std::array<int, 10> brightness{16, 11, 10, 16, 24, 40, 51, 61, 12, 12};
  QVERIFY(std::equal(brightness.begin(), brightness.end(), photo.blocks->brightness.begin()));
  QCOMPARE(photo.blocks->brightness[63], 99);
  QCOMPARE(photo.blocks->colour[0], 17);
  QCOMPARE(photo.blocks->colour[9], 21);
  QVERIFY(photo.blocks->colourStep == (std::array{2, 2}));
  QVERIFY(packed(folder_, scene(), 95).blocks->colourStep == (std::array{1, 1}));
  QVERIFY(coarsenessOf(lookOf(*photo.blocks)) >
          5 * coarsenessOf(lookOf(*packed(folder_, scene(), 95).blocks)));
}

void TestBlocks::othersHaveNone() {
  (void)packed(folder_, scene(), 80);
  QFile whole(folder_.filePath("it.jpg"));
  QVERIFY(whole.open(QIODevice::ReadOnly));
  const QByteArray bytes = whole.readAll();
  const qsizetype scan = bytes.indexOf(QByteArray("\xff\xda", 2));
  QVERIFY(scan > 100);
  const std::string cut = folder_.filePath("cut.jpg").toStdString();
  for (qsizetype end = 0; end <= scan; ++end) {
    QFile file(QString::fromStdString(cut));
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write(bytes.left(end)), file.close();
    QVERIFY2(!readJpegBlocks(cut), qPrintable(QString::number(end)));
  }
  const std::string png = folder_.filePath("it.png").toStdString();
  PictureFileKind kind;
  QVERIFY(writePicture(png, kind, scene()).ok());
  QVERIFY(!readPhoto(png)->blocks);
  QVERIFY(!readJpegBlocks(folder_.filePath("none.jpg").toStdString()));
}

void TestBlocks::asTheCoderDoesIt_data() {
  QTest::addColumn<double>("quality");
  for (const int quality : {92, 86, 75, 50, 25}) QTest::addRow("%d", quality) << double(quality);
}

// A JPEG's own coder and decoder on one side, our blocks with its tables on the other.
void TestBlocks::asTheCoderDoesIt() {
  QFETCH(double, quality);
  const Picture codes = scene();
  const Photo photo = packed(folder_, codes, quality);
  const auto black = std::make_shared<Picture>(Picture::rgb(wide, high));
  const Sheet made = blocksOn(light(codes), black, lookOf(*photo.blocks), {0, 0, wide, high});
  double apart = 0, change = 0;
  for (int y = 0; y < high; ++y)
    for (int x = 0; x < wide; ++x) {
      const Rgb theirs = photo.picture.rgbAt(x, y), was = codes.rgbAt(x, y);
      for (int c = 0; c < 3; ++c) {
        const float ours = srgbEncoded(made.at(c, x, y));
        apart += std::pow(255.0 * double(ours - theirs[c]), 2),
            change += std::pow(255.0 * double(was[c] - theirs[c]), 2);
      }
    }
  apart = std::sqrt(apart / (3.0 * wide * high)), change = std::sqrt(change / (3.0 * wide * high));
  // Theirs come out as whole code values; and they unpack colour across blocks.
  QVERIFY2(apart < std::max(1.0, 0.3 * change), qPrintable(QString("%1 of %2").arg(apart).arg(change)));
}

void TestBlocks::thePlateStaysAsItIs() {
  const auto plate = light(scene());
  Picture with = *plate;
  for (int y = 20; y < 41; ++y)
    for (int x = 30; x < 77; ++x) std::fill_n(with.at(x, y), 3, 0.5f);
  const BlockLook look = lookOf(*packed(folder_, scene(), 40).blocks);
  const Sheet made = blocksOn(std::make_shared<Picture>(with), plate, look, {0, 0, wide, high});
  int changed = 0;
  for (int y = 0; y < high; ++y)
    for (int x = 0; x < wide; ++x)
      for (int c = 0; c < 3; ++c)
        if (x >= 30 && x < 77 && y >= 20 && y < 41)
          changed += made.at(c, x, y) != 0.5f;
        else
          QCOMPARE(made.at(c, x, y), plate->at(x, y)[c]);
  QVERIFY(changed > 1000);
  // What is brighter than white stays so.
  for (float& v : with.pixels) v *= 8;
  const Sheet bright = blocksOn(std::make_shared<Picture>(with), plate, look, {0, 0, wide, high});
  QVERIFY(std::abs(bright.at(1, 50, 30) - 4) < 0.4f);
}

void TestBlocks::piecesAreOfTheWhole() {
  const BlockLook look = lookOf(*packed(folder_, scene(), 60).blocks);
  const auto picture = light(scene()), black = std::make_shared<const Picture>(Picture::rgb(wide, high));
  const Sheet whole = blocksOn(picture, black, look, {0, 0, wide, high});
  const PixelArea part{13, 9, 70, 44};
  const Sheet piece = blocksOn(picture, black, look, part);
  for (int c = 0; c < 3; ++c)
    for (int y = part.y0; y < part.y1; ++y)
      for (int x = part.x0; x < part.x1; ++x) QCOMPARE(piece.at(c, x, y), whole.at(c, x, y));
}

void TestBlocks::seenFromNearTheyAreLarger() {
  const BlockLook look = lookOf(*packed(folder_, scene(), 60).blocks);
  const Picture codes = scene();
  Picture near = Picture::rgb(2 * wide, 2 * high);
  for (int y = 0; y < near.height; ++y)
    for (int x = 0; x < near.width; ++x) std::copy_n(codes.at(x / 2, y / 2), 3, near.at(x, y));
  const auto black = [](const Picture& of) {
    return std::make_shared<const Picture>(Picture::rgb(of.width, of.height));
  };
  const Sheet one = blocksOn(light(codes), black(codes), look, {0, 0, wide, high}),
              two = blocksOn(light(near), black(near), look, {0, 0, near.width, near.height}, 2);
  for (int y = 0; y < near.height; ++y)
    for (int x = 0; x < near.width; ++x)
      for (int c = 0; c < 3; ++c) QVERIFY(std::abs(two.at(c, x, y) - one.at(c, x / 2, y / 2)) < 1e-5f);
  // From far they are averaged away: nothing is done.
  const auto small = light(resized(codes, wide / 2, high / 2));
  const Sheet far = blocksOn(small, black(*small), look, {0, 0, wide / 2, high / 2}, 0.5);
  QCOMPARE(far.at(0, 20, 20), small->at(20, 20)[0]);
}

void TestBlocks::theyAreMatchedWhenAsked() {
  PhotoCharacter photo;
  photo.blocks = lookOf(*packed(folder_, scene(), 30).blocks);
  QVERIFY(matchedAll({}, photo, {}).blocks == BlockLook{});  // a person's choice
  const BlendSettings with = matched({}, MatchKind::blocks, photo, {});
  QVERIFY(with.blocks == *photo.blocks && isMatched(with, MatchKind::blocks));
  for (const auto& [blend, holds] : {std::pair(BlendSettings{}, false), {with, true}}) {
    const auto rows = matchRows(photo, {}, blend);
    const auto row =
        std::find_if(rows.begin(), rows.end(), [](const MatchRow& r) { return r.kind == MatchKind::blocks; });
    QVERIFY(row != rows.end() && row->photo && row->holds() == holds);
  }
  QVERIFY(unmatched(with, MatchKind::blocks) == BlendSettings{});
}

DUSK_TEST(TestBlocks, NoApplication);
#include "blocks.moc"
