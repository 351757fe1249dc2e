#pragma once
#include <atomic>
#include <condition_variable>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <string>

#include "core/base/result.h"

namespace dusk {

/// Immutable values by key, loaded once each: whoever asks for one that is being loaded waits for that load.
/// Safe to use from several threads; a load runs on the thread that asked first.
template <typename T>
class AssetCache {
 public:
  using Value = std::shared_ptr<const T>;

  /// The value of `key`; `load` makes it where it is not there. A load that fails is told to its own caller
  /// alone: others who waited try themselves, so that one who cancels does not cancel for all.
  template <typename Load>
  Result<Value> get(const std::string& key, const Load& load) {
    std::unique_lock lock(mutex_);
    for (;;) {
      Entry& entry = entries_[key];
      if (entry.value) return used(entry);
      if (!entry.loading) break;
      done_.wait(lock);
    }
    entries_[key].loading = true;
    lock.unlock();
    std::optional<Result<Value>> loaded;
    try {
      loaded.emplace(load());
    } catch (...) {
      lock.lock();
      entries_.erase(key);
      done_.notify_all();
      throw;
    }
    lock.lock();
    Entry& entry = entries_[key];
    entry.loading = false;
    done_.notify_all();
    if (!*loaded) {
      entries_.erase(key);
      return *loaded;
    }
    entry.value = **loaded;
    return used(entry);
  }

  /// The value if it is there; never waits for a load.
  Value find(const std::string& key) const {
    const std::lock_guard lock(mutex_);
    const auto found = entries_.find(key);
    return found == entries_.end() || !found->second.value ? nullptr : used(found->second);
  }
  void put(const std::string& key, Value value) {
    const std::lock_guard lock(mutex_);
    entries_[key].value = std::move(value);
  }
  void drop(const std::string& key) {
    const std::lock_guard lock(mutex_);
    if (const auto found = entries_.find(key); found != entries_.end() && !found->second.loading)
      entries_.erase(found);
  }
  /// Lets go of everything but `key`: of things of which one at a time is enough to hold.
  void keepOnly(const std::string& key) {
    const std::lock_guard lock(mutex_);
    std::erase_if(entries_, [&](const auto& e) { return e.first != key && !e.second.loading; });
  }

  size_t bytes() const {
    const std::lock_guard lock(mutex_);
    size_t sum = 0;
    for (const auto& [key, entry] : entries_)
      if (entry.value) sum += bytesOf(*entry.value);
    return sum;
  }
  /// When the value that nobody else holds and that was used least recently was used; nothing when all are
  /// held.
  std::optional<unsigned long> oldestUse() const {
    const std::lock_guard lock(mutex_);
    const auto oldest = oldestEntry();
    return oldest == entries_.end() ? std::nullopt : std::optional(oldest->second.lastUse.load());
  }
  void dropOldest() {
    const std::lock_guard lock(mutex_);
    if (const auto oldest = oldestEntry(); oldest != entries_.end()) entries_.erase(oldest);
  }

 private:
  struct Entry {
    Value value;
    bool loading = false;
    mutable std::atomic<unsigned long> lastUse{0};
  };
  using Entries = std::map<std::string, Entry>;
  static Value used(const Entry& entry) {
    static std::atomic<unsigned long> clock{0};
    entry.lastUse = ++clock;
    return entry.value;
  }
  typename Entries::const_iterator oldestEntry() const {
    auto oldest = entries_.end();
    for (auto at = entries_.begin(); at != entries_.end(); ++at)
      if (at->second.value && at->second.value.use_count() == 1 &&
          (oldest == entries_.end() || at->second.lastUse < oldest->second.lastUse))
        oldest = at;
    return oldest;
  }

  mutable std::mutex mutex_;
  std::condition_variable done_;
  Entries entries_;
};

}  // namespace dusk
