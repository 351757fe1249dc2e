#include "app/stations/outside.h"

#include <QDesktopServices>
#include <QFileInfo>
#include <QProcess>
#include <QUrl>

#include "app/document/preferences.h"
#include "core/base/words.h"

namespace dusk {

void openOutside(Session& session, const AssetRef& picture) {
  if (picture.empty()) return;
  const QString file = QString::fromStdString(session.assets()->pathOf(picture).string()),
                editor = Preferences::own().value("editor").toString();
  if (!QFileInfo::exists(file)) return session.say(file + words(" is not there any more."), true);
  const bool opened = editor.isEmpty() ? QDesktopServices::openUrl(QUrl::fromLocalFile(file))
                                       : QProcess::startDetached(editor, {file});
  if (!opened)
    session.say(editor.isEmpty() ? words("No program of this system opens ") + QFileInfo(file).fileName() +
                                       words(". Name one in Preferences, Work.")
                                 : editor + words(" cannot be started. Choose another in Preferences, Work."),
                true);
}

}  // namespace dusk
