#include "core/base/files.h"

#include "core/base/words.h"

#include <fcntl.h>
#include <signal.h>
#include <unistd.h>

#include <atomic>
#include <cerrno>
#include <cstdlib>
#include <cstring>
#include <fstream>

namespace dusk {
namespace fs = std::filesystem;
namespace {

constexpr const char* halfMark = ".half-";

Error writeError(const fs::path& file, int code) {
  std::string why = std::strerror(code);
  if (code == ENOSPC) why = words("the disk is full; free some space, or save elsewhere");
  if (code == EACCES || code == EROFS) why = words("this folder cannot be written to; save elsewhere");
  if (code == ENOENT) why = words("its folder does not exist; make it, or save elsewhere");
  return {words("Cannot write ") + file.string() + ": " + why +
          words(". What was there before is unchanged.")};
}

/// Flushes what was written to `file` to the disk; 0 or errno.
int syncToDisk(const fs::path& file) {
  const int fd = ::open(file.c_str(), O_RDONLY);
  if (fd < 0) return errno;
  const int code = ::fsync(fd) == 0 ? 0 : errno;
  ::close(fd);
  return code;
}

}  // namespace

Result<std::string> readFile(const fs::path& file, size_t limit) {
  std::error_code code;
  const auto size = fs::is_directory(file, code) ? 0 : fs::file_size(file, code);
  if (code || fs::is_directory(file))
    return Error{
        words("Cannot open ") + file.string() + words(". Check that it is still there and readable."),
        ErrorKind::unreadable};
  if (size > limit)
    return Error{file.string() + words(" is far too large to be what it should be."), ErrorKind::unreadable};
  std::ifstream in(file, std::ios::binary);
  std::string content(size, '\0');
  if (!in || !in.read(content.data(), static_cast<std::streamsize>(size)))
    return Error{words("Reading ") + file.string() + words(" failed."), ErrorKind::unreadable};
  return content;
}

Outcome writeFileAtomically(const fs::path& file, const std::string& content) {
  return replaceFileAtomically(file, [&](const fs::path& temporary) -> Outcome {
    const int fd = ::open(temporary.c_str(), O_WRONLY | O_CREAT | O_TRUNC, 0644);
    if (fd < 0) return writeError(file, errno);
    int code = 0;
    for (size_t at = 0; at < content.size() && code == 0;) {
      const ssize_t wrote = ::write(fd, content.data() + at, content.size() - at);
      if (wrote < 0 && errno != EINTR) code = errno;
      if (wrote > 0) at += static_cast<size_t>(wrote);
    }
    if (::close(fd) != 0 && code == 0) code = errno;
    if (code) return writeError(file, code);
    return done();
  });
}

Outcome replaceFileAtomically(const fs::path& file, const std::function<Outcome(const fs::path&)>& write) {
  AtomicFile whole(file);
  const Outcome outcome = write(whole.temporary());
  return outcome ? whole.commit() : outcome;
}

AtomicFile::AtomicFile(fs::path file) : file_(std::move(file)) {
  // The temporary keeps the extension, because picture writers choose the format by it.
  static std::atomic<unsigned> count{0};
  temporary_ = file_.parent_path() / (halfMark + std::to_string(::getpid()) + "-" + std::to_string(++count) +
                                      "-" + file_.filename().string());
}

AtomicFile::~AtomicFile() {
  std::error_code ignored;
  fs::remove(temporary_, ignored);
}

Outcome AtomicFile::commit() {
  int code = syncToDisk(temporary_);
  if (code == 0 && ::rename(temporary_.c_str(), file_.c_str()) != 0) code = errno;
  if (code) return writeError(file_, code);
  // The new name, too, must be there after a power cut; what cannot be asked of a disk is no failure.
  (void)syncToDisk(file_.has_parent_path() ? file_.parent_path() : fs::path("."));
  return done();
}

void clearHalfWritten(const fs::path& file) {
  std::error_code code;
  const std::string end = "-" + file.filename().string();
  const fs::path folder = file.has_parent_path() ? file.parent_path() : fs::path(".");
  for (const auto& entry : fs::directory_iterator(folder, code)) {
    const std::string name = entry.path().filename().string();
    if (!name.starts_with(halfMark) || !name.ends_with(end)) continue;
    const pid_t of = pid_t(std::atoi(name.c_str() + std::strlen(halfMark)));
    if (of > 0 && (::kill(of, 0) == 0 || errno != ESRCH)) continue;  // still being written
    fs::remove(entry.path(), code);
  }
}

}  // namespace dusk
