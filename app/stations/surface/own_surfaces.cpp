#include "app/stations/surface/own_surfaces.h"

#include <QDir>
#include <QSettings>
#include <QStandardPaths>

#include "core/base/files.h"
#include "core/base/words.h"
#include "core/project/clip.h"

namespace dusk {
namespace fs = std::filesystem;

QString ownSurfaceFolder() {
  return QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation) + "/surfaces";
}

std::vector<Surface> ownSurfaces() {
  std::vector<Surface> all;
  for (const QString& name : QDir(ownSurfaceFolder()).entryList({"*.surface"}, QDir::Files, QDir::Name)) {
    const auto text = readFile(fs::path((ownSurfaceFolder() + "/" + name).toStdString()), size_t{8} << 20);
    const auto clip = text ? clipFromText(*text) : Result<Clip>(text.error());
    if (!clip || clip->surfaces.empty()) continue;  // another program's, or damaged: it is left alone
    Surface s = clip->surfaces.front();
    s.id = "own-" + name.chopped(8).toStdString();
    all.push_back(std::move(s));
  }
  return all;
}

std::optional<Surface> ownSurface(const std::string& id) {
  if (!id.starts_with("own-")) return {};
  for (Surface& s : ownSurfaces())
    if (s.id == id) return std::move(s);
  return {};
}

Outcome keepOwnSurface(Surface surface, const AssetStore& assets) {
  Clip clip;
  clip.surfaces.push_back(std::move(surface));
  const AssetStore anywhere;
  eachLink(clip, [&](AssetRef& ref) { ref = anywhere.relinked(ref, assets); });
  QString name;
  for (const QChar c : QString::fromStdString(clip.surfaces[0].name).toLower())
    name += c.isLetterOrNumber() ? c : QChar('-');
  if (!QDir().mkpath(ownSurfaceFolder()))
    return Error{words("The folder ") + ownSurfaceFolder().toStdString() + words(" cannot be made.")};
  return writeFileAtomically(fs::path((ownSurfaceFolder() + "/" + name + ".surface").toStdString()),
                             toText(clip));
}

QStringList likedSurfaces() { return QSettings().value("likedSurfaces").toStringList(); }

void setLiked(const QString& id, bool on) {
  QStringList all = likedSurfaces();
  all.removeAll(id);
  if (on) all.prepend(id);
  QSettings().setValue("likedSurfaces", all);
}

QStringList recentSurfaces() { return QSettings().value("recentSurfaces").toStringList(); }

void noteUsed(const QString& id) {
  QStringList all = recentSurfaces();
  all.removeAll(id);
  all.prepend(id);
  QSettings().setValue("recentSurfaces", all.mid(0, 24));
}

}  // namespace dusk
