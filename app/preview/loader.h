#pragma once
#include <QFileSystemWatcher>
#include <QObject>
#include <QTimer>
#include <set>
#include <string>

#include "core/project/asset_ref.h"

namespace dusk {

class Jobs;
class Session;

/// Loads what the document links to, apart from the picture: models when a project is opened or one comes
/// back by undo, and finer again where a product has come near; and once more when pictures or materials that
/// one names and that were missing are put beside it. Tells of files that are not what was linked.
class Loader : public QObject {
  Q_OBJECT
 public:
  Loader(Session& session, Jobs& jobs);
  /// Looks for links whose files were found to be others since the last time.
  void lookForChangedFiles();

 signals:
  void fileChanged(const AssetRef& link);

 private:
  void loadMissing();
  void refine();
  /// Watches the folders of models that miss files.
  void watchForMissing();
  void lookAgain();

  Session& session_;
  Jobs& jobs_;
  QTimer refineTimer_, lookTimer_;
  QFileSystemWatcher folders_;
  std::set<std::string> failed_, told_;                ///< by path and hash
  std::set<std::pair<std::string, double>> notFiner_;  ///< model hash and chord that could not be had
};

/// Every link of the document to the content of `link` leads to `instead` from now on.
void relinkAll(Session& session, const AssetRef& link, const AssetRef& instead);

}  // namespace dusk
