#include "app/stations/surface/picture_watch.h"

#include <QDateTime>
#include <QFileInfo>

#include "app/document/session.h"
#include "app/jobs/jobs.h"
#include "app/jobs/linked.h"
#include "app/preview/loader.h"
#include "core/base/words.h"
#include "core/project/links.h"

namespace dusk {
namespace {

/// Every picture of a surface, decal or layer.
std::vector<AssetRef> picturesOf(Project project) {
  std::vector<AssetRef> all;
  eachLink(project, [&](AssetRef& ref, LinkKind kind) {
    const bool ours = kind == LinkKind::texture || kind == LinkKind::print || kind == LinkKind::layer;
    if (ours && std::find(all.begin(), all.end(), ref) == all.end()) all.push_back(ref);
  });
  return all;
}

}  // namespace

PictureWatch::PictureWatch(Session& session, Jobs& jobs) : session_(session), jobs_(jobs) {
  timer_.setSingleShot(true);
  timer_.setInterval(60);
  const auto touch = [this](const QString& path) {
    touched_.insert(path.toStdString());
    timer_.start();
  };
  connect(&watcher_, &QFileSystemWatcher::fileChanged, this, touch);
  // Many programs write beside and rename: then it is the folder that changes.
  connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, [this](const QString& folder) {
    for (const AssetRef& ref : picturesOf(session_.project()))
      if (const QFileInfo file(QString::fromStdString(session_.assets()->pathOf(ref).string()));
          file.absolutePath() == folder)
        touched_.insert(file.absoluteFilePath().toStdString());
    timer_.start();
  });
  connect(&timer_, &QTimer::timeout, this, &PictureWatch::look);
  later_.setSingleShot(true);
  later_.setInterval(300);
  connect(&later_, &QTimer::timeout, this, &PictureWatch::follow);
  connect(&session_, &Session::documentChanged, this, [this] { broken_.clear(), follow(); });
  connect(&session_, &Session::changed, this, [this](const Changes& what) {
    if (what.trace) return follow();
    // Layers come and go; a pull on a slider does not wait for the disk.
    if (what.blend && !later_.isActive()) later_.start();
  });
}

void PictureWatch::follow() {
  QStringList wanted;
  for (const AssetRef& ref : picturesOf(session_.project())) {
    const QFileInfo file(QString::fromStdString(session_.assets()->pathOf(ref).string()));
    for (const QString& path : {file.absoluteFilePath(), file.absolutePath()})
      if (!wanted.contains(path)) wanted << path;
  }
  const QStringList now = watcher_.files() + watcher_.directories();
  QStringList gone, fresh;
  for (const QString& path : now)
    if (!wanted.contains(path)) gone << path;
  for (const QString& path : wanted)
    if (!now.contains(path) && QFileInfo::exists(path)) fresh << path;
  if (!gone.isEmpty()) watcher_.removePaths(gone);
  if (!fresh.isEmpty()) watcher_.addPaths(fresh);
}

/// Takes the files that have been the same for two looks; the others are looked at again.
void PictureWatch::look() {
  const auto links = picturesOf(session_.project());
  for (auto path = touched_.begin(); path != touched_.end();) {
    const QFileInfo file(QString::fromStdString(*path));
    const Seen now{file.size(), file.lastModified().toMSecsSinceEpoch()};
    const auto before = seen_.find(*path);
    const bool still =
        before != seen_.end() && before->second.size == now.size && before->second.changed == now.changed;
    seen_[*path] = now;
    if (!still && file.exists()) {
      ++path;
      continue;
    }
    if (file.exists() && now.size > 0)
      for (const AssetRef& ref : links)
        if (QFileInfo(QString::fromStdString(session_.assets()->pathOf(ref).string()))
                .absoluteFilePath()
                .toStdString() == *path)
          read(ref);
    seen_.erase(*path);
    path = touched_.erase(path);
  }
  if (!touched_.empty()) timer_.start();
  follow();  // a file that was replaced is another one to the system
}

void PictureWatch::read(const AssetRef& link) {
  const QString name = QFileInfo(QString::fromStdString(link.path)).fileName();
  jobs_.run<Linked<Texture>>(
      {words("Reading ") + name, words("picture ") + link.path, Lane::incoming, true},
      [assets = session_.assets(), link](Progress& progress) {
        return linked<Texture>(*assets, assets->pathOf(link),
                               [&](const AssetRef& ref) { return assets->texture(ref, true, 1, progress); });
      },
      [this, link](Linked<Texture>& now) {
        broken_.erase(link.path);
        if (now.ref.hash != link.hash) relinkAll(session_, link, now.ref);
      },
      [this, link, name](const Error& error) {
        if (error.kind == ErrorKind::cancelled || !broken_.insert(link.path).second) return;
        session_.say(
            QString::fromStdString(error.message) + words(" The last good ") + name + words(" stays."), true);
      });
}

}  // namespace dusk
