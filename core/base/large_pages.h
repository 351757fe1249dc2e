#pragma once
#include <cstddef>

/// Panoramas, films and sheets are read all over, so that most of the time of a lookup is the machine's
/// search for where its page of 4 kB lies. In pages of 2 MB a render of the demo takes two thirds to four
/// fifths of the time. Many systems give such pages only to who asks: programs with this room's code do so
/// for whatever they make by `new` of 4 MB and more, vectors' elements with it.
namespace dusk {

/// Asks that memory, of which nothing was used yet, lie in large pages where the system can.
void askForLargePages(void* memory, size_t bytes) noexcept;

}  // namespace dusk
