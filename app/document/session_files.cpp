// Where the document lives: its file, its journal, and who else has it open.
#include <QCoreApplication>
#include <QDir>
#include <QEventLoop>
#include <QLockFile>
#include <QStandardPaths>

#include "app/document/preferences.h"
#include "app/document/session.h"
#include "core/base/files.h"
#include "core/base/hash.h"
#include "core/base/log.h"
#include "core/base/words.h"
#include "core/project/file.h"
#include "core/project/links.h"
#include "core/project/shots.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

QString shown(const fs::path& path) { return QString::fromStdString(path.string()); }

/// Every link of the project, as a store in another folder has it.
void relink(Project& project, const AssetStore& from, const AssetStore& to) {
  eachLink(project, [&](AssetRef& ref, LinkKind) { ref = to.relinked(ref, from); });
}

/// What a project in `folder` loads into, as large as the person allows.
std::shared_ptr<AssetStore> storeIn(const fs::path& folder) {
  return std::make_shared<AssetStore>(folder, assetBudgetBytes());
}

fs::path untitledFolder() {
  return QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation).toStdString();
}

/// A lock that a program which ended does not hold any more.
std::unique_ptr<QLockFile> lockAt(const fs::path& path) {
  auto lock = std::make_unique<QLockFile>(shown(path));
  lock->setStaleLockTime(0);
  return lock;
}

/// Hidden beside the project: that it is open.
fs::path lockOf(const fs::path& file) {
  return file.parent_path() / ("." + file.filename().string() + ".open");
}
fs::path lockOfUntitled(const fs::path& journal) { return journal.string() + ".open"; }

/// A name beside `file` that nothing has yet.
fs::path keptBeside(const fs::path& file) {
  std::error_code code;
  for (int n = 1;; ++n) {
    const std::string more =
        n == 1 ? words(" (unsaved work)") : words(" (unsaved work ") + std::to_string(n) + ")";
    const fs::path there = file.parent_path() / (file.stem().string() + more + ".dusk");
    if (!fs::exists(there, code)) return there;
  }
}

}  // namespace

void Session::begin(Project project, const fs::path& file, std::shared_ptr<AssetStore> assets) {
  ++documentNumber_;
  gesture_ = 0;
  journalTimer_.stop();
  if (project.shots.empty()) project.shots = emptyProject().shots;
  history_ = History(std::move(project));
  recorded_.clear(), recordsKeys_ = false;
  showFirstShot();
  if (file != file_) lock_.reset();
  if (!untitledJournal_.empty()) untitledJournal_.clear(), untitledLock_.reset();
  file_ = file;
  savedHash_.clear();
  looking_ = false;
  assets_ = std::move(assets);
  hand_ = Selection{.station = hand_.station};
  answerAnew();
}

/// As its file tells it: at the moment that stills show.
void Session::showFirstShot() {
  const Shot& first = base().shots.front();
  shotId_ = first.id, moment_ = first.motion.stillAtSeconds;
  showVariant();
}

void Session::startEmpty() {
  begin(emptyProject(), {}, storeIn({}));
  emit documentChanged();
  emit changed({true, true, true, true, true});
  emit selectionChanged();
}

bool Session::hold(const fs::path& file) {
  auto lock = lockAt(lockOf(file));
  // A folder that cannot be written to cannot be saved into by anybody: no harm without a lock.
  if (!lock->tryLock(0) && lock->error() == QLockFile::LockFailedError) return false;
  lock_ = std::move(lock);
  return true;
}

std::optional<QString> Session::heldElsewhere(const fs::path& file) const {
  const fs::path whole = fs::absolute(file);
  if (whole == file_ && !looking_) return {};
  auto lock = lockAt(lockOf(whole));
  if (lock->tryLock(0) || lock->error() != QLockFile::LockFailedError) return {};
  qint64 pid = 0;
  QString host, program;
  lock->getLockInfo(&pid, &host, &program);
  return QString(words("%1 is open in another window already%2."))
      .arg(shown(whole.filename()), host.isEmpty() ? "" : words(" (on ") + host + ")");
}

bool Session::open(const fs::path& file, OpenAs as) {
  auto loaded = loadProject(file);
  if (!loaded) {
    say(QString::fromStdString(loaded.error().message), true);
    return false;
  }
  const fs::path whole = fs::absolute(file);
  auto assets = storeIn(whole.parent_path());
  if (as == OpenAs::copy) {
    auto anywhere = storeIn({});
    relink(*loaded, *assets, *anywhere);
    loaded->name += words(" copy");
    begin(std::move(*loaded), {}, std::move(anywhere));
  } else {
    if (as == OpenAs::own && whole != file_ && !hold(whole)) as = OpenAs::look;
    auto kept = std::move(lock_);
    begin(std::move(*loaded), whole, std::move(assets));
    lock_ = std::move(kept);
    looking_ = as == OpenAs::look;
    const auto text = readFile(whole);
    if (text) savedHash_ = hashBytes(text->data(), text->size());
    if (!looking_) bringBackUnsaved(savedHash_), clearHalfWritten(whole);
  }
  log(LogLevel::news, "opened a project", file_.string());
  emit documentChanged();
  emit changed({true, true, true, true, true});
  emit selectionChanged();
  return true;
}

void Session::bringBackUnsaved(const std::string& savedHash) {
  const fs::path journal = journalOf(file_);
  std::error_code code;
  if (!fs::exists(journal, code)) return;
  // What was let go a moment ago in this window may not be taken away yet.
  journal_.finish();
  if (!fs::exists(journal, code)) return;
  auto unsaved = readJournal(journal);
  if (!unsaved || unsaved->project.shots.empty()) return;
  if (unsaved->project == base()) return journal_.discard(journal);
  const auto& bases = unsaved->bases;
  if (!bases.empty() && std::find(bases.begin(), bases.end(), savedHash) == bases.end()) {
    // The file is another one by now: neither state may take the other's place unasked.
    const fs::path there = keptBeside(file_);
    fs::rename(journal, there, code);
    return say(words("The project was changed by something else since it was last open here. What was not "
                     "saved then is "
                     "in ") +
               shown(there.filename()) + words(", beside it."));
  }
  // One step on top of the file, so that undo shows the file itself.
  history_.push(std::move(unsaved->project), words("bring back unsaved work"));
  showFirstShot();
  answerAnew();
  say(words("Unsaved work from last time was brought back. Undo shows the file as it was saved."));
}

bool Session::bringBackUntitled() {
  const QDir folder(shown(untitledFolder()));
  for (const QFileInfo& found :
       folder.entryInfoList({"untitled-*.dusk.journal"}, QDir::Files | QDir::Hidden, QDir::Time)) {
    const fs::path journal = found.absoluteFilePath().toStdString();
    auto lock = lockAt(lockOfUntitled(journal));
    if (!lock->tryLock(0)) continue;  // another window's
    auto unsaved = readJournal(journal);
    const auto& as = unsaved ? unsaved->savingAs : std::string();
    const auto saved = as.empty() ? Result<std::string>(Error{}) : hashFile(as);
    const bool done = saved && std::count(unsaved->bases.begin(), unsaved->bases.end(), *saved);
    if (!unsaved || done || unsaved->project == emptyProject()) {
      journal_.discard(journal);
      continue;
    }
    begin(emptyProject(), {}, storeIn({}));
    untitledJournal_ = journal, untitledLock_ = std::move(lock);
    history_.push(std::move(unsaved->project), words("bring back unsaved work"));
    showFirstShot();
    answerAnew();
    emit documentChanged();
    emit changed({true, true, true, true, true});
    emit selectionChanged();
    say(words("Work that never had a file was brought back. Save it, or begin anew."));
    return true;
  }
  return false;
}

bool Session::save(const fs::path& file) {
  const fs::path target = fs::absolute(file);
  const bool elsewhere = target != file_ || looking_;
  if (elsewhere)
    if (const auto held = heldElsewhere(target)) {
      say(*held + words(" Save under another name."), true);
      return false;
    }
  const bool moves = target.parent_path() != file_.parent_path() || file_.empty();
  const auto from = assets_, to = moves ? assets_->inFolder(target.parent_path()) : assets_;
  const auto carry = [&](Project& p) {
    if (moves) relink(p, *from, *to);
  };
  Project toSave = base();
  carry(toSave);
  const bool naming = file_.empty() && toSave.name == "Untitled";
  if (naming) toSave.name = target.stem().string();
  journalTimer_.stop();
  auto result = journal_.save(std::make_shared<const Project>(toSave), target, journalPath(),
                              elsewhere ? std::string() : savedHash_);
  // The disk may take its time; the window stays alive meanwhile, but nothing can be changed.
  while (result.wait_for(std::chrono::milliseconds(2)) != std::future_status::ready)
    QCoreApplication::processEvents(QEventLoop::ExcludeUserInputEvents, 5);
  const auto hash = result.get();
  if (!hash) {
    say(QString::fromStdString(hash.error().message), true);
    return false;
  }
  // Undo leads through states that were linked from the old folder.
  if (moves) history_.rewrite(carry);
  if (naming) history_.rewrite([&](Project& p) { p.name = toSave.name; });
  assets_ = to;
  showVariant();
  untitledJournal_.clear(), untitledLock_.reset();
  if (elsewhere) {
    (void)hold(target);
    file_ = target, looking_ = false;
  }
  savedHash_ = *hash;
  history_.markSaved(toSave);
  log(LogLevel::news, "saved", target.string());
  emit changed({});
  return true;
}

fs::path Session::journalPath() const { return needsPlace() ? untitledJournal_ : journalOf(file_); }

void Session::writeJournal() {
  if (isSaved()) {
    if (!journalPath().empty()) journal_.discard(journalPath());
    return;
  }
  if (needsPlace() && untitledJournal_.empty()) {
    std::error_code code;
    fs::create_directories(untitledFolder(), code);
    for (int n = 1; n < 1000 && !untitledLock_; ++n) {
      untitledJournal_ = untitledFolder() / ("untitled-" + std::to_string(n) + ".dusk.journal");
      auto lock = lockAt(lockOfUntitled(untitledJournal_));
      if (!fs::exists(untitledJournal_, code) && lock->tryLock(0)) untitledLock_ = std::move(lock);
    }
  }
  journal_.write(journalPath(), std::make_shared<const Project>(base()), needsPlace() ? "" : savedHash_);
}

void Session::dropJournal() {
  journalTimer_.stop();
  if (!journalPath().empty()) journal_.discard(journalPath());
}

}  // namespace dusk
