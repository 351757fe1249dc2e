#pragma once
#include <condition_variable>
#include <deque>
#include <filesystem>
#include <functional>
#include <future>
#include <map>
#include <memory>
#include <mutex>
#include <string>
#include <thread>
#include <vector>

#include "core/base/result.h"
#include "core/project/project.h"

namespace dusk {

/// The journal beside a project: the latest unsaved state. Named `FILE.journal`.
std::filesystem::path journalOf(const std::filesystem::path& file);

/// A journal as read: the unsaved state, the hashes of the saved texts it lies on top of (none: of work that
/// has no file yet), and the file it was being saved as when the program ended, if it was.
struct Unsaved {
  Project project;
  std::vector<std::string> bases;
  std::string savingAs;
};
Result<Unsaved> readJournal(const std::filesystem::path& journal);

/// Writes projects and their journals one after another, in the order they were asked for, on a thread of its
/// own. A journal that was discarded stays away whatever was asked for before. Every member may be called
/// from one thread; `failed` is called on the writer's.
class Journal {
 public:
  /// `failed` is told of a journal that could not be written, once until one could.
  explicit Journal(std::function<void(const Error&)> failed = {});
  /// Ends when everything asked for is done.
  ~Journal();
  Journal(const Journal&) = delete;
  Journal& operator=(const Journal&) = delete;

  /// Keeps `project` as the unsaved state on top of the text of hash `base` (empty: none). A write of the
  /// same journal that has not begun yet is replaced.
  void write(const std::filesystem::path& journal, std::shared_ptr<const Project> project,
             const std::string& base);
  /// Takes a journal away.
  void discard(const std::filesystem::path& journal);
  /// Saves `project` as `file` and then takes `journal` away. Between the two, whatever ends the program,
  /// the state is in one of them. The hash of the text that was written.
  std::future<Result<std::string>> save(std::shared_ptr<const Project> project,
                                        const std::filesystem::path& file,
                                        const std::filesystem::path& journal, const std::string& base);
  /// Waits until everything asked for so far is done.
  void finish();

 private:
  struct Task {
    std::filesystem::path journal;
    bool write = false;  ///< of the journal; replaced by a later one
    std::function<void()> run;
  };
  void add(Task task);
  void work();

  std::function<void(const Error&)> failed_;
  bool told_ = false;
  std::mutex mutex_;
  std::condition_variable wake_, idle_;
  std::deque<Task> tasks_;
  bool busy_ = false, ending_ = false;
  std::thread thread_;
};

}  // namespace dusk
