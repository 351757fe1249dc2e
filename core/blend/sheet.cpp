#include "core/blend/sheet.h"

#include <mutex>
#include <unordered_map>

namespace dusk {
namespace {

/// What was let go, by size: to ask the system for large pieces again and again takes longer than to fill
/// them.
class Waiting {
 public:
  std::unique_ptr<float[]> take(size_t floats) {
    const std::lock_guard lock(mutex_);
    const auto found = bySize_.find(floats);
    if (found == bySize_.end() || found->second.empty()) return nullptr;
    auto memory = std::move(found->second.back());
    found->second.pop_back(), held_ -= floats;
    return memory;
  }
  void give(std::unique_ptr<float[]> memory, size_t floats) {
    constexpr size_t most = size_t{400} << 18;  // 400 MB
    const std::lock_guard lock(mutex_);
    if (held_ + floats > most) bySize_.clear(), held_ = 0;
    bySize_[floats].push_back(std::move(memory)), held_ += floats;
  }
  void clear() {
    const std::lock_guard lock(mutex_);
    bySize_.clear(), held_ = 0;
  }

 private:
  std::mutex mutex_;
  std::unordered_map<size_t, std::vector<std::unique_ptr<float[]>>> bySize_;
  size_t held_ = 0;
};

Waiting& waiting() {
  static auto* const all = new Waiting;  // sheets of other static things may outlive it
  return *all;
}

}  // namespace

std::shared_ptr<float[]> sheetMemory(size_t floats) {
  auto memory = waiting().take(floats);
  if (!memory) memory = std::make_unique_for_overwrite<float[]>(floats);
  return {memory.release(), [floats](float* p) { waiting().give(std::unique_ptr<float[]>(p), floats); }};
}

void giveBackSheets() { waiting().clear(); }

}  // namespace dusk
