#pragma once
#include <exception>
#include <new>
#include <string>
#include <utility>

#include "core/base/result.h"
#include "core/base/words.h"

namespace dusk {

inline Error outOfMemoryError() {
  return {words("There is not enough memory for this. Close other programs, or work at a smaller size.")};
}
/// `doing` ends the sentence "The program failed while ...".
inline Error unexpectedError(const std::string& doing, const char* why) {
  return {words("The program failed while ") + doing + " (" + why +
          words("). Nothing of the project is lost.")};
}

/// Calls `work`, which returns some Result, and turns whatever is thrown in it into an Error: the border of
/// every job, thread and program. Nothing passes through.
template <typename Work>
auto guarded(const std::string& doing, Work&& work) noexcept -> decltype(work()) {
  try {
    return std::forward<Work>(work)();
  } catch (const std::bad_alloc&) {
    return outOfMemoryError();
  } catch (const std::exception& thrown) {
    return unexpectedError(doing, thrown.what());
  } catch (...) {
    return unexpectedError(doing, words("for no known reason"));
  }
}

}  // namespace dusk
