#include "core/base/words.h"

#include <atomic>
#include <mutex>
#include <shared_mutex>
#include <unordered_map>
#include <unordered_set>

namespace dusk {
namespace {

std::atomic<Catalogue> inUse = nullptr;

/// What was said so far. Nothing is ever taken out: whoever was given a text may keep it.
struct Said {
  std::shared_mutex mutex;
  std::unordered_map<std::string, const char*> known;
  std::unordered_set<std::string> texts;
};
Said& said() {
  static auto* all = new Said;  // outlives every thread that speaks
  return *all;
}

const char* spoken(Catalogue catalogue, const char* key, const char* usual, long n) {
  Said& all = said();
  // Which form a number takes is the catalogue's to know: each number has a place of its own.
  const std::string at = n < 0 ? std::string(key) : key + ('\n' + std::to_string(n));
  {
    const std::shared_lock lock(all.mutex);
    if (const auto found = all.known.find(at); found != all.known.end())
      return found->second ? found->second : usual;
  }
  std::string text = catalogue(key, n);
  const std::unique_lock lock(all.mutex);
  const char* kept = text.empty() ? nullptr : all.texts.insert(std::move(text)).first->c_str();
  all.known[at] = kept;
  return kept ? kept : usual;
}

}  // namespace

const char* words(const char* english) {
  const Catalogue catalogue = inUse.load(std::memory_order_acquire);
  return catalogue && *english ? spoken(catalogue, english, english, -1) : english;
}

const char* words(const char* one, const char* many, long n) {
  const char* usual = n == 1 ? one : many;
  const Catalogue catalogue = inUse.load(std::memory_order_acquire);
  return catalogue ? spoken(catalogue, one, usual, n < 0 ? 0 : n) : usual;
}

std::string withDecimalMark(std::string text) {
  const char mark = words("1.5")[1];  // how a catalogue tells it
  const auto isDigit = [&](size_t i) { return i < text.size() && text[i] >= '0' && text[i] <= '9'; };
  for (size_t i = 1; i < text.size(); ++i)
    if (text[i] == '.' && isDigit(i - 1) && isDigit(i + 1)) text[i] = mark;
  return text;
}

void useCatalogue(Catalogue catalogue) {
  const std::unique_lock lock(said().mutex);
  said().known.clear();
  inUse.store(catalogue, std::memory_order_release);
}

}  // namespace dusk
