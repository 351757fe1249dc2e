// Time from an edit to the first picture, through the window's own preview at the size the picture has at
// 1280 x 800.
#include <unistd.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QTemporaryDir>
#include <QWindow>
#include <cstdio>
#include <fstream>

#include "app/preview/preview.h"
#include "app/stations/deliver/delivery.h"
#include "app/stations/light/light_jobs.h"
#include "app/widgets/look.h"
#include "app/window/main_window.h"
#include "bench/window_figures.h"
#include "core/project/file.h"

using namespace dusk;

double dusk::firstImageMs(Preview& preview, const Project& project, const std::shared_ptr<AssetStore>& assets,
                          const std::shared_ptr<GeometryCache>& cache) {
  QEventLoop loop;
  const auto link = QObject::connect(&preview, &Preview::frameReady, &loop, &QEventLoop::quit);
  QElapsedTimer clock;
  clock.start();
  preview.request(project, 0, assets, cache, QSize(732, 488));
  loop.exec();
  QObject::disconnect(link);
  return double(clock.nsecsElapsed()) / 1e6;
}

namespace {

/// The window goes on, and waits for events as it does under a person: it takes no core for itself.
void rest(int ms) {
  QEventLoop loop;
  QTimer::singleShot(ms, Qt::PreciseTimer, &loop, &QEventLoop::quit);
  loop.exec();
}

/// Tells on standard error which events take the interface longer than a frame.
class WatchedApplication : public QApplication {
 public:
  using QApplication::QApplication;
  bool notify(QObject* receiver, QEvent* event) override {
    QElapsedTimer clock;
    clock.start();
    const int type = event->type();
    const QByteArray who =
        receiver->metaObject()->className() + QByteArray(" ") + receiver->objectName().toUtf8();
    const bool done = QApplication::notify(receiver, event);
    if (clock.elapsed() > 16)
      std::fprintf(stderr, "%s took %lld ms over an event of type %d\n", who.constData(),
                   (long long)clock.elapsed(), type);
    return done;
  }
};

/// From the start of the process to the first window painted. Call it first.
void firstWindow() {
  MainWindow window;
  window.show();
  while (!window.windowHandle()->isExposed()) QCoreApplication::processEvents(QEventLoop::AllEvents, 5);
  window.repaint();
  // When the kernel started this process, in clock ticks since the machine was.
  std::ifstream stat("/proc/self/stat"), uptime("/proc/uptime");
  std::string word;
  for (int i = 0; i < 22; ++i) stat >> word;
  double now = 0;
  uptime >> now;
  std::printf("%-22s %10.0f\n", "first window, ms",
              (now - std::stod(word) / double(::sysconf(_SC_CLK_TCK))) * 1000);
}

/// From opening the demo in a window to the first picture in which the product is seen.
void firstPicture(const std::filesystem::path& demo) {
  MainWindow window;
  window.show();
  while (!window.windowHandle()->isExposed()) QCoreApplication::processEvents(QEventLoop::AllEvents, 5);
  QElapsedTimer clock;
  clock.start();
  window.open(QString::fromStdString((demo / "brackwater.dusk").string()));
  const auto isSeen = [&] {
    const Frame* frame = window.picture().frame();
    if (!frame || !frame->passes) return false;
    const auto& alpha = frame->passes->alpha.pixels;
    return std::any_of(alpha.begin(), alpha.end(), [](float a) { return a > 0; });
  };
  while (!isSeen() && clock.elapsed() < 60'000) QCoreApplication::processEvents(QEventLoop::AllEvents, 5);
  window.picture().repaint();
  std::printf("%-22s %10lld\n", "demo's first picture", (long long)clock.elapsed());
  window.session().dropJournal();
}

/// How long the interface is held up while a product is dragged, files are delivered and a panorama loads
/// over and over: gaps between ticks of a timer, for `seconds`.
void interfaceGaps(const std::filesystem::path& demo, int seconds) {
  const QTemporaryDir folder;
  MainWindow window;
  window.show();
  window.open(QString::fromStdString((demo / "brackwater.dusk").string()));
  QElapsedTimer wait;
  wait.start();
  while (wait.elapsed() < 20'000 && (!window.picture().frame() || window.picture().frame()->samples < 2))
    QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
  const AssetRef panorama = window.session().shot().surroundings.panorama;
  std::vector<double> gaps;
  QTimer ticker;
  QElapsedTimer clock;
  QObject::connect(&ticker, &QTimer::timeout,
                   [&] { gaps.push_back(double(clock.nsecsElapsed()) / 1e6), clock.restart(); });
  ticker.setTimerType(Qt::PreciseTimer);
  ticker.start(2);
  clock.start();
  int deliveries = 0, loads = 0;
  // A new name is a new file to the program: each is read anew.
  const auto another = [&] {
    const auto to =
        std::filesystem::path(folder.path().toStdString()) / ("p" + std::to_string(loads++) + ".exr");
    std::error_code ignored;
    std::filesystem::create_hard_link(demo / panorama.path, to, ignored);
    if (ignored) std::filesystem::copy_file(demo / panorama.path, to, ignored);
    return QString::fromStdString(to.string());
  };
  QElapsedTimer whole;
  whole.start();
  while (whole.elapsed() < seconds * 1000) {
    QElapsedTimer hand;
    hand.start();
    // One thing at a time, as by a hand.
    if (!window.jobs().isRunning(deliveryKey))
      deliverInto(window.bench(), folder.path()), ++deliveries;
    else if (!window.jobs().isRunning("panorama") && whole.elapsed() / 4000 >= loads)
      takePanorama(window.bench(), another());
    else
      window.session().editShot(
          "slide", [](Shot& s) { s.placements[0].xM += 0.0005; }, 1);
    if (hand.elapsed() > 16) std::fprintf(stderr, "what was done took %lld ms\n", (long long)hand.elapsed());
    rest(33);
  }
  std::sort(gaps.begin(), gaps.end());
  std::printf("%-22s %10.0f %10.0f   (99 %%: %.0f; %d s, %d deliveries, %d panoramas)\n", "interface held up",
              gaps[gaps.size() / 2], gaps.back(), gaps[gaps.size() * 99 / 100], seconds, deliveries, loads);
  window.session().dropJournal();
}

}  // namespace

int main(int argc, char** argv) {
  WatchedApplication app(argc, argv);
  look::apply(app);
  const std::filesystem::path folder = std::filesystem::path(DUSK_SOURCE) / "demo/brackwater";
  if (argc > 1 && std::string(argv[1]) == "big") return bigProducts(folder), 0;
  firstWindow();
  firstPicture(folder);
  Project project = *loadProject(folder / "brackwater.dusk");
  const auto assets = std::make_shared<AssetStore>(folder);
  const auto cache = std::make_shared<GeometryCache>();
  Preview preview;
  const auto timeOf = [&](const std::function<void(Project&)>& edit) {
    edit(project);
    return firstImageMs(preview, project, assets, cache);
  };
  Progress progress;
  if (!assets->model(project.products[0], progress)) return 1;
  timeOf([](Project&) {});
  const struct {
    const char* name;
    std::function<void(Project&)> edit;
  } edits[] = {{"product moved", [](Project& p) { p.shots[0].placements[0].xM += 0.003; }},
               {"surface changed",
                [](Project& p) { p.surfaces[0].roughness = std::fmod(p.surfaces[0].roughness + 0.07, 1.0); }},
               {"panorama turned", [](Project& p) { p.shots[0].surroundings.turnDegrees += 2; }},
               {"exposure changed", [](Project& p) { p.shots[0].blend.exposureEv += 0.01; }}};
  std::printf("\n%-22s %10s %10s\n", "first image after", "median ms", "worst ms");
  for (const auto& e : edits) {
    std::vector<double> times;
    for (int i = 0; i < 25; ++i) {
      // Edits come while the last picture is being refined, as they do under a hand.
      rest(i % 2 ? 60 : 900);
      times.push_back(timeOf(e.edit));
    }
    std::sort(times.begin(), times.end());
    std::printf("%-22s %10.0f %10.0f\n", e.name, times[times.size() / 2], times.back());
  }
  interfaceGaps(folder, 60);
  bigProducts(folder);
  return 0;
}
