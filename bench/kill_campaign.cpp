// An hour of work, scripted, killed at any moment: `dusk-bench-kill [KILLS] [FOLDER]`. Prints what was lost.
#include <fcntl.h>
#include <sys/wait.h>
#include <unistd.h>

#include <QCoreApplication>
#include <QElapsedTimer>
#include <QStandardPaths>
#include <chrono>
#include <cstdio>
#include <fstream>
#include <random>

#include "app/document/session.h"
#include "core/project/file.h"
#include "core/project/shots.h"

using namespace dusk;
namespace fs = std::filesystem;

namespace {

double now() {
  return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
}

/// The state's number is its name; each is noted with its time once it is the document's.
int work(int argc, char** argv, const fs::path& folder, unsigned seed) {
  QCoreApplication app(argc, argv);
  QStandardPaths::setTestModeEnabled(true);
  std::mt19937 random(seed);
  const int log = ::open((folder / "log").c_str(), O_WRONLY | O_CREAT | O_APPEND, 0644);
  Session session;
  const fs::path files[] = {folder / "a.dusk", folder / "b.dusk"};
  int at = 0, number = 0;
  for (const fs::path& f : files)
    if (!fs::exists(f)) (void)saveProject(emptyProject(), f).ok();
  if (!session.open(files[0])) return 1;
  for (;;) {
    const unsigned what = random() % 100;
    if (what < 93) {
      session.edit("edit", [n = ++number](Project& p) { p.name = std::to_string(n); });
    } else if (what < 98) {
      (void)session.save(session.file());
    } else {
      (void)session.save(session.file());
      at = 1 - at;
      if (!session.open(files[at])) return 1;
      session.edit("edit", [n = ++number](Project& p) { p.name = std::to_string(n); });
    }
    char line[64];
    const int n = std::snprintf(line, sizeof line, "%d %d %.6f\n", at, number, now());
    if (::write(log, line, size_t(n)) != n) return 1;
    QElapsedTimer rest;
    rest.start();
    while (rest.elapsed() < long(random() % 60)) QCoreApplication::processEvents(QEventLoop::AllEvents, 5);
  }
}

/// What can be had of a project after the end: through the session, as the window does.
int recovered(const fs::path& file, bool& broken, bool& stale) {
  const auto saved = loadProject(file);
  broken = !saved;
  if (broken) return -1;
  const int before = std::atoi(saved->name.c_str());
  Session session;
  if (!session.open(file)) return broken = true, -1;
  const int after = std::atoi(session.project().name.c_str());
  stale = after < before;
  session.dropJournal(), session.finishWriting();
  return after;
}

}  // namespace

int main(int argc, char** argv) {
  if (argc > 3 && std::string(argv[1]) == "--work")
    return work(argc, argv, argv[2], unsigned(std::atoi(argv[3])));
  const int kills = argc > 1 ? std::atoi(argv[1]) : 500;
  const fs::path folder =
      argc > 2 ? fs::path(argv[2]) : fs::temp_directory_path() / ("dusk-kill-" + std::to_string(::getpid()));
  fs::create_directories(folder);
  QCoreApplication app(argc, argv);
  QStandardPaths::setTestModeEnabled(true);
  std::mt19937 random(2026);
  int lost = 0, halves = 0, stales = 0, brokens = 0, edits = 0;
  double worst = 0;
  for (int i = 0; i < kills; ++i) {
    fs::remove(folder / "log");
    const std::string seed = std::to_string(i);
    const pid_t child = ::fork();
    if (child == 0) {
      ::execl("/proc/self/exe", argv[0], "--work", folder.c_str(), seed.c_str(), nullptr);
      ::_exit(127);
    }
    ::usleep(200'000 + random() % 1'800'000);
    ::kill(child, SIGKILL);
    const double end = now();
    int status = 0;
    ::waitpid(child, &status, 0);
    if (!WIFSIGNALED(status)) return std::fprintf(stderr, "the worker ended by itself\n"), 1;
    std::vector<std::pair<int, double>> noted[2];
    std::ifstream log(folder / "log");
    for (int at, number; log >> at >> number;) {
      double when;
      log >> when;
      noted[at].emplace_back(number, when);
      ++edits;
    }
    for (int at = 0; at < 2; ++at) {
      if (noted[at].empty()) continue;
      bool broken = false, stale = false;
      const int found = recovered(folder / (at ? "b.dusk" : "a.dusk"), broken, stale);
      brokens += broken, stales += stale;
      for (const auto& [number, when] : noted[at])
        if (number > found) worst = std::max(worst, end - when), lost += end - when > 1;
    }
    for (const auto& entry : fs::directory_iterator(folder)) {
      const std::string name = entry.path().filename().string();
      halves += name.starts_with(".half-") || name.find("unsaved work") != std::string::npos;
    }
    for (const char* name : {"a.dusk", "b.dusk"}) (void)saveProject(emptyProject(), folder / name).ok();
  }
  fs::remove_all(folder);
  std::printf(
      "%d kills, %d edits: lost beyond the last second %d (oldest edit lost %.2f s), broken files %d, stale "
      "journals %d, left over %d\n",
      kills, edits, lost, worst, brokens, stales, halves);
  return lost || halves || stales || brokens ? 1 : 0;
}
