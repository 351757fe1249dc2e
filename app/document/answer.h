#pragma once
#include <QString>
#include <functional>

namespace dusk {

/// An answer to a question: a button, and what it does.
struct Answer {
  QString label, tip;
  std::function<void()> then;
};

}  // namespace dusk
