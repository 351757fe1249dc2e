#include "app/window/recent.h"

#include <QCryptographicHash>
#include <QDir>
#include <QFileInfo>
#include <QSettings>

#include "core/base/cache_folder.h"

namespace dusk::recent {
namespace {

constexpr int remembered = 12, pictureWidth = 320, pictureHeight = 200;

QString folder() { return QString::fromStdString((cacheFolder() / "recent").string()); }

QString pictureFile(const QString& file) {
  const QByteArray name = QFileInfo(file).absoluteFilePath().toUtf8();
  return folder() + "/" + QCryptographicHash::hash(name, QCryptographicHash::Sha1).toHex() + ".jpg";
}

}  // namespace

QStringList files() {
  QStringList there;
  for (const QString& file : QSettings().value("recent").toStringList())
    if (QFileInfo::exists(file)) there << file;
  return there;
}

void remember(const QString& file) {
  QSettings settings;
  const QString whole = QFileInfo(file).absoluteFilePath();
  QStringList all = settings.value("recent").toStringList();
  all.removeAll(whole);
  all.prepend(whole);
  settings.setValue("recent", all.mid(0, remembered));
}

void forgetAll() {
  QSettings().remove("recent");
  QDir(folder()).removeRecursively();
}

void keepPicture(const QString& file, const QImage& picture) {
  if (picture.isNull() || !QDir().mkpath(folder())) return;
  picture.scaled(pictureWidth, pictureHeight, Qt::KeepAspectRatio, Qt::SmoothTransformation)
      .save(pictureFile(file), "JPG", 85);
}

QImage pictureOf(const QString& file) { return QImage(pictureFile(file)); }

}  // namespace dusk::recent
