#include "app/window/take_pictures.h"

#include <QtWidgets>

#include "app/stations/stations.h"
#include "app/window/drawer.h"
#include "app/window/main_window.h"
#include "app/window/queue_drawer.h"
#include "app/window/recent.h"
#include "core/base/words.h"
#include "core/project/feed_kinds.h"

namespace dusk {
namespace {

void waitFor(const std::function<bool()>& done, int milliseconds) {
  QElapsedTimer clock;
  clock.start();
  while (!done() && clock.elapsed() < milliseconds)
    QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents, 50);
}

void settle(int milliseconds) {
  waitFor([] { return false; }, milliseconds);
}

/// Does what changes the scene, and waits until what is on screen is no longer of the one before.
void renew(MainWindow& window, const std::function<void()>& act) {
  const auto scene = [&] {
    const Frame* f = window.picture().frame();
    return f ? f->scene : nullptr;
  };
  const std::shared_ptr<const Scene> before = scene();
  act();
  waitFor([&] { return scene() != before; }, 60'000);
}

/// The part worn, as one step, and with the feed of its roughness in hand.
void wearAndFeed(Session& session, const std::string& part) {
  session.selectPart(part);
  session.edit("use", [&](Project& p) {
    Surface* s = session.surfaceInHand(p);
    if (!s) return;
    *s = withUse(*s, {0.6, 0.5, 0, 0});
    Feed smudges = newFeed(FeedKind::smudges);
    smudges.low = Vec3d(0.25), smudges.high = Vec3d(0.6);
    s->feeds[SurfaceValue::roughness] = {smudges};
  });
  session.takeFeed({-1, false, SurfaceValue::roughness, 0});
}

/// The demo's projects that come in several, and the one without a photo.
void showVaried(MainWindow& window, const std::function<void(int)>& ready,
                const std::function<void(const QString&)>& take) {
  Session& session = window.session();
  const std::filesystem::path folder = session.file().parent_path();
  const auto open = [&](const std::filesystem::path& file) {
    bool opened = false;
    renew(window, [&] { opened = session.open(file); });
    return opened;
  };
  if (!open(folder / "brackwater-colours.dusk")) return;
  window.drawer().open(words("Variants"));
  renew(window, [&] { session.editShot("red", [&](Shot& s) { s.choice = {{"axis-1", "option-2"}}; }); });
  ready(2);
  window.showView(MainWindow::View::matrix);
  for (int i = 0; i < 10; ++i) settle(1500), ready(2);  // one variant is drawn after the other
  take("variants");
  window.showView(MainWindow::View::picture);
  session.dropJournal();
  if (!open(folder / "brackwater-settling.dusk")) return;
  session.setStation(Station::product);
  window.drawer().open(words("Motion"));
  session.setMoment(0.25);
  ready(24);
  take("motion");
  if (!open(folder.parent_path() / "jar/plinths.dusk")) return;
  session.setStation(Station::plate);
  window.drawer().open(words("Proofs"));
  std::vector<QToolButton*> opened;
  for (QToolButton* fold : window.findChildren<QToolButton*>())
    if (fold->isVisible() && !fold->isChecked() &&
        (fold->accessibleName() == words("A set of its own") || fold->accessibleName() == words("Pieces")))
      fold->click(), opened.push_back(fold);
  settle(1500);
  for (QScrollArea* scroll : window.findChildren<QScrollArea*>())
    if (!opened.empty() && scroll->isVisible() && scroll->isAncestorOf(opened.back()))
      scroll->ensureWidgetVisible(opened.back(), 0, 240);
  ready(24);
  take("set");
  for (QToolButton* fold : opened) fold->click();
}

/// The photo matched, with the picture as rendered pulled half across.
void matchAndCompare(MainWindow& window) {
  Session& session = window.session();
  const BlendSettings before = session.shot().blend;
  for (QPushButton* b : window.findChildren<QPushButton*>())
    if (b->text() == words("Match the photo")) b->click();
  waitFor([&] { return session.shot().blend != before; }, 60'000);
  Compared rendered;
  rendered.name = "as rendered";
  window.preview().compareWith(rendered);
  waitFor([&] { return !window.picture().frame()->other.isNull(); }, 10'000);
}

void showMatch(MainWindow& window, const std::function<void()>& take) {
  matchAndCompare(window);
  settle(1500);
  take();
  window.preview().compareWith({});
  window.session().undo(), settle(500);
}

/// Two jobs in a queue of their own, the first being worked on.
void workOnQueue(MainWindow& window, const QString& folder) {
  Session& session = window.session();
  Queue queue(Queue::usualFolder());
  for (const char* name : {"first", "second"}) {
    Order order;
    order.project = onlyShot(session.project(), session.shot(), *session.assets());
    order.folder = (folder + "/" + name).toStdString();
    if (!queue.add(order)) return;
  }
  window.drawer().open(words("Queue"));
  window.queue().refresh();
  waitFor([&] { return window.queue().jobs().size() == 2; }, 10'000);
  window.queue().work();
  waitFor([&] { return window.queue().jobs()[0].fraction > 0.4; }, 120'000);
}

/// Only in a queue of its own, set by who takes the pictures: nobody's work is in it.
void showQueue(MainWindow& window, const std::function<void()>& take) {
  if (!qEnvironmentVariableIsSet("DUSK_QUEUE")) return;
  const QTemporaryDir out;
  workOnQueue(window, out.path());
  settle(1000);
  take();
  Queue queue(Queue::usualFolder());
  for (const QueuedJob& job : queue.list()) (void)queue.pause(job.id);
  waitFor([&] { return !queue.isRunning(); }, 30'000);
  for (const QueuedJob& job : queue.list()) (void)queue.remove(job.id);
  window.drawer().open("Proofs");
}

}  // namespace

bool takeShots(MainWindow& window, const QString& folder, int samples) {
  QDir().mkpath(folder);
  QTimer tick;  // keeps the waits going when nothing else happens
  tick.start(40);
  window.resize(1280, 800);
  const auto ready = [&](int wanted) {
    waitFor(
        [&] {
          const Frame* f = window.picture().frame();
          return window.jobs().all().empty() && f && !f->scene->geometry->empty() &&
                 f->samples >= std::min(wanted, f->wanted);
        },
        600'000);
    settle(400);
  };
  bool whole = true;
  const auto take = [&](const QString& name) { whole &= window.grab().save(folder + "/" + name + ".png"); };
  ready(samples);
  Session& session = window.session();
  const QString demo = QString::fromStdString(session.file().string());
  QImage demoPicture;
  const auto align = [&] {  // so that its curve is there to be seen
    const Surroundings before = session.shot().surroundings;
    renew(window, [&] {
      for (QPushButton* b : window.findChildren<QPushButton*>())
        if (b->text() == words("Align with the photo")) b->click();
      waitFor([&] { return session.shot().surroundings != before; }, 60'000);
    });
    ready(samples);
  };
  const char* part = "Brackwater tide gauge/Housing/Body casting";
  if (!session.shot().frames.empty()) session.selectFrame(session.shot().frames[0].id);
  for (int i = 0; i < stationCount; ++i) {
    session.setStation(Station(i));
    if (Station(i) == Station::surface) {
      renew(window, [&] { wearAndFeed(session, part); });
      ready(samples), settle(6000);
    }
    if (Station(i) == Station::light && !session.shot().lamps.empty())
      session.selectLamp(session.shot().lamps[0].id);
    if (Station(i) == Station::light) align();
    if (Station(i) == Station::contact && !session.shot().standIns.empty())
      session.selectStandIn(session.shot().standIns[0].id);
    if (Station(i) == Station::contact) ready(samples);
    if (Station(i) == Station::render)
      waitFor([&] { return window.picture().frame()->named != nullptr; }, 30'000);
    settle(300);
    take(QString("%1-%2").arg(i + 1).arg(QString(infoOf(Station(i)).name).toLower().replace(' ', '-')));
    if (Station(i) == Station::contact) demoPicture = window.picture().frame()->picture;
    if (Station(i) == Station::deliver) showQueue(window, [&] { take("queue"); });
    if (Station(i) == Station::surface) renew(window, [&] { session.undo(); }), ready(samples);
    if (Station(i) == Station::blend) showMatch(window, [&] { take("match"); });
  }
  session.setStation(Station::product);
  window.showView(MainWindow::View::plan);
  settle(1500);
  take("plan");
  session.setStation(Station::light);
  window.showView(MainWindow::View::panorama);
  waitFor([&] { return window.panorama().hasPicture(); }, 60'000);
  settle(800);
  take("panorama");
  session.setStation(Station::product);
  window.showView(MainWindow::View::around);
  session.selectPart(part);
  waitFor([&] { return window.around().hasPicture(); }, 60'000);
  settle(800);
  take("around");
  session.setStation(Station::blend);
  window.showView(MainWindow::View::picture);
  session.dropJournal();  // what was aligned for the picture is nobody's unsaved work
  showVaried(window, ready, take);
  window.drawer().open(words("Proofs"));
  session.dropJournal();
  recent::keepPicture(demo, demoPicture);
  session.startEmpty();
  settle(800);
  take("start");
  return whole;
}

}  // namespace dusk
