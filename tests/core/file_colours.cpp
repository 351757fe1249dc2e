#include <OpenImageIO/imageio.h>
#include <lcms2.h>

#include <QTemporaryDir>

#include "core/base/srgb.h"
#include "core/picture/read.h"
#include "core/surface/texture.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

/// Pictures in colours of their own: the same as photo, panorama and texture.
class TestFileColours : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  fs::path in(const char* name) const { return fs::path(folder_.path().toStdString()) / name; }
  static constexpr int side = 8;

  /// All of one colour.
  fs::path flat(const char* name, const Vec3f& colour, const std::function<void(OIIO::ImageSpec&)>& say,
                OIIO::TypeDesc type = OIIO::TypeDesc::FLOAT) const {
    OIIO::ImageSpec spec(side, side, 3, type);
    say(spec);
    std::vector<float> values;
    for (int i = 0; i < side * side; ++i) values.insert(values.end(), {colour.x, colour.y, colour.z});
    const auto out = OIIO::ImageOutput::create(in(name).string());
    out->open(in(name).string(), spec), out->write_image(OIIO::TypeDesc::FLOAT, values.data()), out->close();
    return in(name);
  }
  fs::path withPrimaries(const char* name, const Vec3f& colour, const std::array<float, 8>& c) const {
    return flat(name, colour, [&](OIIO::ImageSpec& spec) {
      spec.attribute("chromaticities", OIIO::TypeDesc(OIIO::TypeDesc::FLOAT, 8), c.data());
    });
  }
  /// As light: of a photo, a panorama and a texture.
  static std::vector<Vec3f> ways(const fs::path& file) {
    const auto photo = readPhoto(file);
    const auto light = readLight(file);
    Progress progress;
    const auto texture = openTexture(file, {}, true, progress);
    if (!photo || !light || !texture) return {};
    Vec3f of = photo->picture.rgbAt(1, 1);
    if (!photo->sceneLinear)
      for (int c = 0; c < 3; ++c) of[c] = srgbDecoded(of[c]);
    return {of, light->rgbAt(1, 1), (*texture)->at({0.3f, 0.3f}, Vec2f(0), Vec2f(0), true).colour};
  }
  static bool close(const std::vector<Vec3f>& all, const Vec3f& to, float by) {
    return all.size() == 3 &&
           std::all_of(all.begin(), all.end(), [&](const Vec3f& c) { return (c - to).length() < by; });
  }

 private slots:
  void initTestCase() { qputenv("XDG_CACHE_HOME", folder_.filePath("cache").toUtf8()); }
  void primariesAreTurnedIntoOurs();
  void oursAndNonsenseStayAsTheyAre();
  void profilesCountForPanoramasAndTextures();
};

// Published as the matrix from ACEScg to Rec. 709 by Bradford's adaptation (OpenColorIO's built-in
// transforms).
void TestFileColours::primariesAreTurnedIntoOurs() {
  const std::array<float, 8> ap1{0.713f, 0.293f, 0.165f, 0.83f, 0.128f, 0.044f, 0.32168f, 0.33767f};
  const Vec3f colour(0.4f, 0.5f, 0.6f);
  const Vec3f expected(1.70505f * 0.4f - 0.62179f * 0.5f - 0.08326f * 0.6f,
                       -0.13026f * 0.4f + 1.14080f * 0.5f - 0.01055f * 0.6f,
                       -0.02400f * 0.4f - 0.12897f * 0.5f + 1.15297f * 0.6f);
  QVERIFY(close(ways(withPrimaries("ap1.exr", colour, ap1)), expected, 1e-3f));
  QVERIFY(close(ways(withPrimaries("white.exr", Vec3f(0.5f), ap1)), Vec3f(0.5f), 1e-3f));
}

void TestFileColours::oursAndNonsenseStayAsTheyAre() {
  const Vec3f colour(0.4f, 0.5f, 0.6f);
  const std::array<float, 8> ours{0.64f, 0.33f, 0.3f, 0.6f, 0.15f, 0.06f, 0.3127f, 0.329f};
  QCOMPARE(ways(withPrimaries("ours.exr", colour, ours)).at(1), colour);
  const std::array<float, 8> none{}, line{0.1f, 0.1f, 0.2f, 0.2f, 0.3f, 0.3f, 0.3f, 0.3f},
      wild{1e9f, 1, 2, 3, NAN, 1, 0.3f, 0.3f};
  for (const auto& nonsense : {none, line, wild})
    QCOMPARE(ways(withPrimaries("nonsense.exr", colour, nonsense)).at(1), colour);
}

void TestFileColours::profilesCountForPanoramasAndTextures() {
  const cmsCIExyY white{0.3127, 0.3290, 1};
  const cmsCIExyYTRIPLE wide{{0.64, 0.33, 1}, {0.21, 0.71, 1}, {0.15, 0.06, 1}};
  cmsToneCurve* gamma = cmsBuildGamma(nullptr, 2.2);
  cmsToneCurve* curves[] = {gamma, gamma, gamma};
  const cmsHPROFILE profile = cmsCreateRGBProfile(&white, &wide, curves);
  cmsUInt32Number size = 0;
  cmsSaveProfileToMem(profile, nullptr, &size);
  std::vector<uint8_t> bytes(size);
  cmsSaveProfileToMem(profile, bytes.data(), &size);
  cmsCloseProfile(profile);
  cmsFreeToneCurve(gamma);
  const auto tagged = [&](const char* name, bool tag) {
    return ways(flat(
        name, {0.5f, 0.6f, 0.4f},
        [&](OIIO::ImageSpec& spec) {
          if (tag)
            spec.attribute("ICCProfile", OIIO::TypeDesc(OIIO::TypeDesc::UINT8, int(bytes.size())),
                           bytes.data());
        },
        OIIO::TypeDesc::UINT8));
  };
  const auto with = tagged("wide.png", true), without = tagged("plain.png", false);
  QVERIFY(with.size() == 3 && close(with, with[0], 0.004f));
  QVERIFY(close(without, without[0], 0.004f) && (with[0] - without[0]).length() > 0.02f);
}

DUSK_TEST(TestFileColours, NoApplication);
#include "file_colours.moc"
