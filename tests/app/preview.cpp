#include "app/preview/preview.h"

#include <QtTest>

#include "app/document/session.h"
#include "app/jobs/jobs.h"
#include "app/preview/loader.h"
#include "app/preview/shadow_watch.h"
#include "core/base/files.h"
#include "core/deliver/thumbnail.h"
#include "core/project/file.h"
#include "core/project/shots.h"
#include "core/set/furnish.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

/// The picture's own thread and what loads for it, without a window.
class TestPreview : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  const fs::path demo_ = fs::path(DUSK_SOURCE) / "demo/brackwater";
  Project project_ = *loadProject(demo_ / "brackwater.dusk");
  std::shared_ptr<AssetStore> assets_ = std::make_shared<AssetStore>(demo_);
  std::shared_ptr<GeometryCache> cache_ = std::make_shared<GeometryCache>();
  std::unique_ptr<Preview> preview_;
  std::shared_ptr<const Frame> frame_;
  std::shared_ptr<const Proofs> proved_;
  int frames_ = 0, proofs_ = 0;

  void ask(const Project& p, size_t shot = 0, const QSize& size = {240, 160}, const QRect& area = {}) {
    preview_->request(p, shot, assets_, cache_, size, area, area);
  }
  Project plinths();
  bool finished() { return frame_ && frame_->samples > 0 && frame_->samples == frame_->wanted; }
  bool waitUntilFinished() {
    return QTest::qWaitFor([this] { return finished(); }, 60'000);
  }

 private slots:
  void initTestCase() {
    QStandardPaths::setTestModeEnabled(true);
    project_.shots[0].render.samples = 8;
    Progress progress;
    QVERIFY(assets_->model(project_.products[0], progress).ok());
  }
  void init() {
    preview_ = std::make_unique<Preview>();
    frame_.reset(), proved_.reset(), frames_ = proofs_ = 0;
    connect(preview_.get(), &Preview::frameReady, this,
            [this](const std::shared_ptr<const Frame>& frame) { frame_ = frame, ++frames_; });
    connect(preview_.get(), &Preview::proofsReady, this,
            [this](const std::shared_ptr<const Proofs>& proofs) { proved_ = proofs, ++proofs_; });
  }
  void cleanup() {
    preview_.reset();
    // What it still had to say is not the next one's: it would be counted there.
    QCoreApplication::removePostedEvents(this, QEvent::MetaCall);
  }
  void comesCoarseThenWhole();
  void aPieceIsAPieceOfTheSamePicture();
  void aSmallMoveInsideAPieceAsksForNothing();
  void thePlateIsExactWhereNothingStands();
  void thePlaceStaysWhileSurfacesAreTried();
  void theNoiseIsTakenOutOnTheWay();
  void aSetIsCalmFromTheBeginning();
  void onlyWhatIsDressedAnewIsLookedAtAnew();
  void anotherShotIsAnotherPicture();
  void stoppedMeansSilent();
  void whatIsMeasuredAgainstIsMeasuredAgain();
  void modelsThatAreNotLoadedAreLeftOut();
  void trouble();
  void thumbnailsShowTheShot();
  void theLoaderLoadsOnceAndTellsTheWindow();
  void aModelThatCannotBeReadIsSaidOnce();
  void shadowsAreReadAnewOnlyWhereTheyMustBe();
};

void TestPreview::comesCoarseThenWhole() {
  ask(project_);
  QVERIFY(QTest::qWaitFor([this] { return frames_ > 0; }, 30'000));
  QVERIFY(frame_->isWhole());
  QCOMPARE(frame_->picture.size(), QSize(240, 160));
  QVERIFY(waitUntilFinished());
  QVERIFY(frames_ >= 3);
  QCOMPARE(frame_->shotId, project_.shots[0].id);
  QVERIFY(proofs_ > 0);
}

void TestPreview::aPieceIsAPieceOfTheSamePicture() {
  ask(project_, 0, {480, 320});
  QVERIFY(waitUntilFinished());
  const QImage whole = frame_->picture, bare = frame_->bare;
  const QRect area(180, 120, 150, 130);
  cleanup(), init();  // else all of it is there already, which is enough
  ask(project_, 0, {480, 320}, area);
  QVERIFY(QTest::qWaitFor([&] { return finished() && frame_->area == area; }, 60'000));
  QCOMPARE(frame_->picture.size(), area.size());
  QCOMPARE(frame_->bare, bare.copy(area));  // the plate to the bit
  // The product with other noise, but the same product in the same place.
  double off = 0;
  for (int y = 0; y < area.height(); ++y)
    for (int x = 0; x < area.width(); ++x)
      off += std::abs(qGray(frame_->picture.pixel(x, y)) - qGray(whole.pixel(x + area.x(), y + area.y())));
  QVERIFY2(off / (area.width() * area.height()) < 4,
           qPrintable(QString::number(off / (area.width() * area.height()))));
  const Vec2d middle = frame_->inArea({(180 + 75.0) / 480, (120 + 65.0) / 320});
  QVERIFY(std::abs(middle.x - 0.5) < 1e-12 && std::abs(middle.y - 0.5) < 1e-12);
}

void TestPreview::aSmallMoveInsideAPieceAsksForNothing() {
  const QRect area(100, 60, 200, 160);
  preview_->request(project_, 0, assets_, cache_, {480, 320}, area, area.adjusted(20, 20, -20, -20));
  QVERIFY(waitUntilFinished());
  const auto scene = frame_->scene;
  preview_->request(project_, 0, assets_, cache_, {480, 320}, area.translated(15, 5),
                    area.adjusted(30, 20, -10, -20));
  QTest::qWait(300);
  QVERIFY(frame_->scene == scene);
  preview_->request(project_, 0, assets_, cache_, {480, 320}, area.translated(90, 5), area.translated(90, 5));
  QVERIFY(QTest::qWaitFor([&] { return frame_->scene != scene && frame_->area == area.translated(90, 5); },
                          30'000));
}

void TestPreview::thePlateIsExactWhereNothingStands() {
  Project empty = project_;
  empty.shots[0].placements.clear();
  ask(empty, 0, {300, 200});
  QVERIFY(QTest::qWaitFor([this] { return frames_ > 0; }, 30'000));
  QCOMPARE(frame_->picture, frame_->bare);
}

void TestPreview::thePlaceStaysWhileSurfacesAreTried() {
  ask(project_);
  QVERIFY(waitUntilFinished());
  const auto calm = frame_->passes;
  Project tried = project_;
  for (Surface& s : tried.surfaces) s.baseColour = {0.9, 0.1, 0.1}, s.roughness = 0.9;
  std::vector<std::shared_ptr<const Frame>> early;
  connect(preview_.get(), &Preview::frameReady, this, [&](const std::shared_ptr<const Frame>& frame) {
    if (frame->samples == 0) early.push_back(frame);
  });
  ask(tried);
  QVERIFY(QTest::qWaitFor([&] { return !early.empty() && finished(); }, 60'000));
  bool another = false;
  for (const auto& frame : early) {
    QVERIFY(frame->passes->alpha.width == 240);
    for (size_t i = 0; i < calm->alpha.pixels.size(); ++i) {
      another |= frame->passes->beauty.pixels[i * 3] != calm->beauty.pixels[i * 3];
      if (calm->alpha.pixels[i] > 0) continue;
      for (size_t c = i * 3; c < i * 3 + 3; ++c)
        QVERIFY(frame->passes->ratio.pixels[c] == calm->ratio.pixels[c] &&
                frame->passes->beauty.pixels[c] == 0);
    }
  }
  QVERIFY(another);
  // In the end it is the picture that asking for it alone would have given.
  const auto passes = frame_->passes;
  cleanup(), init();
  ask(tried);
  QVERIFY(waitUntilFinished());
  QVERIFY(frame_->passes->beauty == passes->beauty && frame_->passes->ratio == passes->ratio);
  // Where the product moves, the place is looked at anew.
  Project moved = tried;
  moved.shots[0].placements[0].xM += 0.1;
  early.clear();
  const auto before = frame_->passes;
  bool anew = false;
  connect(preview_.get(), &Preview::frameReady, this, [&](const std::shared_ptr<const Frame>& frame) {
    if (frame->samples == 0) anew |= frame->passes->ratio != before->ratio;
  });
  ask(moved);
  QVERIFY(QTest::qWaitFor([&] { return anew; }, 30'000));
}

void TestPreview::theNoiseIsTakenOutOnTheWay() {
  Project p = project_;
  p.shots[0].render.samples = 400;
  std::vector<std::shared_ptr<const Frame>> frames;
  connect(preview_.get(), &Preview::frameReady, this,
          [&](const std::shared_ptr<const Frame>& frame) { frames.push_back(frame); });
  ask(p, 0, {480, 320});
  QVERIFY(QTest::qWaitFor([&] { return !frames.empty() && frames.back()->samples >= 4; }, 60'000));
  preview_->stop();
  // How much neighbours differ on the product: the first looks are noisy, later ones are not.
  const auto rough = [](const Passes& passes) {
    double sum = 0, light = 0;
    for (int y = 1; y < passes.height(); ++y)
      for (int x = 1; x < passes.width(); ++x) {
        if (passes.alpha.at(x, y)[0] < 1 || passes.alpha.at(x - 1, y)[0] < 1) continue;
        sum += std::abs(double(passes.beauty.at(x, y)[1] - passes.beauty.at(x - 1, y)[1]));
        light += double(passes.beauty.at(x, y)[1]);
      }
    return light > 0 ? sum / light : 0;
  };
  double most = 0;
  for (const auto& frame : frames) most = std::max(most, rough(*frame->passes));
  QVERIFY2(rough(*frames.back()->passes) < 0.6 * most,
           qPrintable(QString("%1 of %2").arg(rough(*frames.back()->passes)).arg(most)));
}

/// How much a picture changes from pixel to pixel, in the mean.
static double unrestOf(const QImage& picture) {
  double sum = 0;
  for (int y = 0; y < picture.height(); ++y)
    for (int x = 1; x + 1 < picture.width(); ++x)
      sum += std::abs(2 * qGray(picture.pixel(x, y)) - qGray(picture.pixel(x - 1, y)) -
                      qGray(picture.pixel(x + 1, y)));
  return sum / (double(picture.width()) * picture.height());
}

Project TestPreview::plinths() {
  Project set = emptyProject();
  furnish(set, 0, {"plinths", 3});
  set.shots[0].render.samples = 16;
  Progress progress;
  for (const Product& p : set.products) (void)assets_->model(p, progress);
  return set;
}

void TestPreview::aSetIsCalmFromTheBeginning() {
  const Project set = plinths();
  double restless = 0;
  connect(preview_.get(), &Preview::frameReady, this, [&](const std::shared_ptr<const Frame>& frame) {
    restless = std::max(restless, unrestOf(frame->picture));
  });
  ask(set, 0, {360, 240});
  QVERIFY(waitUntilFinished());
  // A sample or two at full size would be thirty times as restless as the end.
  const double end = unrestOf(frame_->picture);
  QVERIFY2(frames_ >= 4 && restless < 4 * end,
           qPrintable(QString("%1, in the end %2").arg(restless).arg(end)));
}

void TestPreview::onlyWhatIsDressedAnewIsLookedAtAnew() {
  Project set = plinths();
  set.shots[0].render.samples = 4;
  ask(set, 0, {240, 160});
  QVERIFY(waitUntilFinished());
  const auto calm = frame_->passes;
  Project tried = set;
  const auto disc = std::find_if(tried.products.begin(), tried.products.end(),
                                 [](const Product& p) { return p.piece.kind == "disc"; });
  QVERIFY(disc != tried.products.end() && !disc->surfaceOfPart.empty());
  Surface enamel;
  enamel.id = "enamel", enamel.baseColour = {0.02, 0.7, 0.1};
  tried.surfaces.push_back(enamel);
  for (auto& [part, surface] : disc->surfaceOfPart) surface = enamel.id;
  std::vector<std::shared_ptr<const Frame>> early;
  connect(preview_.get(), &Preview::frameReady, this, [&](const std::shared_ptr<const Frame>& frame) {
    if (frame->samples == 0) early.push_back(frame);
  });
  ask(tried, 0, {240, 160});
  QVERIFY(QTest::qWaitFor([&] { return !early.empty() && finished(); }, 60'000));
  const auto isGreen = [](const Passes& p, size_t i) {
    return p.beauty.pixels[i * 3 + 1] > 1.5f * p.beauty.pixels[i * 3];
  };
  for (const auto& frame : early) {
    size_t same = 0, green = 0, wrong = 0;
    for (size_t i = 0; i < calm->alpha.pixels.size(); ++i) {
      const bool stays = std::equal(&calm->beauty.pixels[i * 3], &calm->beauty.pixels[i * 3 + 3],
                                    &frame->passes->beauty.pixels[i * 3]);
      same += stays;
      green += isGreen(*frame->passes, i);
      wrong += stays && isGreen(*frame_->passes, i) && !isGreen(*calm, i);
    }
    QVERIFY2(same * 2 > calm->alpha.pixels.size() && green > 130 && wrong * 20 < green,
             qPrintable(QString("%1 %2 %3").arg(same).arg(green).arg(wrong)));
  }
}

void TestPreview::anotherShotIsAnotherPicture() {
  Project two = project_;
  addShot(two, 0, true);
  two.shots[1].backdrop.kind = BackdropKind::plain, two.shots[1].backdrop.colour = "#112233";
  two.shots[1].placements.clear();
  ask(two, 0);
  QVERIFY(waitUntilFinished());
  frame_.reset();
  ask(two, 1);
  QVERIFY(QTest::qWaitFor([&] { return frame_ && frame_->shotId == two.shots[1].id; }, 30'000));
  QCOMPARE(frame_->picture.pixelColor(5, 5), QColor("#112233"));
  // Back again, though the list was turned round meanwhile.
  std::swap(two.shots[0], two.shots[1]);
  ask(two, 1);
  QVERIFY(QTest::qWaitFor([&] { return frame_->shotId == two.shots[1].id && finished(); }, 60'000));
  QVERIFY(frame_->picture.pixelColor(5, 5) != QColor("#112233"));
}

void TestPreview::stoppedMeansSilent() {
  Project p = project_;
  p.shots[0].render.samples = 5000;
  ask(p);
  QVERIFY(QTest::qWaitFor([this] { return frame_ && frame_->samples > 1; }, 30'000));
  preview_->stop();
  QTest::qWait(250);
  frames_ = 0;
  QTest::qWait(600);
  QCOMPARE(frames_, 0);
  ask(p);  // and begins again when it is asked
  QVERIFY(QTest::qWaitFor([this] { return frames_ > 0; }, 30'000));
}

void TestPreview::whatIsMeasuredAgainstIsMeasuredAgain() {
  ask(project_);
  QVERIFY(waitUntilFinished());
  // Noise is judged once it is finished.
  QTRY_VERIFY(proved_ && proved_->find("fireflies"));
  const auto scene = frame_->scene;
  const auto first = proved_;
  QVERIFY(!first->productEdge.isNull());
  const int before = proofs_;
  Project p = project_;
  p.shots[0].gnomon = Gnomon{{500, 900}, {800, 880}};
  ask(p);
  QVERIFY(QTest::qWaitFor([&] { return proofs_ > before; }, 10'000));
  QVERIFY(frame_->scene == scene);  // nothing was traced for it
  // Made of the film again, it is the same picture.
  QCOMPARE(proved_->productEdge, first->productEdge);
  QCOMPARE(proved_->edges.product->widthPx, first->edges.product->widthPx);
  QVERIFY(proved_->find("fireflies") && proved_->shadows.photoDegrees != first->shadows.photoDegrees);
  // A grade is seen, but nothing of it is measured before it is traced or asked for.
  p.shots[0].blend.exposureEv = 1;
  const QImage seen = frame_->picture;
  ask(p);
  QVERIFY(QTest::qWaitFor([&] { return frame_->picture != seen; }, 10'000));
  QVERIFY(frame_->scene == scene);
}

void TestPreview::modelsThatAreNotLoadedAreLeftOut() {
  const auto fresh = std::make_shared<AssetStore>(demo_);
  preview_->request(project_, 0, fresh, cache_, {240, 160});
  QVERIFY(QTest::qWaitFor([this] { return frames_ > 0; }, 30'000));
  QVERIFY(frame_->scene->geometry->empty());
  // Neither the picture nor what is measured on it reads models.
  QVERIFY(QTest::qWaitFor([this] { return proofs_ > 0; }, 30'000));
  QVERIFY(!fresh->loadedModel(project_.products[0]));
  Progress progress;
  const int changes = fresh->modelChanges();
  QVERIFY(fresh->model(project_.products[0], progress).ok());
  QVERIFY(fresh->modelChanges() > changes);
  preview_->request(project_, 0, fresh, cache_, {240, 160});
  QVERIFY(QTest::qWaitFor([this] { return !frame_->scene->geometry->empty(); }, 30'000));
}

void TestPreview::trouble() {
  // A view nobody knows: the picture is shown in our own, and that is said; the next request says nothing of
  // it.
  Project p = project_;
  p.shots[0].blend.view = "no such view";
  const auto said = [this] {
    return frame_ && std::any_of(frame_->notes.begin(), frame_->notes.end(), [](const std::string& note) {
             return note.find("no such view") != std::string::npos &&
                    note.ends_with("It is shown in plain sRGB.");
           });
  };
  ask(p);
  QVERIFY(QTest::qWaitFor([&] { return frames_ > 0 && said(); }, 30'000));
  ask(project_);
  QVERIFY(QTest::qWaitFor([&] { return frames_ > 0 && !said(); }, 30'000));
}

void TestPreview::thumbnailsShowTheShot() {
  Progress progress;
  const auto image = thumbnailOf(project_, 0, *assets_, *cache_, 216, 132, progress);
  QVERIFY(image.ok());
  const Picture& with = image->codes;
  QVERIFY(with.width <= 216 && with.height <= 132 && with.width > 150);
  Project bare = project_;
  bare.shots[0].placements.clear();
  const auto plate = thumbnailOf(bare, 0, *assets_, *cache_, 216, 132, progress);
  QVERIFY(plate.ok() && plate->codes.width == with.width && plate->codes.height == with.height);
  QVERIFY(image->seen && !plate->seen);
  // Where it says the product is, the two differ most; elsewhere there is the shadow at most.
  const auto difference = [&](int x, int y) {
    return std::abs(with.rgbAt(x, y).x - plate->codes.rgbAt(x, y).x);
  };
  int different = 0;
  double within = 0, all = 0;
  for (int y = 0; y < with.height; ++y)
    for (int x = 0; x < with.width; ++x) {
      different += with.rgbAt(x, y) != plate->codes.rgbAt(x, y), all += difference(x, y);
      const Vec2d at((x + 0.5) / with.width, (y + 0.5) / with.height);
      if (at.x > image->seen->from.x && at.x < image->seen->to.x && at.y > image->seen->from.y &&
          at.y < image->seen->to.y)
        within += difference(x, y);
    }
  QVERIFY2(within > 0.5 * all, qPrintable(QString("%1 of %2").arg(within).arg(all)));
  QVERIFY2(different > 100, qPrintable(QString::number(different)));  // the product stands in the one
  QVERIFY(!thumbnailOf(emptyProject(), 0, *assets_, *cache_, 216, 132, progress).ok());
  progress.cancel();
  QVERIFY(!thumbnailOf(project_, 0, *assets_, *cache_, 216, 132, progress).ok());
}

void TestPreview::theLoaderLoadsOnceAndTellsTheWindow() {
  Session session;
  Jobs jobs(session);
  Loader loader(session, jobs);
  QSignalSpy told(&session, &Session::assetsChanged);
  QVERIFY(session.open(demo_ / "brackwater.dusk", Session::OpenAs::look));
  QCOMPARE(jobs.all().size(), size_t(1));
  QVERIFY(jobs.all()[0]->title().contains("Brackwater"));
  session.editShot("zoom, grade, whatever", [](Shot& s) { s.blend.warmth = 0.2; });
  QCOMPARE(jobs.all().size(), size_t(1));  // nothing restarts it
  jobs.finish();
  QVERIFY(told.count() >= 1);
  QVERIFY(session.assets()->loadedModel(session.project().products[0]));
  // Taken away and brought back by undo: it is still there.
  session.removePlacement();
  session.undo();
  QVERIFY(jobs.all().empty());
}

void TestPreview::aModelThatCannotBeReadIsSaidOnce() {
  Project p = project_;
  p.products[0].model.path = "gone.step", p.products[0].model.hash = "x";
  const fs::path file = fs::path(folder_.path().toStdString()) / "gone.dusk";
  QVERIFY(saveProject(p, file).ok());
  Session session;
  Jobs jobs(session);
  Loader loader(session, jobs);
  QStringList said;
  connect(&session, &Session::said, this, [&](const QString& text, bool trouble) {
    if (trouble) said << text;
  });
  QVERIFY(session.open(file, Session::OpenAs::look));
  jobs.finish();
  QCOMPARE(said.filter("gone.step").size(), 1);
  session.edit("hide", [](Project& q) { q.products[0].hiddenParts.insert("a"); });
  jobs.finish();
  QCOMPARE(said.filter("gone.step").size(), 1);  // not tried at every edit
}

void TestPreview::shadowsAreReadAnewOnlyWhereTheyMustBe() {
  ShadowWatch watch;
  Shot shot = project_.shots[0];
  const auto look = watch.look(shot, assets_);
  const auto anew = compareShadowLooks(shot, *assets_);
  QVERIFY(look && anew.ok());
  QVERIFY(look->photo.left == anew->photo.left && look->ours.left == anew->ours.left);
  shot.blend.exposureEv += 1, shot.render.samples += 1;
  QVERIFY(watch.look(shot, assets_) == look);
  shot.surroundings.turnDegrees += 5;
  const auto turned = watch.look(shot, assets_);
  QVERIFY(turned && turned != look);
  // The photo's light comes in by the view: by another one, this photo's slabs differ more than its shadow.
  shot.blend.view = "soft shoulder";
  QVERIFY(!compareShadowLooks(shot, *assets_).ok());
  QVERIFY(!watch.look(shot, assets_));
  shot.blend.view = project_.shots[0].blend.view, shot.gnomon.reset();
  QVERIFY(!watch.look(shot, assets_));
}

DUSK_TEST(TestPreview, QApplication);
#include "preview.moc"
