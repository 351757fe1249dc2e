#include "app/window/notices.h"
#include "demo_window.h"
#include "tests/made_film.h"
#include "tests/program.h"

using namespace dusk;

/// A film of a camera that stood still, dropped onto the window.
class TestFootage : public DemoWindow {
  Q_OBJECT
  QString film(const QString& name, int pictures) {
    const QString file = folder_.filePath(name);
    std::vector<QColor> colours;
    for (int i = 0; i < pictures; ++i) colours.push_back(QColor(90, 20 * i, 60));
    makeFilm(file.toStdString(), {96, 64}, 12, colours);
    return file;
  }
  void drop(const QString& file) {
    QMimeData what;
    what.setUrls({QUrl::fromLocalFile(file)});
    QDragEnterEvent enter({400, 300}, Qt::CopyAction, &what, Qt::LeftButton, {});
    QApplication::sendEvent(window_.get(), &enter);  // whoever takes it in gets the drop
    QDropEvent drop({400, 300}, Qt::CopyAction, &what, Qt::LeftButton, {});
    QApplication::sendEvent(window_.get(), &drop);
  }

 private slots:
  void initTestCase() { copyDemo(); }
  void cleanup() { window_.reset(); }
  void aFilmBecomesThePlate();
  void oneOfAnotherSizeIsSaid();
};

void TestFootage::aFilmBecomesThePlate() {
  window_ = std::make_unique<MainWindow>();
  window_->show();
  QVERIFY(shot().plate.empty());
  drop(film("street.mp4", 5));
  const auto motion = [this]() -> const Motion& { return session().base().shots[0].motion; };
  QTRY_COMPARE_WITH_TIMEOUT(motion().tracks.size(), size_t(1), 20'000);
  // The first is the photo that is solved, and each has its moment.
  QVERIFY(shot().plate.path.find("street-pictures") != std::string::npos);
  QVERIFY(shot().vantage.camera.width == 96 && shot().vantage.camera.height == 64);
  QCOMPARE(motion().tracks[0].keys.size(), size_t(5));
  QCOMPARE(motion().picturesPerSecond, 12);
  QVERIFY(std::abs(motion().seconds - 5.0 / 12) < 1e-9);
  const std::string first = session().shot().plate.path;
  session().setMoment(3.0 / 12);
  QTRY_VERIFY(session().shot().plate.path != first);
  session().setMoment(0);
  session().undo();
  QVERIFY(motion().tracks.empty());
  session().dropJournal();
}

void TestFootage::oneOfAnotherSizeIsSaid() {
  openDemo();
  const Project before = session().base();
  drop(film("small.mp4", 3));
  QTRY_COMPARE_WITH_TIMEOUT(window_->notices().messages().filter("96 × 64").size(), 1, 20'000);
  QVERIFY(session().base() == before);
}

DUSK_TEST(TestFootage, QApplication);
#include "footage.moc"
