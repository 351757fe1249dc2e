#include "core/base/events.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cstring>
#include <ctime>

namespace dusk {
namespace {

constexpr unsigned kept = 64;
struct Event {
  std::array<char, 120> text{};
  long tenths = 0;
};
std::array<Event, kept> events;
std::atomic<unsigned> next = 0;

long nowTenths() noexcept {
  timespec t{};
  clock_gettime(CLOCK_MONOTONIC, &t);
  return t.tv_sec * 10 + t.tv_nsec / 100'000'000;
}
const long begun = nowTenths();

/// "  12.3 s  text" into a buffer, with nothing that a signal handler may not call.
void compose(char* out, size_t size, const Event& event) noexcept {
  std::array<char, 24> digits{};
  size_t n = 0;
  long tenths = std::max(0L, event.tenths);
  digits[n++] = char('0' + tenths % 10), digits[n++] = '.';
  tenths /= 10;
  do digits[n++] = char('0' + tenths % 10), tenths /= 10;
  while (tenths > 0 && n < digits.size());
  size_t at = 0;
  for (size_t blank = n; blank < 8; ++blank) out[at++] = ' ';
  while (n > 0) out[at++] = digits[--n];
  for (const char c : {' ', 's', ' ', ' '}) out[at++] = c;
  const size_t length = std::min(strnlen(event.text.data(), event.text.size()), size - at - 1);
  std::memcpy(out + at, event.text.data(), length);
  out[at + length] = 0;
}

}  // namespace

void rememberEvent(const char* line) noexcept {
  Event& event = events[next.fetch_add(1) % kept];
  event.tenths = nowTenths() - begun;
  const size_t length = strnlen(line, event.text.size() - 1);
  std::memcpy(event.text.data(), line, length);
  std::memset(event.text.data() + length, 0, event.text.size() - length);
}

void forEachEvent(void (*take)(const char* line, void* context), void* context) noexcept {
  const unsigned end = next.load(), first = end > kept ? end - kept : 0;
  for (unsigned i = first; i < end; ++i) {
    std::array<char, 160> line;
    compose(line.data(), line.size(), events[i % kept]);
    take(line.data(), context);
  }
}

}  // namespace dusk
