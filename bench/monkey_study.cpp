// Ten thousand random but sensible actions on a project: `dusk-bench-monkey PROJECT [ACTIONS] [SEED]`. Ends
// with 1 where undo to the start did not give the document that was opened. A crash names its last actions in
// the report it leaves.
#include <QApplication>
#include <QTemporaryDir>
#include <cstdio>
#include <cstdlib>

#include "app/widgets/look.h"
#include "app/window/main_window.h"
#include "bench/monkey.h"
#include "core/base/crash.h"
#include "core/base/log.h"
#include "core/variant/places.h"

int main(int argc, char** argv) {
  if (argc < 2) return std::puts("usage: dusk-bench-monkey PROJECT [ACTIONS] [SEED]"), 2;
  const int actions = argc > 2 ? std::atoi(argv[2]) : 10'000, chunk = 250;
  const auto seed = unsigned(argc > 3 ? std::atoi(argv[3]) : 1);
  const QTemporaryDir home;
  for (const char* place : {"XDG_CACHE_HOME", "XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME"})
    qputenv(place, home.path().toUtf8());
  dusk::reportCrashesTo(".");
  QApplication app(argc, argv);
  QCoreApplication::setOrganizationName("gentle-dusk");
  dusk::look::apply(app);
  dusk::MainWindow window;
  window.resize(1280, 800);
  window.show();
  int wrong = 0;
  for (int done = 0; done < actions; done += chunk) {
    window.open(argv[1]);
    // What an earlier run left unsaved was brought back.
    while (window.session().history().canUndo()) window.session().undo();
    const dusk::Project first = window.session().base();
    dusk::Monkey monkey(window, seed + unsigned(done));
    for (int i = 0; i < chunk; ++i) {
      const std::string act = monkey.act();
      dusk::log(dusk::LogLevel::detail, act);
      if (!window.session().inGesture()) continue;
      std::printf("         a hand that let go still holds after: %s\n", act.c_str());
      window.session().endGesture();
      ++wrong;
    }
    window.jobs().cancelAll();
    window.jobs().finish();
    const size_t steps = window.session().history().size();
    while (window.session().history().canUndo()) window.session().undo();
    const bool same = window.session().base() == first;
    std::printf("%6d actions, %3zu steps, back at the start: %s\n", done + chunk, steps, same ? "yes" : "NO");
    if (!same)
      for (const dusk::VariantChange& off : dusk::differences(first, window.session().base()))
        std::printf("         differs: %s\n", off.at.c_str());
    std::fflush(stdout);
    wrong += !same;
    window.session().dropJournal();
  }
  return wrong ? 1 : 0;
}
