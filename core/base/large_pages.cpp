// Panoramas, films and sheets are read all over, so that most of the time of a lookup is the machine's search
// for where its page of 4 kB lies. In pages of 2 MB a render of the demo takes two thirds to four fifths of
// the time. Many systems give such pages only to who asks: programs with this room's code do so for whatever
// they make by `new` of 4 MB and more, vectors' elements with it. Sanitizers hand out memory themselves.
#if !defined(__SANITIZE_ADDRESS__) && !defined(__SANITIZE_THREAD__)

#include <sys/mman.h>
#include <unistd.h>

#include <cstdint>
#include <cstdlib>
#include <new>

namespace {

/// Asks that memory, of which nothing was used yet, lie in large pages where the system can.
void askForLargePages(void* memory, size_t bytes) noexcept {
  // Less holds too few whole large pages for the call to be worth it.
  constexpr size_t least = size_t{4} << 20;
  if (bytes < least) return;
  static const auto page = size_t(::sysconf(_SC_PAGESIZE));
  const size_t before = (page - reinterpret_cast<uintptr_t>(memory) % page) % page;
  // Advice alone: where the system has none, all goes on as it was.
  (void)::madvise(static_cast<char*>(memory) + before, (bytes - before) / page * page, MADV_HUGEPAGE);
}

}  // namespace

void* operator new(size_t bytes) {
  for (;;) {
    if (void* memory = std::malloc(bytes > 0 ? bytes : 1)) {
      askForLargePages(memory, bytes);
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
