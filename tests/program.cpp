#include "tests/program.h"

#include <QFileInfo>

/// Runs the test that the program is called by: the link tst_NAME, or NAME as the first argument.
int main(int argc, char** argv) {
  const auto& all = dusk::TestProgram::all();
  const auto named = [&](const QString& name) -> const dusk::TestProgram* {
    for (const auto& test : all)
      if (QFileInfo(test.file).completeBaseName() == name) return &test;
    return nullptr;
  };
  if (const auto* test = named(QFileInfo(argv[0]).fileName().section("tst_", 1)))
    return test->run(argc, argv);
  if (const auto* test = argc > 1 ? named(argv[1]) : nullptr) {
    argv[1] = argv[0];
    return test->run(argc - 1, argv + 1);
  }
  std::puts("Which test? This program holds:");
  for (const auto& test : all) std::puts(qPrintable(QFileInfo(test.file).completeBaseName()));
  return 2;
}
