#include "core/base/memory.h"

#include <malloc.h>
#include <sys/resource.h>
#include <unistd.h>

#include <algorithm>
#include <cstdio>
#include <fstream>
#include <limits>
#include <optional>

#include "core/base/words.h"

namespace dusk {
namespace {

constexpr size_t unlimited = std::numeric_limits<size_t>::max();

std::optional<size_t> numberIn(const std::string& file) {
  std::ifstream in(file);
  size_t value = 0;
  if (in >> value) return value;
  return {};
}

/// The number behind a name, in a file with one of each a line.
std::optional<size_t> numberOf(const std::string& name, const std::string& file) {
  std::ifstream in(file);
  std::string key, rest;
  size_t value = 0;
  while (in >> key >> value) {
    if (key == name) return value;
    std::getline(in, rest);
  }
  return {};
}

/// Of the machine, by the kernel's own reckoning.
size_t freeOfMachine() {
  const auto kilobytes = numberOf("MemAvailable:", "/proc/meminfo");
  return kilobytes ? *kilobytes * 1024 : unlimited;
}

/// Of the control group that the program runs in; what it holds of files is given up when it is needed.
size_t freeOfGroup() {
  std::ifstream in("/proc/self/cgroup");
  std::string line;
  while (std::getline(in, line))
    if (line.starts_with("0::")) {
      const std::string group = "/sys/fs/cgroup" + line.substr(3);
      const auto most = numberIn(group + "/memory.max"), now = numberIn(group + "/memory.current");
      if (!most || !now) continue;
      const size_t files = numberOf("inactive_file", group + "/memory.stat").value_or(0) +
                           numberOf("active_file", group + "/memory.stat").value_or(0),
                   held = *now > files ? *now - files : 0;
      return *most > held ? *most - held : 0;
    }
  return unlimited;
}

size_t freeOfAddresses() {
  rlimit limit{};
  if (::getrlimit(RLIMIT_AS, &limit) != 0 || limit.rlim_cur == RLIM_INFINITY) return unlimited;
  const size_t used = numberIn("/proc/self/statm").value_or(0) * size_t(::sysconf(_SC_PAGESIZE));
  return limit.rlim_cur > used ? limit.rlim_cur - used : 0;
}

}  // namespace

size_t freeMemory() { return std::min({freeOfMachine(), freeOfGroup(), freeOfAddresses()}); }

size_t freeDisk(const std::filesystem::path& folder) {
  std::error_code code;
  std::filesystem::path at = std::filesystem::absolute(folder);
  while (at.has_relative_path() && !std::filesystem::exists(at, code)) at = at.parent_path();
  const auto space = std::filesystem::space(at, code);
  return code ? unlimited : size_t(space.available);
}

void giveBackFreed() { ::malloc_trim(0); }

std::string bytesText(size_t bytes) {
  char text[32];
  if (bytes >= size_t{1} << 30)
    std::snprintf(text, sizeof text, "%.1f GB", double(bytes) / double(size_t{1} << 30));
  else
    std::snprintf(text, sizeof text, "%zu MB", (bytes + (size_t{1} << 20) - 1) >> 20);
  return withDecimalMark(text);
}

}  // namespace dusk
