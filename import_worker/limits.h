#pragma once
#include <sys/resource.h>

#include <cstdlib>

/// Keeps this process within so many bytes (digits of a number), and from leaving a core file. Sanitizers'
/// shadow memory needs the address space: with them there is no limit.
inline void limitMemory([[maybe_unused]] const char* bytesAllowed) {
#if !defined(__SANITIZE_ADDRESS__) && !defined(__SANITIZE_THREAD__)
  const auto bytes = static_cast<rlim_t>(std::strtoull(bytesAllowed, nullptr, 10));
  const rlimit memory{bytes, bytes}, noCore{0, 0};
  ::setrlimit(RLIMIT_AS, &memory);
  ::setrlimit(RLIMIT_CORE, &noCore);
#endif
}
