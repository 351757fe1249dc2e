#include "app/preview/screen.h"

#include <list>
#include <mutex>

#include "core/picture/screen_profile.h"

namespace dusk::screen {
namespace {

struct State {
  std::mutex mutex;
  std::shared_ptr<const ScreenProfile> profile;
  std::list<std::pair<qint64, QImage>> latest;
};
State& state() {
  static State one;
  return one;
}

/// Of as many pictures as are seen at a time.
constexpr size_t most = 12;

}  // namespace

QString setProfile(const QString& file) {
  std::shared_ptr<const ScreenProfile> profile;
  QString trouble;
  if (!file.isEmpty()) {
    const auto read = ScreenProfile::read(file.toStdString());
    if (read)
      profile = *read;
    else
      trouble = QString::fromStdString(read.error().message);
  }
  const std::lock_guard lock(state().mutex);
  state().profile = profile, state().latest.clear();
  return trouble;
}

QImage shown(const QImage& picture) {
  std::shared_ptr<const ScreenProfile> profile;
  {
    const std::lock_guard lock(state().mutex);
    profile = state().profile;
    if (!profile || picture.isNull()) return picture;
    for (const auto& [key, image] : state().latest)
      if (key == picture.cacheKey()) return image;
  }
  QImage made =
      picture.convertToFormat(picture.hasAlphaChannel() ? QImage::Format_ARGB32 : QImage::Format_RGB32);
  profile->apply(made.bits(), made.width(), made.height(), size_t(made.bytesPerLine()));
  const std::lock_guard lock(state().mutex);
  if (profile != state().profile) return made;
  state().latest.emplace_front(picture.cacheKey(), made);
  if (state().latest.size() > most) state().latest.pop_back();
  return made;
}

}  // namespace dusk::screen
