// What the person's preferences do to the window.
#include "app/document/preferences.h"
#include "app/preview/screen.h"
#include "app/widgets/desk.h"
#include "app/widgets/look.h"
#include "app/widgets/words.h"
#include "app/window/main_window.h"
#include "app/window/notices.h"
#include "app/window/preferences_panel.h"
#include "core/base/background.h"
#include "core/base/words.h"

namespace dusk {

void MainWindow::showPreferences() {
  if (!preferences_) preferences_ = new PreferencesPanel(this);
  preferences_->show();
  preferences_->raise();
  preferences_->activateWindow();
}

void MainWindow::wearPreferences() {
  const Preferences& own = Preferences::own();
  constexpr int percents[] = {0, 100, 115, 130, 160};
  look::setTextPercent(percents[own.number("textPercent")]);
  look::setTheme(own.number("theme"), own.number("contrast") == 1);
}

void MainWindow::applyPreferences(const QString& key) {
  const Preferences& own = Preferences::own();
  const auto is = [&](const char* name) { return key.isEmpty() || key == name; };
  if (is("lengths")) session_.setShownUnit(own.number("lengths"));
  if (key == "textPercent" || key == "theme" || key == "contrast") {
    wearPreferences();
    // What is told in colours of its own is told anew.
    for (Desk* desk : findChildren<Desk*>()) desk->refreshAll();
  }
  if (key == "language" && own.number("language") != languageAtStart_)
    notices_->say(words("The window speaks the other language when it is opened again."), false,
                  {{words("Open it again"), words("What is not saved is asked about first"),
                    [this] { beginAgain(); }}});
  if (is("surround")) {
    const QColor greys[] = {look::surround, QColor("#777777"), QColor(Qt::white)};
    picture_->setSurround(greys[own.number("surround")]);
  }
  if (is("screenProfile")) {
    const QString trouble = screen::setProfile(own.value("screenProfile").toString());
    if (!trouble.isEmpty()) session_.say(trouble, true);
    for (QWidget* view : findChildren<QWidget*>()) view->update();
  }
  if (is("threads")) limitThreads(own.number("threads"));
  if (is("autosaveMinutes")) {
    const int minutes = own.number("autosaveMinutes");
    if (minutes > 0)
      saves_.start(minutes * 60'000);
    else
      saves_.stop();
  }
}

/// Another window of the same program, on the same project, in place of this one.
void MainWindow::beginAgain() {
  const QStringList file =
      session_.file().empty() ? QStringList() : QStringList{shown(session_.file().string())};
  if (close()) QProcess::startDetached(QCoreApplication::applicationFilePath(), file);
}

/// Only what has a file of its own, and never in the midst of a drag.
void MainWindow::saveByItself() {
  if (!session_.needsPlace() && !session_.isSaved() && !session_.inGesture()) session_.save(session_.file());
}

}  // namespace dusk
