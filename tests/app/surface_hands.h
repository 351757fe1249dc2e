#pragma once
#include <fstream>
#include "app/stations/surface/own_surfaces.h"
#include "app/widgets/number_field.h"
#include "core/project/feed_kinds.h"
#include "core/surface/library.h"
#include "tests/app/demo_window.h"

namespace dusk {

/// Hands for the Surface station on the demo.
class SurfaceHands : public DemoWindow {
 protected:
  static constexpr const char* body_ = "Brackwater tide gauge/Housing/Body casting";

  QPoint onBody() {
    // Where the camera sees the body casting.
    const Camera& c = shot().vantage.camera;
    for (int y = 0; y < 60; ++y)
      for (int x = 0; x < 60; ++x)
        if (const Vec2d at((x + 0.5) / 60 * c.width, (y + 0.5) / 60 * c.height);
            picture().pick(at).part == body_ && picture().pick(at + Vec2d(30, 0)).part == body_ &&
            picture().pick(at + Vec2d(0, 30)).part == body_)
          return onScreen(at);
    return {};
  }
  const Surface* worn() { return session().surfaceInHand(session().project()); }
  void giveSurface(const char* id = "preset-harbour-enamel") {
    session().selectPart(body_);
    session().edit("dress", [&](Project& p) {
      Surface s = *librarySurface(id);
      s.id = "mine", s.coats.clear();
      p.surfaces.push_back(s);
      session().productIn(p)->surfaceOfPart[body_] = "mine";
    });
  }
  QListWidget& shelf() { return *window_->findChild<QListWidget*>("presets"); }
  QWidget* feedRow(const QString& begins) {
    for (QWidget* w : window_->findChildren<QWidget*>())
      if (w->isVisible() && w->accessibleName().startsWith(begins + ", strength")) return w;
    return nullptr;
  }
  void openRow(const QString& name) {
    QTest::qWait(50);  // until the rows that have come to be seen are laid out
    QTest::mouseClick(named<QToolButton>(name + ", its feeds"), Qt::LeftButton);
  }
  void addFeed(FeedKind kind) {
    const QString title = infoOf(kind).title;
    for (QToolButton* b : window_->findChildren<QToolButton*>())
      if (b->isVisible() && b->accessibleName() == "Add a feed")
        for (QAction* a : b->menu()->findChildren<QAction*>())
          if (a->text() == title) return a->trigger();
    QFAIL("no such feed on offer");
  }
  void hover(const QPoint& at, const QByteArray& surface) {
    static QMimeData data;
    data.setData("application/x-dusk-surface", surface);
    if (!entered_) {
      QDragEnterEvent enter(at, Qt::CopyAction, &data, Qt::LeftButton, {});
      QApplication::sendEvent(&picture(), &enter);
      entered_ = true;
    }
    QDragMoveEvent over(at, Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(&picture(), &over);
  }
  void leave() {
    QDragLeaveEvent out;
    QApplication::sendEvent(&picture(), &out);
    entered_ = false;
  }
  void drop(const QPoint& at) {
    QMimeData data;
    data.setData("application/x-dusk-surface", "preset-signal-enamel");
    QDropEvent let(at, Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(&picture(), &let);
    entered_ = false;
  }
  /// Half as high as wide.
  QString drawing(const char* colour, int widthMm = 40) {
    const QString file = folder_.filePath("label.svg");
    const QString half = file + ".half";  // as most programs save: beside it, then in its place
    std::ofstream(half.toStdString())
        << R"(<svg xmlns="http://www.w3.org/2000/svg" width=")" << widthMm << R"(mm" height=")" << widthMm / 2
        << R"(mm" viewBox="0 0 40 20"><rect width="40" height="20" fill=")" << colour << "\"/></svg>";
    std::filesystem::rename(half.toStdString(), file.toStdString());
    return file;
  }
  const Decal* decal() {
    return session().project().products[0].decals.empty() ? nullptr
                                                          : &session().project().products[0].decals.back();
  }
  bool printAt(const QPoint& onPicture, const QString& file) {
    if (!window_->print({file}, picture().mapTo(window_.get(), onPicture))) return false;
    return QTest::qWaitFor([&] { return decal() != nullptr; }, 20'000);
  }
  bool entered_ = false;
  Project before_;
  void beginTests() {
    copyDemo();
    openDemo();
    QVERIFY(waitForSamples(1));
  }
  void beginTest() {
    while (session().history().canUndo()) session().undo();
    session().setStation(Station::surface);
    session().takeFeed({});
    session().selectDecal({});
    session().selectPart({});
    before_ = session().project();
    QVERIFY(QTest::qWaitFor([&] { return picture().frame() && !onBody().isNull(); }, 20'000));
  }
};

}  // namespace dusk
