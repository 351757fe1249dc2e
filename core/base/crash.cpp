#include "core/base/crash.h"

#include <execinfo.h>
#include <fcntl.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <csignal>
#include <cstring>
#include <ctime>
#include <string>
#include <vector>

#include "core/base/events.h"
#include "core/base/installed.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

constexpr std::array faults{SIGSEGV, SIGBUS, SIGFPE, SIGILL, SIGABRT};
constexpr const char* told = ".told";
constexpr size_t reportsKept = 10;

// What the handler needs, made ready before: there it may neither allocate nor lock.
std::array<char, 4096> reportFile{};
std::array<char, 256> heading{};
std::array<char, 64 * 1024> ownStack;

void put(int file, const char* text) noexcept {
  size_t left = std::strlen(text);
  while (left > 0) {
    const ssize_t n = write(file, text, left);
    if (n <= 0) return;
    text += n, left -= size_t(n);
  }
}

const char* nameOf(int signal) noexcept {
  switch (signal) {
    case SIGSEGV:
      return "memory that is not there was used (SIGSEGV)";
    case SIGBUS:
      return "a file ended while it was looked at (SIGBUS)";
    case SIGFPE:
      return "a whole number was divided by zero (SIGFPE)";
    case SIGILL:
      return "the processor does not know an instruction (SIGILL)";
    default:
      return "it gave up (SIGABRT)";
  }
}

void onFault(int signal) {
  const int file = open(reportFile.data(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0600);
  if (file >= 0) {
    put(file, heading.data());
    put(file, "Ended because "), put(file, nameOf(signal)), put(file, ".\n\nWhere:\n");
    std::array<void*, 64> frames;
    backtrace_symbols_fd(frames.data(), backtrace(frames.data(), int(frames.size())), file);
    put(file, "\nBefore that:\n");
    forEachEvent([](const char* line,
                    void* to) { put(*static_cast<int*>(to), line), put(*static_cast<int*>(to), "\n"); },
                 const_cast<int*>(&file));
    close(file);
  }
  raise(signal);  // the usual end follows: the handler was for once
}

/// The newest few stay.
void tidy(const fs::path& folder) {
  std::error_code code;
  std::vector<fs::path> all;
  for (const auto& entry : fs::directory_iterator(folder, code))
    if (entry.path().filename().string().starts_with("crash-")) all.push_back(entry.path());
  std::sort(all.begin(), all.end());
  for (size_t i = 0; i + reportsKept < all.size(); ++i) fs::remove(all[i], code);
}

}  // namespace

void reportCrashesTo(const fs::path& folder) {
  std::error_code code;
  fs::create_directories(folder, code);
  std::array<char, 32> time{};
  const std::time_t now = std::time(nullptr);
  std::tm parts{};
  gmtime_r(&now, &parts);
  std::strftime(time.data(), time.size(), "%Y%m%d-%H%M%S", &parts);
  const std::string name =
      (folder / ("crash-" + std::string(time.data()) + "-" + std::to_string(getpid()) + ".txt")).string();
  if (!fs::is_directory(folder, code) || name.size() >= reportFile.size()) return;
  tidy(folder);
  std::strcpy(reportFile.data(), name.c_str());
  const std::string head = programTitle() + "\n";
  std::strncpy(heading.data(), head.c_str(), heading.size() - 1);
  std::array<void*, 4> frames;
  backtrace(frames.data(), int(frames.size()));  // loads what it needs now, not while crashing

  // A stack that overflowed has no room for a handler.
  stack_t stack{};
  stack.ss_sp = ownStack.data(), stack.ss_size = ownStack.size();
  sigaltstack(&stack, nullptr);
  struct sigaction act {};
  act.sa_handler = onFault;
  act.sa_flags = int(SA_RESETHAND | SA_ONSTACK | SA_NODEFER);
  for (const int fault : faults) sigaction(fault, &act, nullptr);
}

std::optional<fs::path> untoldCrash(const fs::path& folder) {
  std::error_code code;
  std::optional<fs::path> newest;
  for (const auto& entry : fs::directory_iterator(folder, code)) {
    const fs::path& file = entry.path();
    if (!file.filename().string().starts_with("crash-") || file.extension() != ".txt") continue;
    if (!newest || *newest < file) newest = file;
  }
  if (!newest) return {};
  fs::path mark = *newest;
  mark += told;
  if (fs::exists(mark, code)) return {};
  if (const int file = open(mark.c_str(), O_WRONLY | O_CREAT | O_CLOEXEC, 0600); file >= 0) close(file);
  return newest;
}

}  // namespace dusk
