#pragma once
#include <string>
#include <utility>
#include <variant>

#include "core/base/words.h"

namespace dusk {

/// What kind of failure it was: what a caller may handle differently.
enum class ErrorKind { failed, unreadable, cancelled };

/// A failure as a value. `message` is a whole sentence for the person at the screen: what, which file, what
/// to do.
struct Error {
  std::string message;
  ErrorKind kind = ErrorKind::failed;
};

/// Either a value or an Error; it must be looked at. No exception crosses a room's border: this does.
template <typename T>
class [[nodiscard]] Result {
 public:
  Result(T value) : state_(std::move(value)) {}
  Result(Error error) : state_(std::move(error)) {}

  bool ok() const { return state_.index() == 0; }
  explicit operator bool() const { return ok(); }
  T& value() { return std::get<0>(state_); }
  const T& value() const { return std::get<0>(state_); }
  const Error& error() const { return std::get<1>(state_); }
  T* operator->() { return &value(); }
  const T* operator->() const { return &value(); }
  T& operator*() { return value(); }
  const T& operator*() const { return value(); }

 private:
  std::variant<T, Error> state_;
};

struct Nothing {
  bool operator==(const Nothing&) const = default;
};
/// The outcome of something done only for its effect.
using Outcome = Result<Nothing>;
inline Outcome done() { return Nothing{}; }

inline Error cancelledError() { return {words("Cancelled."), ErrorKind::cancelled}; }

}  // namespace dusk
