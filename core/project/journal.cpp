#include "core/project/journal.h"

#include <nlohmann/json.hpp>

#include "core/base/files.h"
#include "core/base/guard.h"
#include "core/base/hash.h"
#include "core/base/json_text.h"
#include "core/base/words.h"
#include "core/project/file.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

/// The project's own text with one more key, which readers of projects pass over.
Outcome writeJournal(const Project& project, const std::vector<std::string>& bases, const fs::path& file,
                     const fs::path& savingAs = {}) {
  return guarded(marked("keeping unsaved work"), [&]() -> Outcome {
    auto document = jsonFrom(toText(project));
    document["journalOn"] = bases;
    if (!savingAs.empty()) document["savingAs"] = savingAs.string();
    std::error_code code;
    fs::create_directories(file.parent_path(), code);
    return writeFileAtomically(file, jsonText(document) + "\n");
  });
}

std::vector<std::string> basesOf(const std::string& base) {
  return base.empty() ? std::vector<std::string>{} : std::vector<std::string>{base};
}

}  // namespace

fs::path journalOf(const fs::path& file) { return file.string() + ".journal"; }

Result<Unsaved> readJournal(const fs::path& journal) {
  return guarded(words("reading unsaved work"), [&]() -> Result<Unsaved> {
    auto project = loadProject(journal);
    if (!project) return project.error();
    const auto text = readFile(journal);
    if (!text) return text.error();
    const auto document = jsonFrom(*text);
    Unsaved unsaved{std::move(*project), {}, document.value("savingAs", "")};
    if (document.contains("journalOn")) document["journalOn"].get_to(unsaved.bases);
    return unsaved;
  });
}

Journal::Journal(std::function<void(const Error&)> failed)
    : failed_(std::move(failed)), thread_([this] { work(); }) {}

Journal::~Journal() {
  {
    const std::lock_guard lock(mutex_);
    ending_ = true;
  }
  wake_.notify_all();
  thread_.join();
}

void Journal::add(Task task) {
  const std::lock_guard lock(mutex_);
  if (task.write && !tasks_.empty() && tasks_.back().write && tasks_.back().journal == task.journal)
    tasks_.back() = std::move(task);
  else
    tasks_.push_back(std::move(task));
  wake_.notify_all();
}

void Journal::work() {
  std::unique_lock lock(mutex_);
  for (;;) {
    wake_.wait(lock, [this] { return ending_ || !tasks_.empty(); });
    if (tasks_.empty()) return;
    const Task task = std::move(tasks_.front());
    tasks_.pop_front();
    busy_ = true;
    lock.unlock();
    task.run();
    lock.lock();
    busy_ = false;
    if (tasks_.empty()) idle_.notify_all();
  }
}

void Journal::finish() {
  std::unique_lock lock(mutex_);
  idle_.wait(lock, [this] { return tasks_.empty() && !busy_; });
}

void Journal::write(const fs::path& journal, std::shared_ptr<const Project> project,
                    const std::string& base) {
  add({journal, true, [this, journal, project = std::move(project), base] {
         const Outcome written = writeJournal(*project, basesOf(base), journal);
         if (!written && !told_ && failed_) failed_(written.error());
         told_ = !written.ok();
       }});
}

void Journal::discard(const fs::path& journal) {
  add({journal, false, [journal] {
         std::error_code code;
         fs::remove(journal, code);
         clearHalfWritten(journal);
       }});
}

std::future<Result<std::string>> Journal::save(std::shared_ptr<const Project> project, const fs::path& file,
                                               const fs::path& journal, const std::string& base) {
  auto promise = std::make_shared<std::promise<Result<std::string>>>();
  auto result = promise->get_future();
  add({{}, false, [=] {
         promise->set_value(guarded(words("saving"), [&]() -> Result<std::string> {
           const std::string text = toText(*project), hash = hashBytes(text.data(), text.size());
           // On top of the old text and of the new one: right whichever of the two is there after a crash.
           auto bases = basesOf(base);
           bases.push_back(hash);
           std::error_code code;
           if (fs::exists(journal, code)) (void)writeJournal(*project, bases, journal, file).ok();
           if (const auto saved = writeFileAtomically(file, text); !saved) return saved.error();
           fs::remove(journal, code);
           clearHalfWritten(file);
           return hash;
         }));
       }});
  return result;
}

}  // namespace dusk
