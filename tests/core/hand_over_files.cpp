// What is in the files that are handed over beside their pixels, and what becomes of names.
#include <zip.h>

#include <QtTest>
#include <exiv2/exiv2.hpp>
#include <pugixml.hpp>

#include "core/base/files.h"
#include "core/deliver/apart.h"
#include "core/deliver/names.h"
#include "core/deliver/output_plan.h"
#include "core/deliver/recipe.h"
#include "core/picture/read.h"
#include "core/picture/row_scaler.h"
#include "core/picture/write.h"
#include "core/project/links.h"
#include "tests/handed_over.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

class TestHandOverFiles : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  fs::path folder(const char* name) { return fs::path(folder_.path().toStdString()) / name; }
  HandedOver quay_{"brackwater", "brackwater.dusk"};

  /// A file of an archive, as bytes.
  static std::string inside(const fs::path& archive, const char* name) {
    int trouble = 0;
    zip_t* zip = zip_open(archive.c_str(), ZIP_RDONLY, &trouble);
    zip_stat_t stat;
    if (!zip || zip_stat(zip, name, 0, &stat) != 0) return {};
    std::string bytes(stat.size, '\0');
    zip_file_t* file = zip_fopen(zip, name, 0);
    (void)zip_fread(file, bytes.data(), bytes.size());
    zip_fclose(file), zip_discard(zip);
    return bytes;
  }
  Picture pictureInside(const fs::path& archive, const std::string& name) {
    const fs::path scratch = folder("scratch.png");
    if (!writeFileAtomically(scratch, inside(archive, name.c_str()))) return {};
    return readAsIs(scratch);
  }

 private slots:
  void layersMakeThePicture();
  void onePartHoldsWhatManyHold();
  void fewerKilobytesAreKeptTo();
  void tagsAreSaid();
  void namesAreMadeOfWords_data();
  void namesAreMadeOfWords();
  void nothingOfOthersIsReplaced();
  void recipeMakesTheSamePixels();
  void recipesMoveWithWhatTheyAreMadeOf();
  void logosKeepToTheirFrame();
  void rowsScaleAsTheyCome();
  void aColleagueRebuildsThem();
};

void TestHandOverFiles::layersMakeThePicture() {
  Project p = quay_.project();
  Shot& shot = p.shots[0];
  ExtraLayer wash;
  wash.id = "layer-1", wash.name = "Evening wash", wash.kind = LayerKind::colour,
  wash.colour = {0.8, 0.4, 0.2};
  wash.mode = LayerMode::screen, wash.row.strength = 0.1;
  shot.blend.layers = {wash};
  shot.deliverables = {usualOf(DeliverableKind::openRaster, "layers"), usualOf(DeliverableKind::png, "flat")};
  const auto report = quay_.write(p, folder("ora"));
  QVERIFY2(report.ok(), report.ok() ? "" : report.error().message.c_str());
  const fs::path ora = folder("ora") / "layers.ora";
  QCOMPARE(inside(ora, "mimetype"), std::string("image/openraster"));
  // The type lies uncompressed at the very beginning, where it is looked for.
  const auto bytes = readFile(ora);
  QCOMPARE(bytes->substr(30, 8), std::string("mimetype"));
  QCOMPARE(bytes->substr(38, 16), std::string("image/openraster"));
  pugi::xml_document doc;
  QVERIFY(doc.load_string(inside(ora, "stack.xml").c_str()));
  std::vector<std::pair<std::string, std::string>> layers;  // from the lowest
  for (const auto& found : doc.select_nodes("//layer"))
    layers.insert(layers.begin(),
                  {found.node().attribute("name").value(), found.node().attribute("src").value()});
  QVERIFY(layers.size() >= 4);
  QCOMPARE(layers.front().first, std::string("Plate"));
  QCOMPARE(layers.back().first, std::string("Evening wash"));
  QCOMPARE(std::string(doc.select_node("//layer[@name='Contact']").parent().attribute("name").value()),
           std::string("Place"));
  Picture built = pictureInside(ora, layers[0].second);
  for (size_t i = 1; i < layers.size(); ++i)
    built = laidOver(built, pictureInside(ora, layers[i].second), false);
  const Picture flat = readAsIs(folder("ora") / "flat.png"), merged = pictureInside(ora, "mergedimage.png");
  QVERIFY(worstDifference(merged, flat) == 0);
  QVERIFY2(worstDifference(built, flat) < 0.6 / 255,
           qPrintable(QString::number(worstDifference(built, flat) * 255)));
  QVERIFY(pictureInside(ora, "Thumbnails/thumbnail.png").width <= 256);
}

void TestHandOverFiles::onePartHoldsWhatManyHold() {
  Project p = quay_.project();
  Deliverable many = usualOf(DeliverableKind::exr, "many"), one = usualOf(DeliverableKind::exr, "one"),
              some = usualOf(DeliverableKind::exr, "some");
  one.onePart = true, one.compression = ExrCompression::piz;
  some.passes = {"depth", "albedo"}, some.bits = 32, some.alpha = DeliveredAlpha::premultiplied;
  p.shots[0].deliverables = {many, one, some};
  const auto report = quay_.write(p, folder("exr"));
  QVERIFY2(report.ok(), report.ok() ? "" : report.error().message.c_str());
  QCOMPARE(*exrParts(folder("exr") / "some.exr"),
           (std::vector<std::string>{"composite", "product_and_shadow", "albedo", "depth"}));
  const auto parts = *exrParts(folder("exr") / "many.exr");
  QVERIFY(parts.size() > 15);
  OIIO::ImageBuf layers((folder("exr") / "one.exr").string());
  QVERIFY(layers.read(0, 0, true, OIIO::TypeFloat));
  QCOMPARE(layers.nsubimages(), 1);
  QVERIFY(layers.spec().get_string_attribute("compression") == "piz");
  for (const std::string& name : parts) {
    const auto part = readExrPart(folder("exr") / "many.exr", name);
    for (size_t c = 0; c < part->channels.size(); ++c) {
      const std::string channel = name == "composite" ? part->channels[c] : name + "." + part->channels[c];
      const int at = layers.spec().channelindex(channel);
      QVERIFY2(at >= 0, channel.c_str());
      for (int y = 0; y < HandedOver::height; y += 7)
        for (int x = 0; x < HandedOver::width; x += 5)
          QVERIFY(layers.getchannel(x, y, 0, at) == part->at(x, y)[c]);
    }
  }
  // What the product brings, over the plate in light, is the composite.
  const auto over = readExrPart(folder("exr") / "some.exr", "product_and_shadow");
  auto composite = readExrPart(folder("exr") / "some.exr", "composite");
  const Picture plate = *quay_.assets.plateArea(p.shots[0], 480, 320, {0, 0, 480, 320});
  // Grain may take a dark place below nothing, which no layer can.
  for (float& v : composite->pixels) v = std::max(v, 0.0f);
  QVERIFY(worstDifference(laidOver(plate, *over, true), *composite) < 1e-5);
}

void TestHandOverFiles::fewerKilobytesAreKeptTo() {
  Project p = quay_.project();
  Deliverable small = usualOf(DeliverableKind::jpeg, "small"),
              large = usualOf(DeliverableKind::jpeg, "large");
  small.mostKb = 20, small.quality = large.quality = 95;
  p.shots[0].placements.clear();
  p.shots[0].deliverables = {small, large};
  QVERIFY(quay_.write(p, folder("kb")).ok());
  const auto bytes = fs::file_size(folder("kb") / "small.jpg");
  QVERIFY2(bytes <= 20'000 && bytes > 15'000, qPrintable(QString::number(bytes)));
  QVERIFY(fs::file_size(folder("kb") / "large.jpg") > 40'000);
  p.shots[0].deliverables[0].mostKb = 1;
  p.shots[0].deliverables.pop_back();
  const auto never = quay_.write(p, folder("never"));
  QVERIFY(!never.ok() && never.error().message.find("more than the 1 kB") != std::string::npos);
  QVERIFY(!fs::exists(folder("never")));
}

void TestHandOverFiles::tagsAreSaid() {
  Project p = quay_.project();
  Shot& shot = p.shots[0];
  shot.handOver.title = "Gauge on the quay", shot.handOver.creator = "Ines Ørsted";
  shot.handOver.rights = "© 2026 Brackwater";
  shot.placements.clear();
  for (const auto kind :
       {DeliverableKind::png, DeliverableKind::jpeg, DeliverableKind::tiff, DeliverableKind::webp})
    shot.deliverables.push_back(usualOf(kind, "tagged"));
  QVERIFY(quay_.write(p, folder("tags")).ok());
  for (const char* file : {"tagged.png", "tagged.jpg", "tagged.tif", "tagged.webp"}) {
    auto image = Exiv2::ImageFactory::open((folder("tags") / file).string());
    image->readMetadata();
    Exiv2::ExifData& exif = image->exifData();
    QVERIFY2(exif["Exif.Image.Copyright"].toString() == shot.handOver.rights, file);
    QVERIFY2(exif["Exif.Image.Software"].toString() == "Gentle Dusk", file);
    QVERIFY2(image->xmpData()["Xmp.dc.creator"].toString().find("Ines Ørsted") != std::string::npos, file);
    // The photo's camera goes along, but not how large it was.
    QVERIFY2(exif.findKey(Exiv2::ExifKey("Exif.Photo.FocalLengthIn35mmFilm")) != exif.end(), file);
    QVERIFY2(exif["Exif.Photo.PixelXDimension"].toString() == "480", file);
  }
  shot.handOver.keepsExif = false;
  QVERIFY(quay_.write(p, folder("bare")).ok());
  auto image = Exiv2::ImageFactory::open((folder("bare") / "tagged.jpg").string());
  image->readMetadata();
  QVERIFY(image->exifData().findKey(Exiv2::ExifKey("Exif.Photo.FocalLengthIn35mmFilm")) ==
          image->exifData().end());
}

void TestHandOverFiles::namesAreMadeOfWords_data() {
  QTest::addColumn<QString>("typed");
  QTest::addColumn<QString>("name");
  QTest::newRow("plain") << "picture.png"
                         << "picture.png";
  QTest::newRow("without ending") << "picture"
                                  << "picture.png";
  QTest::newRow("other ending") << "picture.jpg"
                                << "picture.jpg.png";
  QTest::newRow("all") << "{project}_{shot}_{frame}_{size}_{date}_{version}"
                       << "Brackwater_Quay- early_Square_480x320_2026-11-27_v03.png";
  QTest::newRow("empty word") << "{shot}-{variant}-{size}"
                              << "Quay- early-480x320.png";
  QTest::newRow("brace alone") << "a{b"
                               << "a{b.png";
  QTest::newRow("climbs out") << "..\\..\\x"
                              << "-..-x.png";
  QTest::newRow("hidden") << ".secret. "
                          << "secret.png";
  QTest::newRow("refused") << "a:b*c?\"<>|d"
                           << "a-b-c-----d.png";
  QTest::newRow("unknown") << "{colour}"
                           << "";
  QTest::newRow("nothing") << "{variant}"
                           << "";
  QTest::newRow("endless") << QString(300, 'x') << "";
}

void TestHandOverFiles::namesAreMadeOfWords() {
  QFETCH(QString, typed);
  QFETCH(QString, name);
  Deliverable d;
  d.fileName = typed.toStdString();
  const auto made = fileNameOf(d, {"Brackwater", "Quay: early", "", "Square", "2026-11-27", 480, 320, 3});
  QCOMPARE(made.ok(), !name.isEmpty());
  if (made) QCOMPARE(QString::fromStdString(*made), name);
  if (!made) QVERIFY(made.error().message.ends_with('.') && made.error().message.size() > 30);
}

void TestHandOverFiles::nothingOfOthersIsReplaced() {
  Project p = quay_.project();
  p.shots[0].placements.clear();
  p.shots[0].deliverables = {usualOf(DeliverableKind::png, "picture")};
  const fs::path file = folder("taken") / "picture.png";
  fs::create_directories(folder("taken"));
  QVERIFY(writeFileAtomically(file, "someone's work").ok());
  const auto refused = quay_.write(p, folder("taken"));
  QVERIFY(!refused.ok() && refused.error().message.find("was not made of this shot") != std::string::npos);
  QCOMPARE(*readFile(file), std::string("someone's work"));
  const auto both = quay_.write(p, folder("taken"), IfThere::keepBoth);
  QVERIFY(both.ok() && both->files[0].filename() == "picture-2.png");
  QCOMPARE(*readFile(file), std::string("someone's work"));
  QVERIFY(quay_.write(p, folder("taken"), IfThere::replace).ok());
  // What was made of this very shot gives way to the next one.
  QVERIFY(quay_.write(p, folder("taken")).ok());
  Project other = p;
  other.shots[0].id = "another";
  QVERIFY(!quay_.write(other, folder("taken")).ok());
  fs::create_directories(folder("taken") / "folder.png");
  p.shots[0].deliverables[0].fileName = "folder";
  const auto isFolder = quay_.write(p, folder("taken"), IfThere::replace);
  QVERIFY(!isFolder.ok() && isFolder.error().message.find("is a folder") != std::string::npos);
  p.shots[0].deliverables = {usualOf(DeliverableKind::png, "a"), usualOf(DeliverableKind::png, "a")};
  const auto twice = quay_.write(p, folder("taken"));
  QVERIFY(!twice.ok() && twice.error().message.find("Two of the files") != std::string::npos);
}

void TestHandOverFiles::recipeMakesTheSamePixels() {
  Project p = quay_.project();
  p.shots[0].deliverables = {usualOf(DeliverableKind::png, "first")};
  QVERIFY(quay_.write(p, folder("made")).ok());
  const auto recipe = readRecipe(recipeOf(folder("made") / "first.png"));
  QVERIFY2(recipe.ok(), recipe.ok() ? "" : recipe.error().message.c_str());
  QCOMPARE(recipe->width, HandedOver::width);
  QCOMPARE(recipe->samples, 8);
  AssetStore elsewhere(folder("nowhere"));
  DeliverOptions options;
  options.folder = folder("again"), options.size = std::pair(recipe->width, recipe->height);
  options.samples = recipe->samples;
  const auto again = deliver(recipe->project, 0, elsewhere, quay_.cache, options, quay_.progress);
  QVERIFY2(again.ok(), again.ok() ? "" : again.error().message.c_str());
  QCOMPARE(*readFile(folder("made") / "first.png"), *readFile(folder("again") / "first.png"));
  for (const char* text :
       {"", "{}", "[1", R"({"gentleDusk": 99, "document": {}})",
        R"({"gentleDusk": 1, "document": {"schema": 1, "shots": [{}]}, "traced": [0, 5], "samples": 1})"}) {
    QVERIFY(writeFileAtomically(folder("bad.json"), text).ok());
    QVERIFY2(!readRecipe(folder("bad.json")).ok(), text);
  }
}

// A folder that holds inputs and files can go to another place, or to a client, who reads no names of ours.
void TestHandOverFiles::recipesMoveWithWhatTheyAreMadeOf() {
  Project p = quay_.project();
  int links = 0;
  eachLink(p, [&](AssetRef& ref, LinkKind) {
    if (!ref.path.empty()) ref.path = "in/" + std::to_string(++links) + ".bin";
  });
  QVERIFY(links > 2);
  p.surfaces[0].name = "kept";
  fs::create_directories(folder("job") / "out");
  OutputPlan plan;
  plan.file = folder("job") / "out" / "x.png", plan.what = usualOf(DeliverableKind::png, "x");
  DeliverReport report;
  report.width = 30, report.height = 20, report.samplesAsked = 4;
  const AssetStore near(folder("job"));
  QVERIFY(writeRecipes(p, p.shots[0], near, {plan}, report).ok());
  const std::string text = *readFile(recipeOf(plan.file));
  QVERIFY(text.find("../in/1.bin") != std::string::npos &&
          text.find(folder("job").string()) == std::string::npos);
  fs::rename(folder("job"), folder("moved"));
  auto recipe = readRecipe(recipeOf(folder("moved") / "out" / "x.png"));
  QVERIFY(recipe.ok());
  eachLink(recipe->project, [&](AssetRef& ref, LinkKind) {
    if (!ref.path.empty()) QCOMPARE(fs::path(ref.path).parent_path(), folder("moved") / "in");
  });
  // What shares no folder with it is told where it is.
  plan.file = folder("moved") / "out" / "y.png";
  const AssetStore far("/another");
  QVERIFY(writeRecipes(p, p.shots[0], far, {plan}, report).ok());
  recipe = readRecipe(recipeOf(plan.file));
  QCOMPARE(recipe->project.shots[0].plate.path.substr(0, 12), std::string("/another/in/"));
}

void TestHandOverFiles::logosKeepToTheirFrame() {
  Picture logo(20, 10, {"R", "G", "B", "A"});
  for (size_t i = 0; i < logo.pixels.size(); ++i) logo.pixels[i] = i % 4 == 0 || i % 4 == 3 ? 1.0f : 0.0f;
  QVERIFY(writePng8(folder("logo.png"), logo).ok());
  Project p = quay_.project();
  Shot& shot = p.shots[0];
  shot.placements.clear();
  ExtraLayer layer;
  layer.id = "layer-1", layer.name = "Logo", layer.file = {folder("logo.png").string(), ""};
  layer.anchor = LayerAnchor::topLeft, layer.size = 0.2, layer.margin = 0.05;
  shot.blend.layers = {layer};
  shot.frames = {{"frame-1", "Square", {0.7, 0.5}, 0.5, 960, 960, 0, false}};
  shot.deliverables = {usualOf(DeliverableKind::png, "whole"), usualOf(DeliverableKind::png, "square")};
  shot.deliverables[1].frameId = "frame-1";
  const auto report = quay_.write(p, folder("logos"));
  QVERIFY2(report.ok(), report.ok() ? "" : report.error().message.c_str());
  const auto isLogo = [](const Picture& picture, double x, double y) {
    const Rgb c = picture.rgbAt(int(x), int(y));
    return c.x > 0.95f && c.y < 0.05f && c.z < 0.05f;
  };
  const Picture whole = readAsIs(folder("logos") / "whole.png"),
                square = readAsIs(folder("logos") / "square.png");
  QVERIFY(isLogo(whole, 16 + 40, 16 + 20) && !isLogo(whole, 230 + 12 + 20, 40 + 12 + 10));
  QVERIFY(isLogo(square, 12 + 20, 12 + 10) && !isLogo(square, 12 + 60, 12 + 10));
}

void TestHandOverFiles::rowsScaleAsTheyCome() {
  Picture p = Picture::rgb(61, 47);
  for (int y = 0; y < 47; ++y)
    for (int x = 0; x < 61; ++x)
      for (int c = 0; c < 3; ++c) p.at(x, y)[c] = c == 0 ? 1.0f : float((x * 7 + y * 3 + c) % 11) / 11;
  for (const auto& [w, h] : {std::pair(30, 20), {61, 47}, {130, 99}, {1, 1}, {61, 12}}) {
    RowScaler whole(61, 47, w, h, 3), pieces(61, 47, w, h, 3);
    const Picture once = whole.add(p);
    QCOMPARE(once.height, h);
    std::vector<float> together;
    for (int y = 0; y < 47; y += 5) {
      Picture some(61, std::min(5, 47 - y), p.channels);
      std::copy_n(p.at(0, y), some.pixels.size(), some.pixels.begin());
      const Picture made = pieces.add(some);
      together.insert(together.end(), made.pixels.begin(), made.pixels.end());
    }
    QVERIFY(together == once.pixels);
    for (size_t i = 0; i < once.pixels.size(); i += 3) QVERIFY(std::abs(once.pixels[i] - 1) < 1e-5f);
    if (w == 61 && h == 47) QVERIFY(worstDifference(once, p) < 1e-6);
  }
}

void TestHandOverFiles::aColleagueRebuildsThem() {
  Project p = quay_.project();
  Shot& shot = p.shots[0];
  Deliverable many = usualOf(DeliverableKind::exr, "many");
  many.alpha = DeliveredAlpha::premultiplied, many.bits = 32;
  Deliverable one = many;
  one.fileName = "one.exr", one.onePart = true;
  shot.deliverables = {many, one, usualOf(DeliverableKind::openRaster, "layers")};
  QVERIFY(quay_.write(p, folder("colleague")).ok());
  shot.placements.clear();  // the plate alone
  Deliverable plate = usualOf(DeliverableKind::exr, "plate");
  plate.bits = 32, plate.passes = {"none"};
  shot.deliverables = {plate};
  QVERIFY(quay_.write(p, folder("colleague")).ok());
  const QString in = QString::fromStdString(folder("colleague").string()) + "/";
  const auto asked = [&](const QStringList& words) {
    QProcess colleague;
    colleague.start(DUSK_COMPOSITOR, words);
    colleague.waitForFinished(60'000);
    return std::pair(colleague.exitCode(), QString(colleague.readAllStandardOutput()));
  };
  for (const char* name : {"many.exr", "one.exr"}) {
    const auto [code, said] = asked({in + name, "--plate", in + "plate.exr"});
    QVERIFY2(code == 0, qPrintable(said));
    QVERIFY2(said.contains("ways of light against beauty, R") && said.contains("over the plate, B"),
             qPrintable(said));
  }
  const auto [code, said] = asked({in + "layers.ora"});
  QVERIFY2(code == 0 && said.count("layers against the picture") == 3, qPrintable(said));
  // Another picture's plate is noticed.
  QCOMPARE(asked({in + "many.exr", "--plate", in + "many.exr"}).first, 1);
  QCOMPARE(asked({in + "nothing.exr"}).first, 2);
}

DUSK_TEST(TestHandOverFiles, NoApplication);
#include "hand_over_files.moc"
