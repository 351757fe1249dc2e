#include <QApplication>
#include <QCommandLineParser>
#include <cstdio>

#include "app/document/preferences.h"
#include "app/language/language.h"
#include "app/widgets/look.h"
#include "app/window/areas.h"
#include "app/window/demos.h"
#include "app/window/main_window.h"
#include "app/window/take_pictures.h"
#include "commit.h"
#include "core/base/cache_folder.h"
#include "core/base/crash.h"
#include "core/base/installed.h"
#include "core/base/log.h"
#include "core/deliver/versions.h"

int main(int argc, char** argv) {
  dusk::setProgramCommit(DUSK_COMMIT);
  // Told without a screen, too.
  for (int i = 1; i < argc; ++i)
    if (argv[i] == std::string("--version")) return std::puts(dusk::versions().c_str()), 0;
  dusk::reportCrashesTo(dusk::stateFolder());
  dusk::openLog(dusk::stateFolder());
  dusk::log(dusk::LogLevel::news, "began", dusk::programVersion() + " " + dusk::programCommit());
  QApplication app(argc, argv);
  QCoreApplication::setOrganizationName("gentle-dusk");
  QCoreApplication::setApplicationName("gentle-dusk");
  QGuiApplication::setDesktopFileName("gentle-dusk");
  // By the environment, so that helpers keep theirs there, too.
  if (const QString cache = dusk::Preferences::own().value("cache").toString();
      !cache.isEmpty() && qEnvironmentVariableIsEmpty("DUSK_CACHE"))
    qputenv("DUSK_CACHE", cache.toUtf8());
  dusk::speak(dusk::Preferences::own().number("language") - 1);
  dusk::look::apply(app);
  dusk::letEnterPress(app);
  QCommandLineParser parser;
  parser.setApplicationDescription("Gentle Dusk: stand a CAD product in a photograph.");
  parser.addHelpOption();
  const QCommandLineOption shots("shots", "Write one PNG of the window per station into FOLDER, and end.",
                                 "FOLDER");
  const QCommandLineOption samples("shot-samples", "Samples to wait for before the pictures.", "N", "64");
  const QCommandLineOption demo("demo", "Open the demo project, as a copy of your own.");
  const QCommandLineOption version("version", "Tell the program's version and its libraries'.");
  parser.addOptions({shots, samples, demo, version});
  parser.addPositionalArgument("files", "A project, or a photo, panorama or model to begin with.");
  parser.process(app);

  dusk::MainWindow window;
  window.show();
  QStringList files = parser.positionalArguments();
  if (parser.isSet(demo)) {
    if (const auto own = dusk::ownDemo(dusk::demos().front()))
      files = {*own};
    else
      window.session().say(QString::fromStdString(own.error().message), true);
  }
  if (!files.isEmpty())
    window.take(files);
  else
    window.session().bringBackUntitled();
  if (const auto report = dusk::untoldCrash(dusk::stateFolder())) window.tellOfCrash(*report);
  if (parser.isSet(shots))
    return dusk::takeShots(window, parser.value(shots), parser.value(samples).toInt()) ? 0 : 1;
  const int code = QApplication::exec();
  dusk::log(dusk::LogLevel::news, "ended");
  return code;
}
