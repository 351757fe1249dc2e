#include "core/base/large_pages.h"

#include <sys/mman.h>
#include <unistd.h>

#include <cstdint>
#include <cstdlib>
#include <new>

namespace dusk {

void askForLargePages(void* memory, size_t bytes) noexcept {
  // Less holds too few whole large pages for the call to be worth it.
  constexpr size_t least = size_t{4} << 20;
  if (bytes < least || !memory) return;
  static const auto page = size_t(::sysconf(_SC_PAGESIZE));
  const size_t before = (page - reinterpret_cast<uintptr_t>(memory) % page) % page;
  // Advice alone: where the system has none, all goes on as it was.
  (void)::madvise(static_cast<char*>(memory) + before, (bytes - before) / page * page, MADV_HUGEPAGE);
}

}  // namespace dusk

// Sanitizers watch over memory that they hand out themselves.
#if !defined(__SANITIZE_ADDRESS__) && !defined(__SANITIZE_THREAD__)

void* operator new(size_t bytes) {
  for (;;) {
    if (void* memory = std::malloc(bytes > 0 ? bytes : 1)) {
      dusk::askForLargePages(memory, bytes);
      return memory;
    }
    const std::new_handler handler = std::get_new_handler();
    if (!handler) throw std::bad_alloc();
    handler();
  }
}
void operator delete(void* memory) noexcept { std::free(memory); }
void operator delete(void* memory, size_t) noexcept { std::free(memory); }

#endif
