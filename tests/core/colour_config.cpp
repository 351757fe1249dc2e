#include <QtTest>
#include <fstream>

#include "core/assets/asset_store.h"
#include "core/colour/config.h"
#include "core/deliver/gather.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

namespace {

void write(const fs::path& file, const std::string& text) {
  fs::create_directories(file.parent_path());
  std::ofstream(file) << text;
}

/// A studio's configuration: two displays, views by formula, by a table of its own and one that cannot be
/// gone back, and a look. `roles` and the first space's name differ from case to case.
std::string studio(const std::string& roles = "{default: raw, scene_linear: lin_rec709}",
                   const std::string& linear = "lin_rec709") {
  return "ocio_profile_version: 2\nsearch_path: luts\nroles: " + roles + R"(
displays:
  sRGB - Screen:
    - !<View> {name: Straight, colorspace: srgb}
    - !<View> {name: Halved, colorspace: halved}
    - !<View> {name: Tabled, colorspace: tabled}
    - !<View> {name: Grey, colorspace: grey}
  Print:
    - !<View> {name: Straight, colorspace: gamma}
looks:
  - !<Look> {name: warmer, process_space: )" +
         linear + R"(, transform: !<CDLTransform> {slope: [1.25, 1, 0.8]}}
colorspaces:
  - !<ColorSpace> {name: )" +
         linear + R"(}
  - !<ColorSpace> {name: raw, isdata: true}
  - !<ColorSpace> {name: aces2065, to_scene_reference: !<MatrixTransform> {matrix: [2.52168619, -1.13413100, -0.38755519, 0, -0.27647990, 1.37271908, -0.09623918, 0, -0.01537807, -0.15297533, 1.16835340, 0, 0, 0, 0, 1]}}
  - !<ColorSpace>
    name: srgb
    from_scene_reference: !<ExponentWithLinearTransform> {gamma: 2.4, offset: 0.055, direction: inverse}
  - !<ColorSpace>
    name: gamma
    from_scene_reference: !<ExponentTransform> {value: 2.2, direction: inverse}
  - !<ColorSpace>
    name: halved
    from_scene_reference: !<GroupTransform>
      children:
        - !<MatrixTransform> {matrix: [0.5, 0, 0, 0, 0, 0.5, 0, 0, 0, 0, 0.5, 0, 0, 0, 0, 1]}
        - !<ExponentWithLinearTransform> {gamma: 2.4, offset: 0.055, direction: inverse}
  - !<ColorSpace>
    name: tabled
    from_scene_reference: !<FileTransform> {src: half.spi1d}
  - !<ColorSpace>
    name: grey
    from_scene_reference: !<MatrixTransform> {matrix: [0.2, 0.7, 0.1, 0, 0.2, 0.7, 0.1, 0, 0.2, 0.7, 0.1, 0, 0, 0, 0, 1]}
)";
}

constexpr const char* halfTable = "Version 1\nFrom 0 1\nLength 3\nComponents 1\n{\n0\n0.25\n1\n}\n";

}  // namespace

class TestColourConfig : public QObject {
  Q_OBJECT
 private slots:
  void init() {
    folder_ = std::make_unique<QTemporaryDir>();
    file_ = fs::path(folder_->path().toStdString()) / "studio" / "studio.ocio";
    write(file_, studio()), write(file_.parent_path() / "luts/half.spi1d", halfTable);
  }
  void offersWhatItHolds();
  void viewsAreTheFormulas();
  void lightEntersByTheSpaceItIsIn_data();
  void lightEntersByTheSpaceItIsIn();
  void looksTakeTheViewsPlace();
  void tellsHowAPhotoFares();
  void badOnesAreOneSentence_data();
  void badOnesAreOneSentence();
  void whatIsNotThereIsNamed();
  void isGatheredWithItsTables();

 private:
  Vec3f shown(const ConfigView& what, const Vec3f& light) const;

  std::unique_ptr<QTemporaryDir> folder_;
  fs::path file_;
};

Vec3f TestColourConfig::shown(const ConfigView& what, const Vec3f& light) const {
  const auto config = ColourConfig::read(file_);
  if (!config) return Vec3f(-1);
  const auto view = (*config)->view(what);
  if (!view) return Vec3f(-2);
  Vec3f rgb = light;
  (*view)->toDisplay(&rgb.x, 1);
  return rgb;
}

void TestColourConfig::offersWhatItHolds() {
  const auto config = ColourConfig::read(file_);
  QVERIFY2(config.ok(), config.ok() ? "" : config.error().message.c_str());
  const auto& displays = (*config)->displays();
  QCOMPARE(displays.size(), size_t(2));
  QCOMPARE(displays[0].views, (std::vector<std::string>{"Straight", "Halved", "Tabled", "Grey"}));
  QCOMPARE((*config)->looks(), std::vector<std::string>{"warmer"});
  QCOMPARE((*config)->linear(), std::string("lin_rec709"));
  QCOMPARE((*config)->files(), std::vector<fs::path>{"luts/half.spi1d"});
  QVERIFY((*config)->missing().empty() && (*config)->isLinearKnown());
}

void TestColourConfig::viewsAreTheFormulas() {
  const auto ours = *ColourView::make("plain sRGB");
  for (const float v : {0.0f, 0.002f, 0.18f, 0.9f}) {
    Vec3f plain(v, v / 2, v / 4), half = plain * 0.5f;
    ours->toDisplay(&plain.x, 1), ours->toDisplay(&half.x, 1);
    QVERIFY(shown({}, {v, v / 2, v / 4}).equalWithAbsError(plain, 1e-5f));
    QVERIFY(shown({"", "Halved", "", ""}, {v, v / 2, v / 4}).equalWithAbsError(half, 1e-5f));
  }
  QVERIFY(
      shown({"", "Tabled", "", ""}, {0.5f, 0.75f, 0.25f}).equalWithAbsError({0.25f, 0.625f, 0.125f}, 1e-5f));
  QVERIFY(std::abs(shown({"Print", "", "", ""}, Vec3f(0.5f)).x - std::pow(0.5f, 1 / 2.2f)) < 1e-5f);
}

void TestColourConfig::lightEntersByTheSpaceItIsIn_data() {
  QTest::addColumn<QString>("roles");
  QTest::addColumn<QString>("linear");
  QTest::addColumn<QString>("asked");
  QTest::addColumn<bool>("known");
  const char* plain = "{default: raw, scene_linear: %1}";
  QTest::newRow("by its name") << QString(plain).arg("lin_rec709") << "lin_rec709"
                               << "" << true;
  QTest::newRow("joined") << "{default: raw, scene_linear: aces2065, aces_interchange: aces2065}"
                          << "house light"
                          << "" << true;
  QTest::newRow("by its role") << QString(plain).arg("house light") << "house light"
                               << "" << false;
  QTest::newRow("as asked") << QString(plain).arg("aces2065") << "house light"
                            << "house light" << false;
}

// Whatever the space is called and however it is joined, the same light comes to the same codes.
void TestColourConfig::lightEntersByTheSpaceItIsIn() {
  QFETCH(QString, roles);
  QFETCH(QString, linear);
  QFETCH(QString, asked);
  QFETCH(bool, known);
  write(file_, studio(roles.toStdString(), linear.toStdString()));
  QCOMPARE((*ColourConfig::read(file_))->isLinearKnown(), known);
  Vec3f plain(0.6f, 0.3f, 0.05f);
  (*ColourView::make("plain sRGB"))->toDisplay(&plain.x, 1);
  const Vec3f codes = shown({"", "", "", asked.toStdString()}, {0.6f, 0.3f, 0.05f});
  QVERIFY2(codes.equalWithAbsError(plain, 2e-4f),
           qPrintable(QString("%1 %2 %3").arg(codes.x).arg(codes.y).arg(codes.z)));
}

void TestColourConfig::looksTakeTheViewsPlace() {
  Vec3f plain(0.25f, 0.2f, 0.16f);
  (*ColourView::make("plain sRGB"))->toDisplay(&plain.x, 1);
  QVERIFY(shown({"", "", "warmer", ""}, Vec3f(0.2f)).equalWithAbsError(plain, 1e-5f));
}

void TestColourConfig::tellsHowAPhotoFares() {
  const auto config = *ColourConfig::read(file_);
  const auto trip = [&](const char* view) { return (*config->view({"", view, "", ""}))->roundTrip(); };
  QVERIFY(trip("Straight").undone && trip("Straight").share == 0);
  QVERIFY(trip("Tabled").undone && trip("Tabled").share == 0);
  QVERIFY(!trip("Grey").undone && trip("Grey").worstCodes > 100 && trip("Grey").share > 0.5);
  QVERIFY((*config->view({}))->isSrgb() && !(*config->view({"Print", "", "", ""}))->isSrgb());
}

void TestColourConfig::badOnesAreOneSentence_data() {
  QTest::addColumn<QByteArray>("text");
  QTest::newRow("empty") << QByteArray();
  QTest::newRow("no configuration") << QByteArray("a shopping list\n- rope\n");
  QTest::newRow("no views") << QByteArray(
      "ocio_profile_version: 2\nroles: {default: a}\ndisplays: {}\ncolorspaces:\n  - !<ColorSpace> {name: "
      "a}\n");
  QTest::newRow("version to come") << QByteArray("ocio_profile_version: 9\n");
  QTest::newRow("cut off") << QByteArray(studio().c_str(), 700);
  QTest::newRow("bytes") << QByteArray("\x89PNG\r\n\x1a\n\0\0\0", 11);
}

void TestColourConfig::badOnesAreOneSentence() {
  QFETCH(QByteArray, text);
  write(file_, text.toStdString());
  const auto config = ColourConfig::read(file_);
  QVERIFY(!config.ok());
  const std::string& said = config.error().message;
  QVERIFY2(said.starts_with("The colour configuration ") && said.find('\n') == std::string::npos,
           said.c_str());
}

void TestColourConfig::whatIsNotThereIsNamed() {
  fs::remove(file_.parent_path() / "luts/half.spi1d");
  const auto config = *ColourConfig::read(file_);
  QCOMPARE(config->missing(), std::vector<std::string>{"half.spi1d"});
  QVERIFY(config->view({"", "Straight", "", ""}).ok());
  for (const ConfigView& what :
       {ConfigView{"", "Tabled", "", ""}, ConfigView{"", "Gone", "", ""}, ConfigView{"Gone", "", "", ""},
        ConfigView{"", "", "Gone", ""}, ConfigView{"", "", "", "Gone"}}) {
    const auto view = config->view(what);
    QVERIFY(!view.ok());
    QVERIFY2(view.error().message.find(what.view == "Tabled" ? "half.spi1d" : "Gone") != std::string::npos,
             view.error().message.c_str());
  }
}

void TestColourConfig::isGatheredWithItsTables() {
  const fs::path folder = file_.parent_path().parent_path();
  AssetStore assets(folder);
  Project project;
  project.shots.resize(1);
  project.shots[0].blend.config = {*assets.refer(file_), "", "warmer", ""};
  project.shots[0].blend.view = "Tabled";
  Progress progress;
  const auto report = gather(project, assets, folder / "gathered", progress);
  QVERIFY2(report.ok(), report.ok() ? "" : report.error().message.c_str());
  QVERIFY(fs::exists(folder / "gathered/colour/studio/luts/half.spi1d"));
  fs::remove_all(file_.parent_path());
  AssetStore there(folder / "gathered");
  BlendSettings blend = project.shots[0].blend;
  blend.config.file.path = "colour/studio/studio.ocio";
  const auto view = there.view(blend);
  QVERIFY2(view.ok(), view.ok() ? "" : view.error().message.c_str());
}

DUSK_TEST(TestColourConfig, NoApplication);
#include "colour_config.moc"
