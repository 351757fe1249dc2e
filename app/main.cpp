#include <QApplication>
#include <QCommandLineParser>

#include "app/widgets/look.h"
#include "app/window/main_window.h"
#include "app/window/take_pictures.h"

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  QCoreApplication::setOrganizationName("gentle-dusk");
  QCoreApplication::setApplicationName("gentle-dusk");
  dusk::look::apply(app);
  QCommandLineParser parser;
  parser.setApplicationDescription("Gentle Dusk: stand a CAD product in a photograph.");
  parser.addHelpOption();
  const QCommandLineOption shots("shots", "Write one PNG of the window per station into FOLDER, and end.",
                                 "FOLDER");
  const QCommandLineOption samples("shot-samples", "Samples to wait for before the pictures.", "N", "64");
  parser.addOption(shots);
  parser.addOption(samples);
  parser.addPositionalArgument("files", "A project, or a photo, panorama or model to begin with.");
  parser.process(app);

  dusk::MainWindow window;
  window.show();
  const QStringList files = parser.positionalArguments();
  if (!files.isEmpty())
    window.take(files);
  else
    window.session().bringBackUntitled();
  if (parser.isSet(shots))
    return dusk::takeShots(window, parser.value(shots), parser.value(samples).toInt()) ? 0 : 1;
  return QApplication::exec();
}
