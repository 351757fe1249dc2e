#include <QtTest>
#include <nlohmann/json.hpp>
#include <random>

#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/picture/read.h"
#include "core/vantage/camera.h"
#include "core/vantage/camera_file.h"
#include "core/vantage/find_edges.h"
#include "core/vantage/frame.h"
#include "core/vantage/lens_profiles.h"
#include "core/vantage/levels.h"
#include "core/vantage/snap.h"
#include "core/vantage/straighten.h"
#include "tests/made_up_edge.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

namespace {

constexpr int width = 960, height = 640;

Camera testCamera() {
  Camera c = lookAt(width, height, 820, {0.4, -2.2, 1.3}, {-0.2, 1.5, 0.2});
  c.k1 = -0.06, c.k2 = 0.01, c.cx += 3, c.cy -= 2;
  return c;
}

}  // namespace

class TestVantagePhoto : public QObject {
  Q_OBJECT
 private slots:
  void snapsToATenthOfAPixel();
  void snappingFollowsABentEdge();
  void snapsFromFarInABigPhoto();
  void nothingToSnapTo();
  void demoPhotoSolvesFromItsOwnEdges();
  void edgesSeenThroughABentLens();
  void aPhotoWithoutEdgesProposesNothing();
  void straighteningIsTheInverseOfTheLens();
  void straightPlateStaysAsItIs();
  void gltfAndJsonRoundTrip();
  void foreignGltfCamera();
  void damagedCameraFilesAreRefused();
  void lensDataGivesAProfile();
  void heightsOfLevels();
  void aNewFrameKeepsThePicture();
};

void TestVantagePhoto::snapsToATenthOfAPixel() {
  std::mt19937 random(1);
  std::uniform_real_distribution<double> u(0, 1);
  double square = 0;
  int count = 0;
  for (unsigned i = 0; i < 60; ++i) {
    const Vec2d middle(140 + 40 * u(random), 100 + 40 * u(random));
    const double angle = 2 * pi * u(random), blur = 0.7 + 1.1 * u(random);
    const Photo photo = edgePhoto(middle, angle, 0, 80, blur, 0.01 + 0.015 * u(random), i);
    const Vec2d along(std::cos(angle), std::sin(angle)), across(-along.y, along.x);
    const auto rough = [&](double t) { return middle + along * t + across * (6 * u(random) - 3); };
    const auto s = snapped(photo, {rough(-75), rough(75)}, 8);
    QVERIFY(s.has_value());
    for (const Vec2d& p : s->points) square += std::pow((p - middle).dot(across), 2), ++count;
  }
  const double rms = std::sqrt(square / count);
  QVERIFY2(rms < 0.1, qPrintable(QString::number(rms)));
}

void TestVantagePhoto::snappingFollowsABentEdge() {
  const Photo photo = edgePhoto({160, 120}, 0.3, 3, 90, 1, 0.01, 5);
  const Vec2d along(std::cos(0.3), std::sin(0.3)), across(-along.y, along.x);
  const auto s = snapped(photo, {Vec2d(160, 120) - along * 85.0, Vec2d(160, 120) + along * 85.0}, 8);
  QVERIFY(s && s->points.size() >= 4);
  for (const Vec2d& p : s->points) {
    const double t = (p - Vec2d(160, 120)).dot(along) / 90;
    const double off = std::abs((p - Vec2d(160, 120)).dot(across) - 3 * (1 - t * t));
    QVERIFY2(off < 0.25, qPrintable(QString::number(off)));  // a piece's mean lies inside its arc
  }
}

void TestVantagePhoto::snapsFromFarInABigPhoto() {
  // A big photo shown small: a hand is tens of pixels off.
  const double angle = 0.4;
  const Photo photo = edgePhoto({160, 120}, angle, 0, 90, 1.5, 0.01, 7);
  const Vec2d along(std::cos(angle), std::sin(angle)), across(-along.y, along.x);
  const auto s = snapped(
      photo, {Vec2d(160, 120) - along * 80.0 + across * 20.0, Vec2d(160, 120) + along * 80.0 + across * 14.0},
      40);
  QVERIFY(s.has_value());
  for (const Vec2d& p : s->points)
    QVERIFY2(std::abs((p - Vec2d(160, 120)).dot(across)) < 0.25,
             qPrintable(QString::number((p - Vec2d(160, 120)).dot(across))));
}

void TestVantagePhoto::nothingToSnapTo() {
  Photo photo;
  Picture grain = Picture::rgb(200, 200);
  std::mt19937 random(2);
  std::normal_distribution<float> noise(0.4f, 0.02f);
  for (float& v : grain.pixels) v = noise(random);
  photo.picture = std::move(grain);
  int found = 0;
  for (int i = 0; i < 20; ++i)
    found += snapped(photo, {{20.0, 20.0 + 8 * i}, {180.0, 30.0 + 7 * i}}, 8).has_value();
  QVERIFY2(found <= 1, "grain alone was taken for an edge");
  QVERIFY(!snapped(photo, {{5, 5}}, 8));
  QVERIFY(!snapped(photo, {{5, 5}, {6, 6}}, 8));
  QVERIFY(!snapped(photo, {{std::nan(""), 5}, {60, 6}}, 8));
  QVERIFY(!snapped(photo, {{-500, -500}, {-300, -300}}, 8));
}

void TestVantagePhoto::demoPhotoSolvesFromItsOwnEdges() {
  const fs::path folder = fs::path(DUSK_SOURCE) / "demo/brackwater";
  const auto photo = readPhoto(folder / "quay-plate.jpg");
  QVERIFY(photo.ok());
  const auto truth = jsonFrom(*readFile(folder / "truth.json"));
  Progress progress;
  const auto found = findEdges(*photo, std::nullopt, progress);
  QVERIFY(found.ok());
  Evidence e;
  e.strokes = found->strokes;
  e.solveK1 = true;
  const VantageAnswer a = solve(e, photo->picture.width, photo->picture.height);
  QVERIFY2(a.vantage.solved, a.advice.empty() ? "" : a.advice[0].c_str());
  const double off = a.vantage.camera.focalPx / truth["camera"]["focalPx"].get<double>() - 1;
  QVERIFY2(std::abs(off) < 0.03, qPrintable(QString::number(off)));
  const auto again = findEdges(*photo, std::nullopt, progress);
  QVERIFY(again->strokes == found->strokes);
  progress.cancel();
  QVERIFY(findEdges(*photo, std::nullopt, progress).error().kind == ErrorKind::cancelled);
}

// A room's corner, floor and walls in squares, in a dark frame as some cameras leave one.
void TestVantagePhoto::edgesSeenThroughABentLens() {
  const auto photographed = [](const Camera& camera) {
    Picture picture = Picture::rgb(camera.width, camera.height);
    std::mt19937 random(3);
    std::normal_distribution<float> grain(0, 0.008f);
    constexpr int finer = 3;  // samples across a pixel
    for (int y = 0; y < camera.height; ++y)
      for (int x = 0; x < camera.width; ++x) {
        float sum = 0;
        for (int i = 0; i < finer * finer; ++i) {
          const Vec3d d = rayThrough(camera, {x + (i % finer + 0.5) / finer, y + (i / finer + 0.5) / finer});
          const Vec3d& eye = camera.position;
          const double floor = d.z < 0 ? -eye.z / d.z : 1e9, back = d.y > 0 ? (3 - eye.y) / d.y : 1e9,
                       side = d.x < 0 ? (-2 - eye.x) / d.x : 1e9, t = std::min({floor, back, side});
          const Vec3d p = eye + d * t;
          const double u = t == side ? p.y : p.x, v = t == floor ? p.y : p.z;
          const bool dark = (long(std::floor(u / 0.4)) + long(std::floor(v / 0.4))) % 2 != 0;
          sum += (dark ? 0.25f : 0.7f) * (t == side ? 0.8f : t == back ? 0.9f : 1.0f);
        }
        const bool frame = x < 4 || y < 4 || x >= camera.width - 4 || y >= camera.height - 4;
        std::fill_n(picture.at(x, y), 3, frame ? 0.02f : sum / (finer * finer) + grain(random));
      }
    Photo photo;
    photo.picture = std::move(picture);
    return photo;
  };
  for (const double k1 : {0.0, -0.22}) {
    Camera camera = lookAt(640, 480, 520, {0.6, -1.8, 1.7}, {-0.7, 1.6, 0.6});
    camera.k1 = k1;
    Progress progress;
    const auto found = findEdges(photographed(camera), std::nullopt, progress);
    QVERIFY(found.ok());
    QCOMPARE(found->bent, k1 != 0);
    QVERIFY(found->doubt().empty());
    Evidence e;
    e.strokes = found->strokes, e.solveK1 = found->bent;
    const auto isOfFrame = [](const Stroke& s) {
      return std::all_of(s.points.begin(), s.points.end(),
                         [](const Vec2d& p) { return p.x < 8 || p.x > 632; }) ||
             std::all_of(s.points.begin(), s.points.end(),
                         [](const Vec2d& p) { return p.y < 8 || p.y > 472; });
    };
    QVERIFY(std::none_of(e.strokes.begin(), e.strokes.end(), isOfFrame));
    const VantageAnswer a = solve(e, 640, 480);
    QVERIFY(a.vantage.solved);
    const double off = a.vantage.camera.focalPx / camera.focalPx - 1;
    QVERIFY2(std::abs(off) < 0.04, qPrintable(QString("%1 at %2").arg(off).arg(k1)));
    QVERIFY2(std::abs(a.vantage.camera.k1 - k1) < 0.03, qPrintable(QString::number(a.vantage.camera.k1)));
  }
}

void TestVantagePhoto::aPhotoWithoutEdgesProposesNothing() {
  Photo photo;
  photo.picture = Picture::rgb(300, 200);
  Progress progress;
  QVERIFY(findEdges(photo, std::nullopt, progress)->strokes.empty());
  photo.picture = Picture::rgb(1, 1);
  QVERIFY(findEdges(photo, std::nullopt, progress).ok());
  QVERIFY(!findEdges(Photo{}, std::nullopt, progress).ok());
}

void TestVantagePhoto::straighteningIsTheInverseOfTheLens() {
  Vantage v;
  v.solved = true, v.camera = testCamera(), v.straightened = true;
  const Camera straight = workingCamera(v);
  QCOMPARE(straight.k1, 0.0);
  // A smooth picture, so that resampling itself costs little: its straightened version shows at the straight
  // camera's pixel what the photo shows at the bent one's.
  Picture photo = Picture::rgb(width, height);
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x)
      for (int k = 0; k < 3; ++k)
        photo.at(x, y)[k] = float(0.5 + 0.4 * std::sin(x * 0.03 + k) * std::cos(y * 0.04));
  const PackedPicture flat = straightened(photo, v.camera);
  for (const Vec3d& p : {Vec3d(0, 1, 0), Vec3d(-0.5, 2, 0.3), Vec3d(0.6, 1.5, 0.8)}) {
    const Vec2d bent = *projected(v.camera, p), even = *projected(straight, p);
    QVERIFY((workingPixel(v, bent) - even).length() < 1e-6 && (photoPixel(v, even) - bent).length() < 1e-6);
    const Rgb a = sampleBilinear(photo, float(bent.x), float(bent.y)),
              b = sampleBilinear(flat, float(even.x), float(even.y));
    QVERIFY((a - b).length() < 2e-3);
  }
}

void TestVantagePhoto::straightPlateStaysAsItIs() {
  Camera c = testCamera();
  c.k1 = c.k2 = 0;
  Picture photo = Picture::rgb(width, height);
  std::mt19937 random(3);
  std::uniform_real_distribution<float> u(0, 1);
  for (float& v : photo.pixels) v = u(random);
  const Picture flat = straightened(photo, c).whole();
  float most = 0;
  for (size_t i = 0; i < flat.pixels.size(); ++i)
    most = std::max(most, std::abs(flat.pixels[i] - photo.pixels[i]));
  QVERIFY(most < 1e-4f);
}

void TestVantagePhoto::gltfAndJsonRoundTrip() {
  QTemporaryDir folder;
  Vantage v;
  v.solved = true, v.camera = testCamera(), v.rmsPx = 0.4;
  v.sigma = {4, 0.1, 0.05, 0.01, 0.002, 0};
  for (const char* name : {"camera.gltf", "camera.json"}) {
    const fs::path file = fs::path(folder.path().toStdString()) / name;
    const bool gltf = file.extension() == ".gltf";
    QVERIFY(writeFileAtomically(file, gltf ? cameraGltf(v.camera, "quay") : vantageJson(v)).ok());
    const auto back = readVantage(file, width, height);
    QVERIFY2(back.ok(), back.ok() ? "" : back.error().message.c_str());
    for (const Vec3d& p : {Vec3d(0, 1, 0), Vec3d(-0.5, 2, 0.3), Vec3d(0.6, 1.5, 0.8)})
      QVERIFY((*projected(back->camera, p) - *projected(v.camera, p)).length() < 1e-6);
    if (!gltf) QVERIFY(back->sigma == v.sigma && back->rmsPx == v.rmsPx);
    // Another size of the same photo is fine, another shape is another photo.
    const auto half = readVantage(file, width / 2, height / 2);
    QVERIFY(half.ok() && std::abs(half->camera.focalPx - v.camera.focalPx / 2) < 1e-9);
    QVERIFY(!readVantage(file, height, width).ok());
  }
}

void TestVantagePhoto::foreignGltfCamera() {
  QTemporaryDir folder;
  const fs::path file = fs::path(folder.path().toStdString()) / "scene.gltf";
  // A camera three metres up glTF's Y, turned a quarter to the left, under a parent moved by one metre.
  QVERIFY(writeFileAtomically(file, R"({"asset": {"version": "2.0"}, "scenes": [{"nodes": [0]}],
    "nodes": [{"translation": [1, 0, 0], "children": [1, 2]}, {"name": "empty"},
              {"camera": 0, "translation": [0, 3, 0], "rotation": [0, 0.70710678, 0, 0.70710678]}],
    "cameras": [{"type": "perspective", "perspective": {"yfov": 0.8, "znear": 0.1}}]})")
              .ok());
  const auto v = readVantage(file, width, height);
  QVERIFY2(v.ok(), v.ok() ? "" : v.error().message.c_str());
  QVERIFY((v->camera.position - Vec3d(1, 0, 3)).length() < 1e-6);
  QVERIFY((v->camera.axes.z - Vec3d(-1, 0, 0)).length() < 1e-6);
  QVERIFY((v->camera.axes.y - Vec3d(0, 0, -1)).length() < 1e-6);
  QVERIFY(std::abs(v->camera.focalPx - height / 2.0 / std::tan(0.4)) < 1e-6);
}

void TestVantagePhoto::damagedCameraFilesAreRefused() {
  QTemporaryDir folder;
  const fs::path file = fs::path(folder.path().toStdString()) / "x.gltf";
  const std::string good = cameraGltf(testCamera(), "quay");
  std::mt19937 random(4);
  for (int i = 0; i < 300; ++i) {
    std::string text = good;
    for (int k = 0; k < 1 + i % 4; ++k) text[random() % text.size()] = char(random() % 256);
    if (i % 7 == 0) text.resize(random() % text.size());
    QVERIFY(writeFileAtomically(file, text).ok());
    const auto v = readVantage(file, width, height);  // whatever it says, it says it without harm
    if (v.ok()) QVERIFY(std::isfinite(v->camera.focalPx));
  }
  for (const char* bad : {"", "{}", "[]", "glTF", R"({"asset": {}, "nodes": [{"children": [0]}]})"}) {
    QVERIFY(writeFileAtomically(file, bad).ok());
    QVERIFY(!readVantage(file, width, height).ok());
  }
}

void TestVantagePhoto::lensDataGivesAProfile() {
  const auto all = lensesNamed("", 400);
  if (all.empty()) QSKIP("no lens data installed");
  int profiles = 0;
  for (const LensMatch& lens : all)
    if (const auto p = lensProfile(lens, 0, 5.6, width, height)) {
      ++profiles;
      QVERIFY(std::isfinite(p->k1 + p->k2) && p->redScale > 0.9 && p->redScale < 1.1);
      QCOMPARE(p->name, lens.name);
    }
  QVERIFY2(profiles > 50, qPrintable(QString::number(profiles)));
  QVERIFY(lensesFor({}).empty());
  PhotoInfo unknown;
  unknown.camera = "A camera nobody ever built 9000";
  QVERIFY(lensesFor(unknown).empty());
  QVERIFY(!lensProfile({"no such lens", 1, 0}, 35, 8, width, height));
}

void TestVantagePhoto::heightsOfLevels() {
  const Camera c = testCamera();
  const auto h = heightOver(c, *projected(c, {0.2, 1.1, 0}), *projected(c, {0.2, 1.1, 0.72}));
  QVERIFY(h && std::abs(*h - 0.72) < 1e-6);
  const Vec3d corners[] = {{0, 1, 0.4}, {0.42, 1, 0.4}, {0.42, 1.297, 0.4}, {0, 1.297, 0.4}};
  std::array<Vec2d, 4> at;
  for (size_t i = 0; i < 4; ++i) at[i] = *projected(c, corners[i]);
  for (const Vec2d& size : {Vec2d(0.42, 0.297), Vec2d(0.297, 0.42)}) {
    const auto level = heightOfRectangle(c, at, size);
    QVERIFY(level && std::abs(*level - 0.4) < 1e-6);
  }
  QVERIFY(!heightOfRectangle(c, at, {1, 0.2}));  // a rectangle of another shape
  QVERIFY(!heightOver(c, {480, -4000}, {480, 100}));
}

void TestVantagePhoto::aNewFrameKeepsThePicture() {
  Shot shot;
  shot.vantage.solved = true, shot.vantage.camera = testCamera();
  shot.placements = {{"p", "x", 0.3, 1.2, 0, 25}};
  Lamp sun;
  sun.azimuthDegrees = 70;
  sun.positionM = {0.5, 2, 1.5};
  shot.lamps = {sun};
  const auto seen = [](const Shot& s) {
    const Placement& p = s.placements[0];
    const double turn = radians(p.turnDegrees);
    return std::array{
        *projected(s.vantage.camera, {p.xM, p.yM, 0}),
        *projected(s.vantage.camera, {p.xM + 0.1 * std::cos(turn), p.yM + 0.1 * std::sin(turn), 0}),
        *projected(s.vantage.camera, s.lamps[0].positionM)};
  };
  const auto before = seen(shot);
  Evidence e;
  e.origin = Vec2d(400, 500), e.quarterTurns = 1;
  const Camera then = shot.vantage.camera;
  shot.vantage.camera = moved(then, askedFrame(e, then));
  carryAlong(shot, moveBetween(then, shot.vantage.camera));
  const auto after = seen(shot);
  for (size_t i = 0; i < 3; ++i) QVERIFY((after[i] - before[i]).length() < 1e-6);
  QVERIFY(levelPoint(shot.vantage.camera, {400, 500})->length() < 1e-9);
  // The sun stands where it stood: its azimuth is clockwise, the turn was counter-clockwise.
  QVERIFY(std::abs(wrapDegrees(shot.lamps[0].azimuthDegrees - (70 - 90))) < 1e-9);
}

DUSK_TEST(TestVantagePhoto, NoApplication);
#include "vantage_photo.moc"
