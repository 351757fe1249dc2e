#include <OpenImageIO/imageio.h>

#include <QtTest>
#include <fstream>

#include "core/assets/asset_store.h"
#include "core/base/hash.h"
#include "core/base/srgb.h"
#include "core/surface/drawn.h"
#include "core/surface/memory_texture.h"
#include "core/surface/pyramid.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

static const Vec2f sharp(0, 0);  ///< a look at a point

/// Pictures on surfaces: files of pixels as tiled pyramids, drawings as pixels, and what is broken as one
/// sentence.
class TestTextures : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  fs::path path(const char* name) const { return fs::path(folder_.path().toStdString()) / name; }
  template <typename T>
  fs::path picture(const char* name, int w, int h, int channels, OIIO::TypeDesc type,
                   const std::function<T(int, int, int)>& value) const {
    std::vector<T> values;
    for (int y = 0; y < h; ++y)
      for (int x = 0; x < w; ++x)
        for (int c = 0; c < channels; ++c) values.push_back(value(x, y, c));
    const auto out = OIIO::ImageOutput::create(path(name).string());
    OIIO::ImageSpec spec(w, h, channels, type);
    spec.attribute("oiio:UnassociatedAlpha", 1);
    out->open(path(name).string(), spec), out->write_image(type, values.data()), out->close();
    return path(name);
  }
  std::shared_ptr<const Texture> open(const fs::path& file, bool colour = true) const {
    Progress progress;
    const auto texture = openTexture(file, {}, colour, progress);
    return texture ? *texture : nullptr;
  }
  void write(const char* name, const std::string& text) const {
    std::ofstream(path(name), std::ios::binary) << text;
  }
  Result<std::shared_ptr<const Texture>> ofStore(const char* name, int page = 1) const {
    AssetStore store(folder_.path().toStdString());
    Progress progress;
    const auto ref = store.refer(path(name));
    if (!ref) return ref.error();
    return store.texture(*ref, true, page, progress);
  }

 private slots:
  void initTestCase() { qputenv("XDG_CACHE_HOME", (folder_.path() + "/cache").toUtf8()); }
  void codesBecomeLight();
  void valuesStayAsTheyAre();
  void smallPicturesAreMeansOfLight();
  void aCheckerToTheHorizon();
  void alphaIsPremultiplied();
  void greyDeepAndFloatPictures();
  void edgesRepeatOrEnd();
  void brokenFilesAreOneSentence();
  void aPictureIsMadeReadyOnce();
  void aDamagedPyramidIsMadeAgain();
  void cancellingLeavesNothing();
  void drawingsAreDrawnAtTheirSize();
  void nothingIsFetched();
  void brokenDrawingsAreOneSentence();
  void pagesOfAPdf();
  void texturesOfModels();
};

void TestTextures::codesBecomeLight() {
  const auto t = open(picture<uint8_t>("flat.png", 8, 8, 3, OIIO::TypeDesc::UINT8, [](int, int, int c) {
    return uint8_t(c == 0 ? 255 : c == 1 ? 128 : 10);
  }));
  QVERIFY(t && t->width == 8 && t->height == 8);
  const auto texel = t->at({0.5f, 0.5f}, sharp, sharp, true);
  for (int c = 0; c < 3; ++c) {
    const float code = (c == 0 ? 255.0f : c == 1 ? 128.0f : 10.0f) / 255;
    QVERIFY(std::abs(texel.colour[c] - srgbDecoded(code)) < 2e-5f);
  }
  QCOMPARE(texel.alpha, 1.0f);
}

void TestTextures::valuesStayAsTheyAre() {
  const auto t = open(picture<uint8_t>("rough.png", 8, 8, 3, OIIO::TypeDesc::UINT8,
                                       [](int, int, int c) { return uint8_t(50 + 60 * c); }),
                      false);
  QVERIFY(t);
  const auto texel = t->at({0.2f, 0.7f}, sharp, sharp, true);
  for (int c = 0; c < 3; ++c) QVERIFY(std::abs(texel.colour[c] - float(50 + 60 * c) / 255) < 1e-6f);
}

void TestTextures::smallPicturesAreMeansOfLight() {
  // Black and white by single pixels: from afar half the light, not the light of half the code.
  for (const int w : {64, 100, 33}) {
    const std::string name = "fine" + std::to_string(w) + ".png";
    const auto t = open(picture<uint8_t>(name.c_str(), w, 64, 3, OIIO::TypeDesc::UINT8,
                                         [](int x, int y, int) { return uint8_t((x + y) % 2 ? 255 : 0); }));
    QVERIFY(t);
    const float mean = t->at({0.5f, 0.5f}, {0.25f, 0}, {0, 0.25f}, true).colour.x;
    QVERIFY2(std::abs(mean - 0.5f) < 0.02f, qPrintable(QString::number(double(mean))));
  }
}

void TestTextures::aCheckerToTheHorizon() {
  // A floor seen at ever flatter angles: each look against the mean of 1,024 sharp ones in it.
  const auto t =
      open(picture<uint8_t>("checker.png", 256, 256, 3, OIIO::TypeDesc::UINT8,
                            [](int x, int y, int) { return uint8_t((x / 32 + y / 32) % 2 ? 255 : 0); }));
  QVERIFY(t);
  double sum = 0;
  int count = 0;
  for (int i = 1; i <= 60; ++i) {
    const float far = 0.05f * std::pow(1.1f, float(i)), across = far * 0.01f, along = far * far * 0.05f;
    const Vec2f at(0.37f + 0.11f * float(i), far);
    double truth = 0;
    for (int k = 0; k < 1024; ++k) {
      const float a = (float(k % 32) + 0.5f) / 32 - 0.5f, b = (float(k / 32) + 0.5f) / 32 - 0.5f;
      const int x = int(std::floor((at.x + a * across * 2) * 8)),
                y = int(std::floor((at.y + b * along * 2) * 8));
      truth += ((x + y) & 1 ? 1.0 : 0.0) / 1024;
    }
    // The picture's first row is at the top, where v is 1: the parity is the other one.
    // As a pixel is made: of many looks, each at its own piece.
    double seen = 0;
    for (int k = 0; k < 64; ++k) {
      const Vec2f piece = at + Vec2f(((float(k % 8) + 0.5f) / 8 - 0.5f) * across,
                                     ((float(k / 8) + 0.5f) / 8 - 0.5f) * along) *
                                   2.0f;
      seen += double(t->at(piece, {across / 8, 0}, {0, along / 8}, true).colour.x) / 64;
    }
    sum += std::min(std::abs(seen - truth), std::abs(1 - seen - truth)), ++count;
  }
  QVERIFY2(sum / count < 0.02, qPrintable(QString::number(sum / count)));
}

void TestTextures::alphaIsPremultiplied() {
  const auto t = open(picture<uint8_t>("label.png", 16, 16, 4, OIIO::TypeDesc::UINT8, [](int x, int, int c) {
    return uint8_t(c == 3 ? (x < 8 ? 128 : 0) : c == 0 ? 255 : 0);
  }));
  QVERIFY(t);
  const auto half = t->at({0.2f, 0.5f}, sharp, sharp, false), none = t->at({0.8f, 0.5f}, sharp, sharp, false);
  QVERIFY(std::abs(half.alpha - 128.0f / 255) < 1e-3f && std::abs(half.colour.x - 128.0f / 255) < 3e-3f);
  QVERIFY(none.alpha == 0 && none.colour.x == 0);
}

void TestTextures::greyDeepAndFloatPictures() {
  const auto grey = open(picture<uint16_t>("grey.png", 8, 8, 1, OIIO::TypeDesc::UINT16,
                                           [](int, int, int) { return uint16_t(32768); }),
                         false);
  QVERIFY(grey);
  const Rgb g = grey->at({0.5f, 0.5f}, sharp, sharp, true).colour;
  QVERIFY(std::abs(g.x - 0.5f) < 1e-4f && g.x == g.y && g.y == g.z);
  const auto light = open(picture<float>("light.exr", 8, 8, 3, OIIO::TypeDesc::FLOAT,
                                         [](int x, int, int) { return x == 3 ? std::nanf("") : 4.0f; }));
  QVERIFY(light);
  QVERIFY(std::abs(light->at({0.9f, 0.5f}, sharp, sharp, true).colour.x - 4) < 0.01f);  // linear already
  QVERIFY(std::isfinite(light->at({0.43f, 0.5f}, sharp, sharp, true).colour.x));
}

void TestTextures::edgesRepeatOrEnd() {
  const auto t = open(picture<uint8_t>("left.png", 64, 64, 3, OIIO::TypeDesc::UINT8,
                                       [](int x, int, int) { return uint8_t(x < 32 ? 255 : 0); }));
  QVERIFY(t);
  QVERIFY(t->at({1.25f, 0.5f}, sharp, sharp, true).colour.x > 0.99f &&
          t->at({-0.25f, 0.5f}, sharp, sharp, true).colour.x < 0.01f);
  QCOMPARE(t->at({1.25f, 0.5f}, sharp, sharp, false).alpha, 0.0f);
  QCOMPARE(t->at({0.25f, 0.5f}, sharp, sharp, false).alpha, 1.0f);
}

void TestTextures::brokenFilesAreOneSentence() {
  write("nothing.png", "");
  write("half.png", "\x89PNG\r\n\x1a\n and then no more");
  write("text.jpg", "not a picture at all");
  Progress progress;
  for (const char* name : {"nothing.png", "half.png", "text.jpg", "missing.png"}) {
    const auto texture = openTexture(path(name), {}, true, progress);
    QVERIFY(!texture);
    QVERIFY2(QString::fromStdString(texture.error().message).contains(name), texture.error().message.c_str());
  }
  // Cut off in the middle: what there is of it is not half shown.
  const fs::path whole = picture<uint8_t>("cut.tif", 300, 300, 3, OIIO::TypeDesc::UINT8,
                                          [](int x, int y, int) { return uint8_t(x * y); });
  fs::resize_file(whole, fs::file_size(whole) / 3);
  QVERIFY(!openTexture(whole, {}, true, progress));
  QVERIFY(!fs::exists(path("cache/gentle-dusk/textures")) || [&] {
    for (const auto& entry : fs::directory_iterator(path("cache/gentle-dusk/textures")))
      if (entry.path().extension() != ".tif") return false;
    return true;
  }());
}

void TestTextures::aPictureIsMadeReadyOnce() {
  picture<uint8_t>("once.png", 32, 32, 3, OIIO::TypeDesc::UINT8, [](int x, int, int) { return uint8_t(x); });
  QVERIFY(ofStore("once.png"));
  const auto count = [&] {
    return std::distance(fs::directory_iterator(path("cache/gentle-dusk/textures")), {});
  };
  const auto before = count();
  fs::copy_file(path("once.png"), path("twin.png"));
  QVERIFY(ofStore("twin.png") && ofStore("once.png"));  // the same content is the same pyramid
  QCOMPARE(count(), before);
}

void TestTextures::aDamagedPyramidIsMadeAgain() {
  const auto file = picture<uint8_t>("again.png", 8, 8, 3, OIIO::TypeDesc::UINT8,
                                     [](int, int, int c) { return uint8_t(40 + c * 60); });
  const fs::path kept = path("cache") / "gentle-dusk/textures";
  const std::string hash = *hashFile(file);
  // It will be called as that of another picture is.
  const auto other = picture<uint8_t>("other.png", 8, 8, 3, OIIO::TypeDesc::UINT8,
                                      [](int, int, int c) { return uint8_t(90 + c * 7); });
  QVERIFY(open(other, false));
  const std::string otherHash = *hashFile(other);
  fs::path pyramid;
  for (const auto& entry : fs::directory_iterator(kept))
    if (const std::string name = entry.path().filename().string(); name.starts_with(otherHash))
      pyramid = kept / (hash + name.substr(otherHash.size()));
  std::ofstream(pyramid) << "no picture";
  QVERIFY(!open(file, false));
  const auto texture = open(file, false);
  QVERIFY(texture && fs::exists(pyramid));
  QVERIFY(std::abs(texture->at({0.5f, 0.5f}, sharp, sharp, true).colour.y - 100.0f / 255) < 1e-5f);
}

void TestTextures::cancellingLeavesNothing() {
  const fs::path file = picture<uint8_t>("long.png", 64, 2000, 3, OIIO::TypeDesc::UINT8,
                                         [](int x, int y, int) { return uint8_t(x + y); });
  Progress progress;
  progress.cancel();
  const auto made = writePyramid(file, path("long.tif"), true, progress);
  QVERIFY(!made && made.error().kind == ErrorKind::cancelled);
  QVERIFY(!fs::exists(path("long.tif")));
}

void TestTextures::drawingsAreDrawnAtTheirSize() {
  write("label.svg",
        R"(<svg xmlns="http://www.w3.org/2000/svg" width="80mm" height="40mm" viewBox="0 0 80 40">
    <rect x="0" y="0" width="40" height="40" fill="#ff0000"/><circle cx="60" cy="20" r="10" fill="#0000ff"/></svg>)");
  Progress progress;
  const auto page = drawn(path("label.svg"), *hashFile(path("label.svg")), 1, progress);
  QVERIFY2(page, page ? "" : page.error().message.c_str());
  QVERIFY(std::abs(page->sizeMm.x - 80) < 0.1 && std::abs(page->sizeMm.y - 40) < 0.1);
  const auto t = ofStore("label.svg");
  QVERIFY(t);
  QVERIFY(std::abs(double((*t)->width) / (*t)->height - 2) < 0.01);
  const auto red = (*t)->at({0.25f, 0.5f}, sharp, sharp, false),
             blue = (*t)->at({0.75f, 0.5f}, sharp, sharp, false),
             clear = (*t)->at({0.99f, 0.02f}, sharp, sharp, false);
  QVERIFY(red.alpha > 0.99f && red.colour.x > 0.99f && red.colour.z < 0.01f);
  QVERIFY(blue.alpha > 0.99f && blue.colour.z > 0.99f);
  QCOMPARE(clear.alpha, 0.0f);
}

void TestTextures::nothingIsFetched() {
  picture<uint8_t>("beside.png", 8, 8, 3, OIIO::TypeDesc::UINT8, [](int, int, int) { return uint8_t(255); });
  write(
      "link.svg",
      R"(<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="10mm" height="10mm">
    <image xlink:href="http://127.0.0.1:9/never.png" width="100" height="100"/>
    <image xlink:href="beside.png" width="100" height="100"/><image xlink:href="file:///etc/hostname" width="100" height="100"/></svg>)");
  const auto t = ofStore("link.svg");
  QVERIFY2(t, t ? "" : t.error().message.c_str());
  QCOMPARE((*t)->at({0.5f, 0.5f}, sharp, sharp, false).alpha, 0.0f);
}

void TestTextures::brokenDrawingsAreOneSentence() {
  write("bad.svg", "<svg xmlns='http://www.w3.org/2000/svg'><rect");
  write("empty.svg", "");
  write("none.svg", R"(<svg xmlns="http://www.w3.org/2000/svg"/>)");
  write("bad.pdf", "%PDF-1.4 and nothing more");
  for (const char* name : {"bad.svg", "empty.svg", "bad.pdf"}) {
    const auto t = ofStore(name);
    QVERIFY2(!t && QString::fromStdString(t.error().message).contains(name), name);
  }
  (void)ofStore("none.svg");  // of the default size, or refused: but it ends
}

void TestTextures::pagesOfAPdf() {
  // Two pages of 72 x 36 points, the second black all over; offsets are counted, as the format wants them.
  std::string pdf = "%PDF-1.4\n";
  std::vector<size_t> at;
  const auto object = [&](const std::string& body) {
    at.push_back(pdf.size());
    pdf += std::to_string(at.size()) + " 0 obj\n" + body + "\nendobj\n";
  };
  object("<< /Type /Catalog /Pages 2 0 R /OpenAction << /S /JavaScript /JS (app.alert(1)) >> >>");
  object("<< /Type /Pages /Kids [3 0 R 4 0 R] /Count 2 >>");
  object("<< /Type /Page /Parent 2 0 R /MediaBox [0 0 72 36] /Contents 5 0 R >>");
  object("<< /Type /Page /Parent 2 0 R /MediaBox [0 0 72 36] /Contents 6 0 R >>");
  object("<< /Length 0 >>\nstream\n\nendstream");
  const std::string black = "0 0 0 rg 0 0 72 36 re f";
  object("<< /Length " + std::to_string(black.size()) + " >>\nstream\n" + black + "\nendstream");
  const size_t table = pdf.size();
  pdf += "xref\n0 7\n0000000000 65535 f \n";
  for (const size_t offset : at) {
    char line[32];
    std::snprintf(line, sizeof line, "%010zu 00000 n \n", offset);
    pdf += line;
  }
  pdf += "trailer << /Size 7 /Root 1 0 R >>\nstartxref\n" + std::to_string(table) + "\n%%EOF\n";
  write("two.pdf", pdf);
  Progress progress;
  const auto page = drawn(path("two.pdf"), *hashFile(path("two.pdf")), 2, progress);
  QVERIFY2(page, page ? "" : page.error().message.c_str());
  QVERIFY(std::abs(page->sizeMm.x - 25.4) < 0.1 && std::abs(page->sizeMm.y - 12.7) < 0.1);
  const auto first = ofStore("two.pdf", 1), second = ofStore("two.pdf", 2), third = ofStore("two.pdf", 3);
  QVERIFY(first && second);
  QVERIFY((*second)->at({0.5f, 0.5f}, sharp, sharp, false).alpha > 0.99f &&
          (*second)->at({0.5f, 0.5f}, sharp, sharp, false).colour.x < 0.01f);
  QVERIFY((*first)->at({0.5f, 0.5f}, sharp, sharp, false).alpha < 0.01f);
  QVERIFY(!third && third.error().message.find("2 pages") != std::string::npos);
}

void TestTextures::texturesOfModels() {
  auto model = std::make_shared<Model>();
  FileTexture file{"grain", 64, 32, {}};
  for (int i = 0; i < 64 * 32; ++i)
    for (const int v : {(i % 64 + i / 64) % 2 ? 255 : 0, 128, 0, 7}) file.rgba.push_back(uint8_t(v));
  model->textures.push_back(file);
  const auto light = memoryTexture(model, 0, true), values = memoryTexture(model, 0, false);
  QVERIFY(light && values && !memoryTexture(model, 1, true) && !memoryTexture(model, -1, true));
  QVERIFY(std::abs(values->at({0.1f, 0.1f}, sharp, sharp, true).colour.y - 128.0f / 255) < 1e-4f);
  QVERIFY(std::abs(light->at({0.1f, 0.1f}, sharp, sharp, true).colour.y - srgbDecoded(128.0f / 255)) < 1e-4f);
  QCOMPARE(light->at({0.1f, 0.1f}, sharp, sharp, true).alpha, 1.0f);
  QVERIFY(std::abs(light->at({0.4f, 0.6f}, {0.1f, 0}, {0, 0.2f}, true).colour.x - 0.5f) < 0.02f);
}

DUSK_TEST(TestTextures, QCoreApplication);
#include "textures.moc"
