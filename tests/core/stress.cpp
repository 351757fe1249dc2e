// Edits while others render: what the window does all day, without the window.
#include <QtTest>
#include <random>
#include <thread>

#include "core/base/hash.h"
#include "core/deliver/deliver.h"
#include "core/project/file.h"
#include "core/trace/denoise.h"
#include "core/trace/render.h"
#include "core/vantage/camera.h"
#include "tests/program.h"

using namespace dusk;

namespace {

/// The newest state of a project, for workers to take; as the window hands it on.
class Desk {
 public:
  struct State {
    int number = 0;
    Project project;
    std::shared_ptr<Progress> progress = std::make_shared<Progress>();
  };
  std::shared_ptr<const State> take() const {
    const std::lock_guard lock(mutex_);
    return now_;
  }
  /// Ends the renders of the state before.
  void put(int number, Project project) {
    auto next = std::make_shared<State>();
    next->number = number, next->project = std::move(project);
    const std::lock_guard lock(mutex_);
    if (now_) now_->progress->cancel();
    now_ = next;
  }

 private:
  mutable std::mutex mutex_;
  std::shared_ptr<const State> now_;
};

void change(Project& p, std::mt19937& random) {
  Shot& shot = p.shots[0];
  const double v = std::uniform_real_distribution<>(-1, 1)(random);
  switch (random() % 6) {
    case 0:
      shot.placements[0].xM = 0.17 + 0.02 * v;
      break;
    case 1:
      p.surfaces[random() % p.surfaces.size()].roughness = 0.5 + 0.4 * v;
      break;
    case 2: {
      const std::string lid = "Brackwater tide gauge/Housing/Lid";
      if (!p.products[0].hiddenParts.erase(lid)) p.products[0].hiddenParts.insert(lid);
      break;
    }
    case 3:
      shot.surroundings.turnDegrees = 20 * v;
      break;
    case 4: {
      PartMove move;
      move.axis = {1, 0, 0}, move.turnDegrees = 30 * v;
      p.products[0].moves["Brackwater tide gauge/Handle"] = move;
      break;
    }
    default:
      shot.lamps[0].on = !shot.lamps[0].on;
  }
}

}  // namespace

class TestStress : public QObject {
  Q_OBJECT
 private slots:
  void editsWhileRendering();
};

// A sanitizer takes its time.
#if defined(__SANITIZE_THREAD__) || defined(__SANITIZE_ADDRESS__)
constexpr int patienceMs = 400'000;
#else
constexpr int patienceMs = 60'000;
#endif

void TestStress::editsWhileRendering() {
  QTemporaryDir cacheFolder;
  qputenv("XDG_CACHE_HOME", cacheFolder.path().toUtf8());
  const std::filesystem::path folder = std::filesystem::path(DUSK_SOURCE) / "demo/brackwater";
  auto loaded = loadProject(folder / "brackwater.dusk");
  QVERIFY(loaded.ok());
  Project project = std::move(*loaded);
  project.shots[0].render.samples = 4;
  AssetStore assets(folder);
  GeometryCache cache;
#if defined(__SANITIZE_THREAD__)
  // The task library is not built for the sanitizer, which would take its hand-overs for races.
  const ThreadLimit alone(1);
#endif
  Desk desk;
  desk.put(0, project);
  std::atomic<bool> ending{false};
  std::mutex mutex;
  std::map<int, std::string> pictures;  // by state
  std::atomic<int> finished{0}, cut{0}, wrong{0};
  const auto work = [&] {
    while (!ending) {
      const auto state = desk.take();
      auto compiled = compile(state->project, 0, assets, cache, *state->progress);
      if (!compiled) {
        if (compiled.error().kind != ErrorKind::cancelled) {
          qWarning("%s", compiled.error().message.c_str());
          ++wrong;
          return;
        }
        ++cut;
        continue;
      }
      Scene& scene = compiled->scene;
      scene.camera = resized(scene.camera, 96, 64);
      scene.samples = 4;
      Film film(96, 64, scene.lights->groups());
      if (!render(scene, film, 4, *state->progress)) {
        ++cut;
        continue;
      }
      const Passes passes = denoised(film, 1, Progress(), true);
      std::string bytes;
      for (const Picture* p : {&passes.beauty, &passes.ratio, &passes.alpha, &passes.normal}) {
        for (const float v : p->pixels) wrong += !std::isfinite(v);
        bytes.append(reinterpret_cast<const char*>(p->pixels.data()), p->pixels.size() * sizeof(float));
      }
      ++finished;
      const std::lock_guard lock(mutex);
      const auto [at, fresh] = pictures.emplace(state->number, bytes);
      wrong += !fresh && at->second != bytes;  // one state, one picture, whoever made it and when
    }
  };
  std::vector<std::thread> workers;
  const auto end = qScopeGuard([&] {
    ending = true;
    for (std::thread& worker : workers) worker.join();
  });
  for (int i = 0; i < 3; ++i) workers.emplace_back(work);
  QTRY_VERIFY_WITH_TIMEOUT(finished > 0 || wrong > 0, patienceMs);  // all is loaded
  std::mt19937 random(3);
  for (int edit = 1; edit <= 40; ++edit) {
    // Sometimes at once, sometimes after a few pictures.
    const int before = finished;
    if (edit % 2)
      std::this_thread::sleep_for(std::chrono::milliseconds(int(random() % 40)));
    else
      QTRY_VERIFY_WITH_TIMEOUT(finished >= before + 2 || wrong > 0, patienceMs);
    change(project, random);
    desk.put(edit, project);
  }
  const int before = finished;
  QTRY_VERIFY_WITH_TIMEOUT(finished >= before + 3 || wrong > 0, patienceMs);
  QCOMPARE(wrong.load(), 0);
  const std::lock_guard lock(mutex);
  QVERIFY(pictures.size() > 15 && cut > 0);
}

DUSK_TEST(TestStress, QCoreApplication);
#include "stress.moc"
