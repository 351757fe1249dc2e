#pragma once
#include <QtTest>
#include <vector>

#include "tests/seam.h"

namespace dusk {

/// A test, by its file. Several share a program, since most of the compiler's time goes to the headers that
/// they have in common; each still runs as a process of its own. `tst_NAME` is a link to the program, by
/// which that knows which one is meant.
struct TestProgram {
  const char* file;
  int (*run)(int argc, char** argv);
  static std::vector<TestProgram>& all() {
    static std::vector<TestProgram> programs;
    return programs;
  }
};

/// For tests of what needs no event loop.
struct NoApplication {
  NoApplication(int&, char**) {}
};

template <typename Application>
struct Runs {
  using As = seam::Watched<Application>;
};
template <>
struct Runs<NoApplication> {
  using As = NoApplication;
};

template <typename Test, typename Application>
int runTest(int argc, char** argv) {
  QCoreApplication::setAttribute(Qt::AA_Use96Dpi);
  const typename Runs<Application>::As application(argc, argv);
  Test test;
  return QTest::qExec(&test, argc, argv);
}

}  // namespace dusk

/// Once in each test's file: its class, and what it runs in (NoApplication, QCoreApplication, QApplication).
#define DUSK_TEST(Class, Application)  \
  static const int registered##Class = \
      (dusk::TestProgram::all().push_back({__FILE__, dusk::runTest<Class, Application>}), 0)
