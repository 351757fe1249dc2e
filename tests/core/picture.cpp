#include <sys/resource.h>

#include <OpenImageIO/imageio.h>
#include <lcms2.h>

#include <QtTest>
#include <fstream>

#include "core/base/files.h"
#include "core/picture/read.h"
#include "core/picture/write.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

namespace {

Picture gradient(int w, int h) {
  Picture p = Picture::rgb(w, h);
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w; ++x)
      p.at(x, y)[0] = float((x * 7) % 256) / 255, p.at(x, y)[1] = float((y * 5) % 256) / 255,
              p.at(x, y)[2] = float((x + y) % 256) / 255;
  return p;
}

/// The 8-bit codes a picture stands for.
std::vector<int> codes(const Picture& p) {
  std::vector<int> result;
  for (float v : p.pixels) result.push_back(int(std::lround(v * 255)));
  return result;
}

const fs::path demoPlate = fs::path(DUSK_SOURCE) / "demo/brackwater/quay-plate.jpg";

}  // namespace

class TestPicture : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  fs::path in(const char* name) { return fs::path(folder_.path().toStdString()) / name; }

 private slots:
  void pngRoundTripIsExact();
  void exrKeepsPartsAndChannelNames();
  void whatIsBrighterThanCanBeWrittenStaysFinite();
  void exifIsRead();
  void badFilesAreOneSentence_data();
  void badFilesAreOneSentence();
  void hugeHeaderTakesNoMemory();
  void embeddedProfileIsHonoured();
  void srgbProfileChangesNothing();
  void resizingKeepsConstantsAndMeans();
};

void TestPicture::pngRoundTripIsExact() {
  const Picture p = gradient(61, 47);
  QVERIFY(writePng8(in("a.png"), p).ok());
  const auto back = readPhoto(in("a.png"));
  QVERIFY(back.ok());
  QVERIFY(codes(back->picture.whole()) == codes(p));
  QVERIFY(!back->sceneLinear);
}

void TestPicture::exrKeepsPartsAndChannelNames() {
  Picture beauty(20, 10, {"R", "G", "B", "A"}), depth(20, 10, {"Z"});
  for (size_t i = 0; i < beauty.pixels.size(); ++i) beauty.pixels[i] = float(i) / 64;
  for (size_t i = 0; i < depth.pixels.size(); ++i) depth.pixels[i] = 1.0f / 3 + float(i);
  QVERIFY(writeExr(in("a.exr"), {{"beauty", &beauty}, {"depth", &depth, true}}).ok());
  QVERIFY(*exrParts(in("a.exr")) == (std::vector<std::string>{"beauty", "depth"}));
  QVERIFY(*readExrPart(in("a.exr"), "depth") == depth);  // full float: exact
  const auto back = readExrPart(in("a.exr"), "beauty");
  QVERIFY(back->channels == beauty.channels);
  for (size_t i = 0; i < beauty.pixels.size(); ++i)
    QVERIFY(std::abs(back->pixels[i] - beauty.pixels[i]) <= 0.001f * beauty.pixels[i]);
  QVERIFY(!readExrPart(in("a.exr"), "nothing").ok());
}

void TestPicture::whatIsBrighterThanCanBeWrittenStaysFinite() {
  Picture p = gradient(12, 6);
  p.at(3, 2)[0] = HUGE_VALF, p.at(4, 2)[1] = std::nanf(""), p.at(5, 2)[2] = 900, p.at(6, 2)[0] = 1e6f;
  QVERIFY(writeExr(in("full.exr"), {{"light", &p, true}}).ok());
  const auto light = readLight(in("full.exr"));
  QVERIFY(light.ok());
  QCOMPARE(light->at(3, 2)[0], 1e6f);  // a sun is the brightest there is, not black
  QCOMPARE(light->at(4, 2)[1], 0.0f);
  const auto plate = readPhoto(in("full.exr"));
  QVERIFY(plate.ok() && plate->sceneLinear);
  for (const float v : plate->picture.whole().pixels) QVERIFY(std::isfinite(v));
  // Halves hold up to 65,504; beyond would read as infinite elsewhere.
  QVERIFY(writeExr(in("half.exr"), {{"light", &p}}).ok());
  const auto half = readExrPart(in("half.exr"), "light");
  QVERIFY(half.ok());
  for (const float v : half->pixels) QVERIFY(std::isfinite(v));
  QCOMPARE(half->at(6, 2)[0], 65504.0f);
  QCOMPARE(half->at(5, 2)[2], 900.0f);
}

void TestPicture::exifIsRead() {
  const auto header = readPictureHeader(demoPlate);
  QVERIFY(header.ok());
  QCOMPARE(header->width, 1920);
  QCOMPARE(header->info.focalMm35, 30.0);
  QCOMPARE(header->info.fNumber, 8.0);
  QVERIFY(std::abs(header->info.exposureSeconds - 1 / 125.0) < 1e-6);
  QCOMPARE(header->info.camera, std::string("Saltmarsh S2"));
}

void TestPicture::badFilesAreOneSentence_data() {
  QTest::addColumn<QString>("name");
  QTest::addColumn<QByteArray>("content");
  QFile plate(QString::fromStdString(demoPlate.string()));
  QVERIFY(plate.open(QIODevice::ReadOnly));
  const QByteArray jpeg = plate.readAll();
  QTest::newRow("empty") << "empty.jpg" << QByteArray();
  QTest::newRow("text as jpeg") << "text.jpg" << QByteArray("not a picture at all");
  QTest::newRow("text as exr") << "text.exr" << QByteArray("v/1\x01 almost");
  QTest::newRow("jpeg cut in its header") << "header.jpg" << jpeg.left(300);
  QTest::newRow("jpeg cut half way") << "half.jpg" << jpeg.left(jpeg.size() / 2);
  QVERIFY(writePng8(in("whole.png"), gradient(300, 200)).ok());
  QFile png(QString::fromStdString(in("whole.png").string()));
  QVERIFY(png.open(QIODevice::ReadOnly));
  QTest::newRow("png cut half way") << "half.png" << png.readAll().chopped(png.size() / 2);
}

void TestPicture::badFilesAreOneSentence() {
  QFETCH(QString, name);
  QFETCH(QByteArray, content);
  std::ofstream(in(name.toUtf8().constData()), std::ios::binary).write(content.constData(), content.size());
  const auto photo = readPhoto(in(name.toUtf8().constData()));
  QVERIFY(!photo.ok());
  QCOMPARE(photo.error().kind, ErrorKind::unreadable);
  QVERIFY(photo.error().message.find(name.toStdString()) != std::string::npos);
}

void TestPicture::hugeHeaderTakesNoMemory() {
  // A PNG whose header claims 100,000 x 100,000.
  QVERIFY(writePng8(in("small.png"), gradient(8, 8)).ok());
  std::string bytes = *readFile(in("small.png"));
  for (int k = 0; k < 2; ++k)
    for (int i = 0; i < 4; ++i) bytes[size_t(16 + 4 * k + i)] = char((100'000u >> (24 - 8 * i)) & 255);
  const auto crc = [&] {
    uint32_t c = 0xffffffffu;
    for (size_t i = 12; i < 29; ++i) {
      c ^= uint8_t(bytes[i]);
      for (int b = 0; b < 8; ++b) c = (c >> 1) ^ (0xedb88320u & (0u - (c & 1)));
    }
    return ~c;
  }();
  for (int i = 0; i < 4; ++i) bytes[size_t(29 + i)] = char((crc >> (24 - 8 * i)) & 255);
  QVERIFY(writeFileAtomically(in("huge.png"), bytes).ok());
  // What the header claims would be 30 GB: none of it may be asked for.
  rusage before{}, after{};
  getrusage(RUSAGE_SELF, &before);
  QVERIFY(!readPhoto(in("huge.png")).ok());
  getrusage(RUSAGE_SELF, &after);
  QVERIFY2(after.ru_maxrss - before.ru_maxrss < 64 * 1024,
           qPrintable(QString("%1 kB more").arg(after.ru_maxrss - before.ru_maxrss)));
}

namespace {

/// Writes a 4 x 1 PNG that carries `profile`.
void writeTagged(const fs::path& file, cmsHPROFILE profile) {
  cmsUInt32Number size = 0;
  cmsSaveProfileToMem(profile, nullptr, &size);
  std::vector<unsigned char> icc(size);
  cmsSaveProfileToMem(profile, icc.data(), &size);
  OIIO::ImageSpec spec(4, 1, 3, OIIO::TypeUInt8);
  spec.attribute("ICCProfile", OIIO::TypeDesc(OIIO::TypeDesc::UINT8, int(size)), icc.data());
  const unsigned char codes[] = {0, 0, 0, 255, 255, 255, 60, 200, 40, 128, 128, 128};
  auto out = OIIO::ImageOutput::create(file.string());
  QVERIFY(out && out->open(file.string(), spec) && out->write_image(OIIO::TypeUInt8, codes) && out->close());
}

}  // namespace

void TestPicture::embeddedProfileIsHonoured() {
  // Wider primaries with gamma 2.2: black, white and grey stay, the green leaves the sRGB gamut.
  const cmsCIExyY white{0.3127, 0.3290, 1};
  const cmsCIExyYTRIPLE wide{{0.64, 0.33, 1}, {0.21, 0.71, 1}, {0.15, 0.06, 1}};
  cmsToneCurve* gamma = cmsBuildGamma(nullptr, 2.2);
  cmsToneCurve* curves[] = {gamma, gamma, gamma};
  const cmsHPROFILE profile = cmsCreateRGBProfile(&white, &wide, curves);
  writeTagged(in("wide.png"), profile);
  cmsCloseProfile(profile);
  cmsFreeToneCurve(gamma);
  const auto photo = readPhoto(in("wide.png"));
  QVERIFY(photo.ok());
  const Rgb white8 = photo->picture.rgbAt(1, 0), green = photo->picture.rgbAt(2, 0),
            grey = photo->picture.rgbAt(3, 0);
  QVERIFY(std::abs(white8.x - 1) < 0.005f && std::abs(white8.z - 1) < 0.005f);
  QVERIFY(green.x < 60 / 255.f - 0.1f);
  QVERIFY(std::abs(grey.x - 128 / 255.f) < 0.01f);
}

void TestPicture::srgbProfileChangesNothing() {
  const cmsHPROFILE profile = cmsCreate_sRGBProfile();
  writeTagged(in("srgb.png"), profile);
  cmsCloseProfile(profile);
  const auto photo = readPhoto(in("srgb.png"));
  QVERIFY(photo.ok());
  QVERIFY(codes(photo->picture.whole()) ==
          (std::vector<int>{0, 0, 0, 255, 255, 255, 60, 200, 40, 128, 128, 128}));
}

void TestPicture::resizingKeepsConstantsAndMeans() {
  Picture flat = Picture::rgb(100, 60);
  for (float& v : flat.pixels) v = 0.25f;
  for (const auto& [w, h] : {std::pair(37, 22), {210, 126}, {100, 60}})
    for (float v : resized(flat, w, h).pixels) QVERIFY(std::abs(v - 0.25f) < 1e-6f);
  const Picture p = gradient(96, 64), small = resized(p, 24, 16);
  const auto mean = [](const Picture& q) {
    return std::accumulate(q.pixels.begin(), q.pixels.end(), 0.0) / double(q.pixels.size());
  };
  QVERIFY(std::abs(mean(p) - mean(small)) < 1e-5);
}

DUSK_TEST(TestPicture, NoApplication);
#include "picture.moc"
