#pragma once
#include <QtTest>
#include <QtWidgets>

#include "app/widgets/look.h"
#include "app/window/main_window.h"
#include "core/base/words.h"
#include "core/picture/read.h"
#include "core/picture/write.h"
#include "core/project/file.h"
#include "core/vantage/camera.h"

namespace dusk {

/// The real window on a copy of the demo with few samples, and hands to work it with.
class DemoWindow : public QObject {
 protected:
  QTemporaryDir folder_;
  QString demo_, project_;
  std::unique_ptr<MainWindow> window_;

  Session& session() { return window_->session(); }
  PictureView& picture() { return window_->picture(); }
  const Shot& shot() { return session().shot(); }
  QPoint onScreen(const Vec2d& plate) {
    const QPointF p = picture().toScreen().map(QPointF(plate.x, plate.y));
    return p.toPoint();
  }
  QPoint ofWorld(const Vec3d& p) { return onScreen(*projected(shot().vantage.camera, p)); }
  bool waitForSamples(int samples) {
    return QTest::qWaitFor([&] { return picture().frame() && picture().frame()->samples >= samples; },
                           60'000);
  }
  /// The pointer moves with a button held: QTest's own move knows neither buttons nor keys.
  void move(QWidget& on, const QPoint& at, Qt::KeyboardModifiers keys = {},
            Qt::MouseButton held = Qt::LeftButton) {
    QMouseEvent e(QEvent::MouseMove, at, on.mapToGlobal(at), Qt::NoButton, held, keys);
    QApplication::sendEvent(&on, &e);
  }
  void drag(QWidget& on, const QPoint& from, const QPoint& to, Qt::KeyboardModifiers keys = {}) {
    QTest::mousePress(&on, Qt::LeftButton, keys, from);
    for (int i = 1; i <= 5; ++i) move(on, from + (to - from) * i / 5, keys);
    QTest::mouseRelease(&on, Qt::LeftButton, keys, to);
  }
  template <typename W>
  W* named(const QString& accessibleName) {
    for (W* w : window_->findChildren<W*>())
      if (w->accessibleName() == accessibleName) return w;
    return nullptr;
  }
  /// The field of that name that is seen: other desks have some of the same.
  QDoubleSpinBox* fieldShown(const QString& name) {
    for (auto* field : window_->findChildren<QDoubleSpinBox*>())
      if (field->accessibleName() == name && field->isVisible()) return field;
    return nullptr;
  }
  QPushButton* button(const QString& text) {
    for (QPushButton* b : window_->findChildren<QPushButton*>())
      if (b->text() == text) return b;
    return nullptr;
  }

  /// Answers the file dialog that comes next: with a file, or one of the folder it begins in.
  void answerDialog(const QString& file) {
    QTimer::singleShot(20, this, [this, file] {
      auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
      if (!dialog) return answerDialog(file);
      const QString whole = dialog->directory().filePath(file);
      dialog->setDirectory(QFileInfo(whole).absolutePath());
      dialog->selectFile(whole);
      if (auto* name = dialog->findChild<QLineEdit*>("fileNameEdit")) name->setText(whole);
      QMetaObject::invokeMethod(dialog, "accept", Qt::QueuedConnection);
    });
  }
  /// For the eyes: the window, or one in it, as NAME.png in $DUSK_GRABS, where that is set.
  void grab(const char* name, QWidget* of = nullptr) {
    const QString to = qEnvironmentVariable("DUSK_GRABS");
    if (to.isEmpty()) return;
    QTest::qWait(300);
    (of ? of : window_.get())->grab().save(to + "/" + name + ".png");
  }

  /// Scrolls whatever it is in until it can be clicked.
  static void bringIntoView(QWidget* w) {
    for (QWidget* at = w->parentWidget(); at; at = at->parentWidget())
      if (auto* area = qobject_cast<QScrollArea*>(at)) area->ensureWidgetVisible(w);
    QTest::qWait(20);
  }

  /// The demo's panorama a fourth as wide, made once for all programs of a test run: each window reads one,
  /// and most tests do not look at its details.
  static std::filesystem::path smallPanorama(const std::filesystem::path& demo) {
    const std::filesystem::path folder = qEnvironmentVariable("XDG_CACHE_HOME").toStdString(),
                                small = folder / "quay-panorama-512.exr";
    if (std::filesystem::exists(small)) return small;
    std::filesystem::create_directories(folder);
    const auto whole = readLight(demo / "quay-panorama.exr");
    if (!whole) qFatal("%s", whole.error().message.c_str());
    const Picture reduced = resized(*whole, 512, 256);
    if (!writeExr(small, {{"", &reduced}}).ok()) qFatal("no room for a small panorama");
    return small;
  }

  /// Copies the demo, once a program. What was read from its models is kept for all programs of a test run.
  void copyDemo(bool fullPanorama = false) {
    qputenv("XDG_CACHE_HOME", qEnvironmentVariable("DUSK_TEST_CACHE", folder_.filePath("cache")).toUtf8());
    QStandardPaths::setTestModeEnabled(true);
    QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, folder_.path());
    look::apply(*qApp);
    const std::filesystem::path demo = std::filesystem::path(DUSK_SOURCE) / "demo/brackwater",
                                to = std::filesystem::path(folder_.path().toStdString()) / "demo";
    const std::filesystem::path panorama = fullPanorama ? demo / "quay-panorama.exr" : smallPanorama(demo);
    std::filesystem::create_directories(to);
    for (const char* name : {"brackwater-gauge.step", "brackwater-mini.step", "quay-plate.jpg"})
      std::filesystem::copy_file(demo / name, to / name);
    std::filesystem::copy_file(panorama, to / "quay-panorama.exr");
    for (const char* name : {"brackwater.dusk", "brackwater-pair.dusk"}) {
      Project p = *loadProject(demo / name);
      // Light that has come by way of many things is the tracer's to test.
      p.shots[0].render.samples = 3, p.shots[0].render.diffuseBounces = 1;
      p.shots[0].blend.grain = {};  // tests of the blend begin with nothing
      for (Shot& s : p.shots) s.surroundings.panorama = *AssetStore(to).refer(to / "quay-panorama.exr");
      QVERIFY(saveProject(p, to / name).ok());
    }
    demo_ = QString::fromStdString(to.string()) + "/";
  }

  /// The photo of the shot in hand a fourth as wide: what is delivered takes a sixteenth of the time.
  void takeSmallPhoto() {
    const QString small = demo_ + "small.png";
    QVERIFY(QImage(demo_ + "quay-plate.jpg").scaled(480, 320).save(small));
    session().editShot("a small photo", [&](Shot& s) {
      s.plate = *session().assets()->refer(small.toStdString());
      s.vantage.camera = resized(s.vantage.camera, 480, 320), s.vantage.locked = true, s.evidence = {};
    });
  }

  /// How fine the picture on screen is traced: 0 every pixel, 1 half as fine.
  void showDetail(int row) {
    auto* detail = named<QComboBox>(words("Detail on screen"));
    detail->setCurrentIndex(row);
    emit detail->activated(row);
  }
  /// A new window with the demo as it was saved; smaller than usual and half as fine, since its picture is
  /// traced all the while.
  void openDemo(const char* name = "brackwater.dusk", bool coarse = true) {
    project_ = demo_ + name;
    QFile::remove(project_ + ".journal");
    window_ = std::make_unique<MainWindow>();
    window_->resize(1120, 640);
    window_->show();
    if (coarse) showDetail(1);
    window_->open(project_);
    QVERIFY(QTest::qWaitFor([&] { return picture().frame() && !picture().frame()->scene->geometry->empty(); },
                            60'000));
  }
};

}  // namespace dusk
