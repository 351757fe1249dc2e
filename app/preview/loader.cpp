#include "app/preview/loader.h"

#include <QDir>

#include "app/document/session.h"
#include "app/jobs/jobs.h"
#include "core/base/words.h"
#include "core/product/side_files.h"
#include "core/project/links.h"
#include "core/trace/detail.h"

namespace dusk {
namespace {
using ModelPtr = std::shared_ptr<const Model>;
std::string keyOf(const AssetRef& ref) { return ref.path + "|" + ref.hash; }
}  // namespace

Loader::Loader(Session& session, Jobs& jobs) : session_(session), jobs_(jobs) {
  refineTimer_.setSingleShot(true);
  refineTimer_.setInterval(700);  // not while something is being dragged
  connect(&refineTimer_, &QTimer::timeout, this, &Loader::refine);
  connect(&session_, &Session::documentChanged, this, [this] {
    failed_.clear(), told_.clear(), notFiner_.clear();
    loadMissing();
  });
  connect(&session_, &Session::changed, this, [this](const Changes& what) {
    if (what.geometry) loadMissing();
    refineTimer_.start();
  });
  lookTimer_.setSingleShot(true);
  lookTimer_.setInterval(600);  // several are copied at once
  connect(&lookTimer_, &QTimer::timeout, this, &Loader::lookAgain);
  connect(&folders_, &QFileSystemWatcher::directoryChanged, &lookTimer_, qOverload<>(&QTimer::start));
  for (const auto signal : {&Session::documentChanged, &Session::assetsChanged})
    connect(&session_, signal, this, &Loader::watchForMissing);
}

void Loader::loadMissing() {
  for (const Product& product : session_.project().products) {
    const std::string key = words("load ") + (product.piece.kind.empty() ? keyOf(product.model)
                                                                         : words("the piece ") + product.id);
    if (session_.assets()->loadedModel(product) || jobs_.isRunning(key) || failed_.contains(key)) continue;
    jobs_.run<ModelPtr>(
        {words("Reading ") + QString::fromStdString(product.name), key, Lane::incoming,
         !product.piece.kind.empty()},
        [assets = session_.assets(), product](Progress& progress) {
          return assets->model(product, progress);
        },
        [this](ModelPtr&) {
          session_.announceAssets();
          lookForChangedFiles();
          refineTimer_.start();
          loadMissing();  // a piece may have been measured anew meanwhile
        },
        [this, key](const Error& error) {
          failed_.insert(key);
          session_.say(QString::fromStdString(error.message), error.kind != ErrorKind::cancelled);
        });
  }
}

void Loader::refine() {
  if (!session_.shot().vantage.solved || jobs_.isRunning("finer")) return;
  for (const Product& product : session_.project().products) {
    const auto model = session_.assets()->loadedModel(product);
    if (!model || model->chordM <= 0) continue;
    const double wanted = wantedChordM(session_.project(), product, *session_.assets());
    const auto key = std::pair(product.model.hash, wanted);
    if (model->chordM <= wanted * (1 + 1e-9) || notFiner_.contains(key)) continue;
    jobs_.run<ModelPtr>(
        {words("Making ") + QString::fromStdString(product.name) + words(" finer, for how near it stands"),
         "finer"},
        [assets = session_.assets(), product, wanted](Progress& progress) {
          return assets->finer(product, wanted, progress);
        },
        [this, key, wanted](ModelPtr& model) {
          if (model->chordM > wanted * (1 + 1e-9)) notFiner_.insert(key);  // no better can be had
          session_.announceAssets();
          refineTimer_.start();
        },
        // Cancelled or too much: what is there stays.
        [this, key](const Error&) { notFiner_.insert(key); });
    return;
  }
}

void Loader::watchForMissing() {
  QStringList wanted;
  for (const Product& product : session_.project().products) {
    const auto model = session_.assets()->loadedModel(product);
    if (!model || SideFiles::missing(model->sideFiles).empty()) continue;
    const QDir folder =
        QFileInfo(QString::fromStdString(session_.assets()->pathOf(product.model).string())).absoluteDir();
    wanted << folder.absolutePath();
    // What is copied into a folder of pictures changes that alone.
    constexpr qsizetype most = 30;
    for (const QString& name : folder.entryList(QDir::Dirs | QDir::NoDotAndDotDot).mid(0, most))
      wanted << folder.absoluteFilePath(name);
  }
  if (const QStringList now = folders_.directories(); !now.isEmpty()) folders_.removePaths(now);
  if (!wanted.isEmpty()) folders_.addPaths(wanted);
}

void Loader::lookAgain() {
  watchForMissing();  // a folder of pictures may be new
  for (const Product& product : session_.project().products) {
    const auto before = session_.assets()->loadedModel(product);
    const std::string key = words("look again for ") + product.id;
    if (!before || SideFiles::missing(before->sideFiles).empty() || jobs_.isRunning(key)) continue;
    jobs_.run<ModelPtr>(
        {words("Reading ") + QString::fromStdString(product.name), key, Lane::incoming, true},
        [assets = session_.assets(), product](Progress& progress) {
          return assets->lookAgain(product, progress);
        },
        [this, before](ModelPtr& now) {
          if (now->sideFiles == before->sideFiles) return;
          session_.announceAssets();
          lookTimer_.start();  // what was being copied may have been half of it
        },
        [this](const Error& error) {
          if (error.kind != ErrorKind::cancelled) session_.say(QString::fromStdString(error.message), true);
        });
  }
}

void Loader::lookForChangedFiles() {
  for (const AssetRef& link : session_.assets()->changedSinceLinked())
    if (told_.insert(keyOf(link)).second) emit fileChanged(link);
}

void relinkAll(Session& session, const AssetRef& link, const AssetRef& instead) {
  session.edit(words("link another file"), [&](Project& p) {
    eachLink(p, [&](AssetRef& ref, LinkKind) {
      if (ref == link) ref = instead;
    });
  });
}

}  // namespace dusk
