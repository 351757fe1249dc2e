// Time from an edit to the first picture, through the window's own preview at the size the picture has at
// 1280 x 800.
#include <QApplication>
#include <QElapsedTimer>
#include <QEventLoop>
#include <cstdio>

#include "app/preview/preview.h"
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

/// How long the interface is held up while a product is dragged and both cores trace: gaps between ticks of a
/// timer.
void interfaceGaps(const QString& project) {
  MainWindow window;
  window.show();
  window.open(project);
  QElapsedTimer wait;
  wait.start();
  while (wait.elapsed() < 20'000 && (!window.picture().frame() || window.picture().frame()->samples < 2))
    QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
  QTimer ticker;
  QElapsedTimer clock;
  std::vector<double> gaps;
  QObject::connect(&ticker, &QTimer::timeout,
                   [&] { gaps.push_back(double(clock.nsecsElapsed()) / 1e6), clock.restart(); });
  ticker.setTimerType(Qt::PreciseTimer);
  ticker.start(2);
  clock.start();
  for (int i = 0; i < 60; ++i) {
    window.session().editShot(
        "slide", [](Shot& s) { s.placements[0].xM += 0.001; }, 1);
    wait.restart();
    while (wait.elapsed() < 33) QCoreApplication::processEvents(QEventLoop::AllEvents, 5);
  }
  std::sort(gaps.begin(), gaps.end());
  std::printf("%-22s %10.0f %10.0f   (99 %%: %.0f)\n", "interface held up", gaps[gaps.size() / 2],
              gaps.back(), gaps[gaps.size() * 99 / 100]);
  window.session().dropJournal();
}

}  // namespace

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  const std::filesystem::path folder = std::filesystem::path(DUSK_SOURCE) / "demo/brackwater";
  Project project = *loadProject(folder / "brackwater.dusk");
  const auto assets = std::make_shared<AssetStore>(folder);
  const auto cache = std::make_shared<GeometryCache>();
  Preview preview;
  const auto timeOf = [&](const std::function<void(Project&)>& edit) {
    edit(project);
    return firstImageMs(preview, project, assets, cache);
  };
  timeOf([](Project&) {});  // loads everything
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
      QElapsedTimer wait;
      wait.start();
      while (wait.elapsed() < (i % 2 ? 60 : 900)) QCoreApplication::processEvents(QEventLoop::AllEvents, 10);
      times.push_back(timeOf(e.edit));
    }
    std::sort(times.begin(), times.end());
    std::printf("%-22s %10.0f %10.0f\n", e.name, times[times.size() / 2], times.back());
  }
  look::apply(app);
  interfaceGaps(QString::fromStdString((folder / "brackwater.dusk").string()));
  bigProducts(folder);
  return 0;
}
