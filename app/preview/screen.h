#pragma once
#include <QImage>
#include <QString>

namespace dusk {

/// Pictures as this person's screen is to be told them: by its profile, where the preferences name one.
/// Values that are read and files that are written stay as they are. Safe to use from several threads.
namespace screen {

/// Takes a profile for all that is shown from now on; an empty path: none. Gives what is wrong with it.
QString setProfile(const QString& file);
/// The picture for the screen. Found again for the latest pictures: who makes one aside asks there, so that
/// drawing it costs nothing.
QImage shown(const QImage& picture);

}  // namespace screen
}  // namespace dusk
