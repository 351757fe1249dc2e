#pragma once
#include <filesystem>
#include <functional>
#include <string>

#include "core/base/result.h"

namespace dusk {

/// The whole file as bytes. Error: missing, unreadable, or larger than `limit` bytes.
Result<std::string> readFile(const std::filesystem::path& file, size_t limit = size_t{1} << 30);

/// Replaces `file` by `content` so that at every moment either the old or the new file is there whole:
/// temporary file beside it, fsync, rename. Error: says what went wrong; the old file is untouched.
Outcome writeFileAtomically(const std::filesystem::path& file, const std::string& content);

/// The same for a writer that needs a path: calls `write(temporary)`, then fsync and rename. When `write`
/// fails, the temporary file is removed and its error returned.
Outcome replaceFileAtomically(const std::filesystem::path& file,
                              const std::function<Outcome(const std::filesystem::path&)>& write);

/// The same for what is written bit by bit: under another name beside `file` until commit() puts it in its
/// place. Without that, what was written is removed again.
class AtomicFile {
 public:
  explicit AtomicFile(std::filesystem::path file);
  ~AtomicFile();
  AtomicFile(const AtomicFile&) = delete;
  AtomicFile& operator=(const AtomicFile&) = delete;
  const std::filesystem::path& file() const { return file_; }
  const std::filesystem::path& temporary() const { return temporary_; }
  Outcome commit();

 private:
  std::filesystem::path file_, temporary_;
};

/// Takes away temporaries beside `file` that programs left behind which ended in the middle of writing it.
void clearHalfWritten(const std::filesystem::path& file);

}  // namespace dusk
