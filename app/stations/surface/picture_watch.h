#pragma once
#include <QFileSystemWatcher>
#include <QObject>
#include <QTimer>
#include <map>
#include <set>

#include "core/project/asset_ref.h"

namespace dusk {

class Jobs;
class Session;

/// Watches the pictures and drawings that surfaces and decals link to: what another program saves shows here
/// at once. A file that is still being written is waited for; one that cannot be read leaves the last good
/// one, and is told once.
class PictureWatch : public QObject {
  Q_OBJECT
 public:
  PictureWatch(Session& session, Jobs& jobs);

 private:
  void follow();
  void look();
  void read(const AssetRef& link);

  Session& session_;
  Jobs& jobs_;
  QFileSystemWatcher watcher_;
  QTimer timer_, later_;
  std::set<std::string> touched_;  ///< files that may have changed
  struct Seen {
    qint64 size, changed;
  };
  std::map<std::string, Seen> seen_;  ///< of those, when last looked at
  std::set<std::string> broken_;
};

}  // namespace dusk
